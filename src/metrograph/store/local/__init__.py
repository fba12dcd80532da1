"""A logbook in a folder: its files, its cards, its pictures, and writing so that nothing is lost."""
