"""The Booth page: the world painted by hand, and the mover's numbers as sentences."""
