"""Over releases: digests of runs; from release to release what became of issues, readings, trials, facts, claims."""
