"""From screens to a log that a person confirms: proposals, looks, drafts under review."""
