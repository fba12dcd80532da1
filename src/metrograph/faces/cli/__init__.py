"""The command line: it parses, calls and prints, and computes nothing itself."""
