"""Benchmarks. Each prints figures measured side by side in one run; none of them is a test."""
