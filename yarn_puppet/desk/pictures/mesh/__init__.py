"""Meshes drawn by OpenGL, without a screen or a card: the limbs stand in where there is none."""
