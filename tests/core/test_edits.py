"""Edits: functions from puppet to puppet that can be undone, and that keep a puppet whole."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some

from tests import strategies
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.formats.puppet_file import checked
from yarn_puppet.core.model.basics.ids import all_ids, new_id
from yarn_puppet.core.model.edits import clips as clip_edits
from yarn_puppet.core.model.edits import graph as graph_edits
from yarn_puppet.core.model.edits import wiring as wiring_edits
from yarn_puppet.core.model.edits.frames import events as event_edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.history import History
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.rules.renames import windows_renamed
from yarn_puppet.core.rules.translate import to_names
from yarn_puppet.core.snags.check import check


class Undo(Case):
    @given(strategies.puppets(), some.lists(strategies.edits(), max_size=12))
    def test_any_edits_undone_give_the_start_again_and_redone_the_end(
        self, puppet: Puppet, edits: list[strategies.Edit]
    ) -> None:
        history = History.starting_with(puppet)
        seen = [puppet]
        for name, edit in edits:
            history = history.edited(edit(history.puppet), name)
            if history.puppet != seen[-1]:
                seen.append(history.puppet)
                self.assertEqual(history.undo_name, name)
        for expected in reversed(seen):
            self.assertEqual(history.puppet, expected)
            history = history.undone()
        self.assertEqual(history.puppet, puppet)
        self.assertIsNone(history.undo_name)
        for expected in seen[1:]:
            history = history.redone()
            self.assertEqual(history.puppet, expected)
        self.assertIsNone(history.redo_name)

    @given(strategies.puppets(), some.lists(strategies.edits(), max_size=12))
    def test_no_edit_breaks_a_puppet(self, puppet: Puppet, edits: list[strategies.Edit]) -> None:
        for _, edit in edits:
            puppet = checked(edit(puppet), "puppet")
        check(puppet)

    def test_edits_of_one_drag_are_one_step(self) -> None:
        puppet = demo_puppet()
        history = History.starting_with(puppet)
        for number, duration in enumerate((90.0, 95.0, 100.0)):
            edited = frame_edits.frame_changed(puppet, "walk", 0, duration=duration)
            history = history.edited(edited, "change duration", merge=number > 0)
        self.assertEqual(history.undone().puppet, puppet)

    def test_an_edit_after_undoing_forgets_what_was_undone(self) -> None:
        history = History.starting_with(demo_puppet())
        history = history.edited(graph_edits.state_removed(history.puppet, "walk_state"),
                                 "remove state").undone()
        history = history.edited(graph_edits.state_removed(history.puppet, "idle_state"),
                                 "remove state")
        self.assertIsNone(history.redo_name)


class Ids(Case):
    @given(some.text(max_size=30), some.sets(some.sampled_from(["walk", "walk_2", "sheet"])))
    def test_new_ids_are_identifiers_and_not_taken(self, name: str, taken: set[str]) -> None:
        id = new_id(name, taken)
        self.assertTrue(id.isidentifier() and id.isascii())
        self.assertNotIn(id, taken)

    def test_a_rename_touches_one_place_and_shows_everywhere(self) -> None:
        puppet = demo_puppet()
        renamed = wiring_edits.entry_changed(puppet, "intents", "tap_attack", name="poke")
        self.assertEqual(renamed.transitions, puppet.transitions)
        shown = [to_names(transition.when, renamed)
                 for transition in renamed.transitions if "tap_attack" in transition.when]
        self.assertEqual(shown, ["poke"])
        self.assertEqual(check(renamed), check(puppet))

    def test_names_for_conditions_are_made_usable_and_never_shared(self) -> None:
        puppet = demo_puppet()
        for typed, expected in (("tap attack!", "tap_attack_2"), ("2nd", "_2nd"),
                                ("class", "class_2"), ("Loops", "Loops_2"), ("速さ", "速さ"),
                                ("é", "é")):
            with self.subTest(typed):
                made, _ = wiring_edits.sense_added(puppet, typed)
                self.assertEqual(made.senses[-1].name, expected)


class Clips(Case):
    def test_a_mirrored_copy_of_a_mirrored_copy_shows_what_the_first_did(self) -> None:
        puppet, once = clip_edits.mirrored_copy(demo_puppet(), "light_swing")
        puppet, twice = clip_edits.mirrored_copy(puppet, once)
        first, last, middle = (puppet.clip(id) for id in ("light_swing", twice, once))
        assert first and last and middle
        self.assertEqual((middle.faces, last.faces), ("left", "right"))
        self.assertEqual((last.frames, last.pivot), (first.frames, first.pivot))
        box, mirrored = first.frames[3].boxes[-1], middle.frames[3].boxes[-1]
        self.assertEqual(mirrored.x, 96 - box.x - box.width)
        self.assertEqual([w.start for w in middle.windows], [w.start for w in first.windows])
        self.assertEqual(len(all_ids(puppet)), len(all_ids(demo_puppet())) + 2 * 6)

    def test_a_removed_clip_leaves_its_states_playing_nothing(self) -> None:
        puppet = clip_edits.clip_removed(demo_puppet(), "walk")
        state = puppet.state("walk_state")
        assert state is not None
        self.assertIsNone(state.clip)

    def test_a_window_is_renamed_everywhere_at_once(self) -> None:
        puppet = demo_puppet()
        puppet = graph_edits.transition_changed(
            puppet, "idle_to_walk", when='window("pole") and move_x != 0')
        renamed = windows_renamed(puppet, {"pole": "stick"})
        self.assertNotIn("pole", {window.name for clip in renamed.clips for window in clip.windows})
        self.assertNotIn("pole",
                         {box.name for clip in renamed.clips for frame in clip.frames
                          for box in frame.boxes})
        transition = renamed.transition("idle_to_walk")
        assert transition is not None
        self.assertEqual(transition.when, 'window("stick") and move_x != 0')

    def test_a_window_never_ends_before_it_starts(self) -> None:
        puppet = event_edits.event_changed(demo_puppet(), "light_swing", "swing_hit", start=400.0)
        clip = puppet.clip("light_swing")
        assert clip is not None
        window = next(each for each in clip.windows if each.id == "swing_hit")
        self.assertEqual((window.start, window.end), (220.0, 400.0))


class Graph(Case):
    def test_a_card_put_in_a_place_pushes_the_ones_there_along(self) -> None:
        puppet = graph_edits.state_ordered(demo_puppet(), "guard_state", "ground", 0)
        places = {state.id: state.place for state in puppet.states if state.group == "ground"}
        self.assertEqual(places,
                         {"guard_state": 0, "idle_state": 1, "walk_state": 2, "crouch_state": 3})

    def test_a_removed_state_takes_its_transitions_along(self) -> None:
        puppet = graph_edits.state_removed(demo_puppet(), "idle_state")
        self.assertFalse([transition
                          for transition in puppet.transitions
                          if "idle_state" in (transition.source, transition.target)])
        self.assertEqual(puppet.layers[0].start, puppet.states[0].id)

    def test_a_removed_group_leaves_its_states_where_it_was(self) -> None:
        puppet = graph_edits.group_removed(demo_puppet(), "strike")
        guard = puppet.state("guard_state")
        assert guard is not None
        self.assertIsNone(guard.group)

    def test_an_order_among_the_transitions_of_one_source(self) -> None:
        puppet = graph_edits.transition_ordered(demo_puppet(), "ground_to_guard", 1)
        first = [each.id for each in puppet.transitions_of("ground")]
        self.assertEqual(first[:2], ["ground_to_guard", "ground_to_fall"])
        self.assertEqual(puppet.transitions_of("idle_state"),
                         demo_puppet().transitions_of("idle_state"))

    def test_a_group_cannot_be_put_inside_itself(self) -> None:
        puppet = graph_edits.group_nested(demo_puppet(), "air", "ground")
        self.assertEqual(graph_edits.group_nested(puppet, "ground", "air"), puppet)

    def test_one_key_has_one_action(self) -> None:
        puppet = wiring_edits.keys_set(demo_puppet(), "jump", ("key:J",))
        owners = [action.id for action in puppet.actions if "key:J" in action.keys]
        self.assertEqual(owners, ["jump"])
