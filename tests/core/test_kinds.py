"""No table misses a kind: one that is forgotten somewhere is found here, and not by a user."""

from __future__ import annotations

import ast
import re
from pathlib import Path
from typing import Any, get_args

from tests.helpers import Case
from yarn_puppet.core.engine.plain.controls import COMPLETED, COMPLETED_BY_SEVERAL
from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.generate.constants import CONSTANTS
from yarn_puppet.core.languages.table import BY_DEFAULT, LANGUAGES
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.kinds.gestures import GESTURES, Gesture
from yarn_puppet.core.model.kinds.modes import MODES, Mode
from yarn_puppet.core.model.kinds.moments import MOMENT_LANES, MOMENTS, MomentKind
from yarn_puppet.core.model.kinds.promises import PROMISES, PromiseKind
from yarn_puppet.core.model.kinds.while_rules import (
    AT_REST,
    FACTORS,
    REPORTED,
    WHILE_RULES,
    RuleKind,
)
from yarn_puppet.core.model.kinds.windows import WINDOW_LANES, WINDOWS, WindowKind
from yarn_puppet.core.model.promise import Promise
from yarn_puppet.core.model.starter import MORE_SENSES
from yarn_puppet.core.rules.tree import SymbolKind
from yarn_puppet.core.takes.explaining.explain import TermKind
from yarn_puppet.core.takes.promising.promises import JUDGES
from yarn_puppet.core.wire.messages import ReportMessage
from yarn_puppet.desk.weave.sentences.tokens import SAID_BY
from yarn_puppet.desk.widgets.theme import TERM_COLORS

ROOT = Path(__file__).parents[2]
PRODUCT = ROOT / "yarn_puppet"
OF_ALL = {f"core/model/kinds/{each}.py" for each in (
    "gestures", "while_rules", "moments", "windows", "promises")} | {
        "core/takes/promising/promises.py"}
OF_SOME = {"core/engine/plain/controls.py", "desk/weave/sentences/tokens.py",
           "desk/takes/promise_sentence.py"}
"""Two of which tests below say that they are complete, and one with an answer for all others."""
LANGUAGE_FOLDER = ROOT / "yarn_puppet" / "core" / "languages"
TABLES: tuple[tuple[Any, Any], ...] = (
    (Gesture, GESTURES), (RuleKind, WHILE_RULES), (MomentKind, MOMENTS), (WindowKind, WINDOWS),
    (PromiseKind, PROMISES), (PromiseKind, JUDGES), (TermKind, TERM_COLORS),
)


class Kinds(Case):
    def test_every_kind_has_a_record(self) -> None:
        for kinds, table in TABLES:
            self.assertEqual(set(get_args(kinds)), set(table), kinds)
        self.assertEqual(set(get_args(Mode)), {"", *MODES})
        self.assertLessEqual(set(get_args(SymbolKind)), set(get_args(TermKind)),
                             "whatever a condition reads is a term of an exit")

    def test_no_table_beside_these_lists_some_of_a_kind(self) -> None:
        """A dictionary by kind that misses one is a KeyError on the day that one is added."""
        kinds = [set(get_args(each)) for each in (
            Gesture, RuleKind, MomentKind, WindowKind, PromiseKind)]
        for path in sorted(PRODUCT.rglob("*.py")):
            text = path.read_text()
            if not any(sum(f'"{kind}":' in text for kind in known) > 2 for known in kinds):
                continue
            for node in ast.walk(ast.parse(text)):
                keys = {each.value for each in node.keys if isinstance(each, ast.Constant)
                        and isinstance(each.value, str)} if isinstance(node, ast.Dict) else set()
                for known in kinds:
                    if len(keys) > 2 and keys <= known:
                        self.assertIn(str(path.relative_to(PRODUCT)), OF_ALL | OF_SOME,
                                      f"line {node.lineno}: {keys}")

    def test_every_gesture_says_when_it_is_complete(self) -> None:
        self.assertEqual(set(COMPLETED) | set(COMPLETED_BY_SEVERAL), set(GESTURES))
        self.assertFalse(set(COMPLETED) & set(COMPLETED_BY_SEVERAL))
        for runtime in ("c/runtime/controls.c", "javascript/runtime/controls.js"):
            text = (LANGUAGE_FOLDER / runtime).read_text()
            for gesture, traits in GESTURES.items():
                if not traits.is_level and traits.others != "some":
                    self.assertRegex(text, rf"\b{gesture.upper().replace(' ', '_')}\b",
                                     f"{gesture} in {runtime}")

    def test_a_report_has_what_while_rules_come_to_in_the_order_of_the_table(self) -> None:
        first = Report._fields.index(REPORTED[0])
        self.assertEqual(Report._fields[first:first + len(REPORTED)], REPORTED)
        self.assertEqual(ReportMessage.__struct_fields__[-len(REPORTED):], REPORTED)
        self.assertEqual(tuple(WHILE_RULES)[:len(REPORTED)], REPORTED)
        self.assertEqual([type(each) for each in AT_REST],
                         [float if each in FACTORS else bool for each in REPORTED])

    def test_what_a_while_rule_chooses_is_a_field_of_it_and_what_is_chosen_can_be_said(
        self,
    ) -> None:
        for kind, traits in WHILE_RULES.items():
            if traits.chooses:
                self.assertIn(traits.chooses, Rule.__struct_fields__, kind)
            self.assertTrue(traits.low <= traits.start <= traits.high, kind)
            self.assertEqual(kind in SAID_BY, bool(traits.chooses), kind)

    def test_handed_off_code_counts_kinds_as_their_tables_do(self) -> None:
        self.assertEqual(CONSTANTS[0],
                         tuple(gesture.upper().replace(" ", "_") for gesture in GESTURES))
        self.assertEqual(CONSTANTS[5], tuple(rule.upper() for rule in WHILE_RULES))
        words = [word for kind in CONSTANTS for word in kind]
        self.assertEqual(len(set(words)), len(words), "one word, one number: C knows no others")

    def test_every_event_stands_on_a_lane_and_every_lane_makes_one_of_its_own(self) -> None:
        for table, lanes in ((MOMENTS, MOMENT_LANES), (WINDOWS, WINDOW_LANES)):
            self.assertEqual({each.lane for each in table.values()}, set(lanes))
            for lane, makes in lanes.items():
                self.assertEqual(table[makes].lane, lane)  # type: ignore[index]

    def test_the_senses_of_a_mode_are_the_booths(self) -> None:
        known = {sense.id for sense in MORE_SENSES}
        for mode, traits in MODES.items():
            self.assertLessEqual(set(traits.senses), known, mode)

    def test_a_promise_reads_of_its_own_fields_only(self) -> None:
        for kind, traits in PROMISES.items():
            fields = set(re.findall(r"\{(\w+)\}", traits.sentence))
            self.assertLessEqual(fields, set(Promise.__struct_fields__), kind)
            self.assertIn("first", fields)
            self.assertEqual(bool(traits.ticks), traits.has("ticks"), kind)

    def test_every_folder_of_a_language_is_listed_and_every_file_of_it_used(self) -> None:
        folders = {each.parent.name for each in LANGUAGE_FOLDER.glob("*/language.py")}
        self.assertEqual(folders, set(BY_DEFAULT))
        self.assertEqual(list(LANGUAGES), list(BY_DEFAULT))
        self.assertNotIn("cobol", LANGUAGES)
        for key, language in LANGUAGES.items():
            self.assertEqual(language.runner is None, language.run is None, key)
            handed = {each.name for each in LANGUAGE_FOLDER.glob(f"{key}/client/*.*")
                      if each.suffix != ".pyc"}
            self.assertEqual(set(language.client()), handed)
            for name, text in language.client().items():
                self.assertNotRegex(text, r"@[A-Z_]+@", f"{key}: {name}")
