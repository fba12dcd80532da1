"""The two gates: nothing secret enters a log, and nothing personal leaves in what is shown."""
