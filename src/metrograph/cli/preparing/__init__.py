"""What is made before a run: the logbook, cards, the demo."""
