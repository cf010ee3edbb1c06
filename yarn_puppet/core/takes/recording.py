"""The run in progress: every tick is kept, so that it can be looked back on, run again and saved as a take."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..booth.booth import carried_over
from ..model.base import Scalar
from ..model.puppet import Puppet
from ..model.take import Take
from ..model.world import World
from .memory import SAMPLE, SET_ASIDE, set_aside, weight_of
from .migrate import migrate
from .run import NO_CONTROLS, Controls, Record, RunState, Setup, advance, set_up, start


class Recording:
    """Records of a run from tick 0 to the present.

    An edit takes effect at once: the present state is carried over into the new puppet and the run goes on. The
    ticks before are then run again with `run_again`, and `adopt` keeps the old ones as `earlier` to compare with.
    `weight` is about how many bytes the run holds, weighed at one tick of some.
    """

    def __init__(self, puppet: Puppet, world: World | None, booth: str | None) -> None:
        self.setup: Setup = set_up(puppet, world)
        self.booth = booth
        self.records: list[Record] = []
        self.controls: list[Controls] = []
        self.earlier: list[Record] = []
        self.state: RunState = start(self.setup)
        self.weight = 0

    @property
    def ticks(self) -> int:
        """How many ticks were run: the number of the tick to come."""
        return len(self.records)

    def step(self, controls: Controls = NO_CONTROLS) -> Record:
        """Run one more tick."""
        record = advance(self.setup, self.state, controls)
        self.records.append(record)
        self.controls.append(controls)
        self.state = record.after
        self._keep(record)
        return record

    def _keep(self, record: Record) -> None:
        count = len(self.records)
        if count % SAMPLE == 1:
            self.weight += SAMPLE * weight_of(record)
        if count % SET_ASIDE == 0:
            set_aside()

    def edit(self, puppet: Puppet, world: World | None = None) -> None:
        """Go on from here with another puppet, and in another world where one is given."""
        before = self.setup
        setup = set_up(puppet, world or before.world, before.program)
        machine = migrate(before.program, setup.program, self.state.machine)
        booth = self.state.booth
        if setup.world is not None and before.world is not None and booth is not None and (
            setup.world is not before.world or puppet.mover != before.puppet.mover
        ):
            booth = carried_over(setup.world, puppet, before.world, booth)
        self.state = RunState(machine, booth)
        self.setup = setup

    def adopt(self, again: list[Record]) -> bool:
        """Take a finished rerun as the run: the old one is kept as `earlier`, and the present follows the new.

        A result counts only for the very program it was made with: one of another is left, and the answer is False.
        """
        if any(record.setup is not self.setup for record in again[-1:]):
            return False
        self.earlier = self.records
        self.records = again
        self.controls = [record.controls for record in again]
        self.state = again[-1].after if again else start(self.setup)
        self.weight = sum(weight_of(record) for record in again[::SAMPLE]) * SAMPLE
        return True

    def restart(self) -> None:
        """Begin a new run; the present one is forgotten."""
        self.records = []
        self.controls = []
        self.earlier = []
        self.state = start(self.setup)
        self.weight = 0

    def take(self) -> Take:
        """The controls of this run as a take."""
        return take_of(self.controls, self.booth, self.setup.program.rate)


def run_again(setup: Setup, controls: Sequence[Controls]) -> Iterator[list[Record]]:
    """Run these controls from the start; yields the list being filled after each tick.

    `controls` may grow meanwhile, and is followed to its end. Nothing of a recording changes until it is given the
    finished list to `adopt`, so that this can be dropped at any time, and may run in another thread.
    """
    state = start(setup)
    again: list[Record] = []
    while len(again) < len(controls):
        record = advance(setup, state, controls[len(again)])
        state = record.after
        again.append(record)
        if len(again) % SET_ASIDE == 0:
            set_aside()
        yield again


def take_of(controls: Sequence[Controls], booth: str | None, rate: int) -> Take:
    """A take from the controls of each tick: only what changes is kept."""
    changes: list[tuple[int, str, int]] = []
    senses: list[tuple[int, str, Scalar | None]] = []
    axes: list[tuple[int, str, int]] = []
    before = NO_CONTROLS
    for number, now in enumerate(controls):
        if now != before:
            changes += [(number, action, 0) for action in sorted(before.down - now.down)]
            changes += [(number, action, 1) for action in sorted(now.down - before.down)]
            old, new = dict(before.forced), dict(now.forced)
            senses += [(number, id, None) for id in old if id not in new]
            senses += [(number, id, value) for id, value in new.items() if id not in old or old[id] != value]
            was, steps = dict(before.axes), dict(now.axes)
            axes += [(number, id, 0) for id in was if id not in steps]
            axes += [(number, id, each) for id, each in steps.items() if was.get(id, 0) != each]
        before = now
    return Take(
        booth, rate, len(controls), tuple(changes), tuple(senses), axes=tuple(axes),  # type: ignore[arg-type]
    )
