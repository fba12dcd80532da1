"""What the runs show, one by one and beside each other."""
