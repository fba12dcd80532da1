"""Commands for the runs of many reviewers."""
