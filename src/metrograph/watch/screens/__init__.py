"""Which pages are one screen, what it is called, what was picked on it. No picture is needed here."""
