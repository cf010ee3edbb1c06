"""What a command says to the program that called it."""

OK, FOUND_ERRORS, BAD_INPUT = 0, 1, 2
"""All well; the check found errors; a file or an argument cannot be used."""
