"""What is published of releases: cards against each other, against what was measured, and images against them."""
