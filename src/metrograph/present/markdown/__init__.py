"""Reports in Markdown, for those who publish elsewhere."""
