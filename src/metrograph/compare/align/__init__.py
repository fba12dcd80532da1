"""Matching screens: how similar two are, which belong together in all flows, what was split, and why."""
