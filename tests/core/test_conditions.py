"""The condition language: what it accepts, what it says of what it does not, and what it gives."""

from __future__ import annotations

import math

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.wiring import Memo, Sense
from yarn_puppet.core.rules.bind import bind
from yarn_puppet.core.rules.evaluate import Reading, used_by, value_of
from yarn_puppet.core.rules.parse import parse
from yarn_puppet.core.rules.phrase import phrase
from yarn_puppet.core.rules.scope import ConditionError, scope_by_id, scope_by_name
from yarn_puppet.core.rules.translate import to_ids, to_names
from yarn_puppet.core.rules.tree import conjuncts
from yarn_puppet.demo.make.lamplighter import INTENTS

PUPPET = replace(
    new_puppet(), intents=INTENTS,
    states=(State("rest", "Rest a while"),),
    senses=(*new_puppet().senses,
            Sense("ground", "ground", "choice", "stone", choices=("stone", "straw"))),
    memos=(Memo("steps", "steps"), Memo("tired", "tired", "bool", False)),
)
SCOPE = scope_by_id(PUPPET)
INDICES = (
    {("intent", each.id): index for index, each in enumerate(PUPPET.intents)}
    | {("sense", each.id): index for index, each in enumerate(PUPPET.senses)}
    | {("memo", each.id): index for index, each in enumerate(PUPPET.memos)}
)


def reading(armed: tuple[str, ...] = (), active: bool = False, **values: object) -> Reading:
    """A reading with some intents armed and some senses and memos set."""
    made = Reading()
    made.armed = [intent.id in armed for intent in PUPPET.intents]
    made.senses = [values.get(sense.id, sense.start) for sense in PUPPET.senses]
    made.memos = [values.get(memo.id, memo.start) for memo in PUPPET.memos]
    made.done, made.elapsed, made.clip_time, made.loops, made.facing = False, 0.5, 0.25, 2, "left"
    made.windows, made.active = frozenset({"cancel"}), frozenset({"rest"} if active else ())
    return made


def value(text: str, now: Reading | None = None, expected: str = "bool") -> object:
    """What a text gives."""
    return value_of(bind(parse(text, SCOPE, expected), INDICES),
                    now or reading())  # type: ignore[arg-type]


class Values(Case):
    def test_names_comparisons_and_joining(self) -> None:
        now = reading(("tap_attack",), speed=3.0, grounded=True, steps=2)
        for text, expected in (
            ("tap_attack and grounded and speed > 0.5", True),
            ("not grounded or steps == 2", True),
            ("1 < speed <= 3", True),
            ("1 < speed < 3", False),
            ("speed * 2 - 1 >= 5", True),
            ("speed / 0 == 0", True),
            ("-speed < -2", True),
            ('ground == "stone"', True),
            ('ground != "stone"', False),
            ('facing == "left"', True),
            ("loops >= 2 and elapsed > 0.4 and clip_time < 0.3 and not done", True),
            ("clamp(speed, 0, 2) == 2 and min(speed, 1, 2) == 1 and max(1, 4) == 4", True),
            ("sign(-speed) == -1 and abs(-2) == 2", True),
            ('window("cancel") and not window("hit")', True),
            ("true and not false", True),
        ):
            with self.subTest(text):
                self.assertIs(value(text, now), expected)

    def test_in_state_asks_for_states_and_groups(self) -> None:
        self.assertFalse(value('in_state("rest")'))
        self.assertTrue(value('in_state("rest")', reading(active=True)))

    def test_used_up_is_what_made_it_true(self) -> None:
        now = reading(("tap_attack", "press_jump"))
        tap = INDICES["intent", "tap_attack"]
        jump = INDICES["intent", "press_jump"]
        for text, used in (
            ("tap_attack or press_jump", (tap,)),
            ("tap_attack and press_jump", (tap, jump)),
            ("hold_attack or press_jump", (jump,)),
            ("(tap_attack and blocked) or grounded", ()),
            ("(tap_attack and blocked) or (press_jump and grounded)", (jump,)),
            ("grounded or tap_attack", ()),
            ("not (tap_attack and blocked)", ()),
            ("not grounded and tap_attack", None),
        ):
            with self.subTest(text):
                self.assertEqual(used_by(bind(parse(text, SCOPE), INDICES), now), used)

    @given(some.integers(-1000, 1000), some.integers(-1000, 1000),
           some.sampled_from(["+", "-", "*", "/"]))
    def test_arithmetic_is_pythons(self, left: int, right: int, operator: str) -> None:
        wanted = {"+": left + right, "-": left - right, "*": left * right,
                  "/": left / right if right else 0.0}[operator]
        kind = "float" if operator == "/" else "int"
        self.assertEqual(value(f"({left}) {operator} ({right})", expected=kind), wanted)

    def test_products_stay_bounded(self) -> None:
        text = " * ".join(["999999999"] * 50)
        self.assertTrue(math.isfinite(float(value(text, expected="int"))))  # type: ignore[arg-type]


class Errors(Case):
    def error(self, text: str, expected: str = "bool") -> ConditionError:
        with self.assertRaises(ConditionError) as caught:
            parse(text, SCOPE, expected)  # type: ignore[arg-type]
        return caught.exception

    def test_an_error_names_the_column_what_was_expected_and_the_nearest_name(self) -> None:
        for text, column, expectation, nearest in (
            ("grounded and speeed > 1", 13, "known name", "speed"),
            ("tapp_attack", 0, "known name", "tap_attack"),
            ("  grunded", 2, "known name", "grounded"),
            ("speed > true", 8, "a number", None),
            ("speed", 0, "yes-or-no", None),
            ("grounded + 1 > 0", 0, "a number", None),
            ('ground == "straww"', 10, "one of stone, straw", "straw"),
            ('in_state("Rest")', 9, "known state or group", "rest"),
            ("maxx(1, 2) > 1", 0, "known function", "max"),
            ("min(1) > 0", 0, "2 to 8 numbers", None),
            ("grounded and", 12, "a condition", None),
            ("1e12 > speed", 0, "a number up to", None),
            ('ground > "stone"', 9, "== or !=", None),
            ("tap_attack == grounded", 0, "tap_attack or not tap_attack", None),
            ("(grounded and tap_attack) == true", 14, "compared with nothing", None),
        ):
            with self.subTest(text):
                error = self.error(text)
                self.assertEqual((error.column, error.nearest), (column, nearest))
                self.assertIn(expectation, error.expected)

    def test_a_window_that_no_clip_has_is_an_error_only_as_it_is_typed(self) -> None:
        with self.assertRaises(ConditionError) as caught:
            parse('window("cancle")', scope_by_name(PUPPET), "bool")
        self.assertEqual((caught.exception.column, caught.exception.nearest), (7, "cancel"))
        self.assertFalse(value('window("cancle")'))
        self.assertTrue(value('window("cancle") or grounded', reading(grounded=True)))

    def test_columns_count_characters_not_bytes(self) -> None:
        self.assertEqual(self.error('ground == "ströh" and speeed > 1').column, 10)

    def test_nothing_but_the_language_is_let_through(self) -> None:
        for text in (
            "__import__('os')", "speed.real > 1", "[speed]", "(lambda: 1)()",
            "speed if grounded else 1",
            "{speed: 1}", "f'{speed}' == 1", "speed ** 2 > 1", "speed is 1", "speed in (1, 2)",
            "speed := 3", "await x",
            "None", "...", "b'x' == 1", "speed @ 2 > 1", "grounded; speed", "min(*[1, 2]) > 0",
            "abs(x=1) > 0",
        ):
            with self.subTest(text):
                self.error(text)

    def test_too_long_too_deep_and_empty_are_errors(self) -> None:
        for text in ("(" * 3000 + "grounded" + ")" * 3000, "not " * 900 + "grounded", "g" * 5000,
                     "", "   ", "\x00"):
            with self.subTest(text[:20]):
                self.error(text)

    @given(some.text(max_size=40))
    def test_no_text_does_anything_but_parse_or_raise(self, text: str) -> None:
        try:
            tree = parse(text, SCOPE)
        except ConditionError as error:
            self.assertTrue(error.expected)
            self.assertGreaterEqual(error.column, 0)
        else:
            self.assertEqual(tree.type, "bool")


class Names(Case):
    def test_stored_over_ids_and_shown_over_names(self) -> None:
        intents = tuple(replace(intent, name="poke") if intent.id == "tap_attack" else intent
                        for intent in PUPPET.intents)
        renamed = replace(PUPPET, intents=intents)
        stored = 'tap_attack  and (speed>1 or in_state("rest"))'
        shown = to_names(stored, renamed)
        self.assertEqual(shown, 'poke  and (speed>1 or in_state("Rest a while"))')
        self.assertEqual(to_ids(shown, renamed), stored)

    def test_a_condition_that_cannot_be_read_is_shown_as_it_is(self) -> None:
        self.assertEqual(to_names("gone and speed > 1", PUPPET), "gone and speed > 1")

    def test_a_quote_in_a_states_name_survives(self) -> None:
        odd = replace(PUPPET, states=(State("rest", 'Rest "a" \\ while'),))
        self.assertEqual(to_ids(to_names('in_state("rest")', odd), odd), 'in_state("rest")')

    def test_a_name_that_two_states_share_means_the_first(self) -> None:
        twice = replace(PUPPET, states=(State("one", "Same"), State("two", "Same")))
        self.assertEqual(to_ids('in_state("Same")', twice), 'in_state("one")')
        self.assertIn("Same", scope_by_name(twice).nodes)

    def test_terms_in_words(self) -> None:
        tree = parse(
            'tap_attack and not grounded and move_x != 0 and window("cancel") and in_state("rest")',
            SCOPE,
        )
        words = [phrase(term, {"rest": "Rest a while"}) for term in conjuncts(tree)]
        self.assertEqual(words, ["tap attack", "not grounded", "move x is not 0", "cancel window",
                                 "in Rest a while"])
