"""A hand over the real window: the full example, driven without a monitor."""
