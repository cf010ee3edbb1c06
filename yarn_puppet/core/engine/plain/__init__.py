"""The engine as docs/semantics.md has it: a file a step, written to be read. The fast one borrows
from it."""
