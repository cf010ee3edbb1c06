"""What *why not* says was tried is so, near the question, and did not happen anyway: checked by
running it plainly."""

from __future__ import annotations

import re
import unittest
from functools import cache
from random import Random

from msgspec.structs import replace

from tests.depth import some_of
from tests.helpers import Case, demo_setup, run_controls
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.takes.controls import Controls, GameInput, controls_of
from yarn_puppet.core.takes.explaining.explain import exits
from yarn_puppet.core.takes.explaining.pressing import MOST_TRIALS, NEARBY
from yarn_puppet.core.takes.explaining.why import Explanation, why_state, why_transition
from yarn_puppet.core.takes.run import Record, set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET

WORKS = re.compile(
    r"pressed (\d+) ticks? (later|earlier) it works, at (\d+)(?:, (\d+) ticks (after|before) "
    r"(\d+))?: tried"
)
NO_HELP = re.compile(r"moving the press by up to \d+ .*does not help")


@cache
def restless(seed: int, ticks: int = 300) -> list[Record]:
    """Pell under a hasty hand."""
    random, down, found = Random(seed), set[str](), []
    for _ in range(ticks):
        if random.random() < 0.12:
            down ^= {random.choice(["left", "right", "jump", "attack", "attack", "guard", "down"])}
        found.append(Controls(frozenset(down)))
    return run_controls(demo_setup(), found)


def in_a_game(records: list[Record]) -> list[Record]:
    """The same run as a game tells it: senses, hits and hit stops, and no booth."""
    found = []
    for record in records:
        layers = record.setup.program.layers
        landed = tuple([(layers[each.layer].id, each.visit, each.cycle)
                        for each in record.inputs.landed])
        forced = tuple([(sense.id, value) for sense, value in zip(
            record.setup.program.senses, record.inputs.senses, strict=True)])
        found.append(Controls(record.controls.down, forced, (),
                              GameInput(landed, record.inputs.stopped)))
    return run_controls(set_up(records[0].setup.puppet, None), found)


@cache
def shipped(name: str) -> list[Record]:
    """A take of Pell in full."""
    take = load_take(DEMO_FOLDER / name)
    setup = set_up(load_puppet(DEMO_PUPPET), load_booth(DEMO_FOLDER / str(take.booth)))
    return run_controls(setup, list(controls_of(take))[:500])


def moved(records: list[Record], action: str, first: int, last: int, by: int) -> list[Record]:
    """The whole run with a press moved, by a plain thought: a list of what is down."""
    downs = [set(record.controls.down) for record in records]
    for at in range(first, last):
        downs[at].discard(action)
    for at in range(first, last):
        if 0 <= at + by < len(downs):
            downs[at + by].add(action)
    return run_controls(records[0].setup, [
        record.controls._replace(down=frozenset(down))
        for record, down in zip(records, downs, strict=True)])


def takings(records: list[Record], transition: str) -> set[int]:
    """The ticks in which a transition is taken."""
    return {at for at, record in enumerate(records)
            for each in record.report.taken if each.transition == transition}


def presses(records: list[Record], action: str) -> list[tuple[int, int]]:
    """The presses of an action: first tick down, first tick up."""
    down = [action in record.controls.down for record in records]
    found, begun = [], None
    for at, now in enumerate([*down, False]):
        if now and begun is None:
            begun = at
        elif not now and begun is not None:
            found.append((begun, at))
            begun = None
    return found


def wrong_of(records: list[Record], tick: int, transition: str, answer: Explanation) -> list[str]:
    """What an answer says and is not so."""
    puppet = records[0].setup.puppet
    when = next(each.when for each in puppet.transitions if each.id == transition)
    intents = [each for each in puppet.intents
               if re.search(rf"\b{each.id}\b", when) and each.gesture != "held"]
    before, found = takings(records, transition), []
    for line in answer.lines:
        counted = WORKS.search(line.words)
        if counted is not None:
            by = int(counted[1]) * (1 if counted[2] == "later" else -1)
            at = int(counted[3])
            if not any(at in takings(moved(records, intent.action, *press, by), transition) - before
                       for intent in intents for press in presses(records, intent.action)
                       if press[0] < tick + NEARBY and press[1] > tick - NEARBY):
                found.append(f"it does not work: {line.words}")
            near = max(round(intent.buffer * puppet.rate) for intent in intents)
            if (abs(at - tick) > near) != (counted[4] is not None):
                found.append(
                    f"it is {abs(at - tick)} ticks from {tick} and does not say so: {line.words}"
                )
            if counted[4] is not None and (int(counted[4]), counted[5], int(counted[6])) != (
                abs(at - tick), "after" if at > tick else "before", tick
            ):
                found.append(f"it says wrongly how far: {line.words}")
        if NO_HELP.search(line.words) and len(intents) == 1:
            intent = intents[0]
            near_by = [each for each in presses(records, intent.action)
                       if each[0] < tick + NEARBY and each[1] > tick - NEARBY]
            press = min(near_by, key=lambda each: min(abs(each[0] - tick), abs(each[1] - tick)))
            lives = round((intent.buffer + intent.seconds) * puppet.rate)
            for by in (-MOST_TRIALS, -5, -2, 2, 5, MOST_TRIALS):
                if press[0] + by >= 0 and press[1] + by < len(records) and any(
                    press[0] + by <= at <= press[1] + by + lives
                    for at in takings(moved(records, intent.action, *press, by),
                                      transition) - before
                ):
                    found.append(f"moved by {by} it works after all: {line.words}")
    return found


def asked(records: list[Record], seed: int, times: int) -> tuple[list[str], int]:
    """What is wrong in the answers to random questions; and how many trials were told."""
    random, found, counted = Random(seed), [], 0
    for _ in range(times):
        tick = random.randrange(5, len(records) - 5)
        ways = [each for each in exits(records[tick]) if not each.taken]
        if ways:
            way = random.choice(ways)
            answer = why_transition(records, tick, way.transition)
            counted += sum("tried" in line.words for line in answer.lines)
            wrong = wrong_of(records, tick, way.transition, answer)
            found += [f"at {tick}, {way.transition}: {each}" for each in wrong]
    return found, counted


class WhyNot(Case):
    def test_of_a_hasty_hand(self) -> None:
        counted = 0
        for seed in range(4):
            wrong, count = asked(restless(seed), seed, 10)
            self.assertEqual(wrong, [])
            counted += count
        self.assertGreater(counted, 5)

    def test_of_a_game_what_it_said_stays(self) -> None:
        for name in ("three_in_a_row.take.json", "rooftop_chase.take.json"):
            records = in_a_game(shipped(name))
            self.assertTrue(any(record.controls.game and record.controls.game.landed
                                for record in records))
            self.assertEqual(asked(records, 3, 14)[0], [])

    def test_of_what_ships(self) -> None:
        for name in ("three_in_a_row.take.json", "a_blow_guarded.take.json"):
            self.assertEqual(asked(shipped(name), 1, 6)[0], [])

    def test_what_a_press_brought_about_is_said_and_not_tried(self) -> None:
        records = run_controls(demo_setup(), [
            Controls(frozenset(["attack"] if 30 <= at < 33 else [])) for at in range(90)])
        way, = [taken.transition for record in records[:40] for taken in record.report.taken]
        taken, = takings(records, way)
        for tick in (taken - 12, taken - 3):
            words = [line.words for line in why_transition(records, tick, way).lines]
            self.assertIn(f"it is taken at {taken}, {taken - tick} ticks later", " ".join(words))
            self.assertFalse([word for word in words if "pressed" in word and "it works" in word],
                             words)

    def test_of_a_puppet_some_of_whose_layers_have_no_states_yet(self) -> None:
        puppet = load_puppet(DEMO_PUPPET)
        for kept in some_of(((), ("lantern",), ("arms", "lantern"), ("body", "arms"),
                             ("body", "lantern"))):
            drawn = replace(puppet, states=tuple(
                state for state in puppet.states if state.layer in kept))
            records = run_controls(set_up(drawn, None), [
                Controls(frozenset(["lamp", "guard"] if number % 7 < 3 else []))
                for number in range(24)])
            began = dict[str, str]()
            for tick, record in enumerate(records):
                self.assertEqual([layer.layer for layer in record.report.layers], [
                    layer.id for layer in puppet.layers if layer.id in kept])
                is_in = {layer.layer: {layer.state, *layer.groups}
                         for layer in record.report.layers}
                for node in drawn.nodes:
                    answer = why_state(records, tick, node.id)
                    self.assertEqual(answer.so, node.id in is_in.get(node.layer, ()),
                                     (kept, tick, node.id))
                    said = re.match(r"no way leads from (.*?) to |(nothing) was active",
                                    answer.lines[0].words)
                    if said and tick:
                        self.assertEqual(said[1] or said[2], began.get(node.layer, "nothing"),
                                         (kept, tick, node.id))
                for way in drawn.transitions:
                    why_transition(records, tick, way.id)
                began = {layer.layer: drawn.state(layer.state).name
                         for layer in record.report.layers}


if __name__ == "__main__":
    unittest.main()
