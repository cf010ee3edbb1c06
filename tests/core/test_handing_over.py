"""Two states that hand over to each other at once are a snag, found by running them; those that
cannot are none."""

from __future__ import annotations

from msgspec.structs import replace

from tests.helpers import Case, clip, puppet_of, run
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.graph import Leave, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent, Sense
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_PUPPET


def pair(there: str, back: str, *more: Transition, **changes: object) -> Puppet:
    """Walk and Run, with these ways between them."""
    puppet = puppet_of(
        [clip("walk", [100.0, 100.0])],
        [State("walk", "Walk", clip="walk"), State("run", "Run", clip="walk"),
         State("rest", "Rest", clip="walk")],
        [*more, Transition("there", "walk", "run", there), Transition("back", "run", "walk", back)])
    return replace(
        puppet, actions=(Action("sprint", "sprint"),),
        intents=(Intent("held_run", "held_run", action="sprint", gesture="held"),
                 Intent("press_run", "press_run", action="sprint")),
        senses=(Sense("way", "way", type="int"), Sense("fast", "fast", type="float"),
                Sense("wet", "wet", type="bool")), **changes)


def snags_of(puppet: Puppet) -> list[str]:
    """What the snag says, where there is one."""
    return [snag.why for snag in check(puppet) if "hand over" in snag.why]


class HandingOver(Case):
    def test_one_that_is_there_is_said_with_what_has_to_be_so(self) -> None:
        for there, back, said in (
            ("held_run", "not held_run or way == 0", "while held_run is held and way is 0"),
            ("fast > 3", "fast < 9", "while fast is 4"),
            ("way != 0", "wet", "while way is 1 and wet is so"),
            ("", "facing == \"left\"", "while facing is left"),
        ):
            self.assertEqual(snags_of(pair(there, back)),
                             [f"it and Run hand over to each other in every tick {said}"])
        self.assertEqual(snags_of(pair("", "")),
                         ["it and Run hand over to each other in every tick"])

    def test_and_it_is_so(self) -> None:
        records = run(set_up(pair("held_run", "not held_run or way == 0"), None),
                      [(0, 40, "sprint")], 20)
        self.assertEqual([record.report.layers[0].state for record in records[4:10]],
                         ["run", "walk"] * 3)

    def test_what_cannot_be_at_once_is_none(self) -> None:
        for there, back in (("held_run", "not held_run"), ("fast > 9", "fast < 3"),
                            ("way > 0", "way < 0"),
                            ("press_run", "press_run"), ("wet", "not wet"), ("elapsed > 1", "wet")):
            self.assertEqual(snags_of(pair(there, back)), [], (there, back))
        slow = pair("held_run", "")
        waits = tuple(replace(transition, leave=Leave("at the end"))
                      if transition.id == "back" else transition
                      for transition in slow.transitions)
        self.assertEqual(snags_of(replace(slow, transitions=waits)), [])

    def test_what_is_tried_before_saves_them_only_where_it_always_does(self) -> None:
        out = Transition("out", "walk", "rest", "way == 0")
        self.assertEqual(snags_of(pair("held_run", "way == 0", out)), [])
        slower = Transition("out", "walk", "rest", "way == 0 and fast < 8")
        self.assertEqual(
            snags_of(pair("held_run", "way == 0", slower)),
            [
                "it and Run hand over to each other in every tick while held_run is held and way "
                "is 0 and fast is 8"
            ],
        )

    def test_the_demo_has_none_with_shift_held_and_the_arrow_let_go(self) -> None:
        pell = load_puppet(DEMO_PUPPET)
        self.assertEqual(snags_of(pell), [])
        was = replace(pell, transitions=tuple(
            replace(transition, when="held_run") if transition.id == "walk_to_run" else transition
            for transition in pell.transitions))
        self.assertEqual(len(snags_of(was)), 1)


if __name__ == "__main__":
    import unittest

    unittest.main()
