"""What a tick's report asks of the mover: its calls, and what the while-rules make of the mover's
numbers."""

from __future__ import annotations

from ..engine.state import InForce, Report
from ..model.kinds.moments import CALLS
from ..pose.strongest import HALF, by_strength
from .body import FREE, Moving, Wish
from .move_input import MoveInput


def wish_of(report: Report, moving_input: MoveInput) -> Wish:
    """What the hands and the calls of a tick ask for."""
    side = -1 if report.facing.endswith("left") else 1
    called = [
        fired.moment.name for fired in report.moments
        if fired.moment.kind == "call" and fired.moment.name in CALLS
    ] if report.moments else ()
    return Wish(moving_input.across, moving_input.up, moving_input.jump, "jump" in called,
                "drop" in called, "pull_up" in called, side)


MOST_KNOWN = 256
_known: dict[int, tuple[tuple[InForce, ...], Moving]] = {}


def moving_of(report: Report) -> Moving:
    """What the while-rules of a tick come to."""
    rules = report.rules
    if not rules:
        return FREE
    # The engine gives the very same rules from tick to tick while nothing about them changes.
    known = _known.get(id(rules))
    if known is not None and known[0] is rules:
        return known[1]
    made = _moving(report)
    if len(_known) >= MOST_KNOWN:
        _known.clear()
    _known[id(rules)] = (rules, made)
    return made


def _moving(report: Report) -> Moving:
    mode, height = "", 1.0
    kinds = [rule.rule.kind for rule in report.rules]
    if "height" in kinds:
        height = _height(report.rules)
    if "mode" in kinds:
        mode = next((each.rule.text for each in by_strength(report, "mode") if each.share >= HALF),
                    "")
    return Moving(report.move_speed, report.gravity, report.jump_height, report.lock_movement, mode,
                  height)


def _height(rules: tuple[InForce, ...]) -> float:
    height = 1.0
    for rule in rules:
        if rule.rule.kind == "height":
            height *= 1.0 + (rule.rule.value - 1.0) * rule.share
    return max(0.2, min(1.0, height))
