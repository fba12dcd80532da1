"""Whatever becomes cues: notes, what a probe wrote, pictures, other kinds of logs. All pass one ingest and its gate."""
