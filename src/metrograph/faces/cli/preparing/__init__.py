"""Commands before the installation: logbook, cards, readers, settings."""
