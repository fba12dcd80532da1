"""Metrograph records Linux installations screen by screen and compares installer flows across releases."""

__version__ = "0.1.0"
