"""Inputs that can be watched or gone through; each gives frames or text with their times."""
