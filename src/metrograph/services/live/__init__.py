"""A run while it is recorded on one screen: what the recorder knows and does, and what works beside it."""
