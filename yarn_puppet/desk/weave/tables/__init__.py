"""The graph as tables: crossings, and frame data."""
