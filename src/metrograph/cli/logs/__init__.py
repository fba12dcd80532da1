"""Logs as files: what is wrong in them, mending, taking in and giving out."""
