"""The tick of one program, made fast: generated conditions, clips as tables by border, records
built once.

It gives what `engine.tick` gives, which stays the reference; docs/semantics.md says what that is.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...model.kinds.windows import WINDOWS
from ..plain.beginning import kept_events, passed_thresholds, return_memos, with_events
from ..plain.controls import one_edge_a_tick
from ..plain.dice import clips_picked, sounds_picked
from ..plain.facing import turned
from ..plain.tick import armed_ids
from ..plain.while_rules import (
    LOCK_FACING_AT,
    SAFE_AT,
    Together,
    counting,
    eased,
    few_going,
    held_memos,
    layer_weight,
    playback,
    rules_of_nodes,
    rules_of_windows,
    together,
)
from ..program import Program
from ..program_clips import FULL
from ..state import (
    Fired,
    Inputs,
    LayerReport,
    LayerState,
    MachineState,
    Report,
    RuleShare,
    Taken,
)
from .clip_borders import ClipOutput, StateTables
from .deeds import Acting, Made, MemoKeep, TickValues
from .functions import chooser, controls, rules_reader, shower

MOST_WHOLES = 4096
"""Such sums that are kept."""
Tick = Callable[[MachineState, Inputs], tuple[MachineState, Report]]
new: Callable[..., Any] = tuple.__new__


def fast_tick(program: Program) -> Tick:
    """A function that does one tick of the program. A state gets its functions when it is first
    entered."""
    return _FastTick(program).tick


class _FastTick:
    """What is worked out once for a program, and the tick that uses it."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self.none_armed = (-1,) * len(program.intents)
        self.none_living = (-1,) * len(program.memos)
        self.all_shown = (FULL,) * len(program.layers)
        self.choosers = Made(lambda place: chooser(program, place))
        self.acting = Acting(program, self.choosers)
        self.tables = Made(lambda place: StateTables(program, place))
        self.showers = Made(lambda place: shower(program, place))
        self.controls = controls(program)
        self.wholes: dict[Any, tuple[Together, tuple[float, ...]]] = {}
        """What the while-rules come to, by states, windows and shares, where none of them eases."""
        self.facing_sense = program.facing_sense
        self.sides_only = program.facing_up < 0
        self.one_layer = len(program.layers) == 1
        self.thresholds = bool(program.thresholds)
        self.conditional = any(layer.shown_when is not None for layer in program.layers)
        self.playback = "clips" in program.special
        self.eased = "eased" in program.special
        self.picking = bool(program.picking)
        self.sounding = any(moment.heard is not None for clip in program.clips.values()
                            for moment in clip.moments)
        self.ruled = bool(program.rule_conditions)
        self.rule_readers = Made(lambda place: rules_reader(program, place))
        self.deeds_at_moments = any(moment.deeds for clip in program.clips.values()
                                    for moment in clip.moments)
        # Asked once a tick in place of each of them: most programs have none.
        self.more_to_play = self.playback or self.deeds_at_moments
        self.returning = any(memo.life for memo in program.memos)

    def tick(self, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:  # noqa: C901
        """One tick. Pure: the same arguments give the same result."""
        # In one piece, against our rule: a call costs as much as most of what is done here, and it
        # is done at every tick of every run. The steps stand in the order of docs/semantics.md,
        # section 6; plain/tick.py has them apart.
        (number, layers, actions, lives, memos, facing, remembered, events, sequences, memo_lives,
         held, thresholds,
         shown, shares, waiting, on, dice, picked) = state
        down, senses, landed, stopped, edges = inputs
        if edges or waiting:
            down, waiting = one_edge_a_tick(actions, waiting, down, edges)
        if self.returning and memo_lives != self.none_living and not stopped:
            memos, memo_lives = self.returned(memos, memo_lives)
        actions, lives, sequences = self.controls(number, actions, lives, sequences, down, stopped)
        if events:
            senses = with_events(senses, events)
        seen = over(memos, held) if held else memos
        if self.thresholds and not stopped:
            thresholds = passed_thresholds(self.program, senses, seen, thresholds)
        moments: list[Fired] = []
        taken: list[Taken] | tuple[()] = ()
        used: list[str] | tuple[()] = ()
        stuck = False
        if landed:
            values, kept = TickValues(lives, down, senses, seen, facing, remembered,
                                      thresholds), MemoKeep(
                actions, memos, memo_lives, held)
            layers, values, kept = self.acting.hear(layers, values, kept, landed, moments, stopped)
            lives, seen = values.lives, values.memos
            actions, memos, memo_lives, _ = kept
        if not stopped:
            for index, layer in enumerate(layers):
                if layer[0] >= 0:
                    found = self.choosers[layer[0]](
                        layer, layers, lives, down, senses, seen, facing, remembered, thresholds)
                    if found is not None:
                        taken, used = taken or [], used or []
                        values, kept = TickValues(
                            lives, down, senses, seen, facing, remembered, thresholds), MemoKeep(
                            actions, memos, memo_lives, held)
                        layers, values, kept, ended = self.acting.go(
                            index, found, layers, values, kept, taken, used)
                        lives, seen, remembered = values.lives, values.memos, values.remembered
                        actions, memos, memo_lives, _ = kept
                        stuck = stuck or ended
            if self.picking:
                found_layers, dice, picked = clips_picked(self.program, layers, dice, picked)
                layers = tuple(found_layers)
            if self.ruled:
                on = self.conditions_read(layers, TickValues(
                    lives, down, senses, seen, facing, remembered, thresholds))
            if self.eased:
                shares = eased(shares, rules_of_nodes(self.program, layers, on), of_windows=False)
            if shown is not self.all_shown and shown == self.all_shown:
                # One and the same from now on, which is told at once.
                shown = self.all_shown
            if self.conditional or shown is not self.all_shown:
                shown = self.shown_on(
                    shown, layers, TickValues(lives, down, senses, seen, facing, remembered,
                                              thresholds))
        factors: Any = ()
        if self.one_layer and (at := layers[0][0]) >= 0:
            if stopped:
                report, output = self.tables[at].tell(layers[0])
            elif not self.more_to_play:
                layer, report, output = self.tables[at].step(
                    layers[0], lives, down, senses, seen, facing, remembered, thresholds, (),
                    moments
                )
                layers = (layer,)
            else:
                if self.playback:
                    factors = playback(self.program, 0, layers, shares, on)
                fired = len(moments)
                layer, report, output = self.tables[at].step(
                    layers[0], lives, down, senses, seen, facing, remembered, thresholds, factors,
                    moments
                )
                layers = (layer,)
                if self.deeds_at_moments and len(moments) > fired:
                    values, kept = self.acting.deeds_of(
                        [(0, moments[fired:])], layers,
                        TickValues(lives, down, senses, seen, facing, remembered, thresholds),
                        MemoKeep(actions, memos, memo_lives, held))
                    lives, seen = values.lives, values.memos
                    actions, memos, memo_lives, _ = kept
            reports: tuple[LayerReport, ...] = (report,)
            windows, whole, simple, _ = output
        else:
            stepped, firing = [], []
            for index, layer in enumerate(layers):
                if layer[0] < 0:
                    continue
                if stopped:
                    stepped.append((layer, *self.tables[layer[0]].tell(layer)))
                    continue
                if self.playback:
                    factors = playback(self.program, index, layers, shares, on)
                fired = len(moments)
                stepped.append(self.tables[layer[0]].step(
                    layer, lives, down, senses, seen, facing, remembered, thresholds, factors,
                    moments))
                firing.append((index, moments[fired:]))
            steps = iter(stepped)
            layers = tuple([next(steps)[0] if layer[0] >= 0 else layer for layer in layers])
            if self.deeds_at_moments and moments:
                values, kept = self.acting.deeds_of(
                    firing, layers, TickValues(
                        lives, down, senses, seen, facing, remembered, thresholds),
                    MemoKeep(actions, memos, memo_lives, held))
                lives, seen = values.lives, values.memos
                actions, memos, memo_lives, _ = kept
            reports = tuple([report for _, report, _ in stepped])
            outputs = [output for _, _, output in stepped]
            windows = tuple([window for output in outputs for window in output.windows])
            whole, simple = of_layers(outputs)
        if (
            not simple
            or shares
            or held
            or (shown is not self.all_shown and shown != self.all_shown)
        ):
            whole, reports, shares, held = self.put_together(
                layers, reports, windows, shares, held, shown, on, stopped)
        rules, sums = whole
        if self.facing_sense >= 0 and not sums[LOCK_FACING_AT] and not stopped:
            across = senses[self.facing_sense]
            if not self.sides_only:
                facing = turned(self.program, facing, senses)
            elif across:
                facing = "right" if across > 0 else "left"
        heard: tuple[Fired, ...] = ()
        if moments:
            heard = tuple(moments)
            if self.sounding:
                heard, dice, picked = sounds_picked(self.program, moments, dice, picked)
        return new(MachineState, (
            number + 1, layers, actions, lives, memos, facing, remembered,
            kept_events(self.program, senses, True) if stopped else (), sequences, memo_lives, held,
            thresholds, shown,
            shares, waiting, on, dice, picked,
        )), new(Report, (
            number, reports, facing, senses, over(memos, held) if held else memos, thresholds,
            () if lives == self.none_armed else armed_ids(self.program, lives),
            tuple(used) if used else (),
            heard, windows, rules, tuple(taken) if taken else (), *sums,
            stuck,
        ))

    # Steps ----------------------------------------------------------------------------------------

    def returned(
        self, memos: tuple[Any, ...], lives: tuple[int, ...]
    ) -> tuple[tuple[Any, ...], tuple[int, ...]]:
        """The memos after those went back to their start that were not set for long."""
        values, left = list(memos), list(lives)
        return_memos(self.program, values, left)
        return tuple(values), tuple(left)

    def conditions_read(
        self, layers: tuple[LayerState, ...], values: TickValues
    ) -> tuple[int, ...]:
        """By layer the bits of the conditions of while-rules that hold."""
        return tuple([
            self.rule_readers[layer.state](layer, layers, *values) if layer.state >= 0 else 0
            for layer in layers])

    def shown_on(
        self, shown: tuple[int, ...], layers: tuple[LayerState, ...], values: TickValues
    ) -> tuple[int, ...]:
        """The shares by which layers are shown, a tick further."""
        found = []
        for share, layer, entry in zip(shown, layers, self.program.layers, strict=True):
            holds = entry.shown_when is None or (
                layer.state >= 0 and self.showers[layer.state](layer, layers, *values))
            found.append(min(FULL, share + entry.rise) if holds else max(0, share - entry.fall))
        return tuple(found)

    def put_together(
        self,
        layers: tuple[LayerState, ...],
        reports: tuple[LayerReport, ...],
        windows: tuple[Any, ...],
        shares: tuple[RuleShare, ...],
        held: tuple[tuple[int, Any], ...],
        shown: tuple[int, ...],
        on: tuple[int, ...],
        stopped: bool,
    ) -> tuple[
        Together, tuple[LayerReport, ...], tuple[RuleShare, ...], tuple[tuple[int, Any], ...]
    ]:
        """What the while-rules of all layers come to, and what hangs on it."""
        program = self.program
        key: Any = None
        if not shares and not held and not stopped:
            # Tick after tick the same states stand in the same windows; only what eases changes in
            # between.
            safe = any([WINDOWS[window.window.kind].makes_safe for window in windows])
            key = tuple([(layer[0], layer[8], layer[6]) for layer in layers]), shown, safe, on
            known = self.wholes.get(key)
            if known is not None:
                return known[0], tuple([
                    report if report[12] == weight else report._replace(weight=weight)
                    for report, weight in zip(reports, known[1], strict=True)
                ]), shares, held
        of_windows = rules_of_windows(program, enumerate(layers), on)
        if self.eased and not stopped:
            shares = few_going(eased(shares, of_windows, of_windows=True))
        found = counting(rules_of_nodes(program, layers, on) + of_windows, shares)
        whole = together(found, any(WINDOWS[window.window.kind].makes_safe for window in windows))
        if not stopped:
            held = held_memos(found)
        running = [index for index, layer in enumerate(layers) if layer.state >= 0]
        reports = tuple([
            report._replace(weight=layer_weight(program, place, shown[place], found))
            for place, report in zip(running, reports, strict=True)
        ])
        if key is not None and not shares and not held:
            if len(self.wholes) >= MOST_WHOLES:
                self.wholes.clear()
            self.wholes[key] = (whole, tuple([report.weight for report in reports]))
        return whole, reports, shares, held


NOTHING = together((), False)
"""Where no layer has a state, no while-rule is in force."""


def of_layers(outputs: list[ClipOutput]) -> tuple[Together, bool]:
    """What the while-rules of several layers come to, and whether that is all of it: at most one
    layer has any."""
    bringing = [output for output in outputs if output.brings]
    whole = bringing[0].together if bringing else NOTHING
    if any([output.together.sums[SAFE_AT] for output in outputs]):
        # A window that makes safe can be of another layer than the rules.
        whole = whole._replace(sums=(*whole.sums[:SAFE_AT], True, *whole.sums[SAFE_AT + 1:]))
    return whole, len(bringing) <= 1 and all([output.simple for output in bringing])


def over(memos: tuple[Any, ...], held: tuple[tuple[int, Any], ...]) -> tuple[Any, ...]:
    """Memos with what while-rules hold them at."""
    by_place = dict(held)
    return tuple([by_place.get(index, value) for index, value in enumerate(memos)])
