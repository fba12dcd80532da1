"""What goes into the run that is open."""
