"""Frame data: when each state with a hit window hits, for how long, how far and how hard. Counted in ticks."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from ..engine.play import play
from ..engine.program import Program, ProgramIntent, ProgramState
from ..engine.program_clips import TICK, ProgramClip
from ..model.clips import Clip
from ..model.graph import State
from ..model.puppet import Puppet
from ..model.world import Dummy, World
from ..rules.bind import leaves

MOST_TICKS = 3600
"""A clip longer than this many ticks is counted no further."""


class FrameData(NamedTuple):
    """A state that hits. Ticks: `startup` before the first hit window opens, `active` up to the last tick in which one
    is open, `recovery` after that; `cancel` the first and last tick in which a cancel window is open, counted from 1,
    or None.

    `on_hit` and `on_guard` are the advantage over the dummy asked: how many ticks sooner than it the puppet is free
    again, counted from the first tick that hits to the end of the clip; None where the dummy does not say.
    `reach` is how far in front of the pivot it hits, in pixels. `from_control` is how many ticks after the control that
    arms its quickest intent the first hit comes, None where no intent leads to it; `control` that intent's name.
    """

    state: str
    name: str
    startup: int
    active: int
    recovery: int
    total: int
    cancel: tuple[int, int] | None
    reach: float
    damage: int
    hit_stop: int
    from_control: int | None
    control: str
    on_hit: int | None = None
    on_guard: int | None = None


COLUMNS = (
    "state", "startup", "active", "recovery", "total", "cancel from", "cancel to", "reach", "damage", "hit stop",
    "control", "ticks from control to hit", "on hit", "on guard",
)


def frame_data(puppet: Puppet, program: Program, world: World | None = None) -> tuple[FrameData, ...]:
    """Every state that plays a clip with a hit window, band by band; for one that plays a spread, a row a clip. The
    first dummy of the world that says how long it reels is asked for the advantage."""
    dummies = world.dummies if world is not None else ()
    asked = next((each for each in dummies if each.ticks("reels", program.rate) or each.ticks(
        "reels_guarding", program.rate)), None)
    clips = {clip.id: clip for clip in puppet.clips}
    controls = _controls(program)
    places = {state.id: place for place, state in enumerate(program.states)}
    found = []
    for place in (places[state.id] for state in _by_band(puppet) if state.id in places):
        state = program.states[place]
        for clip in ([each.clip for each in state.spread] if state.spread else [state.clip]):
            if clip is not None and clip.id in clips and any(window.kind == "hit" for window in clip.windows):
                drawn = clips[clip.id]
                name = f"{state.name} · {drawn.name}" if state.spread else state.name
                found += _row(state, name, clip, drawn, controls.get(place), asked, program.rate)
    return tuple(found)


def _by_band(puppet: Puppet) -> list[State]:
    """The states in the order in which a page shows them."""
    layers = {layer.id: number for number, layer in enumerate(puppet.layers)}
    groups = {group.id: number for number, group in enumerate(puppet.groups)}

    def order(state: State) -> tuple[int, list[int], int]:
        around = [groups[each.id] for each in puppet.groups_around(state)]
        # What is in no group inside the band comes after the groups that are.
        return (layers.get(state.layer, len(layers)), [*reversed(around), len(groups)],
                1 << 30 if state.place is None else state.place)

    return sorted(puppet.states, key=order)


def _row(
    state: ProgramState, name: str, clip: ProgramClip, drawn: Clip, control: tuple[int, str] | None,
    asked: Dummy | None, rate: int,
) -> list[FrameData]:
    """The row of a clip that a state plays; none where its hit window never opens."""
    advance = round(state.speed.fixed * TICK)
    hits, cancels, total = _counted(clip, advance) if advance > 0 else ([], [], 0)
    if not hits:
        return []
    windows = [window for window in clip.windows if window.kind == "hit"]
    # A hit stop holds both, and so counts for neither.
    busy = total - hits[0] - 1
    return [FrameData(
        state.id, name, hits[0], hits[-1] - hits[0] + 1, total - hits[-1] - 1, total,
        (cancels[0] + 1, cancels[-1] + 1) if cancels else None, _reach(drawn),
        max(window.damage for window in windows), max(window.hit_stop for window in windows),
        hits[0] + control[0] if control else None, control[1] if control else "",
        *[asked.ticks(of, rate) - busy if asked and asked.ticks(of, rate) else None
          for of in ("reels", "reels_guarding")],
    )]


def _counted(clip: ProgramClip, advance: int) -> tuple[list[int], list[int], int]:
    """The ticks of one cycle in which a hit window is open, those in which a cancel window is, and how many there
    are."""
    hits, cancels = [], []
    time, number, met = 0, 0, -1
    while number < MOST_TICKS:
        done = play(clip, time, met, advance)
        kinds = {window.kind for place, window in enumerate(clip.windows) if done.open >> place & 1}
        if "hit" in kinds:
            hits.append(number)
        if "cancel" in kinds:
            cancels.append(number)
        number, time, met = number + 1, done.time, time
        if done.ended:
            break
    return hits, cancels, number


def _reach(clip: Clip) -> float:
    """How far before the pivot the hit boxes of a clip come while a hit window is open."""
    best, borders = 0.0, clip.borders
    for window in clip.windows:
        if window.kind != "hit" or window.end <= window.start:
            continue
        for index, frame in enumerate(clip.frames):
            if borders[index] < window.end and borders[index + 1] > window.start:
                pivot = clip.pivot_of(index)
                for box in frame.boxes:
                    if box.kind == "hit" and box.name in ("", window.name):
                        ahead = box.x + box.width - pivot.x if clip.faces == "right" else pivot.x - box.x
                        best = max(best, ahead)
    return round(best, 1)


def _controls(program: Program) -> dict[int, tuple[int, str]]:
    """By state the quickest intent that leads to it: after how many ticks it is armed, and its name."""
    found: dict[int, tuple[int, str]] = {}
    for each in program.transitions:
        target = each.target
        while target < 0 and -target - 1 < len(program.groups):
            target = program.groups[~target].start
        for intent in _read(program, each.condition.tree if each.condition else None):
            quick = (_ticks(intent), intent.name)
            if target not in found or quick < found[target]:
                found[target] = quick
    return found


def _read(program: Program, tree: object) -> Iterator[ProgramIntent]:
    for leaf in leaves(tree) if tree is not None else ():  # type: ignore[arg-type]
        if leaf.operator == "intent":
            yield program.intents[int(leaf.value)]  # type: ignore[arg-type]


def _ticks(intent: ProgramIntent) -> int:
    """After how many ticks of its control a gesture arms at the soonest: a hold must last, a tap must be let go."""
    if intent.gesture == "hold":
        return -(-intent.threshold // TICK)
    return 1 if intent.gesture in ("tap", "release", "double tap", "sequence") else 0


def frame_data_rows(data: Iterable[FrameData]) -> Iterator[list[object]]:
    """The table, `COLUMNS` first, as a file of it holds it."""
    yield list(COLUMNS)
    for each in data:
        cancel = each.cancel or ("", "")
        yield [each.name, each.startup, each.active, each.recovery, each.total, *cancel, each.reach, each.damage,
               each.hit_stop, each.control,
               *["" if number is None else number for number in (each.from_control, each.on_hit, each.on_guard)]]
