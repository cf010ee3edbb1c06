"""The process that runs the kept takes again: `python -m yarn_puppet.core.takes.again.worker`.

It reads one JSON object a line, an `Ask`, and answers with lines of JSON, `Answer`s. A newer
question makes it leave an older one. It ends when its input does.
"""

from __future__ import annotations

import os
import sys
import traceback
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from queue import Empty, SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING, BinaryIO

import msgspec
from msgspec.structs import replace

from ...model.puppet import Puppet
from ...model.take import Take
from ...model.world import World
from .kept import KeptRuns, Outcome
from .rates import Rates, at_rates
from .references import Reference

if TYPE_CHECKING:
    from ...pose.bones.clip_poses import ClipPoses


class TakesRequest(msgspec.Struct, frozen=True, omit_defaults=True):
    """What is to be done: run these takes with this puppet, in booths by file name.

    `references` says for each take the number of what it is compared with. Of those numbers `given`
    are the ones that were not told yet. `rates` is a take to run at other rates afterwards; `fresh`
    forgets the runs of before, and then all numbers are given.
    """

    number: int
    puppet: Puppet
    takes: dict[str, Take]
    worlds: dict[str, World]
    references: dict[str, int] = {}
    given: dict[int, Reference] = {}
    rates: str = ""
    fresh: bool = False
    folder: str = ""
    """Where the puppet's files of bones are looked for."""


class Answer(msgspec.Struct, frozen=True, omit_defaults=True):
    """One line of an answer to the ask of this number; the last of them is `done`."""

    number: int
    outcome: Outcome | None = None
    rates: Rates | None = None
    """A take at other rates: first what differs, then the same with what was tried."""
    done: bool = False
    problem: str = ""


ASK = msgspec.json.Decoder(TakesRequest)
ANSWER = msgspec.json.Decoder(Answer)


def answers(
    kept: KeptRuns, ask: TakesRequest, known: dict[int, Reference] | None = None
) -> Iterator[Answer | None]:
    """Do what is asked for; None where one may leave it for something newer. `known` are the
    references by number."""
    known = known if known is not None else ask.given
    references = {take: known[number] for take, number in ask.references.items() if number in known}
    puppet = ask.puppet
    if puppet.bone_files:
        from ..bones_read import with_bones

        puppet = with_bones(puppet, Path(ask.folder))
    for outcome in kept.run(puppet, ask.takes, ask.worlds, references):
        yield Answer(ask.number, outcome) if outcome is not None else None
    take = ask.takes.get(ask.rates)
    if take is not None:
        for rate in at_rates(puppet, take, ask.worlds.get(take.booth or "")):
            yield Answer(ask.number, rates=rate) if rate is not None else None
    yield Answer(ask.number, done=True)


class _Bones:
    """Reads the bones of puppets, where a promise asks for them."""

    def __init__(self) -> None:
        self.folder = Path()

    def poses_of(self, puppet: Puppet) -> ClipPoses | None:
        from ..bones_read import poses_in

        return poses_in(puppet, self.folder)


class Waiting:
    """What was asked and not begun yet. Only the last question counts, but every reference that was
    given."""

    def __init__(self, source: BinaryIO) -> None:
        self._lines: SimpleQueue[bytes] = SimpleQueue()
        Thread(target=self._read, args=(source,), daemon=True).start()

    def _read(self, source: BinaryIO) -> None:
        for line in source:
            self._lines.put(line)
        self._lines.put(b"")

    def next(self, block: bool) -> TakesRequest | None:
        """The newest question; None where there is none. Ends the process where no more can
        come."""
        ask: TakesRequest | None = None
        with suppress(Empty):
            while True:
                line = self._lines.get(block and ask is None)
                if not line:
                    raise SystemExit
                newer = ASK.decode(line)
                given = {**ask.given, **newer.given} if ask is not None else newer.given
                ask = replace(newer, given=given,
                              fresh=newer.fresh or (ask is not None and ask.fresh))
        return ask


def serve(source: BinaryIO, out: BinaryIO) -> None:
    """Answer until the source ends."""
    bones = _Bones()
    waiting, kept = Waiting(source), KeptRuns(bones.poses_of)
    known: dict[int, Reference] = {}
    ask = waiting.next(block=True)
    while ask is not None:
        newer: TakesRequest | None = None
        bones.folder = Path(ask.folder)
        if ask.fresh:
            kept, known = KeptRuns(bones.poses_of), {}
        known |= ask.given
        known = {number: each for number, each in known.items()
                 if number in ask.references.values()}
        try:
            for answer in answers(kept, ask, known):
                if answer is not None:
                    _tell(out, answer)
                newer = waiting.next(block=False)
                if newer is not None:
                    break
        except Exception as fault:
            # An error of ours in one puppet must not end the process: the next may be another.
            traceback.print_exc()
            _tell(out, Answer(ask.number, done=True, problem=repr(fault)))
        ask = newer if newer is not None else waiting.next(block=True)


def _tell(out: BinaryIO, answer: Answer) -> None:
    out.write(msgspec.json.encode(answer) + b"\n")
    out.flush()


if __name__ == "__main__":
    # The desk that plays comes first.
    os.nice(5)
    serve(sys.stdin.buffer, sys.stdout.buffer)
