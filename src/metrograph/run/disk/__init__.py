"""The disk as layouts tell it: what they say, and what in them is probably not meant."""
