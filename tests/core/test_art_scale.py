"""Art of another grain: a puppet drawn k times as large and shown at 1 / k is the same puppet."""

from __future__ import annotations

from itertools import islice
from typing import Any

from msgspec.structs import replace

from tests.depth import some_of
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.booth.booth_state import BoothState
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes, puppet_from
from yarn_puppet.core.formats.skin_file import skin_from
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.model.clips import Clip, Frame, Point
from yarn_puppet.core.model.edits.movers import as_drawn, is_unlike_drawn
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import MoverNumber, Skin
from yarn_puppet.core.pose.figure import figure, standing
from yarn_puppet.core.pose.frame_data.table import frame_data
from yarn_puppet.core.pose.place import Rectangle
from yarn_puppet.core.pose.ruled import body_boxes
from yarn_puppet.core.skins.dressing import dressed
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET
from yarn_puppet.game.puppets import imported

TICKS = 400


def enlarged(puppet: Puppet, by: int) -> Puppet:
    """Drawn that many times as large, and shown as much smaller."""
    def point(each: Point | None) -> Point | None:
        return None if each is None else Point(each.x * by, each.y * by)

    def frame(each: Frame) -> Frame:
        cell = replace(each.cell, x=each.cell.x * by, y=each.cell.y * by,
                       width=each.cell.width * by, height=each.cell.height * by)
        return replace(
            each, cell=cell, pivot=point(each.pivot),
            boxes=tuple([replace(box, x=box.x * by, y=box.y * by, width=box.width * by,
                                 height=box.height * by) for box in each.boxes]),
            anchors=tuple([replace(at, x=at.x * by, y=at.y * by) for at in each.anchors]))

    def clip(each: Clip) -> Clip:
        return replace(each, pivot=point(each.pivot), frames=tuple(map(frame, each.frames)))

    return replace(puppet, clips=tuple(map(clip, puppet.clips)),
                   mover=replace(puppet.mover, art_scale=puppet.mover.art_scale / by))


def rounded(rectangle: Rectangle) -> tuple[float, ...]:
    """Sums of several numbers end in other digits when they are added in another order."""
    return tuple([round(each, 9) for each in rectangle])


class DrawnLarger(Case):
    def test_every_take_of_pell_runs_alike_whatever_size_he_is_drawn_at(self) -> None:
        pell, happened = load_puppet(DEMO_PUPPET), 0
        for by in some_of((4, 2)):
            large = enlarged(pell, by)
            for path in sorted(DEMO_FOLDER.glob("*.take.json")):
                take = load_take(path)
                if take.puppet not in ("", DEMO_PUPPET.name) or take.booth is None:
                    continue
                world = load_booth(DEMO_FOLDER / take.booth)
                runs = [replay(set_up(each, world), take) for each in (pell, large)]
                for one, other in islice(zip(*runs, strict=True), TICKS):
                    self.assertEqual(self.told(pell, one), self.told(large, other), path.name)
                    happened += len(one.after.booth.hits) + len(one.after.booth.effects)
        self.assertGreater(happened, 200)

    def told(self, puppet: Puppet, record: Any) -> tuple[object, ...]:
        """All that is where it is because of the art: the world, hit boxes, and what is drawn."""
        booth: BoothState = record.after.booth
        at = booth.body.x, booth.body.y
        stands = standing(puppet, record.report, *at)
        bodies = [rounded(box) for _, box in body_boxes(record.report, stands)]
        pieces = [rounded(piece.placed.picture()[0]) for layer in figure(puppet, record.report, *at)
                  for piece in layer.pieces]
        effects = tuple([each._replace(x=round(each.x, 9), y=round(each.y, 9))
                         for each in booth.effects])
        return booth._replace(effects=effects), bodies, pieces

    def test_what_is_measured_and_what_is_said_is_in_pixels_of_the_world(self) -> None:
        pell = demo_puppet()
        large = enlarged(pell, 4)
        self.assertEqual(frame_data(pell, compile_puppet(pell)),
                         frame_data(large, compile_puppet(large)))
        self.assertEqual(check(pell), check(large))
        self.assertEqual(as_drawn(pell).mover, replace(as_drawn(large).mover, art_scale=1.0))
        shown = replace(large, mover=replace(large.mover, art_scale=1.0))
        self.assertIn("the drawn body is 80 × 200 px", is_unlike_drawn(shown))

    def test_any_ratio_is_taken_and_what_is_none_is_refused(self) -> None:
        raw = puppet_bytes(replace(demo_puppet(), mover=Mover(art_scale=0.37)))
        self.assertEqual(puppet_from(raw, "here").mover.art_scale, 0.37)
        for wrong in (b"0", b"-1", b"1e9", b'"two"', b"null"):
            with self.assertRaisesRegex(FileProblem, "art_scale"):
                puppet_from(raw.replace(b'"art_scale":0.37', b'"art_scale":' + wrong), "here")
        skin = (b'{"format": 1, "name": "s", "puppet": "p", "numbers": [{"name": "art_scale", '
                b'"value": 0}]}')
        with self.assertRaisesRegex(FileProblem, r"numbers\[0\].value"):
            skin_from(skin, "here")

    def test_a_skin_of_another_grain_is_handed_off_so(self) -> None:
        pell = load_puppet(DEMO_PUPPET)
        skin = Skin(name="large", numbers=(MoverNumber("art_scale", 2.0),))
        module = imported(hand_off(pell, ["python"], "it", skins=[skin]).files["it.py"])
        for number, puppet in enumerate((pell, dressed(pell, skin))):
            state = module.start(number)
            for _ in range(30):
                state, report = module.step(state, ("right",))
            pieces = [(each.left, each.top, each.cell[2] * each.scale, each.cell[3] * each.scale)
                      for each in module.figure(report) if not each.prop]
            # The report names the skin's own clips; what it has in their place is known by id.
            back = {theirs: own for each in module.PROGRAM.skins for own, theirs in
                    each.clips.items()}
            ours = report._replace(layers=tuple([
                each._replace(clip=back.get(each.clip, each.clip)) for each in report.layers]))
            wanted = [tuple(piece.placed.picture()[0])
                      for layer in figure(puppet, ours, 0.0, 0.0) for piece in layer.pieces]
            self.assertEqual(pieces, wanted)
            self.assertTrue(pieces)
