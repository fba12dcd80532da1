"""What is meant to be done on an install day, how far it has got, and what comes next."""
