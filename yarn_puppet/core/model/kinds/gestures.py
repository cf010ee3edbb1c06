"""The gestures: what a player does with an action to arm an intent. One record each.

To add one: a record here, when it is complete in `engine/plain/controls.py`, and the same in the
runtimes of C and JavaScript. Everything else reads this table; `docs/architecture.md` walks through
it.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

Gesture = Literal["press", "release", "tap", "hold", "double tap", "held", "sequence", "both",
                  "repeat"]


class GestureTraits(NamedTuple):
    """What is known of a gesture."""

    time_word: str = ""
    """What stands before its threshold in a sentence, as in "tap attack *under* 0.25 s"; empty
    where it has none."""
    of_the_press: bool = True
    """Whether it competes for the physical press: a press that one of these used up arms no
    other."""
    is_level: bool = False
    """Whether it is read off the action itself: it is never armed or used up, and has no buffer."""
    others: Literal["none", "one", "some"] = "none"
    """How many actions it has beside its own."""
    joined_by: str = ""
    """The word between its actions."""
    completes_held: Literal["never", "once", "again and again"] = "never"
    """Whether it may be complete in a tick in which nothing is pressed or let go: once, when its
    threshold has passed since the press, or again and again."""
    is_second_press: bool = False
    """Whether it is made of two presses, the first of which must not be used up by another
    transition."""
    is_instant: bool = False
    """Whether nothing of it depends on when an action came up, or on how long it was down."""
    quickest: tuple[bool, ...] = (True,)
    """What the quickest hand does, a tick apart: down and up. A length that a press must have is
    waited for before it comes up, or at the end."""
    measures: Literal["", "length under", "length from", "time between", "time apart"] = ""
    """What of the last presses is compared with the threshold: how long each was, how long after
    the one before it began, how far from the other action's it began."""
    minds_long_presses: bool = True
    """Whether a press that lasts is something to it."""
    names: tuple[str, ...] = ()
    """What the names of intents begin with that say that they are of it."""
    why_never: str = ""
    """What is wrong with a threshold of 0 s; empty where nothing is."""
    fix: str = ""

    @property
    def must_last(self) -> bool:
        """Whether its threshold is how long a press must be at the least. Taps of the same action
        are shorter than the least of these."""
        return self.measures == "length from"

    @property
    def repeats(self) -> bool:
        """Whether it is complete again and again while its action is down."""
        return self.completes_held == "again and again"

    @property
    def comes_late(self) -> bool:
        """Whether it is made of a press of its action, and armed after it at the earliest."""
        return self.of_the_press and not self.is_instant and self.others == "none"

    @property
    def can_be_kept_down(self) -> bool:
        """Whether all of it is to press once, and to let go of nothing."""
        return self.quickest == (True,) and self.others == "none" and not self.repeats


GESTURES: dict[Gesture, GestureTraits] = {
    "press": GestureTraits(is_instant=True, names=("press", "pressed")),
    "release": GestureTraits(of_the_press=False, quickest=(True, False),
                             names=("release", "released")),
    "tap": GestureTraits(
        "under", quickest=(True, False), measures="length under", minds_long_presses=False,
        names=("tap", "tapped"),
        why_never="it never arms: a limit of 0 s can never be met", fix="give it more than 0 s"),
    "hold": GestureTraits(
        "for", completes_held="once", measures="length from", names=("hold",),
        why_never="every press is held for 0 s: it arms as a press does",
        fix="give it more than 0 s, or make it a press"),
    "double tap": GestureTraits(
        "within", is_second_press=True, quickest=(True, False, True), measures="time between",
        minds_long_presses=False, names=("double",),
        why_never="it never arms: a limit of 0 s can never be met", fix="give it more than 0 s"),
    "both": GestureTraits("within", others="one", joined_by="and", is_instant=True,
                          measures="time apart", minds_long_presses=False),
    "repeat": GestureTraits("every", of_the_press=False, completes_held="again and again"),
    "sequence": GestureTraits(
        "all within", others="some", joined_by="then",
        why_never="its presses would all have to come in one tick", fix="give it more than 0 s"),
    "held": GestureTraits(of_the_press=False, is_level=True, is_instant=True, names=("held",)),
}
"""By gesture, in the order in which handed-off code counts them."""
