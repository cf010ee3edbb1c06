"""Running again only what an edit can touch gives what running all of it gives; and a folded run is
the run."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import long_run
from tests.depth import examples, some_of
from tests.helpers import (
    Case,
    clip,
    controls,
    demo_puppet,
    demo_setup,
    demo_world,
    puppet_of,
    run_controls,
)
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.core.model.events import Deed, Moment, Rule, Window
from yarn_puppet.core.model.graph import Placed, State, Transition
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Intent, Memo, Sense
from yarn_puppet.core.model.world import Zone
from yarn_puppet.core.takes.again.kept import KeptRuns
from yarn_puppet.core.takes.again.touched import (
    BY_NODE,
    BY_PRESS,
    EVERY_TICK,
    NO_MATTER,
    first_touched,
)
from yarn_puppet.core.takes.columns import Run
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.recording import Recording, run_again, take_of
from yarn_puppet.core.takes.records import BLOCK, OPEN_BLOCKS, Records
from yarn_puppet.core.takes.run import Setup, set_up
from yarn_puppet.core.takes.trace import trace_lines

FIELDS = ("clips", "spreads", "groups", "states", "transitions", "intents", "memos", "layers",
          "thresholds")


def whole_run(setup: Setup, pressed: list[Controls]) -> Records:
    """A run from its start."""
    *_, run = run_again(setup, pressed)
    return run


def mutated(shaker: Shaker, puppet: Puppet, other: Puppet) -> Puppet:
    """A puppet with an entry taken from another, given another's parts, or taken away."""
    field = shaker.pick(FIELDS)
    mine, its = list(getattr(puppet, field)), list(getattr(other, field))
    does = shaker.pick(["put", "take away", "swap", "change"])
    if does == "put" and its:
        new = shaker.pick(its)
        mine = [new if each.id == new.id else each for each in mine]
        if all(each.id != new.id for each in mine):
            mine.insert(shaker.pick(range(len(mine) + 1)), new)
    elif does == "take away" and len(mine) > 1:
        mine.remove(shaker.pick(mine))
    elif does == "swap" and len(mine) > 1:
        one, two = shaker.pick(range(len(mine))), shaker.pick(range(len(mine)))
        mine[one], mine[two] = mine[two], mine[one]
    elif mine:
        at = shaker.pick(range(len(mine)))
        mine[at] = replace(mine[at], name="another") if hasattr(mine[at], "name") else mine[at]
    return replace(puppet, **{field: tuple(mine)})


def asking(shaker: Shaker, puppet: Puppet) -> Puppet:
    """The puppet with deeds, sounds, while-rules, spreads and wiring that name windows, states and
    clips, those of unused states too: clips of their own, each with a window that no other has."""
    nodes = [node.id for node in puppet.nodes] or ["gone"]
    spare = tuple(replace(shaker.clip(f"spare{number}", nodes), windows=(
        Window(f"spare{number}w", 0.0, 50.0, "named", f"only {number}"),)) for number in range(3))
    clips = [each.id for each in (*puppet.clips, *spare)]
    texts = [f'window("only {number}")' for number in range(3)] + [
        f'in_state("{id}")' for id in (*nodes, "gone")]
    texts += [f"not {text}" for text in texts]

    def deeds() -> tuple[Deed, ...]:
        return tuple(Deed("tired", shaker.pick(texts)) for _ in range(shaker.pick((0, 1, 1, 2))))

    def rules() -> tuple[Rule, ...]:
        return (Rule("prop", anchor="hand", clip=shaker.pick(clips)),) if shaker.chance(3) else ()

    def moments(clip: Clip) -> tuple[Moment, ...]:
        return (*[replace(moment, deeds=deeds()) for moment in clip.moments],
                *[Moment(f"{clip.id}x{number}", shaker.pick((0.0, 20.0)), kind, "x", file="x.wav",
                         clip=shaker.pick([None, *clips]), deeds=deeds())
                  for number, kind in enumerate(("sound", "effect")) if shaker.chance(4)])

    states = tuple(replace(state, on_enter=deeds(), on_leave=deeds(),
                           rules=(*state.rules, *rules()))
                   for state in puppet.states)
    unused = State("unused", "unused", clip=shaker.pick(clips), on_enter=deeds())
    return replace(
        puppet, states=(*states, unused) if shaker.chance(5) else states,
        clips=tuple(replace(each, moments=moments(each)) for each in (*puppet.clips, *spare)),
        layers=tuple(replace(layer, shown_when=shaker.pick(["", *texts]))
                     for layer in puppet.layers),
        transitions=tuple(replace(transition,
                                  when=f"({transition.when}) and {shaker.pick(texts)}"
                                  if transition.when else "")
                          if shaker.chance(3) else transition for transition in puppet.transitions),
        spreads=tuple(replace(spread, clips=(*spread.clips, Placed(shaker.pick(clips), (0.0,))))
                      for spread in puppet.spreads))


def asked_of(shaker: Shaker) -> Puppet:
    """A random puppet, as often as not one that asks after everything."""
    puppet = replace(shaker.puppet(), rate=60)
    return asking(shaker, puppet) if shaker.chance(5) else puppet


def move_input_of(shaker: Shaker, ticks: int) -> list[Controls]:
    """Random controls, some keys only late."""
    down, found = set[str](), []
    keys = ["a"]
    for tick in range(ticks):
        if tick == ticks // 3:
            keys.append("b")
        if tick == ticks // 2:
            keys.append("c")
        if shaker.chance(2):
            down ^= {shaker.pick(keys)}
        found.append(Controls(frozenset(down),
                              tuple(shaker.senses().items()) if shaker.chance(3) else ()))
    return found


def compared(seed: int, ticks: int = 40) -> str | None:
    """What differs between a run of an edited puppet from the tick it can be touched on and a whole
    one; or None."""
    shaker = Shaker(seed)
    puppet = asked_of(shaker)
    edited = mutated(shaker, puppet, asked_of(Shaker(seed + 1_000_000)))
    pressed = move_input_of(shaker, ticks)
    before, after = set_up(puppet, None), set_up(edited, None)
    old = whole_run(before, pressed)
    touched = first_touched(before, after, old.first_seen, len(old))
    *_, part = run_again(after, pressed, old.up_to(touched))
    whole = whole_run(after, pressed)
    for tick, (one, other) in enumerate(zip(trace_lines(part), trace_lines(whole), strict=True)):
        if one != other:
            return f"seed {seed}, touched {touched}, tick {tick}: {one} is not {other}"
    if part[-1].after != whole[-1].after and touched < ticks:
        return f"seed {seed}, touched {touched}: {part[-1].after} is not {whole[-1].after}"
    return None


def edited_on_and_on(seed: int, edits: int = 4) -> str | None:
    """What differs, after several edits, between a run that was run again after each from the tick
    it can be touched on, and played on meanwhile, and a whole run of the last puppet; or None."""
    shaker = Shaker(seed)
    puppet = asked_of(shaker)
    recording = Recording(puppet, None, None)
    for number in range(edits):
        for each in move_input_of(shaker, shaker.pick((1, 9, 20))):
            recording.step(each)
        before = recording.setup
        other = asked_of(Shaker(seed + 1_000_000 + number))
        recording.edit(mutated(shaker, recording.setup.puppet, other))
        # What is played before the run again is done is caught up with.
        known = list(recording.controls)
        touched = first_touched(before, recording.setup, recording.records.first_seen, len(known))
        *_, again = run_again(recording.setup, known, recording.records.up_to(touched))
        for each in move_input_of(shaker, shaker.pick((0, 3))):
            recording.step(each)
        recording.adopt(again)
        for each in move_input_of(shaker, 3):
            recording.step(each)
        whole = whole_run(recording.setup, recording.controls)
        for tick, (one, other) in enumerate(zip(
            trace_lines(recording.records), trace_lines(whole), strict=True)):
            if one != other:
                return (f"seed {seed}, edit {number}, touched {touched}, tick {tick}: {one} is "
                        f"not {other}")
    return None


def promises_of(shaker: Shaker, puppet: Puppet) -> tuple[Promise, ...]:
    """Promises of every kind about what a puppet has and what it has not."""
    happenings = [Happening("state", node.id) for node in puppet.nodes]
    happenings += [Happening("intent", intent.id) for intent in puppet.intents]
    happenings += [Happening("sense", sense.id) for sense in puppet.senses if sense.type == "bool"]
    happenings += [Happening("window", window.name or window.kind) for clip in puppet.clips
                   for window in clip.windows]
    happenings += [Happening("moment", moment.name) for clip in puppet.clips
                   for moment in clip.moments]
    values = [*(each.id for each in (*puppet.senses, *puppet.memos)), "move_speed", "gone"]
    return tuple(Promise(
        shaker.pick(("then", "never", "after", "lasts", "can")), shaker.pick(happenings),
        shaker.pick([None, *happenings]), ticks=shaker.pick((0, 2, 9, 17)),
        value=shaker.pick(values),
        to=shaker.pick((0, 1, True, False, 0.5))) for _ in range(shaker.pick((1, 5))))


def kept_on_and_on(seed: int, edits: int = 5) -> str | None:
    """What differs, after edits of the puppet and other takes under the same name, between what
    comes of a take that is run again after each and of one that is run for the first time; or
    None."""
    shaker = Shaker(seed)
    puppet, kept = asked_of(shaker), KeptRuns()
    take = replace(take_of(move_input_of(shaker, 40), None, 60),
                   promises=promises_of(shaker, puppet))
    for number in range(edits):
        (found,), (fresh,) = ([each
                               for each in runs.run(puppet, {"it": take}, {}) if each is not None]
                              for runs in (kept, KeptRuns()))
        if (found.ticks, found.states, found.problem) != (fresh.ticks, fresh.states, fresh.problem):
            return f"seed {seed}, edit {number}: {found} is not {fresh}"
        for promise, one, other in zip(take.promises, found.verdicts, fresh.verdicts,
                                       strict=not fresh.problem):
            if one != other:
                return f"seed {seed}, edit {number}: {promise}: {one} is not {other}"
        does = shaker.pick(["puppet", "puppet", "stopped", "senses", "first", "promises"])
        if does == "puppet":
            puppet = mutated(shaker, puppet, asked_of(Shaker(seed + 1_000_000 + number)))
        elif does == "stopped":
            from_tick = shaker.pick(range(30))
            take = replace(take, stopped=((from_tick, 1), (from_tick + 9, 0)))
        elif does == "senses":
            take = replace(take, senses=take_of(move_input_of(shaker, 40), None, 60).senses)
        elif does == "promises":
            take = replace(take, promises=(*take.promises[1:], *promises_of(shaker, puppet)))
        else:
            take = replace(take, first=shaker.pick(range(30)))
    return None


class Touched(Case):
    def test_a_kept_take_gives_what_it_gives_for_the_first_time(self) -> None:
        found = [kept_on_and_on(seed) for seed in some_of(range(18))]
        self.assertEqual([each for each in found if each], [])

    def test_edit_upon_edit_the_run_is_that_of_the_last_puppet(self) -> None:
        found = [edited_on_and_on(seed) for seed in some_of(range(18))]
        self.assertEqual([each for each in found if each], [])

    def test_what_comes_before_an_edit_is_the_same_as_ever(self) -> None:
        found = [compared(seed) for seed in some_of(range(70))]
        self.assertEqual([each for each in found if each], [])

    def test_edited_before_its_first_tick_a_run_is_that_of_the_edited_puppet(self) -> None:
        world = demo_world()
        for seed in some_of(range(40)):
            shaker = Shaker(seed)
            first, last = shaker.puppet(), shaker.puppet()
            for puppet, start in ((first, world), (first, None)):
                recording = Recording(puppet, start, None)
                recording.edit(last, replace(world, start_x=world.start_x + 2) if start else None)
                for _ in range(3):
                    recording.step()
                *_, again = run_again(recording.setup, recording.controls)
                self.assertEqual(list(trace_lines(recording.records)), list(trace_lines(again)),
                                 seed)

    def test_every_field_of_a_program_is_accounted_for(self) -> None:
        named = [*EVERY_TICK, *BY_NODE, *BY_PRESS, *NO_MATTER]
        self.assertEqual(sorted(named), sorted(Program._fields))

    def test_a_deed_that_asks_for_what_is_taken_away_is_run_again(self) -> None:
        """A window of a clip that no state plays, and a state that is never entered."""
        spare = clip("spare", windows=(Window("w", 0.0, 50.0, "named", "gone"),))
        for value in ('window("gone")', 'in_state("gone")'):
            whole = puppet_of(
                (clip("stand"), spare), (State("stand", "stand", clip="stand"),
                                         State("gone", "gone"),
                                         State("act", "act", clip="stand", on_enter=(
                                             Deed("ever", f"not {value}"),))),
                (Transition("t", "stand", "act", "tap"),),
                intents=(Intent("tap", "tap", "attack"),),
                memos=(Memo("ever", "ever", "bool", False),))
            less = replace(whole, clips=whole.clips[:1]) if "window" in value else replace(
                whole, states=(whole.states[0], whole.states[2]))
            pressed = controls([(10, 12, "attack")], 40)
            before, after = set_up(whole, None), set_up(less, None)
            old, new = whole_run(before, pressed), whole_run(after, pressed)
            touched = first_touched(before, after, old.first_seen, len(old))
            differing = [tick for tick in range(40)
                         if old[tick].report.memos != new[tick].report.memos]
            self.assertEqual(touched, min(differing, default=40), value)

    def test_a_late_state_leaves_what_is_before_it(self) -> None:
        setup = demo_setup()
        pressed = controls([(30, 34, "jump"), (150, 154, "attack")], 240)
        old = whole_run(setup, pressed)
        swing = next(run.first for run in old.columns.states["body"] if "swing" in run.key)
        state = next(run.key for run in old.columns.states["body"] if "swing" in run.key)
        slower = replace(setup.puppet, states=tuple(
            replace(each, speed=0.5) if each.id == state else each for each in setup.puppet.states))
        after = set_up(slower, setup.world)
        self.assertEqual(first_touched(setup, after, old.first_seen, len(old)), swing)

    def test_what_is_never_come_across_touches_nothing(self) -> None:
        setup = demo_setup()
        old = whole_run(setup, controls([], 60))
        guard = next(state for state in setup.puppet.states if "guard" in state.id)
        edited = replace(setup.puppet, states=tuple(
            replace(state, speed=0.5) if state.id == guard.id else state
            for state in setup.puppet.states))
        self.assertEqual(first_touched(setup, set_up(edited, setup.world), old.first_seen,
                                       len(old)), 60)

    def test_the_world_and_the_mover_touch_everything(self) -> None:
        setup = demo_setup()
        old = whole_run(setup, controls([], 20))
        first_seen = old.first_seen
        heavy = replace(setup.puppet, mover=replace(setup.puppet.mover, gravity=2000.0))
        wide = replace(demo_world(), start_x=90.0)
        for after in (set_up(heavy, setup.world), set_up(setup.puppet, wide)):
            self.assertEqual(first_touched(setup, after, first_seen, len(old)), 0)


class Folded(Case):
    TICKS = BLOCK * (OPEN_BLOCKS + 9) + 5

    def setUp(self) -> None:
        shaker = Shaker(5)
        self.pressed = []
        down = set[str]()
        for _ in range(self.TICKS):
            if shaker.chance(1):
                down ^= {shaker.pick(["left", "right", "jump", "attack", "guard"])}
            self.pressed.append(Controls(frozenset(down)))
        self.setup = demo_setup()
        self.plain = run_controls(self.setup, self.pressed)
        self.run_ = whole_run(self.setup, self.pressed)

    def test_it_reads_as_a_list_does(self) -> None:
        self.assertEqual(len(self.run_), len(self.plain))
        self.assertEqual(list(self.run_), self.plain)
        for tick in (0, 1, BLOCK - 1, BLOCK, 100, self.TICKS - 1, -1, -self.TICKS):
            self.assertEqual(self.run_[tick], self.plain[tick])
        self.assertEqual(self.run_[70:140], self.plain[70:140])
        self.assertEqual(self.run_[700:20:-31], self.plain[700:20:-31])
        with self.assertRaises(IndexError):
            self.run_[self.TICKS]

    @settings(max_examples=examples(20))
    @given(some.integers(0, TICKS))
    def test_a_part_of_it_is_that_part(self, tick: int) -> None:
        part = self.run_.up_to(tick)
        self.assertEqual(list(part), self.plain[:tick])
        self.assertEqual(part.columns.states["body"] if tick else [], whole_run(
            self.setup, self.pressed[:tick]).columns.states.get("body", []))
        *_, on = run_again(self.setup, self.pressed[:tick + 40], part)
        self.assertEqual(list(on), self.plain[:tick + 40])
        self.assertEqual(list(self.run_), self.plain)

    def test_its_columns_say_what_its_records_do(self) -> None:
        columns, program = self.run_.columns, self.setup.program
        place = program.places["sense", "vx"]
        self.assertEqual(columns.values("sense:vx", 40, 900).tolist(),
                         [record.report.senses[place] for record in self.plain[40:901]])
        self.assertEqual(columns.values("action:attack", 0, 9999).tolist(),
                         [float("attack" in hand.down) for hand in self.pressed])
        self.assertEqual([(each.tick, each.name) for each in columns.flags_between(100, 500)],
                         [(tick, moment.moment.name) for tick in range(100, 501)
                          for moment in self.plain[tick].report.moments])
        drawn = [next(run.key for run in columns.states["body"] if run.first <= tick <= run.last)
                for tick in range(self.TICKS)]
        self.assertEqual(drawn, [record.report.layers[0].state for record in self.plain])
        self.assertEqual(columns.runs([Run(3, 9, "a"), Run(12, 20, "b")], 5, 12),
                         [Run(5, 9, "a"), Run(12, 12, "b")])

    def test_a_choice_is_said_by_its_values(self) -> None:
        puppet = replace(demo_puppet(), senses=(*demo_puppet().senses, Sense(
            "zone", "zone", "choice", "", choices=("", "far"))))
        world = replace(demo_world(), zones=(Zone("far", 12, 0, 6, 20),))
        run = whole_run(set_up(puppet, world), controls([(0, 200, "right")], 200))
        place = run[0].setup.program.places["sense", "zone"]
        drawn = [record.report.senses[place] for record in run]
        runs = run.columns.choices["sense:zone"]
        self.assertEqual([next(each.key for each in runs if each.first <= tick <= each.last)
                          for tick in range(200)],
                         drawn)
        self.assertEqual(set(drawn), {"", "far"})

    def test_a_folded_tick_holds_far_less(self) -> None:
        long = whole_run(self.setup, self.pressed * 4)
        self.assertLess(long.weight - self.run_.weight, 600 * 3 * self.TICKS)

    def test_kept_thin_it_reads_the_same_and_holds_less(self) -> None:
        whole = whole_run(self.setup, self.pressed * 3)
        plain, before = list(whole), whole.weight
        while whole.thin():
            self.assertEqual(whole[100:140], plain[100:140])
        self.assertLess(whole.weight, before)
        self.assertEqual(list(whole), plain)
        for tick in (0, 33, 1500, len(plain) - 1):
            self.assertEqual(whole[tick], plain[tick])
        *_, on = run_again(self.setup, self.pressed * 3 + self.pressed[:20], whole.up_to(700))
        self.assertEqual(list(on)[:len(plain)], plain)

    def test_live_edits_fold_with_what_they_were_run_with(self) -> None:
        recording = Recording(demo_puppet(), demo_world(), None)
        other = replace(recording.setup.puppet,
                        mover=replace(recording.setup.puppet.mover, walk_speed=40.0))
        plain = []
        for tick, each in enumerate(self.pressed):
            if tick == 45:
                recording.edit(other)
            plain.append(recording.step(each))
        self.assertEqual(list(recording.records), plain)


class Long(Case):
    def test_random_input_gives_the_same_trace_saved_and_read_and_in_another_process(self) -> None:
        self.assertIsNone(long_run.compared(examples(2400)))


if __name__ == "__main__":
    unittest.main()
