"""Pads: what they are called, how they are read, and one that is simulated."""
