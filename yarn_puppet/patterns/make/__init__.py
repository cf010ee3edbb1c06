"""Makes the patterns that ship."""
