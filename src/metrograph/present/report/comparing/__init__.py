"""The report of a comparison, whole and in short."""
