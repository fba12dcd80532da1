"""From frames to pages: what stands still, its lines, marks and words."""
