"""The condition language: parse, type, compile. Standard library only."""
