"""What Crossings shows is what the engine can take: held against the engine itself, put into every
state at random."""

from __future__ import annotations

from random import Random

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import strategies
from tests.helpers import Case
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state, reading_of
from yarn_puppet.core.engine.plain.choose import Mutable, choose, take
from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.engine.state import IDLE, LayerState
from yarn_puppet.core.model.clips import Cell, Clip, Frame
from yarn_puppet.core.model.graph import Group, Layer, Leave, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.snags.crossings import Crossings

STEP = Clip("step", "step", frames=(Frame(Cell("cells", 0, 0, 8, 8)),))


def put(program: Program, place: int, random: Random) -> tuple[Mutable, int]:
    """A tick that is about to choose, its layer in this state, all else at random."""
    layer = program.states[place].layer
    machine = initial_state(program)
    layers = list(machine.layers)
    state = program.states[place]
    variant = random.randrange(len(state.spread)) if state.spread else 0
    clip = state.spread[variant].clip if state.spread else state.clip
    layers[layer] = LayerState(
        place, random.randrange(200), random.randrange(clip.cycle) if clip else 0,
        random.randrange(3), False,
        random.random() < 0.5, random.getrandbits(len(clip.windows))
        if clip and clip.windows else 0, 1, variant,
        layers[layer].hits, 0, None)
    inside = [[number for number, each in enumerate(program.states) if group in each.groups]
              for group in program.remembering]
    now = Mutable(
        program, layers, [IDLE] * len(program.actions),
        [random.choice((-1, 5)) for _ in program.intents],
        list(machine.memos), list(machine.memo_lives), {},
        [random.choice((-1, *each)) for each in inside])
    return now, layer


def senses_at_random(program: Program, random: Random) -> list[object]:
    """A value for each sense."""
    made = {"bool": lambda: random.random() < 0.5, "int": lambda: random.randint(-9, 9),
            "float": lambda: random.uniform(-99, 99)}
    return [random.choice(sense.choices) if sense.type == "choice" else made[sense.type]()
            for sense in program.senses]


class Engine(Case):
    @given(strategies.puppets(), some.randoms(use_true_random=False))
    def test_what_the_engine_takes_is_shown_with_the_state_it_ends_in(
        self, puppet: Puppet, random: Random
    ) -> None:
        program = compile_puppet(puppet)
        shown = Crossings(program)
        for index, state in enumerate(program.states):
            for _ in range(12):
                now, layer = put(program, index, random)
                facing = random.choice(("left", "right"))
                choose(reading_of(now, senses_at_random(program, random),
                                  [random.random() < 0.5 for _ in program.thresholds], facing), now,
                                  layer)
                if now.taken:
                    first = now.taken[0]
                    ways = {way.transition: way.ends for way in shown.ways(state.id)}
                    self.assertIn(first.transition, ways)
                    self.assertIn(first.target, ways[first.transition])

    @given(strategies.puppets(), some.randoms(use_true_random=False))
    def test_each_state_shown_is_come_to_for_some_memory(
        self, puppet: Puppet, random: Random
    ) -> None:
        program = compile_puppet(puppet)
        shown = Crossings(program)
        for index, state in enumerate(program.states):
            ways = {way.transition: way.ends for way in shown.ways(state.id)}
            for candidate in program.candidates(index):
                come_to = set()
                for _ in range(40 if candidate.id in ways else 0):
                    now, layer = put(program, index, random)
                    reading = reading_of(now, senses_at_random(program, random),
                                         [False] * len(program.thresholds),
                                         "right")
                    take(reading, now, layer, now.layers[layer], candidate, ())
                    come_to.add(program.states[now.layers[layer].state].id)
                if candidate.id in ways and not candidate.reenters:
                    come_to.discard(state.id)
                if len(ways.get(candidate.id, ())) <= 3:
                    self.assertEqual(set(ways.get(candidate.id, ())), come_to)


class Left(Case):
    def puppet(self, *transitions: Transition) -> Puppet:
        return Puppet(
            clips=(STEP,), layers=(Layer("body", "body", start="a"),),
            groups=(Group("band", "band", layer="body", start="b", remembers=True),
                    Group("empty", "empty", layer="body")),
            states=(
                State("a", "a", layer="body", clip="step"),
                State("b", "b", layer="body", group="band", clip="step"),
                State("c", "c", layer="body", group="band", clip="step"),
            ),
            actions=(Action("go", "go"),), intents=(Intent("go", "go", action="go"),),
            transitions=transitions)

    def shown(self, *transitions: Transition) -> list[tuple[str, tuple[str, ...]]]:
        """What is shown of a state with these transitions."""
        ways = Crossings(compile_puppet(self.puppet(*transitions))).ways("a")
        return [(way.transition, way.ends) for way in ways]

    def test_what_cannot_be_taken_is_not_shown(self) -> None:
        for left in (
            Transition("t", "a", "empty"), Transition("t", "a", "nowhere"),
            Transition("t", "a", "a"),
            Transition("t", "a", "b", when="go and"),
            Transition("t", "a", "b", leave=Leave("in a window", window="safe")),
        ):
            self.assertEqual(self.shown(left), [], left)

    def test_behind_what_is_always_open_nothing_is_shown(self) -> None:
        self.assertEqual(self.shown(Transition("t", "a", "b"),
                                    Transition("u", "a", "c", when="go")), [("t", ("b",))])
        wide = Transition("t", "a", "b", when="go")
        self.assertEqual(self.shown(wide, Transition("u", "a", "c")),
                         [("t", ("b",)), ("u", ("c",))])

    def test_a_group_that_remembers_may_end_in_each_of_its_states(self) -> None:
        self.assertEqual(self.shown(Transition("t", "a", "band", when="go")), [("t", ("b", "c"))])
        puppet = self.puppet(Transition("t", "a", "band", when="go"),
                             Transition("u", "band", "b", when="go"))
        self.assertEqual(Crossings(compile_puppet(replace(puppet, groups=(
            replace(puppet.groups[0], remembers=False), puppet.groups[1])))).ways("b"), ())


if __name__ == "__main__":
    import unittest

    unittest.main()
