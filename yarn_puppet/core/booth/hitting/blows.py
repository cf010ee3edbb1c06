"""Blows of dummies that meet the puppet: safe, guarded, or hurting. docs/world.md, section 6."""

from __future__ import annotations

from typing import NamedTuple

from ...engine.state import Report
from ...model.puppet import Puppet
from ...model.world import World
from ...pose.figure import standing
from ...pose.place import Rectangle
from ...pose.ruled import body_boxes
from ..body import Body
from .dummies import DummyState, arm_of, blow_box


class Blow(NamedTuple):
    """A dummy's blow met the puppet in this tick; `how` is "hurt", "guarded" or "safe"."""

    dummy: int
    damage: int
    push: float
    hit_stop: int
    how: str


def body_rectangles(puppet: Puppet, report: Report, body: Body) -> list[Rectangle]:
    """Where the puppet can be hit: its body boxes, or the box that it moves with where its frame has none."""
    boxes = [box for _, box in body_boxes(report, standing(puppet, report, body.x, body.y))]
    mover = puppet.mover
    height = body.height(mover)
    return boxes or [Rectangle(body.x - mover.width / 2, body.y - height, mover.width, height)]


def blows(
    world: World, puppet: Puppet, dummies: tuple[DummyState, ...], report: Report, body: Body
) -> tuple[tuple[Blow, ...], tuple[DummyState, ...]]:
    """The blows that meet the puppet for the first time, and the dummies, which remember them."""
    found: list[Blow] = []
    for index, state in enumerate(dummies):
        dummy = world.dummies[index]
        arm = arm_of(dummy, state, puppet.rate)
        if arm is None or not arm.reaches or arm.beat == state.beat:
            continue
        area = blow_box(world, index, state)
        if not any(area.meets(box) for box in body_rectangles(puppet, report, body)):
            continue
        dummies = (*dummies[:index], state._replace(beat=arm.beat), *dummies[index + 1:])
        # It comes from where the dummy stands.
        side = 1 if body.x >= dummy.x + state.moved else -1
        faces = -1 if report.facing.endswith("left") else 1
        guards = any(each.window.kind == "guard" for each in report.windows)
        how = "safe" if report.safe else "guarded" if guards and faces == -side else "hurt"
        found.append(Blow(index, dummy.damage, side * dummy.push, dummy.hit_stop, how))
    return tuple(found), dummies
