"""The engine: compile a puppet once, then tick it. Standard library only, so that a game can ship
it."""
