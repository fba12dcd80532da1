"""The live recorder: one screen that a reviewer keeps open on an install day."""
