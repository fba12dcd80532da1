"""The installed command, driven on files in a temporary folder."""
