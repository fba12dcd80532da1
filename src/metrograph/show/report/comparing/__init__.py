"""Releases side by side as a report."""
