"""Decoded art: read once, kept within bounds, cut into frames."""
