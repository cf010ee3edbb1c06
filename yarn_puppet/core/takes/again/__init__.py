"""Takes run again: what an edit touches, all that is kept, other rates."""
