"""What is wrong with a puppet: one file a check, each a function from a puppet to its snags."""
