"""The process that reads pictures, with less memory or time than it has: a test need not wait for
all of it. `yarn_puppet/core/formats/pictures/apart/reading_apart.py` starts it by its name."""

from __future__ import annotations

import os

from yarn_puppet.core.formats.pictures import budget
from yarn_puppet.core.formats.pictures.apart.worker import main

SHARE = "YARN_PUPPET_TEST_SHARE"
"""The variable of the environment that says how much: bytes and seconds."""

if __name__ == "__main__":
    budget.USUAL_SHARE = budget.Share(*map(int, os.environ[SHARE].split()))
    main()
