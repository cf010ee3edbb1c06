"""The Hand-off page: what a game gets, whether it is the same in all, and the live wire."""
