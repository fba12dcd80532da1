"""Made-up installers drawn by real toolkits, as films with their truth: what the reader of screens is tested and fitted on."""
