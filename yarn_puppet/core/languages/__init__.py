"""The languages of a hand-off: a folder each, and one line in `table.py`."""
