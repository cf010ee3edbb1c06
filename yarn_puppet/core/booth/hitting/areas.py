"""Where things hit and can be hit in the booth: rectangles of the plane, or cuboids of the space of
one seen from above. docs/world.md, section 6, and docs/poses.md, 15."""

from __future__ import annotations

from collections.abc import Sequence

from ...engine.state import Open, Report
from ...model.puppet import Puppet
from ...model.world import World
from ...pose.cuboid import Area, upright
from ...pose.figure import placed_in, standing
from ...pose.rectangle import Rectangle
from ...pose.ruled import body_boxes
from ..body import Body
from .dummies import DummyState, blow_box, dummy_box


def hit_areas(
    puppet: Puppet, report: Report, body: Body, above: bool = False
) -> list[tuple[str, Area]]:
    """Where the open hit windows hit in this tick, each with its name."""
    return [(opened.window.name, area) for opened in report.windows if opened.window.kind == "hit"
            for area in window_areas(puppet, opened, report, (body.x, body.y), above)]


def window_areas(
    puppet: Puppet, opened: Open, report: Report, at: tuple[float, float], above: bool
) -> list[Area]:
    """Where an open window of a puppet that stands `at` a place hits."""
    shown = placed_in(puppet, report, opened.clip, opened.frame, opened.layer, *at, above)
    areas: Sequence[Area] = shown.hit_boxes(opened.window.name) if shown is not None else ()
    return [upright(each, at[1], puppet.mover.width) for each in areas] if above else list(areas)


def body_areas(puppet: Puppet, report: Report, body: Body, above: bool = False) -> list[Area]:
    """Where the puppet can be hit: its body boxes, or the box that it moves with where its frame
    has none."""
    stands = standing(puppet, report, body.x, body.y, above)
    areas = [area for _, area in body_boxes(report, stands)]
    mover, height = puppet.mover, body.height(puppet.mover)
    areas = areas or [Rectangle(body.x - mover.width / 2, body.y - height, mover.width, height)]
    return [upright(each, body.y, mover.width) for each in areas] if above else areas


def dummy_area(world: World, index: int, state: DummyState) -> Area:
    """Where a dummy can be hit."""
    return _of_dummy(world, index, state, dummy_box(world, index, state))


def blow_area(world: World, index: int, state: DummyState) -> Area:
    """Where the blow of a dummy hits."""
    return _of_dummy(world, index, state, blow_box(world, index, state))


def _of_dummy(world: World, index: int, state: DummyState, box: Rectangle) -> Area:
    dummy = world.dummies[index]
    return upright(box, dummy.y + state.down, dummy.width) if world.from_above else box
