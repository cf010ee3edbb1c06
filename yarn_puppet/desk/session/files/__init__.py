"""The files of what is worked on: watched, written, and what is written down as one works."""
