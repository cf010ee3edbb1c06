"""The run in progress: every tick is kept, so that it can be looked back on, run again and saved as
a take."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..booth.booth import carried_over
from ..booth.booth_state import Answerer
from ..model.basics.base import Scalar
from ..model.puppet import Puppet
from ..model.take import Take
from ..model.world import World
from .controls import NO_CONTROLS, Controls, GameInput
from .memory import SET_ASIDE, set_aside
from .migrate import migrate
from .migrate_rate import booth_at_rate
from .records import Records
from .run import Record, RunState, Setup, advance, at_first, set_up, start


class Recording:
    """Records of a run from tick 0 to the present.

    An edit takes effect with the next tick: the present state is carried over into the new puppet
    and the run goes on. It is compiled as its setup is asked for, so that of edits in a row, with
    no tick between, only the last is. The ticks before are then run again with `run_again`, and
    `adopt` keeps the old ones as `earlier` to compare with. `weight` is about how many bytes the
    run holds.
    """

    def __init__(
        self, puppet: Puppet, world: World | None, booth: str | None, seed: int = 1
    ) -> None:
        self.compiled: Setup = set_up(puppet, world)._replace(seed=seed)
        """The setup that was compiled last: edits since are not in it."""
        self._edited: tuple[Puppet, World | None] | None = None
        """The puppet and the world that are not compiled yet."""
        self.booth = booth
        self.records = Records()
        self.controls: list[Controls] = []
        self.earlier = Records()
        self.compiled_state: RunState = start(self.compiled)
        """The present, in the setup that was compiled last."""

    @property
    def puppet(self) -> Puppet:
        """The puppet that runs, compiled or not."""
        return self._edited[0] if self._edited is not None else self.compiled.puppet

    @property
    def world(self) -> World | None:
        """The world that it runs in."""
        return self._edited[1] if self._edited is not None else self.compiled.world

    @property
    def is_compiled(self) -> bool:
        """Whether no edit waits for being compiled."""
        return self._edited is None

    @property
    def setup(self) -> Setup:
        """What the next tick is run with; an edit is compiled now."""
        self.compile()
        return self.compiled

    @property
    def state(self) -> RunState:
        """The present, which the next tick begins with."""
        self.compile()
        return self.compiled_state

    def compile(self) -> None:
        """Compile what was edited, where anything was."""
        if self._edited is None:
            return
        before, (puppet, world) = self.compiled, self._edited
        self._edited = None
        if puppet is before.puppet and world is before.world:
            # It was undone before a tick ran.
            return
        self.compiled = set_up(puppet, world, before.program)._replace(seed=before.seed)
        if self.records:
            self.compiled_state = carried(before, self.compiled, self.compiled_state,
                                          self.records[-1])
        else:
            self.compiled_state = start(self.compiled)

    @property
    def weight(self) -> int:
        """About how many bytes it holds."""
        return self.records.weight + self.earlier.weight

    @property
    def ticks(self) -> int:
        """How many ticks were run: the number of the tick to come."""
        return len(self.records)

    def step(self, controls: Controls = NO_CONTROLS) -> Record:
        """Run one more tick."""
        record = advance(self.setup, self.state, controls)
        self.records.append(record)
        self.controls.append(controls)
        self.compiled_state = record.after
        if len(self.records) % SET_ASIDE == 0:
            set_aside()
        return record

    def edit(self, puppet: Puppet, world: World | None = None) -> None:
        """Go on from here with another puppet, and in another world where one is given. Before the
        first tick there is nothing to go on from: the run begins as one of the edited puppet
        does."""
        self._edited = puppet, world or self.world

    def adopt(self, again: Records) -> bool:
        """Take a finished rerun as the run: the old one is kept as `earlier`, and the present
        follows the new.

        A result counts only for the very program it was made with: one of another is left, and the
        answer is False. Ticks run since it was begun are few: they are caught up with here.
        """
        if again and again.setup is not self.setup:
            return False
        if len(again) < len(self.controls) and again:
            *_, again = run_again(self.setup, self.controls, again)
        self.earlier = self.records
        self.records = again
        self.controls = again.all_controls()
        self.compiled_state = _reached(self.setup, again)
        return True

    def cut_off(self, tick: int) -> None:
        """Forget what is from a tick on: the run goes on from there."""
        if tick < len(self.records):
            record = self.records[tick]
            self.records = self.records.up_to(tick)
            self.controls = self.controls[:tick]
            self.compiled_state = carried(record.setup, self.setup, record.before, record)
            self.earlier = Records()

    def restart(self) -> None:
        """Begin a new run; the present one is forgotten."""
        self.records = Records()
        self.controls = []
        self.earlier = Records()
        self.compiled_state = start(self.setup)

    def thin(self, most: int) -> bool:
        """Hold less than so many bytes, if that can be: the run before the last edit goes first,
        then states of old ticks, which are then run again from further back."""
        if self.earlier:
            self.earlier = Records()
        while self.weight >= most and self.records.thin():
            pass
        return self.weight < most

    def take(self) -> Take:
        """The controls of this run as a take."""
        return take_of(self.controls, self.booth, self.setup.program.rate, self.setup.seed)


def carried(before: Setup, setup: Setup, state: RunState, last: Record | None = None) -> RunState:
    """A state of one setup as a state of another; `last` is the record beside it, for what its
    senses were."""
    if before is setup:
        return state
    senses = last.report.senses if last is not None and last.setup is before else ()
    machine = migrate(before.program, setup.program, state.machine, senses)
    booth = state.booth
    if booth is not None:
        booth = booth_at_rate(booth, machine.tick, before.program.rate, setup.program.rate)
    if setup.world is not None and before.world is not None and booth is not None and (
        setup.world is not before.world or setup.puppet.mover != before.puppet.mover
    ):
        booth = carried_over(setup.world, setup.puppet, before.world, booth)
    if booth is not None and (setup.casts or booth.answerers):
        booth = booth._replace(answerers=_gone_on(before, setup, booth.answerers))
    return RunState(machine, booth)


def _gone_on(
    before: Setup, setup: Setup, answerers: tuple[Answerer | None, ...]
) -> tuple[Answerer | None, ...]:
    """Those that answer, known by their names, as they are in another setup."""
    if not setup.casts:
        return ()
    known: dict[str, tuple[Setup, Answerer]] = {}
    if before.world is not None and before.casts:
        for dummy, cast, each in zip(before.world.dummies, before.casts, answerers, strict=True):
            if cast is not None and each is not None:
                known[dummy.name] = (cast.setup, each)
    found: list[Answerer | None] = []
    for dummy, cast in zip(setup.world.dummies if setup.world else (), setup.casts, strict=True):
        if cast is None or dummy.name not in known:
            found.append(cast and at_first(cast))
            continue
        was, each = known[dummy.name]
        state = carried(was, cast.setup, RunState(each.machine, each.booth))
        assert state.booth is not None
        # What it reported is of the puppet that it was.
        found.append(Answerer(state.machine, state.booth,
                              each.report if was.puppet is cast.setup.puppet else None))
    return tuple(found)


def run_again(
    setup: Setup, controls: Sequence[Controls], known: Records | None = None
) -> Iterator[Records]:
    """Run these controls again; yields the records being filled after each tick.

    `known` are those of a run of the same controls which are the same with this setup; it goes on
    after them. `controls` may grow meanwhile, and is followed to its end. Nothing of a recording
    changes until it is given the finished records to `adopt`, so that this can be dropped at any
    time, and may run in another thread.
    """
    again = known if known is not None else Records()
    again.setup = setup
    state = _reached(setup, again)
    yield again
    while len(again) < len(controls):
        record = advance(setup, state, controls[len(again)])
        state = record.after
        again.append(record)
        if len(again) % SET_ASIDE == 0:
            set_aside()
        yield again


def _reached(setup: Setup, records: Records) -> RunState:
    """Where records end, as a state of this setup: they may be of the one before, which gave the
    same."""
    return (
        carried(records[-1].setup, setup, records[-1].after, records[-1])
        if records
        else start(setup)
    )


def take_of(
    controls: Sequence[Controls], booth: str | None, rate: int, seed: int = 1
) -> Take:
    """A take from the controls of each tick: only what changes is kept."""
    changes: list[tuple[int, str, int]] = []
    senses: list[tuple[int, str, Scalar | None]] = []
    axes: list[tuple[int, str, int]] = []
    landed: list[tuple[int, str, int, int]] = []
    stopped: list[tuple[int, int]] = []
    places: list[tuple[int, float, float]] = []
    before = NO_CONTROLS
    for number, now in enumerate(controls):
        if now != before or now.edges:
            often = dict(now.edges)
            for action in sorted(before.down | now.down | often.keys()):
                level, count = action in before.down, often.get(action, 0)
                # As many changes as there were edges, the last of them to what is down now.
                count += (count % 2 == 1) != ((action in now.down) != level)
                changes += [(number, action, int(level == (step % 2 == 1)))
                            for step in range(count)]
            old, new = dict(before.forced), dict(now.forced)
            senses += [(number, id, None) for id in old if id not in new]
            senses += [(number, id, value)
                       for id, value in new.items() if id not in old or old[id] != value]
            was, steps = dict(before.axes), dict(now.axes)
            axes += [(number, id, 0) for id in was if id not in steps]
            axes += [(number, id, each) for id, each in steps.items() if was.get(id, 0) != each]
            game, was_from = now.game or GameInput(), before.game or GameInput()
            landed += [(number, *hit) for hit in game.landed]
            stopped += [(number, int(game.stopped))] if game.stopped != was_from.stopped else []
            places += [(number, *game.at)] if game.at != was_from.at else []
        elif now.game is not None:
            landed += [(number, *hit) for hit in now.game.landed]
        before = now
    return Take(
        booth, rate, len(controls), tuple(changes), tuple(senses),  # type: ignore[arg-type]
        axes=tuple(axes), landed=tuple(landed),
        stopped=tuple(stopped), places=tuple(places),  # type: ignore[arg-type]
        seed=seed,
    )
