"""Commands that take the record from what is there already."""
