"""Sharing runs with others."""
