"""Commands of the evening: what was recorded is compared, drawn and published."""
