"""From pages to screens: titles, what surrounds them, which pages are one, what the machine does."""
