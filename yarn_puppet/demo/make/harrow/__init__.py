"""Harrow, the gate warden: 34 bones, knitted tubes, and what he does, as two .glb files."""
