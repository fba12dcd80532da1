"""What may be stated in a line of words: figures, answers, trials, the system and its desktop."""
