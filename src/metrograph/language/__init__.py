"""Text to cues and back: the grammar of the run log, of times and of sizes. docs/run-log.md describes it."""
