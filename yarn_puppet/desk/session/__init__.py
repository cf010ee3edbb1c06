"""What views listen to: the puppet as it is edited, the run, the art it follows, its snags."""
