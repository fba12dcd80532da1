"""Cues to a run, and runs to a comparison: pure functions that read and write nothing."""
