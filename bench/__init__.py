"""Measurements: each a ratio in one run, since machines differ and drift."""
