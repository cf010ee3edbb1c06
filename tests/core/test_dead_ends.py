"""Wiring that leads nowhere is told of: each case by a puppet of a few states, and run to see that
it is so."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from tests.helpers import Case, clip, controls, entered, puppet_of, run_controls
from yarn_puppet.core.model.clips import Anchor
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Intent
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.run import set_up

TAP, HOLD = Intent("tap", "tap_attack", "attack", "tap"), Intent("hold", "hold_attack", "attack",
                                                               "hold")
PRESS = Intent("press", "press_attack", "attack", "press")
HELD = Intent("held", "held_attack", "attack", "held")


class DeadEnds(Case):
    def made(self, intents: Sequence[Intent], *ways: tuple[str, str, str]) -> Puppet:
        """States a, b and c with these transitions."""
        states = [State(id, id.upper(), clip="c") for id in "abc"]
        return puppet_of([clip("c")], states, [
            Transition(f"t{number}", *way) for number, way in enumerate(ways)],
            intents=tuple(intents))

    def whys(self, puppet: Puppet) -> list[str]:
        """What is said, but of states that nothing leads to."""
        return [snag.why for snag in check(puppet) if "nothing leads to it" not in snag.why]

    def test_a_long_press_that_is_nothing(self) -> None:
        puppet = self.made([TAP], ("a", "b", "tap"))
        self.assertEqual([why for why in self.whys(puppet) if "longer than" in why],
                         ["a press longer than 0.25 s does nothing: no hold of its action is read"])
        held = run_controls(set_up(puppet, None), controls([(2, 40, "attack")], 60))
        self.assertEqual(entered(held, "b"), [], "and it is so")
        for more in (HOLD, HELD):
            both = self.made([TAP, more], ("a", "b", "tap"), ("a", "c", more.id))
            self.assertFalse([why for why in self.whys(both) if "longer than" in why])

    def test_a_press_that_uses_up_what_would_have_been_held(self) -> None:
        puppet = self.made([PRESS, HOLD], ("a", "b", "press"), ("a", "c", "hold"))
        self.assertIn("a press of attack is used up before hold_attack can come",
                      self.whys(puppet))
        held = run_controls(set_up(puppet, None), controls([(2, 40, "attack")], 60))
        self.assertEqual(entered(held, "c"), [], "and it is so")
        free = self.made([PRESS, replace(HOLD, even_if_used=True)], ("a", "b", "press"),
                         ("a", "c", "hold"))
        self.assertNotIn("a press of attack is used up before hold_attack can come",
                         self.whys(free))

    def test_a_way_back_that_is_taken_at_once(self) -> None:
        puppet = self.made([PRESS], ("a", "b", "press"), ("b", "a", "not press"))
        self.assertTrue([why for why in self.whys(puppet) if "gone as soon" in why])
        run = run_controls(set_up(puppet, None), controls([(2, 30, "attack")], 40))
        self.assertEqual(entered(run, "a"), [entered(run, "b")[0] + 1], "and it is so")
        level = self.made([HELD], ("a", "b", "held"), ("b", "a", "not held"))
        self.assertFalse([why for why in self.whys(level) if "gone as soon" in why])

    def test_names_and_buffers(self) -> None:
        wrong = replace(PRESS, name="tap_attack")
        self.assertIn("its name says tap, and its gesture is press",
                      self.whys(self.made([wrong], ("a", "b", "press"))))
        bare = replace(PRESS, buffer=0.0)
        self.assertTrue([why for why in self.whys(self.made([bare], ("a", "b", "press")))
                         if "buffer is 0" in why])
        self.assertFalse([why for why in self.whys(self.made([bare])) if "buffer is 0" in why])

    def test_a_prop_at_an_anchor_that_its_clip_has_not(self) -> None:
        puppet = self.made([])
        puppet = replace(puppet, anchors=(Anchor("hand", "hand"),), states=(replace(
            puppet.states[0], rules=(Rule("prop", anchor="hand", shows="lamp.png"),)),))
        self.assertIn("it holds a prop at hand, which no frame of its clip has", self.whys(puppet))
