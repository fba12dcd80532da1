"""What pictures and text come from: films, folders, displays, terminals."""
