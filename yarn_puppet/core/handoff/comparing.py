"""Is it the same in all languages, and what does it cost: `python -m
yarn_puppet.core.handoff.comparing`.

Reads an `Ask` as JSON from its input. Hands the puppet off into a folder of its own, with the kept
takes and a random one as golden traces, builds and runs them with what this machine has, and writes
a line of JSON, a `Found`, for each language. The traces are those of the plain engine; the fast
one, which the desk plays with, is compared beside it.
"""

from __future__ import annotations

import re
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import msgspec

from ..engine.fast.tick import fast_tick
from ..engine.plain.beginning import initial_state
from ..engine.plain.tick import tick
from ..languages.table import LANGUAGES
from ..model.puppet import Puppet
from ..model.skin import Skin
from ..model.take import Take
from ..model.world import World
from ..takes.run import Setup, replay, set_up
from .files import hand_off
from .random_take import random_take

RANDOM_TICKS, SEED = 10_000, 1
NAME = "puppet"
RANDOM = "random input"
RUNS = {key: each.run for key, each in LANGUAGES.items() if each.run is not None}
"""By language what runs the traces, and gives what that said."""


class CompareRequest(msgspec.Struct, frozen=True):
    """A puppet, its kept takes by name, their booths by file name, and its skins."""

    puppet: Puppet
    takes: dict[str, Take]
    worlds: dict[str, World]
    random_ticks: int = RANDOM_TICKS
    skins: tuple[Skin, ...] = ()


class LanguageResult(msgspec.Struct, frozen=True):
    """Of one language: how many takes and ticks were equal, and those of random input; how long a
    tick took in nanoseconds, and how many bytes a character is, zero where that is not known.
    `words` say what differs, or why it could not be run."""

    language: str
    takes: int = 0
    ticks: int = 0
    random_ticks: int = 0
    nanoseconds: float = 0.0
    size: int = 0
    words: str = ""


def compared(ask: CompareRequest) -> Iterator[LanguageResult]:
    """What is found of each language, one after the other."""
    setups = {name: set_up(ask.puppet, ask.worlds.get(take.booth or ""))
              for name, take in ask.takes.items()}
    alone = set_up(ask.puppet, None)
    random = random_take(ask.puppet, ask.random_ticks, SEED)
    takes = [(name, setups[name], take) for name, take in ask.takes.items()] + [
        (RANDOM, alone, random)]
    yield _engines(takes)
    with tempfile.TemporaryDirectory() as folder:
        made = hand_off(ask.puppet, tuple(RUNS), NAME, takes, skins=ask.skins)
        for name, content in made.files.items():
            (Path(folder) / name).write_bytes(content)
        for language, run in RUNS.items():
            yield _read(language, run(Path(folder), NAME))


def _engines(takes: list[tuple[str, Setup, Take]]) -> LanguageResult:
    """The fast engine beside the plain one."""
    kept_ticks = random_ticks = 0
    for number, (name, setup, take) in enumerate(takes):
        plain = initial_state(setup.program, take.seed)
        fast = fast_tick(setup.program)
        quick = plain
        for record in replay(setup, take):
            plain, report = tick(setup.program, plain, record.inputs)
            quick, other = fast(quick, record.inputs)
            if (plain, report) != (quick, other):
                return LanguageResult(
                    "desk", words=f"{name}: tick {report.tick}: the desk's own engines differ"
                )
            if number == len(takes) - 1:
                random_ticks += 1
            else:
                kept_ticks += 1
    return LanguageResult("desk", len(takes) - 1, kept_ticks, random_ticks)


def _read(language: str, said: str) -> LanguageResult:
    """What a runner said, as figures."""
    equal = [(found[1], int(found[2]))
             for found in re.finditer(r"^(.*): (\d+) ticks, all equal$", said, re.MULTILINE)]
    times = [(float(found[1]), int(found[2] or 0))
             for found in re.finditer(r"^time ([\d.]+) ns(?:, (\d+) bytes)?$", said, re.MULTILINE)]
    rest = [line for line in said.splitlines() if not re.search(r"all equal$|^time ", line)]
    random = sum(ticks for name, ticks in equal if name.startswith(RANDOM))
    kept = [ticks for name, ticks in equal if not name.startswith(RANDOM)]
    # The takes are played as the game would be; random input keeps a puppet busier than any player
    # does.
    played = times[:-1] or times
    return LanguageResult(language, len(kept), sum(kept), random,
                          sum(each for each, _ in played) / max(1, len(played)),
                 max((size for _, size in times), default=0), rest[0][:200] if rest else "")


if __name__ == "__main__":
    for _found in compared(msgspec.json.decode(sys.stdin.buffer.read(), type=CompareRequest)):
        sys.stdout.buffer.write(msgspec.json.encode(_found) + b"\n")
        sys.stdout.buffer.flush()
