"""What all values are made of: base types, ids, words, values that are shared."""
