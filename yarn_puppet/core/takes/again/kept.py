"""The takes that are kept with a puppet, run again after each edit: promises judged, and compared with runs before."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from time import perf_counter
from typing import NamedTuple

from msgspec.structs import replace

from ...model.puppet import Puppet
from ...model.take import Take
from ...model.world import World
from ..columns import Run
from ..comparing.difference import Difference, difference
from ..promising.promises import Verdict, judged
from ..recording import run_again
from ..records import Records
from ..run import Setup, controls_of, in_world, set_up
from .touched import first_touched


class Outcome(NamedTuple):
    """What came of a take.

    `states` are those of the lowest layer, `was` those of the reference. `again_from` is the tick from which it was run
    again, `seconds` how long that took. A `problem` says why it cannot be run; then there is nothing else.
    """

    take: str
    ticks: int
    first: int
    states: tuple[Run, ...] = ()
    was: tuple[Run, ...] = ()
    verdicts: tuple[Verdict, ...] = ()
    since_edit: Difference | None = None
    since_reference: Difference | None = None
    again_from: int = 0
    seconds: float = 0.0
    problem: str = ""


def unknown_actions(puppet: Puppet, take: Take) -> list[str]:
    """The actions and axes that a take moves and a puppet does not have."""
    known = {*(each.id for each in puppet.actions), *(each.id for each in puppet.axes)}
    return [id for id in dict.fromkeys([*(each[1] for each in take.controls), *(each[1] for each in take.axes)])
            if id not in known]


def _played(take: Take) -> Take:
    """What of a take its run hangs on: not what must hold on it, whose it is, or where it is looked at from."""
    return replace(take, promises=(), puppet="", first=0)


class _Kept:
    """The runs of one take: as it is now, and as it was accepted."""

    def __init__(self, take: Take) -> None:
        self.take = take
        self.controls = list(controls_of(take))
        self.now: Records | None = None
        self.reference: Records | None = None


class KeptRuns:
    """Runs takes again, from the first tick that an edit can touch on."""

    def __init__(self) -> None:
        self._kept: dict[str, _Kept] = {}
        self._setup: Setup | None = None

    def run(
        self, puppet: Puppet, takes: Mapping[str, Take], worlds: Mapping[str, World]
    ) -> Iterator[Outcome | None]:
        """Run all takes with a puppet; yields what comes of each, and None in between, when one may well stop.

        `worlds` are the booths by file name.
        """
        for gone in set(self._kept) - set(takes):
            del self._kept[gone]
        setup = self._set_up(puppet)
        for name, take in takes.items():
            if take.rate != puppet.rate:
                yield Outcome(name, take.ticks, take.first, problem=(
                    f"it was played at {take.rate} Hz, the puppet runs at {puppet.rate}"))
                continue
            lost = unknown_actions(puppet, take)
            if lost:
                yield Outcome(name, take.ticks, take.first, problem=(
                    f"it presses {', '.join(lost[:4])}, which the puppet does not have"))
                continue
            if take.booth is not None and take.booth not in worlds:
                yield Outcome(name, take.ticks, take.first, problem=f"its booth {take.booth} is not there")
                continue
            world = worlds[take.booth] if take.booth is not None else None
            kept = self._kept_for(name, take)
            yield from self._run_one(name, kept, in_world(setup, world))

    def accept(self, names: set[str] | None = None) -> None:
        """Take the runs as they are now as the reference: of these takes, or of all."""
        for name, kept in self._kept.items():
            if names is None or name in names:
                kept.reference = kept.now

    def _set_up(self, puppet: Puppet) -> Setup:
        before = self._setup
        if before is None or before.puppet is not puppet:
            self._setup = set_up(puppet, None, before.program if before is not None else None)
        assert self._setup is not None
        return self._setup

    def _kept_for(self, name: str, take: Take) -> _Kept:
        kept = self._kept.get(name)
        if kept is None or _played(kept.take) != _played(take):
            kept = self._kept[name] = _Kept(take)
        kept.take = take
        return kept

    def _run_one(self, name: str, kept: _Kept, setup: Setup) -> Iterator[Outcome | None]:
        begun = perf_counter()
        old, touched = kept.now, 0
        known: Records | None = None
        if old is not None and old.setup is not None:
            touched = first_touched(old.setup, setup, old.firsts, len(old))
            known = old.up_to(touched)
        run = Records()
        for run in run_again(setup, kept.controls, known):
            if len(run) % 256 == 0:
                yield None
        kept.now = run
        if kept.reference is None:
            kept.reference = run
        seconds = perf_counter() - begun
        layer = setup.program.layers[0].id if setup.program.layers else ""
        whole = list(run) if kept.take.promises else []
        verdicts = []
        for promise in kept.take.promises:
            verdicts.append(judged(promise, whole, kept.take.first))
            yield None
        reference = kept.reference
        since_reference = since_edit = None
        if old is not None:
            since_edit = difference(old, run, touched) if touched < len(run) else None
            since_reference = since_edit if reference is old else difference(reference, run)
        yield Outcome(
            name, len(run), kept.take.first, tuple(run.columns.states.get(layer, ())),
            tuple(reference.columns.states.get(layer, ())), tuple(verdicts), since_edit, since_reference, touched,
            seconds,
        )
