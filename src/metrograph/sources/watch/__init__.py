"""Takes a record from what is there already: displays, recordings, screenshots, terminals. What it finds is proposed."""
