"""Which way the hands push the puppet: by actions, or along an axis."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from ..model.puppet import Puppet
from ..model.wiring import AXIS_STEPS, Axis


def stick_steps(axis: Axis, raw: float) -> int:
    """What a stick's raw value, -1 to 1, comes to in whole steps: zero near the middle, then bent
    by the curve."""
    away = min(1.0, abs(raw))
    if away <= axis.dead:
        return 0
    share: float = ((away - axis.dead) / (1.0 - axis.dead)) ** axis.curve
    # What is past the dead zone moves, however little.
    steps = max(1, round(AXIS_STEPS * share))
    return steps if raw > 0 else -steps


def axis_value(axis: Axis, down: frozenset[str], steps: Mapping[str, int]) -> float:
    """The value of an axis, -1 to 1: of its stick where that is pushed, otherwise of its
    actions."""
    pushed = steps.get(axis.id, 0)
    if pushed:
        return pushed / AXIS_STEPS
    return float((axis.more in down) - (axis.less in down))


class MoveInput(NamedTuple):
    """What the hands ask of the mover: across and up, -1 to 1, and whether the jump's action is
    down."""

    across: float = 0.0
    up: float = 0.0
    jump: bool = False


def move_input_of(
    puppet: Puppet, down: frozenset[str], axes: tuple[tuple[str, int], ...] = ()
) -> MoveInput:
    """What actions and axes ask of the mover. Opposite directions cancel."""
    mover = puppet.mover
    if not down and not axes:
        return NO_MOVE_INPUT
    return MoveInput(
        _wanted(puppet, mover.across, mover.left, mover.right, down, axes),
        _wanted(puppet, mover.along, mover.down, mover.up, down, axes), mover.jump in down,
    )


NO_MOVE_INPUT = MoveInput()


def _wanted(
    puppet: Puppet,
    axis: str | None,
    less: str,
    more: str,
    down: frozenset[str],
    axes: tuple[tuple[str, int], ...],
) -> float:
    if axis is not None:
        found = next((each for each in puppet.axes if each.id == axis), None)
        if found is not None:
            return axis_value(found, down, dict(axes))
    return float((more in down) - (less in down))
