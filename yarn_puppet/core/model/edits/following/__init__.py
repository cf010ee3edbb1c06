"""Following art that was drawn or cut anew: every frame is found again, and keeps all that was hung
on it."""
