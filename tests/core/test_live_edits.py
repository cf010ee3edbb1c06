"""An edit reaches the run at once: what is gone is left properly, limits hold, and seconds stay
seconds."""

from __future__ import annotations

from hypothesis import assume, given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import strategies
from tests.core.test_engine_properties import pressed
from tests.helpers import Case
from yarn_puppet.core.engine.plain.play import clip_of, own_time
from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.engine.state import MachineState
from yarn_puppet.core.model.clips import Cell, Clip, Frame
from yarn_puppet.core.model.edits.graph import state_removed
from yarn_puppet.core.model.events import Deed
from yarn_puppet.core.model.graph import Layer, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent, Memo, Sense
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.migrate import migrate
from yarn_puppet.core.takes.recording import Recording
from yarn_puppet.core.takes.run import RunState, advance, set_up, start

TEN = Clip("ten", "ten", frames=tuple([Frame(Cell("cells", 0, 0, 8, 8)) for _ in range(10)]))


def puppet_of(**changes: object) -> Puppet:
    """Rests, and swings at the press of `go`."""
    puppet = Puppet(
        actions=(Action("go", "go", ("g",)),), layers=(Layer("body", "body", start="rest"),),
        clips=(TEN,),
        states=(
            State("rest", "rest", layer="body", clip="ten", on_enter=(Deed("came", "came + 1"),)),
            State("swing", "swing", layer="body", clip="ten",
                  on_leave=(Deed("left", "near"), Deed(kind="drop", intent="again"))),
        ),
        transitions=(Transition("a", "rest", "swing", when="go"),),
        intents=(
            Intent("go", "go", action="go"),
            Intent("again", "again", action="go", gesture="release", buffer=9.0),
        ),
        senses=(Sense("near", "near", type="int", start=7),),
        memos=(Memo("left", "left", type="int", start=0),
               Memo("came", "came", type="int", start=0)),
    )
    return replace(puppet, **changes)


class Leaving(Case):
    def test_a_state_that_is_deleted_while_it_is_active_is_left_as_it_says(self) -> None:
        recording = Recording(puppet_of(), None, None)
        for number in range(8):
            recording.step(Controls(frozenset({"go"} if number < 3 else ()), forced=(("near", 5),)))
        self.assertEqual(recording.state.machine.memos, (0, 1))
        self.assertGreater(recording.state.machine.armed[1], 0)
        recording.edit(state_removed(recording.setup.puppet, "swing"))
        program = recording.setup.program
        self.assertEqual(program.states[recording.state.machine.layers[0].state].id, "rest")
        self.assertEqual(recording.state.machine.memos, (5, 2),
                         "what was sensed last, and rest is entered again")
        self.assertEqual(recording.state.machine.armed[1], -1)

    def test_one_that_is_not_active_is_not_left(self) -> None:
        recording = Recording(puppet_of(), None, None)
        recording.step()
        recording.edit(state_removed(recording.setup.puppet, "swing"))
        self.assertEqual(recording.state.machine.memos, (0, 1))


class BetweenTicks(Case):
    def test_an_edit_that_is_undone_before_a_tick_runs_has_changed_nothing(self) -> None:
        recording = Recording(puppet_of(), None, None)
        for number in range(8):
            recording.step(Controls(frozenset({"go"} if number < 3 else ())))
        puppet, setup, state = recording.puppet, recording.setup, recording.state
        # The state that it is in is removed, and is there again.
        recording.edit(state_removed(puppet, "swing"))
        self.assertFalse(recording.is_compiled)
        recording.edit(puppet)
        self.assertIs(recording.setup, setup)
        self.assertIs(recording.state, state)

    def test_of_edits_in_a_row_the_run_goes_on_with_the_last(self) -> None:
        recording = Recording(puppet_of(), None, None)
        recording.step()
        shown = recording.compiled
        for seconds in (0.2, 0.1):
            now = recording.puppet
            recording.edit(replace(now, intents=(
                now.intents[0], replace(now.intents[1], buffer=seconds))))
            self.assertIs(recording.compiled, shown, "nothing asked for it yet")
        self.assertEqual(recording.step().setup.puppet.intents[1].buffer, 0.1)


class Limits(Case):
    def test_memos_keep_within_new_limits(self) -> None:
        puppet = puppet_of()
        recording = Recording(replace(puppet, memos=(replace(puppet.memos[0], start=1), replace(
            puppet.memos[1], type="choice", choices=("a", "b"), start="a"))), None, None)
        recording.step()
        recording.compiled_state = recording.state._replace(
            machine=recording.state.machine._replace(memos=(9, "b")))
        before = recording.setup.puppet
        recording.edit(replace(before, memos=(
            replace(before.memos[0], wraps=4, returns=0.5),
            replace(before.memos[1], choices=("a", "c")))))
        machine = recording.state.machine
        self.assertEqual(machine.memos, (1, "a"), "9 is 8 steps from 1, twice round four")
        recording.compiled_state = recording.state._replace(
            machine=machine._replace(memos=(3, "c"), memo_lives=(30, -1)))
        before = recording.setup.puppet
        recording.edit(replace(before,
                               memos=(replace(before.memos[0], returns=0.1), before.memos[1])))
        self.assertEqual(recording.state.machine.memo_lives, (6, -1))

    def test_a_press_waits_no_longer_than_it_now_would(self) -> None:
        recording = Recording(puppet_of(), None, None)
        recording.step(Controls(frozenset({"go"})))
        recording.step()
        before = recording.setup.puppet
        recording.edit(replace(before,
                               intents=(before.intents[0], replace(before.intents[1], buffer=0.1))))
        self.assertEqual(recording.state.machine.armed[1], 6)

    @given(strategies.puppets(), strategies.puppets(), pressed(), some.integers(0, 30))
    def test_any_puppet_carried_over_is_within_the_limits_of_the_other(
        self, one: Puppet, other: Puppet, controls: list[Controls], ticks: int
    ) -> None:
        old, new = set_up(one, None), set_up(other, None)
        state = start(old)
        for now in controls[:ticks]:
            state = advance(old, state, now).after
        machine = migrate(old.program, new.program, state.machine)
        for memo, value, life in zip(new.program.memos, machine.memos, machine.memo_lives,
                                     strict=True):
            self.assertIn(value, memo.choices or (value,))
            if memo.wraps:
                self.assertTrue(memo.start <= value < memo.start + memo.wraps)
            self.assertLessEqual(life, memo.life or -1)
        for intent, life in zip(new.program.intents, machine.armed, strict=True):
            self.assertLessEqual(life, max(intent.life, 0))
        for layer in machine.layers:
            if (
                layer.state >= 0
                and (clip := clip_of(new.program.states[layer.state], layer)) is not None
            ):
                self.assertLessEqual(layer.time, clip.cycle)
                self.assertLessEqual(layer.shown, clip.cycle)


def seconds_of(program: Program, machine: MachineState) -> list[tuple[float, ...]]:
    """What each layer's clip, state and blend have behind them, in seconds."""
    found = []
    for layer in machine.layers:
        clip = clip_of(program.states[layer.state], layer) if layer.state >= 0 else None
        unit = 1000 * program.rate
        blend = layer.blending.done / unit if layer.blending is not None else 0.0
        found.append((own_time(clip, layer.time) / unit if clip else 0.0,
                      layer.ticks / program.rate, blend))
    return found


class Rates(Case):
    @given(
        strategies.puppets(),
        pressed(),
        some.integers(0, 40),
        some.sampled_from((24, 30, 50, 60, 120, 144, 240)),
    )
    def test_another_rate_keeps_all_times_in_seconds(
        self, puppet: Puppet, controls: list[Controls], ticks: int, rate: int
    ) -> None:
        old = set_up(puppet, None)
        state = start(old)
        for now in controls[:ticks]:
            state = advance(old, state, now).after
        new = set_up(replace(puppet, rate=rate), None)
        machine = migrate(old.program, new.program, state.machine)
        least = 1 / min(puppet.rate, rate)
        for before, after in zip(
            seconds_of(old.program, state.machine), seconds_of(new.program, machine), strict=True
        ):
            self.assertAlmostEqual(after[0], before[0], delta=0.0001)
            self.assertAlmostEqual(after[1], before[1], delta=least)
            self.assertAlmostEqual(after[2], before[2], delta=0.0001)
        for was, now_lives in zip(state.machine.armed, machine.armed, strict=True):
            self.assertAlmostEqual(max(0, now_lives) / rate, max(0, was) / puppet.rate,
                                   delta=least * 1.01)
        assume(ticks and controls)
        advance(new, RunState(machine, None), controls[0])

    def test_a_double_tap_across_a_change_of_rate_is_one(self) -> None:
        puppet = puppet_of(intents=(Intent("go", "go", action="go", gesture="double tap",
                                           seconds=0.2),))
        recording = Recording(puppet, None, None)
        for down in (True, False, False):
            recording.step(Controls(frozenset({"go"} if down else ())))
        recording.edit(replace(puppet, rate=240))
        for down in (False,) * 30 + (True,):
            record = recording.step(Controls(frozenset({"go"} if down else ())))
        self.assertEqual([each.target for each in record.report.taken], ["swing"],
                         "3 ticks of 60 and 30 of 240")
        self.assertEqual(recording.ticks, 34)


if __name__ == "__main__":
    import unittest

    unittest.main()
