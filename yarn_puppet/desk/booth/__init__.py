"""The booth on screen: the world, the puppet in it, and the ways out of its state."""
