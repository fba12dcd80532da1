"""Reports as one page without network."""
