"""The figure as a game draws it, in every language, beside what the desk draws: pieces in order,
props, tints, places.

The puppets are random ones, dressed: layers pinned to anchors of layers that are pinned themselves,
drawn under or over, art that faces left, mirrored cells, boxes with and without names, props that
are clips or pictures.
"""

from __future__ import annotations

import shutil
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from tests.c_engine import Case
from tests.depth import SANITIZED, examples, some_of
from tests.handed_figures import Line, Model, in_c, in_javascript, in_python
from tests.helpers import Case as TestCase
from tests.random_cases import random_run, restless_case
from tests.random_puppets import Shaker
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.model.clips import AnchorPoint, Box, Clip, Frame, Point
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.game.puppets import imported

RANDOM = 5
NAMES = ("", "", "low", "pole")


def dressed(puppet: Puppet, shaker: Shaker) -> Puppet:
    """A puppet with art, anchors, boxes, pinned layers and props of all kinds."""
    anchors = [anchor.id for anchor in puppet.anchors]
    clips = [each.id for each in puppet.clips]

    def frame(each: Frame) -> Frame:
        def number() -> float:
            return shaker.random.randrange(-40, 80) / 4

        boxes = [Box(shaker.pick(("hit", "body")), number(), number(), 1 + abs(number()),
                     1 + abs(number()),
                     shaker.pick(NAMES)) for _ in range(shaker.pick((0, 1, 2, 4)))]
        points = [AnchorPoint(id, number(), number()) for id in anchors if shaker.chance(6)]
        return replace(each, mirrored=shaker.chance(3), boxes=tuple(boxes), anchors=tuple(points),
                       pivot=Point(number(), number()) if shaker.chance(5) else each.pivot)

    def clip(each: Clip) -> Clip:
        return replace(each, faces=shaker.pick(("left", "right", "right")),
                       frames=tuple(map(frame, each.frames)),
                       mode=shaker.pick(("loop", "once", "back and forth", "hold last")))

    def prop() -> Rule:
        return Rule("prop", anchor=shaker.pick(anchors), clip=shaker.pick((None, *clips)),
                    shows=shaker.pick(("", "lamp.png")), round=shaker.chance(5),
                    under=shaker.chance(5), **eased())

    def eased() -> dict[str, float]:
        return {"ease_in": shaker.pick((0.0, 0.0, 0.1)), "ease_out": shaker.pick((0.0, 0.1, 0.5))}

    def box() -> Rule:
        return Rule("box", box=shaker.pick(NAMES), **eased())

    layers = [replace(layer, pinned_to=shaker.pick((None, *anchors)), under=shaker.chance(4))
              for layer in puppet.layers]
    states = [replace(state,
                      rules=(*state.rules, *[prop() for _ in range(shaker.pick((0, 0, 1, 2)))],
                                   *[box() for _ in range(shaker.pick((0, 1)))]))
                                   for state in puppet.states]
    return replace(puppet, layers=tuple(layers), states=tuple(states),
                   clips=tuple(map(clip, puppet.clips)),
                   mover=Mover(art_scale=shaker.pick((1.0, 1.0, 2.0, 0.25, 1 / 3, 0.777))))


def dressed_case(seed: int, ticks: int = 60) -> tuple[Puppet, Case]:
    """A dressed puppet under random input."""
    shaker = Shaker(seed)
    puppet = dressed(shaker.puppet(), shaker)
    return puppet, random_run(puppet, shaker, ticks)


def cases(first: int, count: int) -> list[tuple[Puppet, Case]]:
    """Dressed puppets, and the demo's under hands that never rest."""
    return [dressed_case(seed) for seed in some_of(range(first, first + count))] + [
        (load_puppet(DEMO_PUPPET), restless_case(150))]


class HandedFigure(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def compare(self, puppet: Puppet, case: Case, found: list[Line]) -> int:
        model = Model(puppet, case)
        self.assertEqual(len(found), len(case.reports))
        for report, line in zip(case.reports, found, strict=True):
            self.assertEqual(line, model.line(report), report)
        return sum(map(len, found))

    def test_in_python(self) -> None:
        numbers = 0
        for puppet, case in cases(0, RANDOM):
            module = imported(hand_off(puppet, ["python"], "it").files["it.py"])
            numbers += self.compare(puppet, case, list(in_python(module, case)))
        self.assertGreater(numbers, examples(8_000))

    @unittest.skipUnless(shutil.which("node"), "no JavaScript is installed")
    def test_in_javascript(self) -> None:
        for puppet, case in cases(20, RANDOM):
            self.compare(puppet, case, in_javascript(puppet, case, self.folder))

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_in_c(self) -> None:
        *dressed, demo = cases(40, RANDOM // 2)
        for puppet, case in dressed:
            self.compare(puppet, case,
                         in_c(puppet, case, self.folder, SANITIZED))
        self.compare(demo[0], demo[1], in_c(*demo, self.folder))
