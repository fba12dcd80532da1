"""What can be said: cues, runs, cards, layouts and the lexicon, as frozen records without input or output."""
