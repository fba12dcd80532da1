"""Each flow of the program, put together and masked once, whichever face asks for it."""
