"""What ledgers are made from: runs as digests, kept beside the logs, and grouped by release and line."""
