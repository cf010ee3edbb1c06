"""Kills a program in the middle of saving, again and again: `python -m tests.many_saves COUNT`.

It saves a puppet, a take and a booth together as often as it can, numbered. After each kill every
file must be whole, all of one number or, where the kill fell between two renames, of two that
follow each other, and none older than what was said to be saved; what is left beside them is
hidden, and swept later.
"""

from __future__ import annotations

import os
import signal
import sys
import tempfile
import time
from pathlib import Path
from random import Random

from msgspec.structs import replace

from yarn_puppet.core.formats.booth_file import booth_bytes, load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes
from yarn_puppet.core.formats.replacing import BESIDE, OLD_S, sweep, write_together
from yarn_puppet.core.formats.take_file import load_take, take_bytes
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, DEMO_TAKE, FIRST_STEPS

NAMES = ("it.puppet.json", "it.it.take.json", "it.booth.json")


def save(folder: Path, number: int) -> None:
    """Save all three, each telling its number."""
    puppet, take = load_puppet(FIRST_STEPS), load_take(DEMO_TAKE)
    booth = load_booth(DEMO_FOLDER / DEMO_BOOTH)
    write_together(dict(zip((folder / name for name in NAMES), (
        puppet_bytes(replace(puppet, name=f"n{number}")),
        take_bytes(replace(take, puppet=f"n{number}")),
        booth_bytes(replace(booth, start_x=float(number)))), strict=True)))


def numbers(folder: Path) -> list[int]:
    """What each file tells; raises FileProblem where one is not whole."""
    puppet, take, booth = (folder / name for name in NAMES)
    return [int(load_puppet(puppet).name[1:]), int(load_take(take).puppet[1:]),
            int(load_booth(booth).start_x)]


def killed(folder: Path, after: float) -> tuple[int, int]:
    """One kill: the number that was said to be saved last, and how many files lie beside that
    should not."""
    said, pipe = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(said)
        for number in range(1, 1 << 30):
            save(folder, number)
            os.write(pipe, b"%d\n" % number)
    os.close(pipe)
    time.sleep(after)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    with os.fdopen(said, "rb") as file:
        lines = file.read().split()
    last = int(lines[-1]) if lines else 0
    found = numbers(folder)
    assert found == sorted(found, reverse=True), f"{found}: renamed in another order than it says"
    assert found[0] - found[-1] <= 1 and found[-1] >= last, f"{found} after {last} was saved"
    left = list(folder.glob(f"{BESIDE}*"))
    assert sorted(each.name for each in folder.iterdir()
                  if not each.name.startswith(".")) == sorted(NAMES)
    for each in left:
        os.utime(each, (time.time() - OLD_S - 1,) * 2)
    sweep(folder)
    assert not list(folder.glob(f"{BESIDE}*")), "what was left is not swept"
    return last, len(left)


def run(count: int, seed: int = 3) -> tuple[int, int]:
    """So many kills: how many fell into the middle of a save, and how many between two renames."""
    dice, within, between = Random(seed), 0, 0
    for _ in range(count):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            save(folder, 0)
            _, left = killed(folder, dice.uniform(0.0, 0.08))
            within += left > 0
            between += len(set(numbers(folder))) > 1
    return within, between


if __name__ == "__main__":
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    within, between = run(count)
    print(
        f"{count} kills, {within} of them in the middle of a save, {between} between two renames: "
        "nothing lost"
    )
