"""A virtual machine that is exactly what a rig's card says: made of it, started, asked what it does, and ended."""
