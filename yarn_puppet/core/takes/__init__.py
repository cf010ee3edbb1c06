"""Recorded runs: record, run again, compare, explain."""
