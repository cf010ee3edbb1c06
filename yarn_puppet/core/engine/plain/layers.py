"""One layer of a tick: its clip goes on, what happened on it is heard, and its report."""

from __future__ import annotations

from typing import NamedTuple

from ...rules.evaluate import Reading
from ..program import Program, ProgramState
from ..program_clips import FULL, TICK, ProgramMoment
from ..state import (
    CycleHits,
    Fired,
    Landed,
    LayerReport,
    LayerState,
    Open,
    RuleShare,
)
from .blending import blended_on, fading_of, share_of_new
from .choose import Mutable, do_deeds, fill
from .play import (
    clip_of,
    frame_at,
    in_variant,
    met_so_far,
    nearest,
    own_time,
    play,
    shown_windows,
    sorted_moments,
    units_per_tick,
    values_along,
)
from .while_rules import (
    playback,
)


class Happened(NamedTuple):
    """What the layers of a tick give to its report, while it is being gathered."""

    layers: list[LayerReport]
    moments: list[Fired]
    windows: list[Open]


def hear(reading: Reading, now: Mutable, news: Landed, happened: Happened) -> None:
    """Step 3: a hit landed; what waited for it in its pass fires, on the frame that was on show."""
    if not 0 <= news.layer < len(now.layers):
        return
    layer = now.layers[news.layer]
    clip = clip_of(now.program.states[layer.state], layer) if layer.state >= 0 else None
    if clip is None or layer.visit != news.visit:
        return
    landed, waiting, late = layer.hits
    if news.cycle == layer.cycle:
        fired, hits = waiting, CycleHits(True, (), late)
    elif news.cycle == layer.cycle - 1:
        fired, hits = late, CycleHits(landed, waiting, ())
    else:
        return
    frame, id = frame_at(clip, layer.shown), now.program.layers[news.layer].id
    happened.moments.extend([Fired(id, clip.id, frame, layer.visit, clip.moments[place])
                             for place in fired])
    now.layers[news.layer] = layer._replace(hits=hits)
    for place in fired:
        if clip.moments[place].deeds:
            fill(reading, now, news.layer)
            do_deeds(reading, now, clip.moments[place].deeds)


def play_layer(
    reading: Reading, now: Mutable, number: int, shares: tuple[RuleShare, ...],
    on: tuple[int, ...], happened: Happened,
) -> list[ProgramMoment]:
    """Step 5 for one layer: its clip goes on, and what that brings about is gathered; the moments
    that fired."""
    program, layer = now.program, now.layers[number]
    state = program.states[layer.state]
    blending = blended_on(layer.blending, program.states) if layer.blending is not None else None
    factors = (
        playback(program, number, now.layers, shares, on) if "clips" in program.special else ()
    )
    if state.along or state.speed.source is not None:
        fill(reading, now, number)
    if state.along:
        playing = -1 if layer.fresh else layer.variant
        if (variant := nearest(state, values_along(state, reading), playing)) != layer.variant:
            layer = now.layers[number] = in_variant(state, layer, variant)
            fill(reading, now, number)
    clip = clip_of(state, layer)
    if clip is None:
        now.layers[number] = layer._replace(
            ticks=layer.ticks + 1, fresh=False, ended=True, advance=0, blending=blending,
            shown=layer.time,
        )
        return []
    advance = units_per_tick(state.speed, reading, factors)
    played = play(clip, layer.time, met_so_far(clip, layer), advance)
    fired, hits = sorted_moments(played, clip, layer.hits)
    now.layers[number] = LayerState(
        layer.state, layer.ticks + 1, played.time, layer.cycle + played.cycles, False, played.ended,
        played.open,
        layer.visit, layer.variant, hits, advance, blending, layer.time,
    )
    id, frame = program.layers[number].id, frame_at(clip, layer.time)
    happened.moments.extend([Fired(id, clip.id, frame, layer.visit, clip.moments[place])
                             for place in fired])
    return [clip.moments[place] for place in fired]


def tell_layer(now: Mutable, number: int, weight: float, happened: Happened) -> None:
    """Step 8 for one layer: where it is, and which windows are open."""
    program, layer = now.program, now.layers[number]
    state = program.states[layer.state]
    id, clip = program.layers[number].id, clip_of(state, layer)
    frame, clip_time = 0, 0.0
    if clip is not None:
        frame, clip_time = frame_at(clip, layer.shown), own_time(clip, layer.shown) / (
            TICK * program.rate)
        happened.windows.extend([
            Open(id, clip.id, shown, late, clip.windows[place])
            for place, shown, late in shown_windows(clip, layer)
        ])
    happened.layers.append(layer_report(program, id, state, layer, clip_time, frame, weight))


def layer_report(
    program: Program,
    id: str,
    state: ProgramState,
    layer: LayerState,
    clip_time: float,
    frame: int,
    weight: float,
) -> LayerReport:
    """The report of one layer."""
    clip = clip_of(state, layer)
    return LayerReport(
        id, state.id, tuple([program.groups[group].id for group in state.groups]),
        clip.id if clip else None, clip_time,
        frame, share_of_new(layer.blending) / FULL, layer.ticks / program.rate, layer.cycle,
        layer.ended or clip is None, fading_of(program, layer), layer.visit, weight,
    )
