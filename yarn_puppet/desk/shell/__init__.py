"""The window: its header, its pages, its files, and the application around it."""
