"""The logbook, a folder on disk: finding it, its cards and logs, and writing to it so that nothing is lost."""
