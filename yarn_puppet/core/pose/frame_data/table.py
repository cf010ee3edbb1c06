"""The table of frame data: when each state with a hit window hits, for how long, how far and how
hard. In ticks."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from ...engine.fast.tick import Tick, fast_tick
from ...engine.program import Program, ProgramState
from ...engine.program_clips import ProgramClip
from ...model.clips import Clip
from ...model.graph import State
from ...model.puppet import Puppet
from ...model.world import Dummy, World
from .alone import Alone, played_alone, without_exits
from .controls import FirstHit, from_controls


class FrameData(NamedTuple):
    """A state that hits, in ticks, measured by running the engine (`alone`, `controls`).

    - `startup`: before the first hit window opens.
    - `active`: up to the last tick in which one is open.
    - `recovery`: after that.
    - `cancel`: the first and last tick in which a cancel window is open, from 1; or None.
    - `on_hit`, `on_guard`: how many ticks sooner than the dummy the puppet is free again, from the
      first tick that hits to the end of the clip; None where the dummy does not say.
    - `reach`: how far in front of the pivot it hits, in pixels.
    - `from_control`: the least found from a press to the first hit, None where none leads there;
      `control` is the name of that intent.
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
    "state", "startup", "active", "recovery", "total", "cancel from", "cancel to", "reach",
    "damage", "hit stop",
    "control", "ticks from control to hit", "on hit", "on guard",
)


def frame_data(
    puppet: Puppet, program: Program, world: World | None = None, tick: Tick | None = None
) -> tuple[FrameData, ...]:
    """Every state that plays a clip with a hit window, band by band; for one that plays a spread, a
    row a clip. The first dummy of the world that says how long it reels is asked for the advantage.
    `tick` is the program's, where it is there."""
    dummies = world.dummies if world is not None else ()
    asked = next((dummy for dummy in dummies if dummy.ticks("reels", program.rate) or dummy.ticks(
        "reels_guarding", program.rate)), None)
    clips = {clip.id: clip for clip in puppet.clips}
    controls = from_controls(program, tick or fast_tick(program))
    still = without_exits(program)
    places = {state.id: index for index, state in enumerate(program.states)}
    found = []
    for place in (places[state.id] for state in _by_band(puppet) if state.id in places):
        state = program.states[place]
        if state.layer < 0:
            continue
        for variant, clip in enumerate([each.clip for each in state.spread]
                                       if state.spread else [state.clip]):
            if (
                clip is not None
                and clip.id in clips
                and any(window.kind == "hit" for window in clip.windows)
            ):
                drawn = clips[clip.id]
                name = f"{state.name} · {drawn.name}" if state.spread else state.name
                found += _row(state, name, clip, played_alone(still, place, variant),
                              controls.get(place), asked,
                              program.rate, _reach(drawn, puppet.mover.scale))
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
    state: ProgramState,
    name: str,
    clip: ProgramClip,
    alone: Alone,
    control: FirstHit | None,
    asked: Dummy | None,
    rate: int,
    reach: float,
) -> list[FrameData]:
    """The row of a clip that a state plays; none where its hit window never opens."""
    hits, cancels, total = alone
    if not hits:
        return []
    windows = [window for window in clip.windows if window.kind == "hit"]
    # A hit stop holds both, and so counts for neither.
    busy = total - hits[0] - 1
    return [FrameData(
        state.id, name, hits[0], hits[-1] - hits[0] + 1, total - hits[-1] - 1, total,
        (cancels[0] + 1, cancels[-1] + 1) if cancels else None, reach,
        max(window.damage for window in windows), max(window.hit_stop for window in windows),
        control.ticks if control else None, control.control if control else "",
        *[asked.ticks(of, rate) - busy if asked and asked.ticks(of, rate) else None
          for of in ("reels", "reels_guarding")],
    )]


def _reach(clip: Clip, scale: float) -> float:
    """How far before the pivot the hit boxes of a clip come while a hit window is open, in pixels
    of the world."""
    best, borders = 0.0, clip.borders
    for window in clip.windows:
        if window.kind != "hit" or window.end <= window.start:
            continue
        for index, frame in enumerate(clip.frames):
            if borders[index] < window.end and borders[index + 1] > window.start:
                pivot = clip.pivot_of(index)
                for box in frame.boxes:
                    if box.kind == "hit" and box.name in ("", window.name):
                        ahead = (
                            box.x + box.width - pivot.x
                            if clip.faces == "right"
                            else pivot.x - box.x
                        )
                        best = max(best, ahead)
    return round(best * scale, 1)


def frame_data_rows(data: Iterable[FrameData]) -> Iterator[list[object]]:
    """The table, `COLUMNS` first, as a file of it holds it."""
    yield list(COLUMNS)
    for each in data:
        cancel = each.cancel or ("", "")
        yield [each.name, each.startup, each.active, each.recovery, each.total, *cancel, each.reach,
               each.damage,
               each.hit_stop, each.control,
               *["" if number is None else number
                 for number in (each.from_control, each.on_hit, each.on_guard)]]
