"""The process that reads pictures, with less memory and time than it has: a test need not wait for
all of it. `yarn_puppet/core/formats/pictures/apart/reading_apart.py` starts it by its name."""

from __future__ import annotations

from yarn_puppet.core.formats.pictures import budget
from yarn_puppet.core.formats.pictures.apart.worker import main

LESS = budget.Share(256 << 20, 1)

if __name__ == "__main__":
    budget.USUAL_SHARE = LESS
    main()
