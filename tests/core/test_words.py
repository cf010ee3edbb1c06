"""Names of any script, words that are taken, and files that are only written where they can be
opened again."""

from __future__ import annotations

import tempfile
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import strategies
from tests.helpers import Case, clip, demo_puppet, puppet_of
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes, puppet_from, save_puppet
from yarn_puppet.core.model.basics.ids import new_id
from yarn_puppet.core.model.basics.words import is_reserved, is_word, one_of, word_from
from yarn_puppet.core.model.edits import clips as clip_edits
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits import wiring
from yarn_puppet.core.model.events import Deed, Window
from yarn_puppet.core.model.graph import Group, Layer, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.wiring import Memo
from yarn_puppet.core.model.world import World
from yarn_puppet.core.rules.parse import parse
from yarn_puppet.core.rules.phrase import phrase
from yarn_puppet.core.rules.renames import windows_renamed
from yarn_puppet.core.rules.scope import ConditionError, scope_by_id, scope_by_name
from yarn_puppet.core.rules.translate import to_ids, to_names
from yarn_puppet.core.snags.check import check

SCRIPTS = ("größe", "速さ", "Überkopf", "हिन्दी_गति", "скорость", "ﬁne", "Å", "é", "speed²",
           "🔥 hot",
           "  ", "a" * 500)


class Words(Case):
    def test_letters_of_any_script_stand_in_names_and_conditions(self) -> None:
        for name in SCRIPTS:
            with self.subTest(name):
                puppet, id = wiring.sense_added(new_puppet(), name, "float")
                sense = next(each for each in puppet.senses if each.id == id)
                stored = to_ids(f"{sense.name} > 2 and grounded", puppet)
                self.assertEqual(stored, f"{id} > 2 and grounded")
                self.assertEqual(to_names(stored, puppet), f"{sense.name} > 2 and grounded")
                self.assertEqual(puppet_from(puppet_bytes(puppet)), puppet)

    @given(strategies.NAMES)
    def test_any_text_gives_a_word_and_an_id_that_a_file_takes(self, name: str) -> None:
        self.assertTrue(is_word(word_from(name)))
        self.assertFalse(is_reserved(new_id(name, ())))
        puppet, action = wiring.action_added(new_puppet(), name)
        puppet, _ = wiring.intent_added(puppet, action, "hold")
        puppet, _ = wiring.sense_added(puppet, name, "int")
        puppet, _ = wiring.memo_added(puppet, name)
        self.assertEqual(puppet_from(puppet_bytes(puppet)), puppet)

    def test_no_name_and_no_id_is_a_word_of_the_language(self) -> None:
        for name in ("Loops", "Done", "class", "not", "True", "FACING", "in_state", "window"):
            with self.subTest(name):
                puppet, id = wiring.sense_added(new_puppet(), name)
                self.assertFalse(is_reserved(id))
                self.assertFalse(is_reserved(puppet.senses[-1].name))
                renamed = wiring.entry_changed(puppet, "senses", id, name=name)
                self.assertFalse(is_reserved(renamed.senses[-1].name))
                parse(f"{id} and loops > 2", scope_by_id(puppet))
        stolen = puppet_bytes(new_puppet()).replace(b'"id":"blocked"', b'"id":"done"')
        with self.assertRaises(FileProblem) as caught:
            puppet_from(stolen)
        self.assertIn("no word of conditions, found done", str(caught.exception))

    def test_one_of_several_is_called_as_people_call_it(self) -> None:
        fields = [*Puppet.__struct_fields__, *World.__struct_fields__, "boxes"]
        several = [field for field in fields if field.endswith("s")]
        singular = {each: one_of(each) for each in several}
        self.assertEqual({each: singular[each]
                          for each in ("boxes", "axes", "dummies", "senses", "clips", "zones",
                                       "bone_boxes")}, {
            "boxes": "box", "axes": "axis", "dummies": "dummy", "senses": "sense", "clips": "clip",
            "zones": "zone", "bone_boxes": "bone box"})
        self.assertEqual([each for each in singular.values() if each.endswith(("ie", "xe"))], [])

    def test_a_name_that_cannot_be_used_is_a_snag_and_the_file_opens(self) -> None:
        puppet = new_puppet()
        for name in ("Done", "two words", "grounded"):
            odd = replace(puppet, senses=(*puppet.senses[:1], replace(puppet.senses[1], name=name),
                                          *puppet.senses[2:]))
            self.assertEqual(puppet_from(puppet_bytes(odd)), odd)
            self.assertIn(("sense", "speed"), {(snag.kind, snag.id) for snag in check(odd)})
            self.assertEqual(scope_by_name(odd).symbols["done"].kind, "built-in")

    def test_a_condition_too_long_to_be_kept_is_said_where_it_is_typed(self) -> None:
        puppet, _ = wiring.sense_added(new_puppet(), "a" * 60)
        puppet = wiring.entry_changed(puppet, "senses", puppet.senses[-1].id, name="a")
        with self.assertRaises(ConditionError) as caught:
            to_ids(" and ".join(["a"] * 200), puppet)
        self.assertIn("shorter", str(caught.exception))

    def test_brackets_are_shown_where_they_matter(self) -> None:
        scope = scope_by_id(new_puppet())
        for text, words in (
            ("speed - (vx - vy) > 0", "speed - (vx - vy) > 0"),
            ("(speed - vx) - vy > 0", "speed - vx - vy > 0"),
            ("speed * (vx + 1) > 0", "speed × (vx + 1) > 0"), ("-(vx + vy) < 0", "−(vx + vy) < 0"),
            ("not (grounded and blocked)", "not (grounded and blocked)"),
            ("grounded and (blocked or held_guard)", "grounded and (blocked or held guard)"),
            ("(grounded == blocked) == true", "(grounded is blocked) is true"),
            ("not grounded and blocked", "not grounded and blocked"),
        ):
            self.assertEqual(phrase(parse(text, scope), {}), words)


class ReadBack(Case):
    def test_what_could_not_be_opened_again_does_not_take_the_old_files_place(self) -> None:
        puppet = demo_puppet()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "it.puppet.json"
            save_puppet(puppet, path)
            before = path.read_bytes()
            for broken, place in (
                (replace(puppet, name="x" * 201), "name"),
                (replace(puppet, states=(*puppet.states, puppet.states[0])), "states"),
                (replace(puppet, facing=replace(puppet.facing, follows="a b")), "facing.follows"),
                (replace(puppet, mover=replace(puppet.mover, walk_speed=float("nan"))),
                 "mover.walk_speed"),
            ):
                with self.subTest(place), self.assertRaises(FileProblem) as caught:
                    save_puppet(broken, path)
                self.assertIn("not saved, since it could not be opened again",
                              str(caught.exception))
                self.assertIn(place, caught.exception.place)
                self.assertEqual(path.read_bytes(), before)
            self.assertEqual(load_puppet(path), puppet)


class Removals(Case):
    def puppet(self) -> Puppet:
        window = Window("w", 0, 50, "cancel", "pole", ("a", "g"))
        states = [State("a", "A", group="g", clip="c"), State("b", "B", group="g", clip="c"),
                  State("z", "Z", clip="c", on_enter=(Deed("tired", 'window("pole")'),))]
        return puppet_of([clip("c", windows=[window])], states,
                         [Transition("za", "z", "a", 'window("pole")')],
                         groups=(Group("o", "O", start="a"), Group("g", "G", group="o", start="a")),
                         layers=(Layer("body", "body", "g"),),
                         memos=(Memo("tired", "tired", "bool", False),))

    def test_what_pointed_to_what_is_gone_is_fixed_in_the_same_edit(self) -> None:
        puppet = self.puppet()
        dragged = edits.state_ordered(puppet, "a", None, 0)
        self.assertEqual([group.start for group in dragged.groups], [None, None])
        ungrouped = edits.group_removed(puppet, "g")
        self.assertEqual((ungrouped.layers[0].start, ungrouped.clips[0].windows[0].into),
                         ("a", ("a", "b")))
        without = edits.state_removed(puppet, "a")
        self.assertEqual((without.clips[0].windows[0].into, without.groups[0].start),
                         (("g",), None))
        self.assertEqual(edits.group_nested(puppet, "g", None).groups[0].start, None)
        for repaired in (dragged, ungrouped, without):
            self.assertEqual([snag for snag in check(repaired)
                              if snag.kind in ("group", "layer", "state")
                              and snag.severity == "error"], [])

    def test_a_window_whose_only_guest_is_gone_lets_nobody_in_and_is_a_snag(self) -> None:
        puppet = self.puppet()
        only = clip_edits.clip_changed(puppet, "c",
                                       windows=(replace(puppet.clips[0].windows[0], into=("a",)),))
        without = edits.state_removed(only, "a")
        self.assertEqual(without.clips[0].windows[0].into, ("a",))
        self.assertTrue(any("lets in a, which is not there" in snag.why for snag in check(without)))

    def test_a_window_is_renamed_in_settings_too_and_one_named_as_another_kind_is_a_snag(
        self,
    ) -> None:
        renamed = windows_renamed(self.puppet(), {"pole": "hit"})
        self.assertEqual(renamed.states[2].on_enter[0].value, 'window("hit")')
        self.assertEqual(renamed.transitions[0].when, 'window("hit")')
        self.assertTrue(any("name of another kind" in snag.why for snag in check(renamed)))

    def test_an_action_that_the_walker_listens_to_is_missed(self) -> None:
        gone = wiring.action_removed(self.puppet(), "left")
        self.assertTrue(any("listens to the action left" in snag.why for snag in check(gone)))
        again, _ = wiring.action_added(gone, "left")
        self.assertFalse(any("listens to" in snag.why for snag in check(again)), "as the snag says")

    @given(strategies.puppets(), some.lists(strategies.edits(), max_size=6))
    def test_whatever_is_edited_can_be_saved(
        self, puppet: Puppet, chain: list[strategies.Edit]
    ) -> None:
        for _, change in chain:
            puppet = change(puppet)
        self.assertEqual(puppet_from(puppet_bytes(puppet)), puppet)
