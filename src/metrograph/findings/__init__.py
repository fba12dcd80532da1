"""What is worth telling of a comparison: findings, merged, weighed and put in order; see docs/findings.md."""
