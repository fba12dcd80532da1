"""Where logbooks live: what every store can do, how cues get into a log, and how logs are found and read again."""
