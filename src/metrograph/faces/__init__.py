"""The faces that people meet: the command line and the live recorder. Each parses, calls a service, and prints."""
