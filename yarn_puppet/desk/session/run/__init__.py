"""The run on show: played, held, run again."""
