"""Terminals that were recorded or are watched: text is exact, so that its pages need no reader."""
