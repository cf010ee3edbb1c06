"""Art that comes in, and art that changed on disk."""
