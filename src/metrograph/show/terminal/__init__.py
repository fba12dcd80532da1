"""Reports in a terminal, or for a program at the other end of a pipe."""
