"""What holds in every tick of every puppet, whatever it is made of and whatever the hands do."""

from __future__ import annotations

import itertools

from hypothesis import given
from hypothesis import strategies as some

from tests import strategies
from tests.helpers import Case, run_controls
from yarn_puppet.core.engine.compiling.clip_tables import compile_clip
from yarn_puppet.core.engine.plain.play import frame_at, own_time
from yarn_puppet.core.engine.program_clips import FULL
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.core.model.puppet import Puppet, find
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.explaining.explain import exits
from yarn_puppet.core.takes.migrate import migrate
from yarn_puppet.core.takes.run import Record, RunState, advance, set_up, start
from yarn_puppet.core.takes.trace import Names, trace_line


@some.composite
def pressed(draw: some.DrawFn, ticks: int = 40) -> list[Controls]:
    """Random controls for the random puppets: two actions, and senses forced to and fro."""
    found = []
    for _ in range(ticks // 4):
        down = frozenset(draw(some.sets(some.sampled_from(["attack", "right"]))))
        forced = draw(some.sampled_from([(), (("speed", 5.0),),
                                         (("grounded", True), ("move_x", -1))]))
        found += [Controls(down, forced)] * 4
    return found


class EveryTick(Case):
    def records(self, puppet: Puppet, controls: list[Controls]) -> list[Record]:
        return run_controls(set_up(puppet, None), controls)

    @given(strategies.puppets(), pressed())
    def test_reports_agree_with_themselves(self, puppet: Puppet, controls: list[Controls]) -> None:
        before: dict[str, str] = {}
        for record in self.records(puppet, controls):
            report = record.report
            for layer in report.layers:
                state = puppet.state(layer.state)
                assert state is not None
                clip = puppet.clip(layer.clip)
                if clip is not None:
                    spread = find(puppet.spreads, state.spread)
                    self.assertIn(clip.id, {state.clip,
                                            *(each.clip for each in (
                                                spread.clips if spread else ()))})
                    self.assertIn(layer.frame, range(len(clip.frames)))
                    # Each border of a frame is a whole unit, of 1 / rate milliseconds.
                    self.assertLessEqual(layer.clip_time * 1000,
                                         clip.length + len(clip.frames) / puppet.rate)
                self.assertEqual(layer.groups,
                                 tuple(group.id for group in puppet.groups_around(state)))
                taken = [each for each in report.taken if each.layer == layer.layer]
                if taken:
                    self.assertEqual(taken[0].source, before.get(layer.layer, taken[0].source))
                    self.assertEqual(taken[-1].target, layer.state)
                    for one, other in itertools.pairwise(taken):
                        self.assertEqual(one.target, other.source)
                        self.assertFalse(
                            puppet.clip(getattr(puppet.state(one.target), "clip", None))
                            and puppet.clip(puppet.state(one.target).clip).frames
                        )  # type: ignore[union-attr]
                elif layer.layer in before:
                    self.assertEqual(layer.state, before[layer.layer])
                before[layer.layer] = layer.state
            trace_line(record, Names(record.setup))

    @given(strategies.puppets(), pressed())
    def test_no_while_rule_outlives_its_owner_but_for_its_ease(
        self, puppet: Puppet, controls: list[Controls]
    ) -> None:
        before: dict[tuple[str, int], float] = {}
        for record in self.records(puppet, controls):
            active = {id for layer in record.report.layers for id in (layer.state, *layer.groups)}
            active |= {window.window.id for window in record.report.windows}
            rules = record.report.rules
            named = {(each.owner, each.rule.number) for each in rules}
            for node in compile_nodes(record):
                if node.id in active:
                    self.assertLessEqual({(node.id, rule.number) for rule in node.rules}, named)
            going = [each for each in rules if each.owner not in active]
            for each in going:
                self.assertLess(each.rule.fall, FULL)
                if (each.owner, each.rule.number) in before:
                    self.assertLess(each.share, before[each.owner, each.rule.number])
            self.assertLessEqual(len(going), 32)
            before = {(each.owner, each.rule.number): each.share for each in going}

    @given(strategies.puppets(), pressed())
    def test_what_is_on_show_is_bounded_and_adds_up(
        self, puppet: Puppet, controls: list[Controls]
    ) -> None:
        for record in self.records(puppet, controls):
            for layer in record.report.layers:
                self.assertLessEqual(len(layer.fading), 4)
                self.assertLessEqual(layer.blend + sum(each.weight for each in layer.fading),
                                     1.0000001)
                self.assertTrue(0 <= layer.weight <= 1)

    @given(strategies.puppets(), pressed())
    def test_windows_and_moments_are_those_of_the_clip_on_show(
        self, puppet: Puppet, controls: list[Controls]
    ) -> None:
        for record in self.records(puppet, controls):
            shown = {layer.clip for layer in record.report.layers}
            for each in (*record.report.windows, *record.report.moments):
                self.assertIn(each.clip, shown)

    @given(strategies.puppets(), pressed())
    def test_exits_explained_agree_with_what_was_taken(
        self, puppet: Puppet, controls: list[Controls]
    ) -> None:
        for record in self.records(puppet, controls[:12]):
            found = exits(record)
            first = record.report.taken[:1]
            self.assertEqual([each.transition for each in found if each.taken],
                             [each.transition for each in first])
            for each in found:
                self.assertTrue(each.reason)

    @given(strategies.puppets(), strategies.puppets(), pressed(), some.integers(0, 30))
    def test_any_puppet_carried_over_into_any_other_goes_on(
        self, one: Puppet, other: Puppet, controls: list[Controls], ticks: int
    ) -> None:
        old, new = set_up(one, None), set_up(other, None)
        state = start(old)
        for now in controls[:ticks]:
            state = advance(old, state, now).after
        state = RunState(migrate(old.program, new.program, state.machine), None)
        for now in controls:
            state = advance(new, state, now).after

    @given(strategies.puppets(), pressed(), some.integers(0, 30))
    def test_carried_over_into_itself_nothing_changes(
        self, puppet: Puppet, controls: list[Controls], ticks: int
    ) -> None:
        setup, again = set_up(puppet, None), set_up(puppet, None)
        state = start(setup)
        for now in controls[:ticks]:
            state = advance(setup, state, now).after
        self.assertEqual(migrate(setup.program, again.program, state.machine), state.machine)


class Cycles(Case):
    @given(strategies.puppets())
    def test_a_cycle_shows_every_frame_and_its_own_time_is_within_the_clip(
        self, puppet: Puppet
    ) -> None:
        for clip in puppet.clips:
            if not clip.frames:
                continue
            cycle = self.compiled(clip, puppet.rate)
            self.assertEqual(set(cycle.frames), set(range(len(clip.frames))))
            self.assertEqual(list(cycle.ends), sorted(cycle.ends))
            self.assertEqual(cycle.ends[-1], cycle.cycle)
            for share in range(21):
                time = cycle.cycle * share // 20
                own = own_time(cycle, time)
                self.assertTrue(0 <= own <= round(clip.length * puppet.rate) + len(clip.frames))
                if time < cycle.cycle:
                    index = frame_at(cycle, time)
                    start = clip.start_of(index) * puppet.rate
                    self.assertTrue(start - 1 <= own <= start
                                    + clip.frames[index].duration * puppet.rate + 1)

    @given(strategies.puppets())
    def test_every_moment_and_window_is_in_the_cycle(self, puppet: Puppet) -> None:
        for clip in puppet.clips:
            if clip.frames:
                cycle = self.compiled(clip, puppet.rate)
                self.assertEqual({moment.id for moment in cycle.moments},
                                 {moment.id for moment in clip.moments})
                self.assertEqual({each.id for each in cycle.windows}, {
                    each.id for each in clip.windows if each.start < min(each.end, clip.length)})
                for window in cycle.windows:
                    self.assertTrue(0 <= window.start <= window.end <= cycle.cycle)

    def compiled(self, clip: Clip, rate: int):  # type: ignore[no-untyped-def]
        return compile_clip(clip, rate)


def compile_nodes(record):  # type: ignore[no-untyped-def]
    """The states and groups of a record's program."""
    return (*record.setup.program.states, *record.setup.program.groups)
