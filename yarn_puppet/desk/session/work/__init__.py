"""Work beside the window: in threads and in processes."""
