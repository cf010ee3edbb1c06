"""The Takes page: what is kept, what holds on it, and what an edit did to it."""
