"""What a game gets: code, what hangs on frames, a manifest."""
