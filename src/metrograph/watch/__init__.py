"""Takes a record from what is there already: displays, recordings, terminals. What it finds is proposed."""
