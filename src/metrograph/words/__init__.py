"""Every sentence of the program that tells what was found. Analysis gives codes and figures; the words are here."""
