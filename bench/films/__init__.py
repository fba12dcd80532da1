"""Films of installations that never were, painted in looks drawn at random, with the truth about every screen beside."""
