"""The stand-in game: Pell on a rooftop, in a window and a process of its own.

It knows of the desk what any game does."""
