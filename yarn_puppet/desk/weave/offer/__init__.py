"""What the Weave offers where clips have no state yet: patterns, as a preview in place."""
