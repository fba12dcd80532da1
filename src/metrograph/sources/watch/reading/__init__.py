"""From frames to pages: what stands still, where text is, and what it says."""
