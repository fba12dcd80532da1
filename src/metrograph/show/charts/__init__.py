"""Charts: laid out from records, drawn, and told in words; one registration each."""
