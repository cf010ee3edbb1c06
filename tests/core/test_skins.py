"""Skins: what one has not is the puppet's, and an edit in one is told apart."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import msgspec
from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import strategies
from tests.helpers import Case, clip, demo_puppet, demo_setup, demo_world, run
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import checked as checked_puppet
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.formats.skin_file import (
    checked,
    load_skin,
    save_skin,
    skin_bytes,
    skin_from,
    skins_of,
)
from yarn_puppet.core.model.clips import Box, Cell, Clip, Frame, Point, Sheet
from yarn_puppet.core.model.edits import graph as graph_edits
from yarn_puppet.core.model.edits import pieces, ready_made
from yarn_puppet.core.model.edits.frames import events as event_edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import MoverNumber, Skin, SkinClip
from yarn_puppet.core.rules.renames import windows_renamed
from yarn_puppet.core.skins.dressing import Dressing, dressed
from yarn_puppet.core.skins.taking import counterparts, retimed
from yarn_puppet.core.skins.undressing import Followed, undressed
from yarn_puppet.core.takes.run import set_up

PUPPET_AND_SKIN = strategies.puppets().flatmap(
    lambda puppet: some.tuples(some.just(puppet), strategies.skins(puppet)))


def strip(count: int, width: int = 10, duration: float = 100.0, sheet: str = "sheet") -> Any:
    """Frames side by side."""
    return tuple(Frame(Cell(sheet, width * at, 0, width, width), duration) for at in range(count))


class Dressed(Case):
    """A puppet in a skin."""

    @given(PUPPET_AND_SKIN)
    def test_what_a_skin_has_not_is_the_puppets(self, both: tuple[Puppet, Skin]) -> None:
        puppet, skin = both
        made = dressed(puppet, skin)
        checked_puppet(made, "dressed")
        own = {each.clip: each for each in skin.clips}
        for old, new in zip(puppet.clips, made.clips, strict=True):
            mine = own.get(old.id)
            self.assertEqual((new.id, new.name, new.mode), (old.id, old.name, old.mode))
            if mine is None or not old.frames:
                self.assertIs(new, old)
                continue
            parts = set(mine.own)
            self.assertEqual(len(new.frames), len(mine.frames or old.frames))
            if "windows" in parts:
                self.assertEqual(new.windows, mine.windows)
            else:
                self.assertEqual([each.id for each in new.windows],
                                 [each.id for each in old.windows])
            if "durations" not in parts and old.length >= len(new.frames) * 2:
                # A clip whose times are the puppet's lasts as long, whatever is drawn.
                self.assertAlmostEqual(new.length, old.length, 2)
            if "boxes" not in parts and mine.frames and old.frames:
                taken = [old.frames[place] for place in counterparts(
                    len(old.frames), len(mine.frames))]
                self.assertEqual([[box.name for box in frame.boxes] for frame in taken],
                                 [[box.name for box in frame.boxes] for frame in new.frames])
        self.assertEqual({sheet.id for sheet in puppet.sheets},
                         {sheet.id for sheet in made.sheets[:len(puppet.sheets)]})

    def test_an_empty_skin_is_the_puppet(self) -> None:
        puppet = demo_puppet()
        self.assertEqual(dressed(puppet, Skin()), puppet)
        self.assertIs(dressed(puppet, None), puppet)

    def test_the_same_drawings_in_other_colours_behave_the_same(self) -> None:
        setup = demo_setup()
        puppet = setup.puppet
        sheets = {sheet.id: f"{sheet.id}_green" for sheet in puppet.sheets}
        skin = Skin(sheets=tuple(Sheet(f"{each.id}_green", each.name, f"green/{each.path}")
                                 for each in puppet.sheets),
                    clips=tuple(SkinClip(each.id, tuple(
                        Frame(replace(frame.cell, sheet=sheets[frame.cell.sheet]),
                              mirrored=frame.mirrored) for frame in each.frames), each.faces)
                        for each in puppet.clips))
        presses = [(5, 90, "right"), (40, 60, "jump"), (100, 103, "attack"), (115, 118, "attack"),
                   (150, 200, "guard")]
        plain = run(setup, presses, 260)
        green = run(set_up(dressed(puppet, skin), demo_world()), presses, 260)
        self.assertEqual([each.report for each in plain], [each.report for each in green])
        self.assertEqual([each.inputs for each in plain], [each.inputs for each in green])

    def test_times_come_from_the_puppet_where_frames_are_more_or_fewer(self) -> None:
        base = Clip("chop", "chop", strip(4, duration=100.0), "once",
                    windows=(Window("hit", 100.0, 200.0, "hit", "pole"),))
        puppet = Puppet(clips=(base,))
        eight = SkinClip("chop", strip(8, sheet="other"))
        made = dressed(puppet, Skin(clips=(eight,))).clips[0]
        self.assertEqual([frame.duration for frame in made.frames], [50.0] * 8)
        self.assertEqual((made.windows[0].start, made.windows[0].end), (100.0, 200.0))

    def test_windows_keep_to_their_frames_where_only_the_times_are_others(self) -> None:
        base = Clip("chop", "chop", strip(4, duration=100.0), "once",
                    windows=(Window("hit", 150.0, 300.0, "hit", "pole"),),
                    moments=(Moment("ring", 400.0, "call", "ring"),))
        slow = SkinClip("chop", strip(4, duration=200.0), own=("durations",))
        made = dressed(Puppet(clips=(base,)), Skin(clips=(slow,))).clips[0]
        self.assertEqual((made.windows[0].start, made.windows[0].end), (300.0, 600.0))
        self.assertEqual(made.moments[0].at, 800.0)

    def test_places_are_as_large_a_part_of_another_cell(self) -> None:
        base = replace(clip("walk"), pivot=Point(3.0, 9.0))
        base = replace(base, frames=(replace(base.frames[0],
                                             cell=Cell("sheet", 0, 0, 10, 10)),))
        twice = SkinClip("walk", strip(1, 20))
        made = dressed(Puppet(clips=(replace(base, id="walk"),)), Skin(clips=(twice,))).clips[0]
        self.assertEqual(made.pivot, Point(6.0, 18.0))
        left = dressed(Puppet(clips=(replace(base, id="walk"),)),
                       Skin(clips=(replace(twice, faces="left"),))).clips[0]
        self.assertEqual(left.pivot, Point(14.0, 18.0))

    @given(some.lists(some.integers(1, 500), min_size=1, max_size=6),
           some.lists(some.integers(1, 500), min_size=1, max_size=6), some.data())
    def test_times_stay_in_order_and_within(self, old: list[int], new: list[int],
                                            data: some.DataObject) -> None:
        first = [float(sum(old[:at])) for at in range(len(old) + 1)]
        second = [float(sum(new[:at])) for at in range(len(new) + 1)]
        at = retimed(first, second)
        times = sorted(data.draw(some.lists(some.floats(0, first[-1]), min_size=2)))
        moved = [at(time) for time in times]
        self.assertEqual(moved, sorted(moved))
        self.assertTrue(all(0 <= each <= second[-1] + 0.001 for each in moved))
        self.assertEqual((at(0.0), at(first[-1])), (0.0, second[-1]))

    def test_what_did_not_change_stays_the_same_object(self) -> None:
        puppet = demo_puppet()
        skin = Skin(clips=(SkinClip("walk", strip(6)), SkinClip("idle", strip(4))))
        dressing = Dressing()
        one = dressing.dressed(puppet, skin)
        self.assertIs(dressing.dressed(puppet, skin), one)
        other = dressing.dressed(frame_edits.frame_changed(puppet, "walk", 0, duration=50.0), skin)
        self.assertIs(other.clip("idle"), one.clip("idle"))
        self.assertIsNot(other.clip("walk"), one.clip("walk"))


class Undressed(Case):
    """An edit in a skin, told apart."""

    def test_what_hangs_on_frames_is_nothing_without_them(self) -> None:
        hit = Frame(Cell("sheet", 0, 0, 9, 9), boxes=(Box("hit", 1, 2, 3, 4, "pole"),))
        puppet = Puppet(clips=(
            Clip("chop", "chop", (hit,), windows=(Window("w", 0, 50, "hit", "pole"),)),))
        skin = Skin(clips=(SkinClip("chop", own=("boxes",)),))
        before = dressed(puppet, skin)
        after = windows_renamed(before, {"pole": "stick"})
        self.assertEqual(dressed(*undressed(puppet, skin, before, after)), after)

    @given(PUPPET_AND_SKIN, some.lists(strategies.edits(), max_size=8))
    def test_dressed_again_it_is_what_was_edited(
        self, both: tuple[Puppet, Skin], edits: list[strategies.Edit]
    ) -> None:
        puppet, skin = both
        for _, edit in edits:
            before = dressed(puppet, skin)
            after = edit(before)
            puppet, skin = undressed(puppet, skin, before, after)
            checked_puppet(puppet, "puppet")
            checked(skin, "skin")
            again = dressed(puppet, skin)
            # A clip of which a skin shows nothing is the puppet's again.
            empty = {each.id for each in after.clips if not each.frames}
            self.assertEqual([each for each in again.clips if each.id not in empty],
                             [each for each in after.clips if each.id not in empty])
            self.assertEqual(replace(again, clips=(), sheets=()),
                             replace(after, clips=(), sheets=()))
            self.assertEqual({sheet.id: sheet for sheet in again.sheets},
                             {sheet.id: sheet for sheet in after.sheets})

    @given(PUPPET_AND_SKIN)
    def test_an_edit_of_the_graph_is_everyones_and_one_of_times_is_the_skins(
        self, both: tuple[Puppet, Skin]
    ) -> None:
        puppet, skin = both
        before = dressed(puppet, skin)
        made, same = undressed(puppet, skin, before,
                               graph_edits.state_added(before, "new", None, None, 0)[0])
        self.assertEqual(dressed(puppet, same).clips, before.clips)
        self.assertEqual(made.clips, puppet.clips)
        self.assertEqual(len(made.states), len(puppet.states) + 1)
        for each in before.clips:
            if each.frames:
                after = frame_edits.frame_changed(before, each.id, 0, duration=777.0)
                made, changed = undressed(puppet, skin, before, after)
                self.assertEqual(made, puppet)
                self.assertEqual(dressed(made, changed).clips, after.clips)

    def test_what_a_piece_of_the_graph_asks_for_is_everyones(self) -> None:
        base = Clip("chop", "chop", strip(4, duration=100.0), "once")
        puppet = Puppet(clips=(base, replace(base, id="rise", name="rise")), states=(
            State("idle", "Idle"), State("rise", "Rise", clip="rise"),
            State("chop", "Chop", clip="chop"), State("slash", "Slash", clip="chop")))
        skin = Skin(clips=(SkinClip("chop", strip(2, duration=300.0), own=("durations",)),
                           SkinClip("rise", strip(2, sheet="other"))))
        for edit, field in (
            (lambda now: ready_made.chained(now, ("chop", "slash"), "press_attack"), "windows"),
            (lambda now: pieces.jump(now, ("rise",), "idle", "press_jump"), "moments"),
        ):
            before = dressed(puppet, skin)
            after = edit(before)
            made, changed = undressed(puppet, skin, before, after)
            self.assertEqual(dressed(made, changed), after)
            self.assertTrue(any(getattr(one, field) for one in made.clips), field)
            for one in made.clips:
                self.assertTrue(all(0 <= each.start < each.end <= one.length
                                    for each in one.windows))

    def test_only_what_was_touched_becomes_the_skins(self) -> None:
        puppet = demo_puppet()
        skin = Skin()
        before = dressed(puppet, skin)
        window = before.clip("light_swing").windows[0]  # type: ignore[union-attr]
        after = event_edits.event_changed(before, "light_swing", window.id, end=window.end + 1)
        made, skin = undressed(puppet, skin, before, after)
        self.assertIs(made.clips, puppet.clips)
        self.assertEqual([(each.clip, each.own, each.frames) for each in skin.clips],
                         [("light_swing", ("windows",), ())])

    def test_a_number_of_the_mover_is_the_skins_and_what_it_listens_to_everyones(self) -> None:
        puppet = demo_puppet()
        before = dressed(puppet, Skin())
        after = replace(before, mover=replace(before.mover, walk_speed=12.0, jump="attack"))
        made, skin = undressed(puppet, Skin(), before, after)
        self.assertEqual(skin.numbers, (MoverNumber("walk_speed", 12.0),))
        self.assertEqual((made.mover.walk_speed, made.mover.jump),
                         (puppet.mover.walk_speed, "attack"))

    def test_a_window_that_is_renamed_throughout_is_so_under_the_skin_too(self) -> None:
        puppet = demo_puppet()
        name = puppet.window_names()[0]
        owner = next(each for each in puppet.clips
                     if any(window.name == name for window in each.windows))
        skin = Skin(clips=(SkinClip(owner.id, own=("windows",), windows=owner.windows),))
        other = replace(skin, name="second")
        before = dressed(puppet, skin)
        after = windows_renamed(before, {name: "stick"})
        made, changed = undressed(puppet, skin, before, after)
        self.assertNotIn(name, made.window_names())
        self.assertNotIn(name, dressed(made, changed).window_names())
        followed = Followed.of(before, after)
        assert followed is not None
        self.assertNotIn(name, dressed(made, followed.skin(other)).window_names())

    def test_a_new_clip_is_everyones_with_the_sheet_it_shows(self) -> None:
        puppet = demo_puppet()
        skin = Skin(sheets=(Sheet("moss", "moss", "moss.png"),))
        before = dressed(puppet, skin)
        made, left = undressed(puppet, skin, before, replace(
            before, clips=(*before.clips, Clip("dig", "dig", strip(3, sheet="moss")))))
        self.assertEqual(made.clips[-1].id, "dig")
        self.assertIn("moss", [sheet.id for sheet in made.sheets])
        self.assertEqual(left.sheets, ())


class Files(Case):
    """`NAME.skin.json`."""

    @given(PUPPET_AND_SKIN)
    def test_what_is_written_is_read_again(self, both: tuple[Puppet, Skin]) -> None:
        _, skin = both
        content = skin_bytes(skin)
        again = skin_from(content)
        self.assertEqual(again, skin)
        self.assertEqual(skin_bytes(again), content)

    def test_the_skins_of_a_puppet_lie_beside_it(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        save_puppet(demo_puppet(), folder / "one.puppet.json")
        save_skin(Skin(puppet="one.puppet.json"), folder / "b.skin.json")
        save_skin(Skin(puppet="two.puppet.json"), folder / "a.skin.json")
        (folder / "c.skin.json").write_text("{")
        self.assertEqual(skins_of(folder / "one.puppet.json"), [folder / "b.skin.json"])
        self.assertEqual(load_skin(folder / "b.skin.json").puppet, "one.puppet.json")

    def test_what_is_wrong_is_said_with_its_place(self) -> None:
        wrong = [
            ({"format": 2}, "a newer one wrote it"),
            ({"clips": [{"clip": "a"}, {"clip": "a"}]}, "a twice"),
            ({"numbers": [{"name": "wings", "value": 1}]}, "found wings"),
            ({"numbers": [{"name": "left", "value": 1}]}, "found left"),
            ({"numbers": [{"name": "width", "value": 0}]}, "numbers[0].value"),
            ({"numbers": [{"name": "health", "value": 1.5}]}, "numbers[0].value"),
            ({"clips": [{"clip": "a", "own": ["wings"]}]}, "wings"),
            ({"clips": [{"clip": "a", "frames": [
                {"cell": {"sheet": "s", "x": 0, "y": 0, "width": 0, "height": 1}}]}]},
             "clips[0].frames[0].cell.width"),
        ]
        for content, expected in wrong:
            with self.subTest(expected), self.assertRaises(FileProblem) as raised:
                skin_from(msgspec.json.encode(content), Path("moss.skin.json"))
            self.assertIn(expected, str(raised.exception))
