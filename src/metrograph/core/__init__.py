"""Errors, the visitor of records, the pool of workers: everything may stand on them, and they know no installation."""
