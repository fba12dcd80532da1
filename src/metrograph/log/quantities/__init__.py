"""Quantities as the log writes them: ranges, times, sizes, numbers with their units."""
