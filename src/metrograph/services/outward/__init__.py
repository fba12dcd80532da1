"""What leaves the house: pages, articles, figures, reviews, logs for a shared archive. Nothing private is in it."""
