"""What is taken from elsewhere than a person's fingers: the machine itself, later pictures and probes."""
