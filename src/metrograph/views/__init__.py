"""Results to something to look at. A view takes a result and returns text or bytes; it computes nothing."""
