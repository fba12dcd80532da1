"""The command line: each module parses, calls and prints, nothing else."""
