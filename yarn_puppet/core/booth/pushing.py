"""Which way the hands push the puppet: by actions, or along an axis."""

from __future__ import annotations

from collections.abc import Mapping

from ..model.puppet import Puppet
from ..model.wiring import AXIS_STEPS, Axis


def stick_steps(axis: Axis, raw: float) -> int:
    """What a stick's raw value, -1 to 1, comes to in whole steps: nought near the middle, then bent by the curve."""
    away = min(1.0, abs(raw))
    if away <= axis.dead:
        return 0
    share: float = ((away - axis.dead) / (1.0 - axis.dead)) ** axis.curve
    # What is past the dead zone moves, however little.
    steps = max(1, round(AXIS_STEPS * share))
    return steps if raw > 0 else -steps


def axis_value(axis: Axis, down: frozenset[str], steps: Mapping[str, int]) -> float:
    """The value of an axis, -1 to 1: of its stick where that is pushed, otherwise of its actions."""
    pushed = steps.get(axis.id, 0)
    if pushed:
        return pushed / AXIS_STEPS
    return float((axis.more in down) - (axis.less in down))


def wanted_direction(puppet: Puppet, down: frozenset[str], axes: tuple[tuple[str, int], ...] = ()) -> float:
    """-1 to 1: how far the hands push to the right. Both sides at once is neither."""
    if puppet.mover.across is not None:
        axis = next((each for each in puppet.axes if each.id == puppet.mover.across), None)
        if axis is not None:
            return axis_value(axis, down, dict(axes))
    return float((puppet.mover.right in down) - (puppet.mover.left in down))
