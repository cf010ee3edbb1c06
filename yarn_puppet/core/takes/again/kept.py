"""The takes that are kept with a puppet, run again after each edit: promises judged, and compared
with runs before."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from time import perf_counter
from typing import TYPE_CHECKING, NamedTuple

from ...model.kinds.promises import PROMISES
from ...model.puppet import Puppet
from ...model.take import Take
from ...model.world import World
from ..columns import Run
from ..comparing.difference import Beside, Difference, difference
from ..controls import controls_of
from ..promising.promises import Verdict, judged_by
from ..promising.watching import Watched
from ..recording import run_again
from ..records import Records
from ..run import Setup, in_world, set_up
from .references import Reference, played
from .touched import first_touched

if TYPE_CHECKING:
    from ...pose.bones.clip_poses import ClipPoses

OFTEN = 256
"""Ticks after which one may well stop."""


class Outcome(NamedTuple):
    """What came of a take.

    `states` are those of the lowest layer, `was` those of the reference. `again_from` is the tick
    from which it was run again, `seconds` how long that took. A `problem` says why it cannot be
    run; then there is nothing else.
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
    known = {*(action.id for action in puppet.actions), *(axis.id for axis in puppet.axes)}
    return [id for id in dict.fromkeys([*(control[1] for control in take.controls),
                                        *(axis[1] for axis in take.axes)])
            if id not in known]


class _Kept:
    """The runs of one take: as it is now, as it was before the last edit, and as it was
    accepted."""

    def __init__(self, take: Take) -> None:
        self.take = take
        self.controls = list(controls_of(take))
        self.now: Records | None = None
        self.seen: Watched | None = None
        """What its promises ask about, of the run now."""
        self.before: Records | None = None
        self.beside: list[Beside] = []
        """The run now beside those it was compared with."""
        self.reference: Records | None = None
        self.reference_of: Reference | None = None


class KeptRuns:
    """Runs takes again, from the first tick that an edit can touch on."""

    def __init__(
        self, poses_of: Callable[[Puppet], ClipPoses | None] = lambda puppet: None
    ) -> None:
        """`poses_of` gives the bones of a puppet, for takes that promise something of them."""
        self._poses_of = poses_of
        self._kept: dict[str, _Kept] = {}
        self._setup: Setup | None = None
        self._accepted: list[tuple[Reference, Setup]] = []
        """The references whose setups are still of use."""
        self._present: tuple[Puppet, dict[str, World]] | None = None
        """What the takes run with now; what they did before it is what the last edit changed."""
        self._through = False

    def run(
        self, puppet: Puppet, takes: Mapping[str, Take], worlds: Mapping[str, World],
        references: Mapping[str, Reference] | None = None,
    ) -> Iterator[Outcome | None]:
        """Run all takes with a puppet; yields what comes of each, and None in between, when one may
        well stop.

        `worlds` are the booths by file name. A take without a reference has the first puppet that
        it ran with.
        """
        for gone in set(self._kept) - set(takes):
            del self._kept[gone]
        self._begin(puppet, worlds)
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
                yield Outcome(name, take.ticks, take.first,
                              problem=f"its booth {take.booth} is not there")
                continue
            world = worlds[take.booth] if take.booth is not None else None
            kept = self._kept_for(name, take)
            wanted = references.get(name) if references is not None else None
            seeded = in_world(setup, world)._replace(seed=take.seed)
            yield from self._run_one(name, kept, seeded, wanted)
        self._through = True
        in_use = [each.reference_of for each in self._kept.values()]
        self._accepted = [each for each in self._accepted
                          if any(each[0] is used for used in in_use)]

    def _begin(self, puppet: Puppet, worlds: Mapping[str, World]) -> None:
        """An edit is what came between two puppets whose takes were all run: one that was left in
        the middle for another is part of that. Keeping a take or promising something is none."""
        now = puppet, dict(worlds)
        if self._present is None or self._present[0] != puppet or any(
            self._present[1].get(file, world) != world for file, world in worlds.items()
        ):
            if self._through:
                for kept in self._kept.values():
                    kept.before = kept.now
            self._present, self._through = now, False

    def _set_up(self, puppet: Puppet) -> Setup:
        before = self._setup
        if before is None or before.puppet is not puppet:
            self._setup = set_up(puppet, None, before.program if before is not None else None)
        assert self._setup is not None
        return self._setup

    def _accepted_setup(self, reference: Reference) -> Setup:
        """The setup of a reference, without a world. References that are equal become one."""
        for known, setup in self._accepted:
            if known is reference or known == reference:
                return setup
        present = self._setup
        setup = present if present is not None and present.puppet == reference.puppet else set_up(
            reference.puppet, None, present.program if present is not None else None)
        self._accepted.append((reference, setup))
        return setup

    def _kept_for(self, name: str, take: Take) -> _Kept:
        kept = self._kept.get(name)
        if kept is None or played(kept.take) != played(take):
            kept = self._kept[name] = _Kept(take)
        kept.take = take
        return kept

    def _run_one(
        self, name: str, kept: _Kept, setup: Setup, wanted: Reference | None
    ) -> Iterator[Outcome | None]:
        begun = perf_counter()
        again_from, known = _known(kept, setup)
        seen = Watched(kept.take.promises)
        for part in _watched(kept, again_from, known):
            if part is None:
                yield None
            else:
                seen = part
        beside = _beside(kept, _compared_with(kept, wanted), setup, again_from)
        for _ in _seen_known(beside, known):
            yield None
        now = Records()
        for now in run_again(setup, kept.controls, known):
            ticks = len(now)
            if ticks > seen.count:
                record = now[-1]
                seen.see(record)
                for each in beside:
                    if ticks > each.tick:
                        each.see(record)
            if ticks % OFTEN == 0:
                yield None
        kept.now, kept.seen, kept.beside = now, seen, beside
        seconds = perf_counter() - begun
        yield from self._refer(kept, setup, wanted)
        verdicts = []
        poses = self._poses_of(setup.puppet) if any(
            PROMISES[promise.kind].of_bones for promise in kept.take.promises) else None
        for promise in kept.take.promises:
            verdicts.append(judged_by(promise, seen, now, setup, kept.take.first, poses))
            yield None
        reference = kept.reference
        assert reference is not None
        since_edit = _changed(kept, kept.before, setup) if kept.before is not None else None
        since_reference = (
            since_edit if reference is kept.before else _changed(kept, reference, setup)
        )
        layer = setup.program.layers[0].id if setup.program.layers else ""
        yield Outcome(
            name, len(now), kept.take.first, tuple(now.columns.states.get(layer, ())),
            tuple(reference.columns.states.get(layer, ())), tuple(verdicts), since_edit,
            since_reference, again_from,
            seconds,
        )

    def _refer(self, kept: _Kept, setup: Setup, wanted: Reference | None) -> Iterator[None]:
        """See to it that the run of what was accepted is there."""
        if wanted is None:
            kept.reference = kept.reference or kept.now
            return
        if _referred(kept, wanted):
            return
        world = setup.world
        if kept.take.booth is not None:
            world = dict(wanted.worlds).get(kept.take.booth, world)
        if unknown_actions(wanted.puppet, kept.take) or wanted.puppet.rate != kept.take.rate:
            # It could not have been run with that puppet, and is compared with itself.
            kept.reference, kept.reference_of = kept.now, wanted
            return
        accepted = in_world(self._accepted_setup(wanted), world)._replace(seed=kept.take.seed)
        for run in _again(kept, accepted):
            if run is None:
                yield None
            else:
                kept.reference = run
        kept.reference_of = wanted


def _known(kept: _Kept, setup: Setup) -> tuple[int, Records | None]:
    """How much of the take's run now is the same with a setup, and that much of it."""
    old = kept.now
    if old is None or old.setup is None:
        return 0, None
    touched = first_touched(old.setup, setup, old.first_seen, len(old))
    return touched, old.up_to(touched)


def _watched(kept: _Kept, tick: int, known: Records | None) -> Iterator[Watched | None]:
    """What the promises ask about before a tick of the run that is known; None in between."""
    seen = kept.seen
    if seen is not None and seen.promises.issuperset(kept.take.promises):
        yield seen.up_to(tick)
        return
    seen = Watched(kept.take.promises)
    if seen.promises:
        for record in known or ():
            seen.see(record)
            if seen.count % OFTEN == 0:
                yield None
    else:
        seen.count = tick
    yield seen


def _referred(kept: _Kept, wanted: Reference | None) -> bool:
    """Whether the run of what was accepted exists already."""
    return kept.reference is not None and (
        wanted is None or wanted is kept.reference_of or wanted == kept.reference_of
    )


def _compared_with(kept: _Kept, wanted: Reference | None) -> list[Records]:
    """The runs that are there to compare with: that before the last edit, and that which was
    accepted."""
    found = [kept.before] if kept.before is not None else []
    if _referred(kept, wanted) and kept.reference is not None and kept.reference is not kept.before:
        found.append(kept.reference)
    return found


def _beside(kept: _Kept, runs: list[Records], setup: Setup, again_from: int) -> list[Beside]:
    """The run to come beside each of those; as it was compared already, where nothing is run
    again."""
    known = (
        {id(each.before): each for each in kept.beside} if again_from == len(kept.controls) else {}
    )
    return [known.get(id(run)) or Beside(run, _since(run, setup)) for run in runs]


def _seen_known(beside: list[Beside], known: Records | None) -> Iterator[None]:
    """Compare what is known of a run; stops now and then."""
    for each in beside:
        for record in known.between(each.tick, len(known)) if known is not None else ():
            if not each.see(record):
                break
            if each.tick % OFTEN == 0:
                yield


def _again(kept: _Kept, setup: Setup) -> Iterator[Records | None]:
    """The take's run with a setup, made of its run now as far as that is the same; None in
    between."""
    run = Records()
    for run in run_again(setup, kept.controls, _known(kept, setup)[1]):
        if len(run) % OFTEN == 0:
            yield None
    yield run


def _since(before: Records, setup: Setup) -> int:
    """The first tick in which a run of before can differ from one with a setup."""
    return (
        first_touched(before.setup, setup, before.first_seen, len(before))
        if before.setup is not None
        else 0
    )


def _changed(kept: _Kept, before: Records, setup: Setup) -> Difference | None:
    """How the take's run now differs from one of before."""
    now = kept.now
    assert now is not None
    if before is now:
        return None
    beside = next((each for each in kept.beside if each.before is before), None)
    return (
        beside.difference(now)
        if beside is not None
        else difference(before, now, _since(before, setup))
    )
