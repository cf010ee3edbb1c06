"""The tiles as bodies meet them: terrain, sweeps, slopes, and moving a box through them."""
