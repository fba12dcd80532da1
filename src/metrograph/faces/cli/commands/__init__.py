"""The commands: each parses what was said, calls one service, and prints."""
