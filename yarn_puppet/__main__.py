"""`python -m yarn_puppet` is the command line."""

import sys

if __name__ == "__main__":
    try:
        from .cli import main

        code = main()
    except KeyboardInterrupt:
        # While its parts are still being read.
        code = 130
    sys.exit(code)
