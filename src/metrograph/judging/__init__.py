"""Whom a release is for: readers, what they require and wish for, and a shortlist with how sure its order is."""
