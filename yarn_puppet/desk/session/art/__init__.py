"""The art on disk, and the clips that follow it."""
