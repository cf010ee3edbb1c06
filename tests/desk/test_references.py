"""Accept, edit, undo, go back, keep, rename and remove at random: what each take is compared with.
docs/takes.md."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from random import Random
from typing import Any

import msgspec
from msgspec.structs import replace

from tests.depth import some_of
from tests.desk.case import APPLICATION
from tests.helpers import Case, clip, controls, puppet_of
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.model.wiring import Intent
from yarn_puppet.core.takes.again.kept import KeptRuns
from yarn_puppet.core.takes.again.references import Reference
from yarn_puppet.core.takes.again.worker import Answer, TakesRequest, answers
from yarn_puppet.core.takes.recording import take_of
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.desk.session.booths import Booths
from yarn_puppet.desk.session.document import Document
from yarn_puppet.desk.session.kept_takes import KeptTakes, title_of

SPEEDS = (1.0, 0.5, 2.0)
TICKS = 24


def variant(speeds: tuple[float, ...]) -> Puppet:
    """Two states that are gone to by two keys, each at its speed."""
    intents = (Intent("one", "one", "attack", "press"), Intent("two", "two", "jump", "press"))
    states = (State("rest", "rest", clip="c"), State("a", "a", clip="c", speed=speeds[0]),
              State("b", "b", clip="c", speed=speeds[1]))
    return puppet_of((clip("c", (50.0, 50.0, 50.0)),), states, (
        Transition("to_a", "rest", "a", "one"), Transition("to_b", "rest", "b", "two")),
        intents=intents, senses=())


def take(number: int) -> Take:
    """A take that comes across one state or the other, or none."""
    presses = [[], [(3 + number % 5, 9, "attack")], [(3 + number % 5, 9, "jump")]][number % 3]
    return take_of(controls(presses, TICKS + number // 3), None, 60)  # type: ignore[arg-type]


class Process:
    """The process that runs takes, in hand: what is asked waits until it is done here, and only the
    newest is."""

    def __init__(self, kept: KeptTakes) -> None:
        self.kept, self.waiting = kept, list[bytes]()
        self.runs, self.known = KeptRuns(), dict[int, Reference]()

    def ask(self, ask: TakesRequest) -> None:
        """Ask something."""
        self.waiting.append(msgspec.json.encode(ask))

    def work(self, steps: int | None = None) -> bool:
        """Do what was asked last, to its end or for some steps; whether all of it was done."""
        if not self.waiting:
            return False
        asks = [msgspec.json.decode(each, type=TakesRequest) for each in self.waiting]
        self.waiting.clear()
        if any(ask.fresh for ask in asks):
            self.runs, self.known = KeptRuns(), {}
        for ask in asks:
            self.known |= ask.given
        found: Iterator[Answer | None] = answers(self.runs, asks[-1], self.known)
        for number, answer in enumerate(found):
            if answer is not None:
                self.kept._answered(msgspec.json.decode(msgspec.json.encode(answer), type=Answer))
                if answer.done:
                    return True
            if number == steps:
                return False
        return False

    def close(self) -> None:
        """It ends."""
        self.waiting.clear()


class Model:
    """The same by a plain thought: each take object carries the puppet that it is compared with."""

    def __init__(self, puppet: Puppet) -> None:
        self.reference: dict[tuple[Any, ...], Puppet] = {}
        self.opened = puppet
        self.order: list[Puppet] = [puppet]

    @staticmethod
    def key(take: Take) -> tuple[Any, ...]:
        """What a take plays."""
        return take.ticks, take.controls

    def of(self, take: Take) -> Puppet:
        """What a take is compared with."""
        return self.reference.get(self.key(take), self.opened)

    def accept(self, takes: list[Take], puppet: Puppet) -> None:
        """It is accepted, or kept."""
        if puppet not in self.order:
            self.order.append(puppet)
        for each in takes:
            self.reference[self.key(each)] = puppet


def lines(puppet: Puppet, take: Take) -> list[dict[str, Any]]:
    """What a take tells with a puppet, run plainly."""
    return list(trace_lines(replay(set_up(puppet, None), take)))


def gone_through(seed: int, deeds: int = 40) -> str | None:
    """What is not as the model has it after random deeds; or None."""
    random = Random(seed)
    document = Document()
    kept = KeptTakes(document, Booths(document))
    process = Process(kept)
    kept.process = process  # type: ignore[assignment]
    document.history = type(document.history).starting_with(variant((1.0, 1.0)))
    document.replaced.emit()
    model, done = Model(document.puppet), list[str]()
    last_whole: Puppet | None = None
    before_edit: Puppet | None = None

    def whole_run(steps: int | None = None) -> None:
        nonlocal last_whole, before_edit
        kept._ask()
        if not process.work(steps):
            return
        if last_whole is not None and document.puppet != last_whole:
            before_edit = last_whole
        last_whole = document.puppet

    for number in range(deeds):
        names = sorted(kept.takes)
        deed = random.choice(["edit", "edit", "undo", "redo", "accept", "accept all", "go back",
                              "keep", "keep",
                              "rename", "remove", "ask", "run", "run", "run", "stop"])
        chosen = random.choice(names) if names else ""
        done.append(f"{deed} {chosen}")
        if deed == "edit":
            document.edit("edit", variant((random.choice(SPEEDS), random.choice(SPEEDS))))
        elif deed == "undo":
            document.undo()
        elif deed == "redo":
            document.redo()
        elif deed == "accept all" and names:
            model.accept(list(kept.takes.values()), document.puppet)
            kept.accept()
        elif deed == "accept" and chosen:
            model.accept([kept.takes[chosen]], document.puppet)
            kept.accept((chosen,))
        elif deed == "keep":
            one = take(random.randrange(9))
            model.accept([one], document.puppet)
            kept.keep(one, f"take {number}")
        elif deed == "rename" and chosen:
            kept.rename(chosen, f"{title_of(chosen)} {number}")
        elif deed == "remove" and chosen:
            kept.remove(chosen)
        elif deed == "go back" and kept.takes:
            whole_run()
            differing = [each for each in kept.takes.values()
                         if lines(model.of(each), each) != lines(document.puppet, each)]
            wanted = document.puppet
            if chosen and kept.takes[chosen] in differing:
                wanted = model.of(kept.takes[chosen])
            elif differing:
                wanted = max(map(model.of, differing), key=model.order.index)
            kept.go_back(chosen)
            if document.puppet != wanted:
                return f"seed {seed}: went back to another puppet: {done}"
        elif deed == "ask":
            whole_run(random.choice([0, 1, 3]))
        elif deed == "stop":
            kept.busy = True
            kept.stop()
            process.runs = KeptRuns()
            last_whole = before_edit = None
        if deed in ("run", "go back") and kept.takes:
            whole_run()
            for name, each in kept.takes.items():
                outcome = kept.outcomes[name]
                differs = lines(model.of(each), each) != lines(document.puppet, each)
                if differs != (outcome.since_reference is not None):
                    return (
                        f"seed {seed}: {name} differs {differs}, {outcome.since_reference}: {done}"
                    )
                if outcome.since_edit is not None and (
                    before_edit is None or lines(before_edit, each) == lines(document.puppet, each)
                ):
                    return (
                        f"seed {seed}: {name} was changed by no edit: {outcome.since_edit}: {done}"
                    )
    return None


class References(Case):
    def test_at_random_they_are_what_the_table_says(self) -> None:
        self.assertIsNotNone(APPLICATION)
        found = [gone_through(seed) for seed in some_of(range(25))]
        self.assertEqual([each for each in found if each], [])

    def kept(self) -> tuple[KeptTakes, Process, Document]:
        document = Document()
        kept = KeptTakes(document, Booths(document))
        process = Process(kept)
        kept.process = process  # type: ignore[assignment]
        document.history = type(document.history).starting_with(variant((1.0, 1.0)))
        document.replaced.emit()
        kept.keep(take(1), "a")
        kept.keep(take(2), "b")
        kept._ask()
        process.work()
        return kept, process, document

    def test_one_accepted_the_other_can_still_go_back(self) -> None:
        kept, process, document = self.kept()
        before = document.puppet
        document.edit("both", variant((0.5, 0.5)))
        kept._ask()
        process.work()
        kept.accept(("a.take.json",))
        kept._ask()
        process.work()
        self.assertIsNone(kept.outcomes["a.take.json"].since_reference)
        kept.go_back()
        self.assertEqual(document.puppet, before)

    def test_accepted_before_the_edit_was_run_again_it_is_the_edit(self) -> None:
        kept, process, document = self.kept()
        document.edit("both", variant((0.5, 0.5)))
        kept.accept()
        document.edit("more", variant((2.0, 2.0)))
        kept._ask()
        process.work()
        self.assertIsNotNone(kept.outcomes["a.take.json"].since_reference)
        document.undo()
        kept._ask()
        process.work()
        self.assertIsNone(kept.outcomes["a.take.json"].since_reference)

    def test_a_promise_leaves_what_the_last_edit_changed(self) -> None:
        kept, process, document = self.kept()
        document.edit("both", variant((0.5, 0.5)))
        for _ in range(2):
            kept._ask()
            process.work()
            self.assertIsNotNone(kept.outcomes["a.take.json"].since_edit)
            kept.set_promises("a.take.json", ())
            document.edit_takes("promise",
                                {"a.take.json": replace(
                                    kept.takes["a.take.json"], puppet="x.puppet.json")})


if __name__ == "__main__":
    unittest.main()
