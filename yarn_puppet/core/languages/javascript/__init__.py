"""A program as an ES module."""
