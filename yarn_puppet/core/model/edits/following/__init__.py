"""Following art that was redrawn or cut again: every frame is found again, and keeps all that was
hung on it."""
