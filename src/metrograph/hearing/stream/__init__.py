"""From captions to a line of words: moments, numbers, figures, programs."""
