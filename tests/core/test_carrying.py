"""Windows and moments taken over to another clip: by frames, or by their share of the length."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, puppet_of
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.clips import Cell, Clip, Frame
from yarn_puppet.core.model.edits.frames.events import events_carried
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.graph import Leave, Placed, Spread, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.snags.dead_ends import dead_ends, windows_waited_for

durations = some.lists(some.sampled_from([1.0, 33.3, 50.0, 100.0, 250.0]), min_size=1, max_size=8)
shares = some.tuples(some.floats(0, 1), some.floats(0, 1))


def lasting(id: str, each: list[float]) -> Clip:
    """A clip of frames that last so long."""
    return Clip(id, id, tuple(Frame(Cell("s", 8 * at, 0, 8, 8), lasts)
                              for at, lasts in enumerate(each)))


class Carrying(Case):
    def both(self, first: Clip, other: Clip) -> Puppet:
        return replace(puppet_of([clip("c")], [State("a", "A", clip="c")], []),
                       clips=(first, other))

    @given(durations, durations, shares, some.floats(0, 1), some.sampled_from(["frames", "share"]))
    def test_all_of_it_is_inside_the_other_and_the_file_opens(
        self, one: list[float], other: list[float], window: tuple[float, float], at: float, by: str
    ) -> None:
        first = lasting("first", one)
        low, high = sorted(share * first.length for share in window)
        first = replace(first, windows=(Window("w", low, max(high, low + 0.001), "hit", "hit"),),
                        moments=(Moment("m", at * first.length, "sound", "step"),))
        puppet = events_carried(self.both(first, lasting("other", other)), "first", "other",
                                by)  # type: ignore[arg-type]
        made = puppet.clip("other")
        (got,), (moment,) = made.windows, made.moments
        self.assertTrue(0 <= got.start < got.end <= made.length + 0.001)
        self.assertTrue(0 <= moment.at <= made.length)
        self.assertEqual(puppet_from(puppet_bytes(puppet)), puppet)
        self.assertIs(events_carried(puppet, "first", "other", "share"), puppet, "and only once")

    @given(some.lists(some.sampled_from([33.0, 50.0, 100.0]), min_size=2, max_size=8),
           some.integers(0, 7), some.integers(1, 8))
    def test_by_frames_it_covers_the_same_frames(
        self, one: list[float], first: int, count: int
    ) -> None:
        start, end = min(first, len(one) - 1), min(len(one), first + count)
        end = max(end, start + 1)
        drawn = lasting("first", one)
        drawn = replace(drawn, windows=(Window("w", drawn.start_of(start), drawn.start_of(end),
                                               "cancel", "cancel"),))
        other = lasting("other", [10.0 * (at + 1) for at in range(len(one))])
        made = events_carried(self.both(drawn, other), "first", "other", "frames").clip("other")
        self.assertEqual((made.windows[0].start, made.windows[0].end),
                         (other.start_of(start), other.start_of(end)))

    def test_a_clip_without_the_window_that_exits_wait_for_is_a_snag(self) -> None:
        drawn = replace(lasting("first", [100.0] * 4),
                        windows=(Window("w", 200, 400, "cancel", "cancel"),))
        puppet = replace(
            self.both(drawn, lasting("other", [50.0] * 4)),
            states=(State("a", "A", clip="other"), State("b", "B", clip="first")),
            transitions=(Transition("t", "a", "b", leave=Leave("in a window", window="cancel")),))
        why = "a way out of it waits for a window cancel, which its clip has not"
        self.assertIn(why, [snag.why for snag in check(puppet)])
        made = events_carried(puppet, "first", "other", "share")
        self.assertNotIn(why, [snag.why for snag in check(made)])
        self.assertEqual(made.clip("other").windows[0].start, 100.0)

    @given(some.lists(some.tuples(some.sampled_from([None, "a", "b", "gone"]),
                                  some.sampled_from([None, "none", "spread"])), max_size=5),
           some.lists(some.tuples(some.integers(0, 4), some.sampled_from(["w", "v", "nowhere"])),
                      max_size=8),
           some.sampled_from([("w", "v"), ("v", "w"), ("w", "w")]))
    def test_the_check_of_all_states_says_what_each_alone_lacks(
        self, plays: list[tuple[str | None, str | None]], waits: list[tuple[int, str]],
        has: tuple[str, str]
    ) -> None:
        clips = tuple(replace(lasting(id, [100.0]), windows=(Window("x", 0, 50, "cancel", name),))
                      for id, name in zip("ab", has, strict=True))
        states = tuple(State(f"s{at}", f"S {at}", clip=clip, spread=spread)
                       for at, (clip, spread) in enumerate(plays))
        puppet = replace(
            puppet_of([clip("c")], [State("start", "A", clip="c")], []), clips=clips,
            spreads=(Spread("spread", "Spread", (Placed("b", (1.0,)), Placed("gone", (2.0,)))),),
            states=states, transitions=tuple(
                Transition(f"t{at}", f"s{source}", "s0", leave=Leave("in a window", window=name))
                for at, (source, name) in enumerate(waits)))
        said = [(snag.id, snag.why) for snag in dead_ends(puppet, None)
                if "waits for a window" in snag.why]
        self.assertEqual(said, [
            (state.id, f"a way out of it waits for a window {window}, which its clip has not")
            for state in states for window in windows_waited_for(puppet, state)])
