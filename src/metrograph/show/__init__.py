"""Makes results visible: their words, the report they make, and what writes it to a terminal, a page or files."""
