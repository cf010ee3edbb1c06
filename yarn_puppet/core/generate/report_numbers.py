"""A report as numbers, part by part, and their digests: what code in any language says of a tick,
and is compared by.

A whole number stands for itself, a float for the whole number that its bits make. A digest is
FNV-1a of 32 bits over the numbers as eight bytes each, the lowest first
(http://www.isthe.com/chongo/tech/comp/fnv/).
"""

from __future__ import annotations

import struct
from collections.abc import Iterable
from functools import lru_cache
from typing import Any

from ..engine.state import LayerReport, Report
from ..generate.flat import Flat
from ..model.kinds.while_rules import FACTORS, SWITCHES

PARTS = ("layers", "values", "intents", "moments", "windows", "rules", "transitions", "together")
"""The parts of a report, in the order of their digests."""
START, TIMES = 0x811C9DC5, 0x01000193


def bits(value: float) -> int:
    """A float as the whole number that its bits make."""
    return int.from_bytes(struct.pack("<d", value), "little", signed=True)


def digest(numbers: Iterable[int]) -> int:
    """A digest of numbers."""
    return _digest(tuple(numbers))


@lru_cache(4096)
def _digest(numbers: tuple[int, ...]) -> int:
    # Most parts of a report are as they were in some tick before.
    found = START
    for byte in struct.pack(f"<{len(numbers)}q", *numbers):
        found = (found ^ byte) * TIMES & 0xFFFFFFFF
    return found


class ReportNumbers:
    """Reports of one program as numbers, its entries by their places in the tables."""

    def __init__(self, made: Flat) -> None:
        program = self.program = made.program
        self.texts = {text: index for index, text in enumerate(made.texts)}
        self.layers = {layer.id: index for index, layer in enumerate(program.layers)}
        self.states = {state.id: index for index, state in enumerate(program.states)}
        self.clips = {clip.id: index for index, clip in enumerate(made.clips)}
        self.intents = {intent.id: index for index, intent in enumerate(program.intents)}
        self.transitions = {each.id: index for index, each in enumerate(made.transitions)}
        # Both ways of one window, or moment, have one id: each is known as the object that it is.
        self.moments = {id(each): index for index, each in enumerate(
            [moment for clip in made.clips for moment in clip.moments])}
        self.windows = {id(each): index for index, each in enumerate(
            [window for clip in made.clips for window in clip.windows])}
        self.rules = {(owner, id(rule)): index for index, (owner, rule) in enumerate(made.rules)}

    def value(self, value: Any) -> int:
        """A value of a sense or memo."""
        return bits(self.texts[value] if isinstance(value, str) else value)

    def parts(self, report: Report) -> tuple[list[int], ...]:
        """The numbers of each part."""
        by_layer = {each.layer: each for each in report.layers}
        return (
            [report.tick, *(number for layer in self.program.layers
                            for number in self._layer(by_layer.get(layer.id)))],
            [self.texts[report.facing], *map(self.value, report.senses),
             *map(self.value, report.memos),
             *map(int, report.thresholds)],
            [*(int(intent.id in report.armed) for intent in self.program.intents), len(report.used),
             *(self.intents[each] for each in report.used)],
            [len(report.moments), *(number for moment in report.moments for number in (
                self.layers[moment.layer], self.clips[moment.clip], moment.frame, moment.visit,
                self.moments[id(moment.moment)], moment.sound, bits(moment.volume),
                bits(moment.pitch)))],
            [len(report.windows), *(number for window in report.windows for number in (
                self.layers[window.layer], self.clips[window.clip], window.frame, int(window.late),
                self.windows[id(window.window)]))],
            [len(report.rules), *(number for rule in report.rules for number in (
                rule.layer, self.rules[rule.owner, id(rule.rule)], bits(rule.share)))],
            [len(report.taken), *(number for each in report.taken for number in (
                self.layers[each.layer], self.transitions[each.transition],
                self.states[each.source],
                self.states[each.target]))],
            [*(bits(getattr(report, kind)) for kind in FACTORS),
             *(int(getattr(report, kind)) for kind in SWITCHES), int(report.stuck)],
        )

    def _layer(self, layer: LayerReport | None) -> list[int]:
        if layer is None:
            return [-1]
        found = [self.states[layer.state], self.clips[layer.clip] if layer.clip else -1,
                 layer.frame,
                 bits(layer.clip_time), bits(layer.elapsed), layer.cycle, layer.visit,
                 int(layer.done),
                 bits(layer.blend), bits(layer.weight), len(layer.fading)]
        for old in layer.fading:
            found += [self.clips[old.clip], old.frame, bits(old.clip_time), bits(old.weight)]
        return found

    def digests(self, report: Report) -> tuple[int, ...]:
        """A digest of each part."""
        return tuple([digest(part) for part in self.parts(report)])
