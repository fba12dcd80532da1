"""What is told first: sentences made of findings, above comparisons, ledgers and figures."""
