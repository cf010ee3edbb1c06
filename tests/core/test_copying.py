"""What is copied into another puppet behaves there as it did, whatever the other puppet calls its
own entries."""

from __future__ import annotations

import unittest
from string import ascii_lowercase

from msgspec.structs import replace

from tests.depth import examples, some_of
from tests.helpers import Case, clip, puppet_of
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Inputs
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.events import Window
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import COLLECTIONS, Puppet
from yarn_puppet.core.model.wiring import Action, Intent, Memo
from yarn_puppet.core.rules.clashes import clashes
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.sampling import Sampler
from yarn_puppet.demo import DEMO_PUPPET, FIRST_STEPS
from yarn_puppet.demo.make.grown import grown_puppet

SEEDS = 60
TICKS = 40


def one_layer(puppet: Puppet) -> Puppet:
    """Only what is on the first layer, and wholly inside it."""
    layer = puppet.layers[0].id
    inside = {node.id for node in puppet.nodes if node.layer == layer
              and all(each.layer == layer for each in puppet.groups_around(node))}
    states = tuple(state for state in puppet.states if state.id in inside)
    return replace(
        puppet, layers=(replace(puppet.layers[0], shown_when="", weight=1.0,
                                start=states[0].id if states else None),),
        states=states,
        groups=tuple(replace(group, start=group.start if group.start in inside else None)
                     for group in puppet.groups if group.id in inside),
        transitions=tuple(transition
                          for transition in puppet.transitions
                          if transition.source in inside and transition.target in inside),
    )


def strange(puppet: Puppet) -> Puppet:
    """Another puppet, in which every id of this one is taken by a memo or a state that is something
    else."""
    ids = [each.id for field in COLLECTIONS
           for each in getattr(puppet, field) if field not in ("senses", "layers")]
    senses = {sense.id for sense in puppet.senses}
    taken = [id for id in dict.fromkeys(ids) if id not in senses]
    return Puppet(
        rate=puppet.rate, facing=puppet.facing, senses=puppet.senses,
        layers=(replace(puppet.layers[0], start=None),),
        memos=tuple(Memo(id, f"own_{number}") for number, id in enumerate(taken)),
        states=tuple(State(id, f"Own {number}", puppet.layers[0].id)
                     for number, id in enumerate(taken)),
    )


def copied_whole(puppet: Puppet) -> Puppet:
    """Its graph, in the strange puppet."""
    parcel = parcel_of(puppet, [node.id for node in puppet.nodes])
    made = pasted(strange(puppet), parcel.puppet, puppet.layers[0].id)
    names = {node.name: node.id
             for node in made.puppet.nodes if node.id in {*made.states, *made.groups}}
    start = next((node.name for node in puppet.nodes if node.id == puppet.layers[0].start), "")
    return replace(made.puppet, layers=(replace(made.puppet.layers[0], start=names.get(start)),))


def lived(puppet: Puppet, seed: int) -> list[tuple[object, ...]]:
    """What a run comes to, all in names."""
    shaker, program = Shaker(seed), compile_puppet(puppet)
    names = {node.id: node.name for node in puppet.nodes}
    clips = {clip.id: clip.name for clip in puppet.clips}
    memos = [memo.name for memo in program.memos]
    state, sampler, trace = initial_state(program), Sampler(program), []
    keys = {each.id: each.name[-1] for each in puppet.actions}
    down = dict.fromkeys(ascii_lowercase, False)
    for _ in range(TICKS):
        down = {name: held != shaker.chance(3) for name, held in down.items()}
        held = [down[keys.get(action, "z")] for action in program.actions]
        senses = {sense.id: shaker.pick([0, 1, 2.5, 90, True, False]) for sense in puppet.senses}
        senses = {id: value for id, value in senses.items() if shaker.chance(8)}
        state, report = tick(program, state, Inputs(
            tuple(held), sampler.alone(tuple(senses.items())), (), False))
        layer = report.layers[0] if report.layers else None
        trace.append((
            layer and (names.get(layer.state), tuple(names.get(group) for group in layer.groups),
                       clips.get(layer.clip or ""), layer.clip_time, layer.cycle),
            report.facing, report.move_speed, report.lock_movement, report.safe,
            {name: value for name, value in zip(memos, report.memos, strict=True)
             if not name.startswith("own_")},
        ))
    return trace


class Copied(Case):
    def same(self, puppet: Puppet, seed: int) -> None:
        """A puppet of one layer and its copy live alike."""
        before, after = lived(puppet, seed), lived(copied_whole(puppet), seed)
        kept = {memo.name for memo in copied_whole(puppet).memos}
        for number, (one, other) in enumerate(zip(before, after, strict=True)):
            memos = {name: value for name, value in one[-1].items()
                     if name in kept}  # type: ignore[attr-defined]
            self.assertEqual((*one[:-1], memos), other, f"seed {seed}, tick {number}")

    def test_the_demos_live_on_among_strangers_with_their_ids(self) -> None:
        for puppet in (grown_puppet(), load_puppet(DEMO_PUPPET), load_puppet(FIRST_STEPS)):
            for seed in some_of(range(5)):
                self.same(one_layer(puppet), seed)

    def test_random_puppets_do(self) -> None:
        for seed in some_of(range(SEEDS)):
            puppet = one_layer(Shaker(seed).puppet())
            if puppet.states:
                self.same(puppet, seed)

    def test_a_copy_has_the_snags_it_had(self) -> None:
        puppet = one_layer(grown_puppet())
        copy = copied_whole(puppet)
        own = {state.id for state in copy.states if state.name.startswith("Own")}
        self.assertEqual([each.why for each in check(puppet) if each.kind == "transition"],
                         [each.why for each in check(copy)
                          if each.kind == "transition" and each.id not in own])


def varied(puppet: Puppet, seed: int) -> Puppet:
    """The same names, each entry different in a field: what a puppet that grew apart from this one
    has."""
    shaker = Shaker(seed)
    changes = {
        "intents": lambda each: replace(each, buffer=each.buffer + 0.05),
        "senses": lambda each: replace(each, high=each.high + 1.0),
        "memos": lambda each: replace(each, returns=1.5),
        "thresholds": lambda each: replace(each, on=each.on + 1.0),
        "clips": lambda each: replace(each, mode="loop" if each.mode != "loop" else "once"),
        "spreads": lambda each: replace(each, hold=0.9 if each.hold < 0.5 else 0.0),
        "actions": lambda each: replace(each, keys=("key:F12",)),
    }
    made = {field: tuple(change(each) if shaker.chance(7) else each
                         for each in getattr(puppet, field))
            for field, change in changes.items()}
    return replace(puppet, states=(), groups=(), transitions=(),
                   layers=(replace(puppet.layers[0], start=None),), **made)


class Answered(Case):
    def test_with_theirs_it_lives_as_it_did_whatever_was_here(self) -> None:
        for seed in some_of(range(SEEDS)):
            puppet = one_layer(Shaker(seed).puppet())
            if not puppet.states:
                continue
            parcel = parcel_of(puppet, [node.id for node in puppet.nodes]).puppet
            other = varied(puppet, seed)
            answers = {clash.key: "theirs" for clash in clashes(other, parcel)}
            made = pasted(other, parcel, puppet.layers[0].id, answers)  # type: ignore[arg-type]
            names = {node.name: node.id for node in made.puppet.nodes}
            start = next((node.name for node in puppet.nodes if node.id == puppet.layers[0].start),
                         "")
            whole = replace(made.puppet,
                            layers=(replace(made.puppet.layers[0], start=names.get(start)),))
            kept = {memo.name for memo in parcel.memos}

            def trace(
                lines: list[tuple[object, ...]], kept: set[str] = kept
            ) -> list[tuple[object, ...]]:
                return [(*line[:-1], {name: value
                                      for name, value in line[
                                          -1].items()  # type: ignore[attr-defined]
                                      if name in kept}) for line in lines]

            self.assertEqual(trace(lived(whole, seed)), trace(lived(puppet, seed)), f"seed {seed}")

    def test_whatever_field_differs_it_is_asked_about_and_shown(self) -> None:
        puppet = load_puppet(DEMO_PUPPET)
        parcel = parcel_of(puppet, [node.id for node in puppet.nodes]).puppet
        asked = 0
        for field in ("actions", "senses", "memos", "thresholds", "intents", "clips", "spreads",
                      "sheets"):
            for index, entry in some_of(tuple(enumerate(getattr(puppet, field)))):
                if entry.id not in {each.id for each in getattr(parcel, field)}:
                    continue
                for name in entry.__struct_fields__:
                    other = spoilt(getattr(entry, name))
                    if name in ("id", "name") or other is None:
                        continue
                    changed = list(getattr(puppet, field))
                    changed[index] = replace(entry, **{name: other})
                    found = clashes(replace(puppet, **{field: tuple(changed)}), parcel)
                    self.assertEqual([clash.name for clash in found], [entry.name],
                                     f"{field} {entry.id} {name}")
                    self.assertTrue(all(each.here != each.there for each in found[0].fields), found)
                    asked += 1
        self.assertGreater(asked, examples(120))

    def test_damage_push_and_boxes_of_a_clip_are_fields_too(self) -> None:
        puppet = load_puppet(FIRST_STEPS)
        parcel = parcel_of(puppet, ["light_swing_state"]).puppet
        for change, said in ((("damage", 4, 54), "windows pole damage"),
                             (("push", 3.0, 90.0), "windows pole push")):
            name, _, value = change
            other = replace(puppet, clips=tuple(replace(clip, windows=tuple(
                replace(window, **{name: value}) if window.kind == "hit" else window
                for window in clip.windows))
                if clip.id == "light_swing" else clip for clip in puppet.clips))
            clash, = clashes(other, parcel)
            self.assertEqual([field.field for field in clash.fields],
                             [said.replace("windows", "window")])


class LeftBehind(Case):
    """What a condition means comes along, whether it can be read or not; what does not is told, and
    means nothing."""

    def test_a_condition_that_cannot_be_read_means_what_it_meant(self) -> None:
        source = puppet_of(
            [clip("c")], [State("one", "One", clip="c"), State("two", "Two", clip="c")],
            [Transition("go", "one", "two", "x + and")], actions=(Action("a", "attack"),),
            intents=(Intent("x", "follow_up", "a"),), senses=())
        here = puppet_of([clip("d")], [State("stand", "Stand", clip="d")],
                         actions=(Action("g", "guard"),),
                         intents=(Intent("x", "raise_guard", "g"),), senses=())
        parcel = parcel_of(source, ["one", "two"])
        made = pasted(here, parcel.puppet, "body").puppet
        new, = [intent for intent in made.intents if intent.name == "follow_up"]
        self.assertNotEqual(new.id, "x")
        way, = made.transitions
        self.assertEqual(way.when, f"{new.id} + and")
        self.assertTrue(any("cannot be read" in line for line in parcel.left), parcel.left)

    def test_a_state_that_was_not_copied_is_said_and_no_other_is_taken_for_it(self) -> None:
        source = puppet_of(
            [clip("c", windows=(Window("w", 0.0, 50.0, "cancel", "soft", ("far",)),))],
            [State("one", "One", clip="c"), State("two", "Two", clip="c"),
             State("far", "Far", clip="c")],
            [Transition("go", "one", "two", 'press and in_state("far")')],
            intents=(Intent("press", "press", "attack", "press"),), senses=())
        here = puppet_of([clip("d")], [State("far", "Another", clip="d")], senses=())
        parcel = parcel_of(source, ["one", "two"])
        self.assertIn("One → Two: it asks for the state Far", parcel.left)
        self.assertIn("clip c, window soft: it lets in Far", parcel.left)
        made = pasted(here, parcel.puppet, "body").puppet
        way, = made.transitions
        self.assertNotIn('"far"', way.when)
        self.assertIn("in_state(", way.when)
        window, = next(each for each in made.clips if each.name == "c").windows
        self.assertEqual(len(window.into), 1)
        self.assertIsNone(made.node(window.into[0]))


def spoilt(value: object) -> object:
    """Another value of the same kind; None where there is none."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, (int, float)):
        return type(value)(value + 1)
    if isinstance(value, tuple):
        return value[:-1] if value else None
    return None


if __name__ == "__main__":
    unittest.main()
