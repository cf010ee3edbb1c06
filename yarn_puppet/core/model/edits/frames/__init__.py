"""Edits of frames and of what hangs on them: docs/frames.md says what becomes of it."""
