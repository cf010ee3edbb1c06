"""Runs Pell through random input for long, and proves that the trace is the same however it is had
again: in another process, after the puppet and the take were saved and read, and folded away and
looked back on.

`python -m tests.long_run TICKS` does it for so many ticks; the test of the same for some hundred or
thousand.
"""

from __future__ import annotations

import hashlib
import json
import subprocess
import sys
import tempfile
from collections.abc import Iterable
from pathlib import Path
from random import Random
from typing import Any

from yarn_puppet.core.formats.booth_file import load_booth, save_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.takes.controls import Controls, controls_of
from yarn_puppet.core.takes.recording import run_again, take_of
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET

ROOT = Path(__file__).parents[1]
BOOTHS = ("rooftop.booth.json", "canal_steps.booth.json")


def pressed(seed: int, ticks: int) -> list[Controls]:
    """Keys held and let go at random, sticks pushed and senses forced now and then."""
    dice, down = Random(seed), set[str]()
    keys = ("left", "right", "up", "down", "jump", "attack", "guard", "run", "roll", "lamp")
    forced: tuple[tuple[str, Any], ...] = ()
    found = []
    for _ in range(ticks):
        if dice.random() < 0.07:
            down ^= {dice.choice(keys)}
        if dice.random() < 0.004:
            forced = (
                ()
                if forced
                else (("hurt", True),)
                if dice.random() < 0.5
                else (("speed", dice.uniform(0, 90)),)
            )
        found.append(Controls(frozenset(down), forced))
    return found


def digest_of(lines: Iterable[dict[str, Any]]) -> str:
    """A digest of a trace, bit for bit."""
    digest = hashlib.sha256()
    for line in lines:
        digest.update(json.dumps(line, ensure_ascii=False).encode() + b"\n")
    return digest.hexdigest()


def digests(folder: Path) -> list[str]:
    """Of the takes saved in a folder, run with the puppet and the booths saved there."""
    puppet = load_puppet(folder / "pell.puppet.json")
    found = []
    for booth in BOOTHS:
        take = load_take(folder / f"{booth}.take.json", puppet)
        *_, run = run_again(set_up(puppet, load_booth(folder / booth)), list(controls_of(take)))
        # Looked back on: most of it is run a second time from where it was folded.
        found.append(digest_of(trace_lines(run)))
    return found


def compared(ticks: int, seed: int = 11) -> str | None:
    """What differs, or None."""
    puppet = load_puppet(DEMO_PUPPET)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        save_puppet(puppet, folder / "pell.puppet.json")
        here = []
        for number, booth in enumerate(BOOTHS):
            world = load_booth(DEMO_FOLDER / booth)
            controls = pressed(seed + number, ticks // len(BOOTHS))
            save_booth(world, folder / booth)
            save_take(take_of(controls, booth, puppet.rate), folder / f"{booth}.take.json")
            digest = hashlib.sha256()
            for run in run_again(set_up(puppet, world), controls):
                if run:
                    digest.update(json.dumps(next(trace_lines([run[-1]])),
                                             ensure_ascii=False).encode() + b"\n")
            here.append(digest.hexdigest())
        again = digests(folder)
        if again != here:
            return f"saved and read again: {again} is not {here}"
        done = subprocess.run([sys.executable, "-m", "tests.long_run", "digests", str(folder)],
                              cwd=ROOT,
                              capture_output=True, text=True, check=True,
                              env={"PYTHONHASHSEED": "3", "PATH": ""})
        there = done.stdout.split()
        return None if there == here else f"in another process: {there} is not {here}"


def main(arguments: list[str]) -> int:
    """Compare; or print the digests of a folder."""
    if arguments[0] == "digests":
        print("\n".join(digests(Path(arguments[1]))))
        return 0
    found = compared(int(arguments[0]))
    print(found or f"the same in {arguments[0]} ticks")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
