"""What hits and is hit: the puppet's windows, projectiles, dummies and their blows; and what
moments bring about."""
