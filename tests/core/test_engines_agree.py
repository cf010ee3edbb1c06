"""Three engines, one tick: the plain one, the fast one and the simple one; and golden cases that
hold all of them."""

from __future__ import annotations

import json
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some

from tests.comparing import compared
from tests.depth import some_of
from tests.golden_cases import CASES, case_lines, make_case
from tests.helpers import Case, demo_setup, run
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.fast import functions
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.puppet import Puppet

GOLDEN = Path(__file__).parents[1] / "golden"


class Agreement(Case):
    @given(some.integers(0, 1 << 30))
    def test_all_three_see_the_same_in_random_puppets(self, seed: int) -> None:
        for number in range(3):
            self.assertIsNone(compared(seed + number))

    def test_all_three_see_the_same_where_a_window_first_changes_how_fast_its_clip_plays(
        self,
    ) -> None:
        # A rule with an ease, whose condition comes to hold while its window is open.
        for seed in (554, 690, 726):
            self.assertIsNone(compared(seed))

    def test_the_fast_tick_sees_what_the_plain_one_does_in_the_booth(self) -> None:
        setup = demo_setup()
        pressed = [(5, 40, "right"), (45, 48, "attack"), (70, 110, "attack"), (150, 200, "guard"),
                 (210, 214, "jump")]
        state = initial_state(setup.program)
        for record in run(setup, pressed, 300):
            state, report = tick(setup.program, state, record.inputs)
            self.assertEqual((report, state), (record.report, record.after.machine))


class Golden(Case):
    def test_every_case_gives_the_trace_that_was_kept(self) -> None:
        self.assertEqual({path.stem for path in GOLDEN.glob("*.json")}, set(CASES))
        for name in CASES:
            with self.subTest(name):
                kept = (GOLDEN / f"{name}.json").read_text(encoding="utf-8")
                self.assertEqual("\n".join(case_lines(make_case(name))) + "\n", kept)

    def test_a_case_is_whole_in_itself(self) -> None:
        for path in GOLDEN.glob("*.json"):
            case = json.loads(path.read_text(encoding="utf-8"))
            self.assertEqual(len(case["inputs"]), len(case["trace"]))
            self.assertEqual(case["puppet"]["format"], 1)


class Again(Case):
    @given(some.integers(0, 1 << 30), some.integers(0, 1 << 30))
    def test_compiled_again_after_an_edit_it_is_as_if_compiled_again(
        self, seed: int, choice: int
    ) -> None:
        puppet = Shaker(seed).puppet()
        program = compile_puppet(puppet)
        for number in range(4):
            puppet = _edited(puppet, choice + number)
            program = compile_puppet(puppet, program)
            self.assertEqual(program._replace(kept=None),
                             compile_puppet(puppet)._replace(kept=None))


def _edited(puppet: Puppet, choice: int) -> Puppet:
    """One of the edits that touch what compiling takes over."""
    def one(entries: tuple) -> str:  # type: ignore[type-arg]
        return entries[choice // 10 % len(entries)].id if entries else "nobody"

    other = Shaker(choice).puppet()
    kinds = (
        lambda: edits.state_removed(puppet, one(puppet.states)),
        lambda: edits.state_added(puppet, "New", one(puppet.clips),
                                  one(puppet.groups) if puppet.groups else None)[0],
        lambda: edits.group_removed(puppet, one(puppet.groups)),
        lambda: edits.group_nested(puppet, one(puppet.groups), one(puppet.groups[::-1])),
        lambda: edits.transition_changed(puppet, one(puppet.transitions),
                                         when='in_state("s1") and window("pole")'),
        lambda: edits.transition_removed(puppet, one(puppet.transitions)),
        lambda: edits.state_changed(puppet, one(puppet.states), name="Another"),
        lambda: edits.state_ordered(puppet, one(puppet.states), None, 2),
        lambda: edits.group_changed(puppet, one(puppet.groups), remembers=True),
        lambda: other,
    )
    return kinds[choice % len(kinds)]()


class Generated(Case):
    def test_no_text_of_a_file_reaches_generated_source(self) -> None:
        seen: list[str] = []
        kept = functions.code_of
        functions.code_of = lambda text: seen.append(text) or kept(text)  # type: ignore[assignment,func-returns-value]
        try:
            for seed in some_of(range(40)):
                self.assertIsNone(compared(seed, 6))
        finally:
            functions.code_of = kept  # type: ignore[assignment]
        source = "\n".join(seen)
        self.assertIn("def made(", source)
        for word in ("grounded", "pole", "straw", "s0", "i0", "calm", "'", '"', "1000000000"):
            self.assertNotIn(word, source)
