"""Commands for logs as files: listed, checked, taken in, written out."""
