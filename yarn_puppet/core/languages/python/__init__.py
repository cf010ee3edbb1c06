"""Python: our own engine as one module."""
