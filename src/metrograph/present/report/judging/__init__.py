"""Reports of what was judged, for whom a release is, and what is left to do."""
