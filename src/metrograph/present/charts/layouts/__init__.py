"""Where things stand on a chart: worked out from records, not yet drawn."""
