"""Patterns: puppets whose states wait for clips, filled by what clips are called."""
