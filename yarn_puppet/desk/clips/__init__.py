"""Art and timing."""
