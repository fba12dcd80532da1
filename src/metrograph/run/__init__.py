"""One run: what its cues add up to, in time and on the disk, and what in them looks wrong."""
