"""A program as C99."""
