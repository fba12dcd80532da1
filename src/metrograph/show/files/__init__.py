"""Logs and results as files of other kinds: JSON, tables, subtitles."""
