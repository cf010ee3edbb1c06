"""The clips of a state as tables by border: between two borders nothing about a clip changes but
its time.

Borders are the times of a cycle at which a frame, a window or a moment is met. What a report says
of a stretch between two of them is built once.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from typing import Any, NamedTuple

from ...model.kinds.while_rules import WHILE_RULES
from ...model.kinds.windows import WINDOWS
from ..plain.blending import blended_on, fading_of, share_of_new
from ..plain.play import (
    frame_at,
    in_variant,
    met_so_far,
    nearest,
    own_time,
    paced,
    play,
    shown_windows,
    sorted_moments,
)
from ..plain.while_rules import Together, counting, rules_of_nodes, rules_of_windows, together
from ..program import Program
from ..program_clips import FULL, TICK, ProgramClip
from ..state import NO_HITS, Fading, Fired, LayerReport, LayerState, Open
from .functions import pace, reader

new: Callable[..., Any] = tuple.__new__


class ClipOutput(NamedTuple):
    """What a layer brings to a report beside where it is: its open windows, and what its
    while-rules come to alone.

    `simple`: none of its rules needs more than being told; `brings`: it has some.
    """

    windows: tuple[Open, ...]
    together: Together
    simple: bool
    brings: bool


class ClipTable:
    """One clip of a state. Stretch i is from `cuts[i]` to before `cuts[i + 1]`; the last is the
    cycle's end alone.

    `since[i]` is the last time at or before `cuts[i]` at which a moment or the border of a window
    is met: a tick that shows stretch i comes to none where the one before it showed that time or a
    later one.
    """

    __slots__ = ("_of", "clip", "cuts", "cycle", "ends", "frames", "id", "masks", "outputs", "own",
                 "signs", "since")

    def __init__(self, program: Program, place: int, variant: int, clip: ProgramClip) -> None:
        self.clip, self.id, self.cycle, self.ends = clip, clip.id, clip.cycle, not clip.loops
        events = {0, clip.cycle, *(moment.at for moment in clip.moments)}
        events |= {time for window in clip.windows for time in (window.start, window.end)}
        self.cuts = sorted(events | set(clip.ends))
        met = sorted(events)
        self.since = [met[bisect_right(met, cut) - 1] for cut in self.cuts]
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
        self.outputs: list[ClipOutput | None] = [None] * len(self.cuts)
        """What is told in each stretch, worked out when it is first come to: a clip may have very
        many."""
        self._of = (program, place, variant)

    def tell(self, stretch: int) -> ClipOutput:
        """What is told in a stretch."""
        program, place, variant = self._of
        cut, mask = self.cuts[stretch], self.masks[stretch]
        made = self.outputs[stretch] = output_of(
            program,
            LayerState(place, 1, cut, 0, False, cut == self.cycle, mask, 0, variant, NO_HITS, 0,
                       None, cut), self.clip)
        return made


def output_of(program: Program, layer: LayerState, clip: ProgramClip | None) -> ClipOutput:
    """What a layer brings to a report, worked out from its state."""
    state = program.states[layer.state]
    id = program.layers[state.layer].id
    windows = tuple(
        Open(id, clip.id, shown, late, clip.windows[place])
        for place, shown, late in shown_windows(clip, layer)
    ) if clip else ()
    # Alone, as if it were the only layer: those of several are put together tick by tick.
    alone = [layer if place == state.layer else NO_LAYER for place in range(state.layer + 1)]
    # All that may count, as if every condition held: then it is no simple one.
    every = (-1,) * len(alone)
    bringing = rules_of_nodes(program, alone, every) + rules_of_windows(
        program, enumerate(alone), every)
    simple = not any(rule.eased or rule.when is not None
                     or WHILE_RULES[rule.kind].changes in ("memos", "layers")
                     for _, _, _, rule in bringing)
    safe = any(WINDOWS[window.window.kind].makes_safe for window in windows)
    return ClipOutput(windows, together(counting(bringing, ()), safe), simple, bool(bringing))


NO_LAYER = LayerState(-1, 0, 0, 0, True, False, 0, 0, 0, NO_HITS, 0, None)


class StateTables:
    """A state: the tables of its clips, and the parts of its layer's report that never change.

    `along` gives the values its spread is drawn along, `pace` how fast it plays; None where it has
    no spread, and where it advances by `advance` in each tick.
    """

    __slots__ = (
        "advance", "along", "clips", "groups", "id", "layer", "nothing", "pace", "program", "rate",
        "scale", "state",
        "weight",
    )

    def __init__(self, program: Program, place: int) -> None:
        state = program.states[place]
        self.program, self.state = program, state
        self.id = state.id
        self.layer = program.layers[state.layer].id
        self.weight = program.layers[state.layer].weight
        self.groups = tuple(program.groups[group].id for group in state.groups)
        self.rate = program.rate
        self.scale = TICK * program.rate
        clips = [placed.clip for placed in state.spread] or ([state.clip] if state.clip else [])
        self.clips = [ClipTable(program, place, variant, clip)
                      for variant, clip in enumerate(clips)]
        self.nothing = output_of(program,
                                 LayerState(place, 0, 0, 0, True, False, 0, 0, 0, NO_HITS, 0, None),
                                 None)
        self.advance = round(state.speed.fixed * TICK)
        self.pace = pace(program, place)
        self.along = reader(program, place, state.along) if state.along else None

    def step(
        self,
        layer: LayerState,
        lives: tuple[int, ...],
        down: tuple[bool, ...],
        senses: tuple[Any, ...],
        memos: tuple[Any, ...],
        facing: str,
        remembered: tuple[int, ...],
        thresholds: tuple[bool, ...],
        factors: list[float] | tuple[()],
        moments: list[Fired],
    ) -> tuple[LayerState, LayerReport, ClipOutput]:
        """A layer after its clip went on, its report, and what it brings to the whole. Moments that
        fire are added."""
        (
            at,
            ticks,
            time,
            cycle,
            fresh,
            was_ended,
            opened,
            visit,
            variant,
            hits,
            _,
            blending,
            before,
        ) = layer
        if blending is not None:
            blending = blended_on(blending, self.program.states)
        if not self.clips:
            layer = LayerState(
                at, ticks + 1, time, cycle, False, True, opened, visit, variant, hits, 0, blending,
                time)
            return layer, *self.tell(layer)
        if self.along is not None:
            picked = nearest(
                self.state, self.along(layer, (), lives, down, senses, memos, facing, remembered,
                                       thresholds),
                -1 if fresh else variant,
            )
            if picked != variant:
                layer = in_variant(self.state, layer, picked)
                time, variant, hits, before = layer.time, layer.variant, layer.hits, layer.shown
        advance = self.advance
        if self.pace is not None or factors:
            speed = self.state.speed.fixed if self.pace is None else self.pace(
                layer, (), lives, down, senses, memos, facing, remembered, thresholds)
            advance = round((paced(speed, factors) if factors else speed) * TICK)
        table = self.clips[variant]
        now = time + advance
        if now < table.cycle and not fresh and not was_ended and not hits[2] and blending is None:
            cuts = table.cuts
            stretch = bisect_right(cuts, time) - 1
            if before >= table.since[stretch]:
                # Nothing was met: no moment fires, and what is open is what is open in this
                # stretch.
                ticks += 1
                return new(LayerState, (
                    at, ticks, now, cycle, False, False, table.masks[stretch], visit, variant, hits,
                    advance, None,
                    time,
                )), new(LayerReport, (
                    self.layer, self.id, self.groups, table.id,
                    (table.own[stretch] + table.signs[stretch] * (
                        time - cuts[stretch])) / self.scale,
                    table.frames[stretch], 1.0, ticks / self.rate, cycle, False, (), visit,
                    self.weight,
                )), table.outputs[stretch] or table.tell(stretch)
        elif (
            table.ends
            and time == before == table.cycle
            and not fresh
            and not hits[2]
            and blending is None
        ):
            # It stands at its end, and so does all that hangs on it.
            ticks += 1
            return new(LayerState, (
                at, ticks, time, cycle, False, True, table.masks[-1], visit, variant, hits, advance,
                None, time,
            )), new(LayerReport, (
                self.layer, self.id, self.groups, table.id, table.own[-1] / self.scale,
                table.frames[-1], 1.0,
                ticks / self.rate, cycle, True, (), visit, self.weight,
            )), table.outputs[-1] or table.tell(-1)
        clip = table.clip
        played = play(clip, time, met_so_far(clip, layer), advance)
        fired, hits = sorted_moments(played, clip, hits)
        if fired:
            frame = table.frames[bisect_right(table.cuts, time) - 1]
            moments.extend([Fired(self.layer, clip.id, frame, visit, clip.moments[each])
                            for each in fired])
        layer = LayerState(
            at, ticks + 1, played.time, cycle + played.cycles, False, played.ended, played.open,
            visit, variant, hits,
            advance, blending, time,
        )
        return layer, *self.tell(layer)

    def tell(self, layer: LayerState) -> tuple[LayerReport, ClipOutput]:
        """The report of a layer in this state, and what it brings to the whole."""
        _, ticks, _, cycle, _, ended, opened, visit, variant, _, _, blending, shown = layer
        blend = 1.0
        fading: tuple[Fading, ...] = ()
        if blending is not None:
            blend, fading = share_of_new(blending) / FULL, fading_of(self.program, layer)
        if not self.clips:
            return LayerReport(
                self.layer, self.id, self.groups, None, 0.0, 0, blend, ticks / self.rate, cycle,
                True, fading, visit,
                self.weight,
            ), self.nothing
        table = self.clips[variant]
        stretch = bisect_right(table.cuts, shown) - 1
        own = table.own[stretch] + table.signs[stretch] * (shown - table.cuts[stretch])
        outputs = table.outputs[stretch] or table.tell(stretch)
        if opened != table.masks[stretch] or (opened and ended and not table.ends):
            outputs = output_of(self.program, layer, table.clip)
        return LayerReport(
            self.layer, self.id, self.groups, table.id, own / self.scale, table.frames[stretch],
            blend,
            ticks / self.rate, cycle, ended, fading, visit, self.weight,
        ), outputs
