"""What everything may stand on: errors, the visitor of records, the pool of workers. It knows no installation."""
