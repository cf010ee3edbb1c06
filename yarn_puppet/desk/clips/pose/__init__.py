"""The big pose: bones seen from all around, turned by hand."""
