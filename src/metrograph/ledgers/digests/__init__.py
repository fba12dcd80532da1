"""Digests, which ledgers are made from: runs without their bulk, kept beside the logs, grouped by release and line."""
