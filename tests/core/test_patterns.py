"""Patterns: what clips are called, which cards they fill, and graphs put together once each."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random

import numpy as np
from hypothesis import Phase, given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.depth import examples, some_of
from tests.helpers import Case, clip, controls, puppet_of, run_controls
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes, puppet_from
from yarn_puppet.core.model.basics.name_words import SIDES, plain, shipped_words
from yarn_puppet.core.model.clips import Cell, Clip, Frame, Sheet
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.patterns.combining import combined
from yarn_puppet.core.patterns.keeping import pattern_of
from yarn_puppet.core.patterns.matching import matched
from yarn_puppet.core.patterns.offering import fitting, unused_clips, wired
from yarn_puppet.core.patterns.promising import take_for
from yarn_puppet.core.patterns.reading_names import read_name
from yarn_puppet.core.patterns.striking import guessed_strike, strike_guessed
from yarn_puppet.core.patterns.words import BY_NAME, movement_called
from yarn_puppet.core.pose.place import placed
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.again.kept import KeptRuns
from yarn_puppet.core.takes.promising.promises import promise_words
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.patterns import PATTERN_FOLDER, PATTERNS
from yarn_puppet.patterns.make.__main__ import MADE
from yarn_puppet.patterns.make.takes import TAKES

SHIPPED = {name: load_puppet(PATTERN_FOLDER / f"{name}.puppet.json") for name in PATTERNS}
SIDE = ("walker", "climber", "brawler")
NAMES = ("idle", "Walk", "RUN_2", "turn-around", "jump", "falling", "land", "attack1", "attack2",
         "heavy_slam", "block", "crouch", "ledge hang", "pull_up", "ladder", "swim", "roll", "hurt")


def drawn(*names: str, frames: int = 3) -> Puppet:
    """A new puppet with clips of these names, none played yet."""
    return replace(new_puppet(), sheets=(Sheet("s", "s.png", "s.png"),), clips=tuple(
        Clip(f"clip_{number}", name, tuple(
            Frame(Cell("s", at * 8, number * 8, 8, 8)) for at in range(frames)))
        for number, name in enumerate(names)))


def names_of(puppet: Puppet, cards: dict[str, object]) -> dict[str, str]:
    """The clip of each card, both by name."""
    clips = {each.id: each.name for each in puppet.clips}
    return {state.name: clips[state.clip or ""] for state in puppet.states if state.id in cards
            and state.clip}


ENGLISH = [tuple(word.split()) for meaning, called in shipped_words()["english"].items()
           if meaning.replace("_", " ") in BY_NAME for word in called]


class Reading(Case):
    def test_usual_words_in_any_casing_and_numbering(self) -> None:
        for name, words, number, exact in (
            ("idle", "idle", 0, True), ("Light_Swing 2", "light", 2, True),
            ("swordAttack3", "light", 3, False), ("heavy-attack", "heavy", 0, True),
            ("GuardWalk", "guard walk", 0, True), ("Jump", "rise", 0, True),
            ("stand_up", "get up", 0, True), ("pull_up", "pull up", 0, True),
            ("walk_left", "walk", 0, True), ("crouch_walk", "crawl", 0, True),
        ):
            with self.subTest(name):
                reading = read_name(name)
                self.assertEqual((reading.movement.name, reading.number, reading.exact),
                                 (words, number, exact))

    def test_what_says_nothing_or_two_things_is_no_movement(self) -> None:
        for name in ("flag", "row 9", "", "_", "12", "hurt jump", "ペル"):
            self.assertIsNone(read_name(name).movement, name)

    def test_no_word_of_one_language_stands_for_two_things(self) -> None:
        for language, table in shipped_words().items():
            words = [plain(word) for called in table.values() for word in dict.fromkeys(
                map(plain, called))]
            self.assertEqual([word for word in words if words.count(word) > 1], [], language)
            self.assertLessEqual({meaning.replace("_", " ") for meaning in table},
                                 {*BY_NAME, *[side.replace("_", " ") for side in SIDES],
                                  "passed over"}, language)

    @given(some.sampled_from(ENGLISH), some.sampled_from("_ .-"), some.integers(0, 99),
           some.randoms(use_true_random=False))
    def test_every_word_is_read_however_it_is_written(
        self, words: tuple[str, ...], between: str, number: int, random: Random
    ) -> None:
        text = between.join("".join(random.choice((letter, letter.upper())) for letter in word)
                            if number % 2 else word.upper() for word in words)
        reading = read_name(f"{text}{between}{number}")
        if number % 2 == 0:
            self.assertIs(reading.movement, movement_called(" ".join(words)))
            self.assertEqual(reading.number, number)


class Filling(Case):
    def test_the_usual_set_fills_its_cards(self) -> None:
        puppet = drawn(*NAMES)
        self.assertEqual(fitting(puppet, SHIPPED), SIDE)
        made = wired(puppet, [SHIPPED[name] for name in SIDE])
        self.assertEqual(made.unplaced, ())
        self.assertEqual(names_of(made.puppet, made.cards)["Light 2"], "attack2")
        self.assertEqual([snag for snag in check(made.puppet) if snag.severity != "note"], [])
        modes = {each.name: each.mode for each in made.puppet.clips}
        self.assertEqual((modes["idle"], modes["attack1"], modes["crouch"]),
                         ("loop", "once", "hold last"))
        calls = {each.name: [moment.name for moment in each.moments] for each in made.puppet.clips}
        self.assertEqual((calls["jump"], calls["pull_up"], calls["idle"]),
                         (["jump"], ["pull_up"], []))

    def test_a_chain_has_as_many_steps_as_there_are_clips(self) -> None:
        for count in (1, 2, 3):
            puppet = drawn("idle", *(f"slash {number + 1}" for number in range(count)))
            made = wired(puppet, [SHIPPED["walker"], SHIPPED["brawler"]])
            lights = [state for state in made.puppet.states if state.name.startswith("Light")]
            self.assertEqual([state.waits for state in lights], [False] * count)

    def test_of_two_that_would_do_the_first_is_a_guess_and_the_plain_name_goes_first(self) -> None:
        card = State("walk", "Walk", waits_for="walk")
        clips = drawn("walk fast", "walk", "walking").clips
        found = matched((card,), clips)["walk"]
        self.assertEqual((found.clip, found.guess), ("clip_1", True))
        self.assertEqual(matched((card,), clips[:2])["walk"].guess, False)
        self.assertEqual(matched((card,), clips[:1])["walk"].guess, True)

    def test_seen_from_above_a_card_plays_its_sides(self) -> None:
        sides = ("down", "left", "right", "up")
        puppet = drawn(*(f"{name}_{side}" for name in ("stand", "walk") for side in sides),
                       "jump_up")
        self.assertEqual(fitting(puppet, SHIPPED), ("wanderer",))
        made = wired(puppet, [SHIPPED["wanderer"]]).puppet
        self.assertEqual([len(spread.clips) for spread in made.spreads], [4, 4])
        self.assertEqual(made.facing.kind, "four")
        self.assertEqual([snag for snag in check(made) if snag.severity == "error"], [])

    def test_a_side_that_is_drawn_once_is_mirrored_towards_the_other(self) -> None:
        puppet = drawn(*(f"{name}_{side}" for name in ("idle", "walk")
                         for side in ("down", "up", "side")))
        made = wired(puppet, [SHIPPED["wanderer"]]).puppet
        self.assertEqual([snag.why for snag in check(made) if snag.severity != "note"], [])
        names = {clip.id: clip.name for clip in made.clips}
        walk = next(spread for spread in made.spreads if spread.name == "walk")
        self.assertEqual({each.place[0]: names[each.clip] for each in walk.clips},
                         {270: "walk_down", 90: "walk_up", 0: "walk_side", 180: "walk_side"})
        side = next(clip.id for clip in made.clips if clip.name == "walk_side")
        for facing in ("right", "left"):
            found = placed(made, side, 0, facing, 0, 0)
            self.assertEqual(found is not None and found.flipped, facing == "left")

    def test_drawn_towards_eight_sides_it_turns_to_eight(self) -> None:
        sides = ("down", "down_left", "left", "up_left", "up", "up_right", "right", "down_right")
        puppet = drawn(*(f"{name}_{side}" for name in ("idle", "walk") for side in sides))
        made = wired(puppet, [SHIPPED["wanderer"]]).puppet
        self.assertEqual([len(spread.clips) for spread in made.spreads], [8, 8])
        self.assertEqual(made.facing.kind, "eight")

    def test_without_a_walk_it_runs_and_no_key_is_held_for_it(self) -> None:
        made = wired(drawn("idle", "run"), [SHIPPED["walker"]])
        self.assertEqual(names_of(made.puppet, made.cards), {"Idle": "idle", "Walk": "run"})
        both = wired(drawn("idle", "walk", "run"), [SHIPPED["walker"]])
        self.assertEqual(names_of(both.puppet, both.cards)["Run"], "run")

    @given(some.lists(some.sampled_from(NAMES), min_size=1, max_size=14, unique=True))
    def test_what_is_wired_needs_no_warning(self, names: list[str]) -> None:
        puppet = drawn(*names)
        made = wired(puppet, [SHIPPED[name] for name in fitting(puppet, SHIPPED)])
        self.assertEqual([(snag.where, snag.why) for snag in check(made.puppet)
                          if snag.severity != "note"], [])

    def test_another_clip_is_chosen_for_a_card_or_none(self) -> None:
        puppet = drawn("idle", "walk", "flag")
        made = wired(puppet, [SHIPPED["walker"]], {"Walk": "clip_2", "Idle": None})
        self.assertEqual(names_of(made.puppet, made.cards), {"Walk": "flag"})
        self.assertIn("Idle", made.waiting)

    @given(some.lists(some.sampled_from((*NAMES, "flag", "?", "走る", "a b c", "12")), max_size=12),
           some.permutations(SIDE))
    def test_whatever_clips_there_are_no_clip_is_played_twice_and_the_file_opens(
        self, names: list[str], order: Sequence[str]
    ) -> None:
        puppet = drawn(*names)
        made = wired(puppet, [SHIPPED[name] for name in order]).puppet
        played = [state.clip for state in made.states if state.clip]
        self.assertEqual(len(played), len(set(played)))
        self.assertEqual(puppet_from(puppet_bytes(made)), made)
        self.assertEqual([snag.why for snag in check(made) if snag.severity == "error"], [])

    def test_a_puppet_that_has_states_keeps_them_as_they_are(self) -> None:
        puppet = puppet_of([clip("stand")], [State("idle", "Idle", clip="stand"),
                                             State("own", "Own", clip="stand")])
        puppet = replace(puppet, clips=(*puppet.clips, *drawn("walk").clips),
                         sheets=(Sheet("s", "s.png", "s.png"),))
        made = wired(puppet, [SHIPPED["walker"]]).puppet
        self.assertEqual(made.states[:2], puppet.states)
        self.assertTrue(any(each.source == "idle" for each in made.transitions))


class Combining(Case):
    def test_each_is_there_once_however_often_it_is_put_in(self) -> None:
        once = combined(new_puppet(), [SHIPPED[name] for name in SIDE]).puppet
        twice = combined(once, [SHIPPED[name] for name in SIDE]).puppet
        self.assertEqual(twice, once)
        names = [node.name for node in once.nodes]
        self.assertEqual(len(names), len(set(names)))

    def test_what_ships_is_what_the_scripts_make_and_has_no_fault(self) -> None:
        for make in MADE:
            pattern = make()
            self.assertEqual(pattern, SHIPPED[pattern.name])
            self.assertEqual({snag.severity for snag in check(pattern)} - {"note"}, set())
            self.assertTrue(all(movement_called(state.waits_for) for state in pattern.states))

    def test_nothing_of_a_pattern_runs_before_a_clip_is_there(self) -> None:
        puppet = combined(new_puppet(), [SHIPPED[name] for name in SIDE]).puppet
        records = run_controls(set_up(puppet, None), controls([(0, 20, "right")], 30))
        self.assertEqual(len(records), 30)
        self.assertEqual({layer.state for record in records for layer in record.report.layers},
                         set())
        self.assertEqual(compile_puppet(puppet).problems, ())

    def test_waiting_cards_are_never_entered(self) -> None:
        random = Random(3)
        puppet = drawn("idle", "jump", "attack", "guard")
        made = wired(puppet, [SHIPPED[name] for name in SIDE]).puppet
        waiting = {state.id for state in made.states if state.waits}
        actions = [action.id for action in made.actions]
        presses = [(at, at + random.randint(1, 30), random.choice(actions))
                   for at in range(0, 900, 7)]
        records = run_controls(set_up(made, None), controls(presses, 900))
        seen = {layer.state for record in records for layer in record.report.layers}
        self.assertFalse(seen & waiting)
        self.assertGreater(len(seen), 2)


class Striking(Case):
    def strip(self, reaches: Sequence[int], left: bool = False) -> tuple[Clip, list[np.ndarray]]:
        """Frames of 40 × 20 with a body of 8 around the middle, and an arm that reaches so far."""
        drawings = []
        for reach in reaches:
            pixels = np.zeros((20, 40, 4), np.uint8)
            pixels[4:, 16:24] = 255
            pixels[8:12, 24: 24 + reach] = 255
            drawings.append(pixels[:, ::-1] if left else pixels)
        frames = tuple(Frame(Cell("s", 40 * at, 0, 40, 20)) for at in range(len(reaches)))
        return Clip("c", "chop", frames, faces="left" if left else "right"), drawings

    def test_it_hits_where_the_drawing_reaches_farthest(self) -> None:
        for left in (False, True):
            made, drawings = self.strip((0, 2, 12, 14, 1), left)
            strike = guessed_strike(made, drawings)
            self.assertEqual((strike.first, strike.last), (2, 3))
            box = strike.boxes[1]
            self.assertEqual((box.y, box.height, box.width), (8.0, 4.0, 14.0))
            self.assertEqual(box.x, 2.0 if left else 24.0)

    def test_a_body_that_only_breathes_strikes_nowhere(self) -> None:
        self.assertIsNone(guessed_strike(*self.strip((0, 1, 0))))
        self.assertIsNone(guessed_strike(*self.strip((9,))))

    def test_the_window_is_marked_as_a_guess_and_one_that_is_there_is_left(self) -> None:
        made, drawings = self.strip((0, 10, 0))
        puppet = replace(drawn(), clips=(made,))
        once = strike_guessed(puppet, "c", drawings)
        window = once.clips[0].windows[0]
        self.assertEqual((window.kind, window.start, window.end, window.guess),
                         ("hit", 100.0, 200.0, True))
        self.assertIs(strike_guessed(once, "c", drawings), once)

    @given(some.lists(some.integers(0, 16), min_size=1, max_size=12), some.booleans())
    def test_a_guess_is_of_frames_that_stand_together_and_the_farthest_is_among_them(
        self, reaches: list[int], left: bool
    ) -> None:
        strike = guessed_strike(*self.strip(reaches, left))
        if max(reaches) - min(reaches) < 2:
            self.assertIsNone(strike)
            return
        self.assertIn(reaches.index(max(reaches)), range(strike.first, strike.last + 1))
        self.assertEqual(len(strike.boxes), strike.last - strike.first + 1)
        for box in strike.boxes:
            self.assertTrue(box.x >= 0 and box.x + box.width <= 40 and box.height > 0)


class Unused(Case):
    def test_only_clips_with_frames_that_no_state_plays(self) -> None:
        puppet = drawn("idle", "walk")
        puppet = replace(puppet, clips=(*puppet.clips, Clip("bare", "bare")),
                         states=(State("s", "S", clip="clip_0"),))
        self.assertEqual([each.id for each in unused_clips(puppet)], ["clip_1"])


class Keeping(Case):
    def test_a_puppet_kept_as_a_pattern_and_filled_again_is_the_same_graph(self) -> None:
        puppet = drawn(*NAMES)
        made = wired(puppet, [SHIPPED[name] for name in SIDE]).puppet
        pattern = pattern_of(made, "mine")
        self.assertEqual((pattern.clips, pattern.sheets), ((), ()))
        self.assertEqual([state.name for state in pattern.states if not state.waits], [])
        self.assertEqual({snag.severity for snag in check(pattern)}, {"note"})
        again = wired(drawn(*NAMES), [pattern]).puppet
        self.assertEqual([(state.name, state.clip) for state in again.states if state.clip],
                         [(state.name, state.clip) for state in made.states if state.clip])
        self.assertEqual(len(again.transitions), len(made.transitions))

    def test_every_demo_puppet_becomes_a_pattern_whose_file_opens(self) -> None:
        for name in ("lamplighter", "first_steps", "gardener"):
            puppet = load_puppet(DEMO_FOLDER / f"{name}.puppet.json")
            for nodes in ((), [puppet.groups[-1].id], [puppet.states[0].id]):
                pattern = pattern_of(puppet, "mine", nodes)
                self.assertEqual(puppet_from(puppet_bytes(pattern)), pattern)
                self.assertTrue(any(state.waits for state in pattern.states))


class Playing(Case):
    """The takes of the patterns, played with clips of any length."""

    def played(self, names: Sequence[str], durations: Sequence[float], rate: int) -> list[str]:
        """What is broken of the promises that come along."""
        puppet = replace(drawn(*names), rate=rate)
        puppet = replace(puppet, clips=tuple(
            replace(each, frames=tuple(replace(frame, duration=lasts) for frame in each.frames))
            for each, lasts in zip(puppet.clips, durations, strict=False)))
        chosen = fitting(puppet, SHIPPED)
        made = wired(puppet, [SHIPPED[name] for name in chosen])
        broken = []
        for name, nodes in zip(chosen, made.ids, strict=True):
            take = take_for(TAKES[name], SHIPPED[name], made.puppet, nodes)
            world = load_booth(DEMO_FOLDER / str(take.booth))
            outcome = next(each for each in KeptRuns().run(
                made.puppet, {name: take}, {str(take.booth): world}) if each is not None)
            self.assertEqual(outcome.problem, "")
            broken += [f"{name}: {promise_words(promise, made.puppet)}: {verdict.words}"
                       for promise, verdict in zip(take.promises, outcome.verdicts, strict=True)
                       if not verdict.kept]
        return broken

    def test_a_pull_up_plays_out_and_moves_the_body_with_its_last_frame(self) -> None:
        puppet = drawn(*NAMES)
        made = wired(puppet, [SHIPPED[name] for name in fitting(puppet, SHIPPED)])
        take = TAKES["climber"]
        setup = set_up(made.puppet, load_booth(DEMO_FOLDER / str(take.booth)))
        state = next(each for each in made.puppet.states if each.name == "Pull up")
        records = list(replay(setup, take))
        seen = [record for record in records
                if record.report.layers[0].state == state.id]
        length = next(each.length for each in made.puppet.clips if each.id == state.clip)
        self.assertEqual(len(seen) % round(length * 60 / 1000), 0)
        self.assertTrue(seen)
        (call,) = [moment for each in made.puppet.clips if each.id == state.clip
                   for moment in each.moments if moment.kind == "call"]
        self.assertEqual(call.at, 200.0)

    def test_they_are_kept_with_the_usual_set(self) -> None:
        self.assertEqual(self.played(NAMES, [100.0] * len(NAMES), 60), [])

    @given(some.lists(some.sampled_from(NAMES[1:]), max_size=8, unique=True),
           some.lists(some.sampled_from((20.0, 60.0, 100.0, 240.0)), min_size=9, max_size=9),
           some.sampled_from((24, 50, 60, 144)))
    # Each is seconds of play: none is shrunk.
    @settings(max_examples=examples(8), phases=[Phase.generate])
    def test_they_are_kept_with_any_clips_at_any_rate(
        self, names: list[str], durations: list[float], rate: int
    ) -> None:
        self.assertEqual(self.played(["idle", *names], durations, rate), [])


class AnyPuppet(Case):
    """Patterns put into puppets that are unlike ours."""

    def test_what_was_there_stays_in_its_order_and_no_fault_comes_along(self) -> None:
        for seed in some_of(range(40)):
            dice = Random(seed)
            puppet, more = Shaker(seed).puppet(), drawn(*dice.sample(NAMES, dice.randint(0, 8)))
            puppet = replace(puppet, sheets=(*puppet.sheets, *more.sheets),
                             clips=(*puppet.clips, *more.clips))
            patterns = [SHIPPED[name] for name in dice.sample(PATTERNS, dice.randint(1, 4))]
            made = wired(puppet, patterns, whole=[dice.random() < 0.5 for _ in patterns]).puppet
            with self.subTest(seed):
                self.assertEqual(puppet_from(puppet_bytes(made)), made)
                self.assertEqual(made.states[:len(puppet.states)], puppet.states)
                ways = {each.id for each in puppet.transitions}
                self.assertEqual([each for each in made.transitions if each.id in ways],
                                 list(puppet.transitions))
                own = ways | {node.id for node in puppet.nodes}
                before = {(snag.id, snag.why) for snag in check(puppet)}
                self.assertEqual([snag for snag in check(made) if snag.severity == "error"
                                  and (snag.id, snag.why) not in before and snag.id not in own],
                                 [])
