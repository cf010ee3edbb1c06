"""Runs a puppet tick by tick, in a booth or alone, and reads takes back into ticks."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from msgspec.structs import replace

from ..booth.booth import booth_senses, initial_booth, step
from ..booth.booth_state import Answerer, BoothState
from ..booth.hitting.answering import NOBODY, AnsweringTick
from ..booth.hitting.replaying import NO_TRACK, NO_TRACKS, ReplayedTick, Track
from ..booth.move_input import MoveInput, move_input_of
from ..engine.compiling.puppets import compile_puppet
from ..engine.fast.tick import Tick, fast_tick
from ..engine.plain.beginning import initial_state
from ..engine.program import Program
from ..engine.state import Inputs, Landed, MachineState, Report
from ..model.puppet import Puppet
from ..model.take import Take
from ..model.world import Dummy, World
from .controls import NO_CONTROLS, Controls, controls_of
from .other_rate import at_rate
from .sampling import Sampler


class Cast(NamedTuple):
    """A dummy that answers: the setup of the puppet that it is, in the world as it stands in it,
    and the controls of its hands, round and round."""

    setup: Setup
    hands: tuple[Controls, ...]


class Setup(NamedTuple):
    """What a run needs: the puppet, its program, the tick made of it, how its senses are read, the
    world or None, what dummies in it replay, and those that answer, by dummy."""

    puppet: Puppet
    program: Program
    world: World | None
    tick: Tick
    sampler: Sampler
    tracks: tuple[Track, ...] = NO_TRACKS
    seed: int = 1
    """What the dice of the puppet begin with."""
    casts: tuple[Cast | None, ...] = ()


class RunState(NamedTuple):
    """All that a run carries from tick to tick."""

    machine: MachineState
    booth: BoothState | None


class Record(NamedTuple):
    """One tick of a run: what was before, what went in, and what came out."""

    setup: Setup
    before: RunState
    inputs: Inputs
    controls: Controls
    report: Report
    after: RunState


def set_up(puppet: Puppet, world: World | None, before: Program | None = None) -> Setup:
    """Compile a puppet for a world; with the program of an earlier puppet only what differs is
    compiled."""
    program = compile_puppet(puppet, before)
    return in_world(Setup(puppet, program, None, fast_tick(program), Sampler(program)), world)


def in_world(setup: Setup, world: World | None) -> Setup:
    """The same in another world."""
    tracks, casts = NO_TRACKS, tuple[Cast | None, ...]()
    if world is not None:
        does = {dummy.does for dummy in world.dummies}
        if "replays" in does:
            tracks = tuple([_track(setup, world, dummy) for dummy in world.dummies])
        if "answers" in does:
            casts = tuple([_answering(setup, world, dummy) if dummy.does == "answers" else None
                           for dummy in world.dummies])
    return setup._replace(world=world, tracks=tracks, casts=casts)


def _answering(setup: Setup, world: World, dummy: Dummy) -> Cast:
    return Cast(_alone(setup, world, dummy), tuple(controls_of(_hands_of(setup, dummy)))
                or (NO_CONTROLS,))


def _hands_of(setup: Setup, dummy: Dummy) -> Take:
    return at_rate(Take(None, dummy.hands_rate, dummy.long, dummy.hands), setup.program.rate)


def _alone(setup: Setup, world: World, dummy: Dummy) -> Setup:
    """The puppet that a dummy is, alone in the booth, where the dummy stands."""
    own = _cast(setup, world.cast_of(dummy, setup.puppet))
    return own._replace(world=replace(world, dummies=(), start_x=dummy.x, start_y=dummy.y),
                        tracks=NO_TRACKS, casts=(), seed=1)


def _track(setup: Setup, world: World, dummy: Dummy) -> Track:
    """What a dummy replays: the puppet's run under its controls, alone, from where the dummy
    stands."""
    if dummy.does != "replays" or not dummy.long:
        return NO_TRACK
    puppet, rate = world.cast_of(dummy, setup.puppet), setup.puppet.rate
    for of, at, where, who, known in _TRACKS:
        if of is puppet and at == rate and where is world and who is dummy:
            return known
    hands = _hands_of(setup, dummy)
    track = Track(hands.ticks, _replayed(_alone(setup, world, dummy), dummy, hands))
    if puppet is not setup.puppet:
        _TRACKS[:] = [(puppet, rate, world, dummy, track), *_TRACKS[:MOST_CASTS - 1]]
    return track


def _replayed(setup: Setup, dummy: Dummy, hands: Take) -> Iterator[ReplayedTick]:
    for record in replay(setup, hands):
        booth = record.after.booth
        assert booth is not None
        yield ReplayedTick(booth.body.x - dummy.x, booth.body.y - dummy.y, record.report)


_TRACKS: list[tuple[Puppet, int, World, Dummy, Track]] = []
"""What opponents replayed last, by the puppet, the rate, the world and the dummy that it is of: an
edit of the puppet that they meet changes nothing of it."""
_CASTS: list[tuple[Puppet, int, Setup]] = []
"""The opponents that were compiled last, by the rate at which they run."""
MOST_CASTS = 8


def _cast(setup: Setup, puppet: Puppet) -> Setup:
    """The setup of a dummy's puppet, which runs at the rate of the puppet that it meets."""
    if puppet is setup.puppet:
        return setup
    rate = setup.puppet.rate
    for known, at, made in _CASTS:
        if known is puppet and at == rate:
            return made
    made = set_up(puppet if puppet.rate == rate else replace(puppet, rate=rate), None)
    _CASTS[:] = [(puppet, rate, made), *_CASTS[:MOST_CASTS - 1]]
    return made


def start(setup: Setup) -> RunState:
    """The state before tick 0."""
    booth = initial_booth(setup.world, setup.puppet) if setup.world else None
    if booth is not None and setup.casts:
        booth = booth._replace(answerers=tuple([cast and at_first(cast) for cast in setup.casts]))
    return RunState(initial_state(setup.program, setup.seed), booth)


def at_first(cast: Cast) -> Answerer:
    """A dummy that answers, before its first tick."""
    state = start(cast.setup)
    assert state.booth is not None
    return Answerer(state.machine, state.booth, None)


def _playing(cast: Cast, before: Answerer) -> AnsweringTick:
    """A dummy that answers in a tick of its own."""
    setup, world = cast.setup, cast.setup.world
    assert world is not None
    controls = cast.hands[before.machine.tick % len(cast.hands)]
    moving_input = move_input_of(setup.puppet, controls.down, controls.axes)
    inputs = inputs_of(setup, RunState(before.machine, before.booth), controls, moving_input)
    machine, report = setup.tick(before.machine, inputs)
    return AnsweringTick(setup.puppet, world, before.booth, machine, report, moving_input)


def inputs_of(setup: Setup, state: RunState, controls: Controls, moving_input: MoveInput) -> Inputs:
    """The engine's inputs: what is down, and each sense as forced, as the booth has it, or as it
    starts.

    `hands` is what they ask of the mover.
    """
    program, booth = setup.program, state.booth
    held = controls.down
    down = tuple([action in held for action in program.actions])
    edges: tuple[int, ...] = ()
    if controls.edges:
        often = dict(controls.edges)
        edges = tuple([often.get(action, 0) for action in program.actions])
    if booth is None:
        game = controls.game
        if game is None:
            return Inputs(down, setup.sampler.alone(controls.forced), edges=edges)
        return Inputs(
            down, setup.sampler.alone(controls.forced), _landed(program, game.landed), game.stopped,
            edges)
    senses = setup.sampler.reported(booth_senses(booth, moving_input), controls.forced)
    return Inputs(down, senses, news_of(program, booth) if booth.hits else (), booth.stop > 0,
                  edges)


def news_of(program: Program, booth: BoothState) -> tuple[Landed, ...]:
    """The hits of the last tick as the engine is told of them."""
    return _landed(program, [(hit.layer, hit.visit, hit.cycle) for hit in booth.hits])


def _landed(program: Program, hits: Iterable[tuple[str, int, int]]) -> tuple[Landed, ...]:
    """Hits of layers by id; each is told once, and those of layers that are gone are left."""
    layers = {layer.id: index for index, layer in enumerate(program.layers)}
    return tuple(dict.fromkeys(Landed(layers[layer], visit, cycle)
                               for layer, visit, cycle in hits if layer in layers))


def advance(setup: Setup, state: RunState, controls: Controls) -> Record:
    """One tick of the puppet and of the world around it."""
    moving_input = move_input_of(setup.puppet, controls.down, controls.axes)
    inputs = inputs_of(setup, state, controls, moving_input)
    machine, report = setup.tick(state.machine, inputs)
    booth = state.booth
    if setup.world is not None and booth is not None:
        everyone = NOBODY if not setup.casts else tuple([
            _playing(cast, each) if cast is not None and each is not None else None
            for cast, each in zip(setup.casts, booth.answerers, strict=True)])
        booth = step(setup.world, setup.puppet, booth, report, moving_input, setup.tracks,
                     everyone)
    return Record(setup, state, inputs, controls, report, RunState(machine, booth))


def replay(setup: Setup, take: Take) -> Iterator[Record]:
    """Run a take from its start, one record a tick."""
    setup = setup if setup.seed == take.seed else setup._replace(seed=take.seed)
    state = start(setup)
    for controls in controls_of(take):
        record = advance(setup, state, controls)
        state = record.after
        yield record

