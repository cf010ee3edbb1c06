"""How far a run goes. Every test is run in each of them; of what a test goes through case by case
(random puppets, files, animals) the run that one waits for takes each third, and one that asks for
every case, or names modules, all."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import TypeVar

FEW_CASES = "YARN_PUPPET_FEW_CASES"
"""The variable of the environment that is set for a run of few."""
EVERY_CASE = FEW_CASES not in os.environ
SANITIZED = ("-fsanitize=address,undefined", "-fno-sanitize-recover=all")
"""What has C say where it reads or counts beyond what it may: random puppets are compiled so in
each run."""
SANITIZED_WITH_EVERY_CASE = SANITIZED if EVERY_CASE else ()
"""The same for a whole demo, that takes three times as long to compile with it."""
PART = 3
"""One case of so many."""
Each = TypeVar("Each")


def some_of(cases: Sequence[Each]) -> Sequence[Each]:
    """All of them, or the first and each third after it."""
    return cases if EVERY_CASE else cases[::PART]


def examples(count: int) -> int:
    """How many of so many that are drawn at random."""
    return len(some_of(range(count)))
