"""The clips of a state as tables by border: between two borders nothing about a clip changes but its time.

Borders are the times of a cycle at which a frame, a window or a moment is met. What a report says of a stretch between
two of them is built once.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from typing import Any, NamedTuple

from ..engine.play import frame_at, own_time, shown_windows
from ..engine.program import TICK, Program, ProgramClip
from ..engine.state import NO_HITS, InForce, LayerReport, LayerState, Open
from ..engine.tick import combined

new: Callable[..., Any] = tuple.__new__


class Told(NamedTuple):
    """What a layer brings to a report beside where it is: open windows, and while-rules of nodes and of windows."""

    windows: tuple[Open, ...]
    node_rules: tuple[InForce, ...]
    window_rules: tuple[InForce, ...]
    rules: tuple[InForce, ...]
    move_speed: float
    lock_movement: bool
    lock_facing: bool


class ClipTable:
    """One clip of a state. Stretch i is from `cuts[i]` to before `cuts[i + 1]`; the last is the cycle's end alone."""

    __slots__ = ("clip", "cuts", "frames", "masks", "own", "signs", "told")

    def __init__(self, program: Program, place: int, variant: int, clip: ProgramClip) -> None:
        self.clip = clip
        cuts = {0, clip.cycle, *clip.ends, *(moment.at for moment in clip.moments)}
        cuts |= {time for window in clip.windows for time in (window.start, window.end)}
        self.cuts = sorted(cuts)
        self.frames = [frame_at(clip, cut) for cut in self.cuts]
        self.own = [own_time(clip, cut) for cut in self.cuts]
        parts = [min(bisect_right(clip.ends, cut), len(clip.ends) - 1) for cut in self.cuts]
        self.signs = [-1 if clip.backwards[part] else 1 for part in parts]
        self.masks = [
            sum(
                1 << number for number, window in enumerate(clip.windows)
                if window.start <= cut < window.end or (window.held and cut == clip.cycle)
            )
            for cut in self.cuts
        ]
        self.told = [
            told_of(program, LayerState(place, 1, cut, 0, False, cut == clip.cycle, mask, 0, variant, NO_HITS), clip)
            for cut, mask in zip(self.cuts, self.masks, strict=True)
        ]


def told_of(program: Program, layer: LayerState, clip: ProgramClip | None) -> Told:
    """What a layer brings to a report, worked out from its state."""
    state = program.states[layer.state]
    id = program.layers[state.layer].id
    windows = tuple(
        Open(id, clip.id, shown, late, clip.windows[place]) for place, shown, late in shown_windows(clip, layer)
    ) if clip else ()
    node_rules = [InForce(state.id, rule) for rule in state.rules]
    for group in state.groups:
        node_rules += [InForce(program.groups[group].id, rule) for rule in program.groups[group].rules]
    window_rules = tuple(InForce(each.window.id, rule) for each in windows for rule in each.window.rules)
    rules = (*node_rules, *window_rules)
    return Told(windows, tuple(node_rules), window_rules, rules, *combined(rules))


class StateTables:
    """A state: the tables of its clips, and the parts of its layer's report that never change.

    `read` gives the values its spread is drawn along, then the one its speed is read from; None where neither is.
    """

    __slots__ = ("advance", "clips", "groups", "id", "layer", "nothing", "program", "rate", "read", "scale", "spread")

    def __init__(self, program: Program, place: int) -> None:
        state = program.states[place]
        self.program = program
        self.id = state.id
        self.layer = program.layers[state.layer].id
        self.groups = tuple(program.groups[group].id for group in state.groups)
        self.rate = program.rate
        self.scale = TICK * program.rate
        self.spread = bool(state.spread)
        clips = [placed.clip for placed in state.spread] or ([state.clip] if state.clip else [])
        self.clips = [ClipTable(program, place, variant, clip) for variant, clip in enumerate(clips)]
        self.nothing = told_of(program, LayerState(place, 0, 0, 0, True, False, 0, 0, 0, NO_HITS), None)
        self.advance = round(state.speed.fixed * TICK) if state.speed.source is None else None
        self.read: Callable[..., list[Any]] | None = None

    def report(self, layer: LayerState) -> tuple[LayerReport, Told]:
        """The report of a layer in this state, and what it brings to the whole report."""
        _, ticks, time, loops, _, ended, opened, serial, variant, _ = layer
        if not self.clips:
            return new(LayerReport, (
                self.layer, self.id, self.groups, None, 0.0, 0, 1.0, ticks / self.rate, loops, True, (), serial,
            )), self.nothing
        table = self.clips[variant]
        stretch = bisect_right(table.cuts, time) - 1
        own = table.own[stretch] + table.signs[stretch] * (time - table.cuts[stretch])
        clip = table.clip
        told = table.told[stretch]
        if opened != table.masks[stretch]:
            told = told_of(self.program, layer, clip)
        return new(LayerReport, (
            self.layer, self.id, self.groups, clip.id, own / self.scale, table.frames[stretch], 1.0, ticks / self.rate,
            loops, ended, ((clip.id, 1.0),), serial,
        )), told
