"""The live wire: a running game and the desk."""
