"""Charts before they are drawn: where everything stands, as records."""
