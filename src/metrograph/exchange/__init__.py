"""Other formats in and out."""
