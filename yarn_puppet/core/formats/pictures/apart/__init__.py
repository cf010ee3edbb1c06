"""Pictures read by a process of its own, which takes no more than its share and can be ended."""
