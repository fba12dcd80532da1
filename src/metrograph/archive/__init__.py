"""Shared archives: logs of many reviewers in one place, folded into tables that can be asked."""
