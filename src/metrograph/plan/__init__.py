"""Plans for an install day: what is meant to be done, how far it has got, and what comes next."""
