"""The trace along the bottom: what happened, tick by tick."""
