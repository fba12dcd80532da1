"""Listens to what a reviewer says, and proposes what of it is a fact of the run."""
