"""The ways in which the mover moves the puppet, one a file; docs/world.md, section 3."""
