"""The graph: bands, cards, threads."""
