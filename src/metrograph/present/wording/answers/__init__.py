"""Answers: what a reader should know, in plain sentences that could be published as they stand."""
