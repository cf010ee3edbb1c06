"""What a command says to the program that called it."""

OK, FOUND_ERRORS, BAD_INPUT = 0, 1, 2
"""All well; the check found errors, or what was compared differs; a file or an argument cannot be
used."""
INTERRUPTED = 130
"""Ctrl-C, as a shell has it: 128 and the signal's number."""
