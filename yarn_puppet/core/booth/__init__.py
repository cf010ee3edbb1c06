"""The small world a puppet is tried in: tiles, a walker, senses, hits."""
