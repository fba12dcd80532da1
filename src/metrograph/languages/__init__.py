"""The languages that screens and voices are read in: a folder each, with tables for whatever asks for its words."""
