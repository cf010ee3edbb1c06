"""What clips are usually called: one record a kind of movement.

A kind is added with a record here; matching, and what becomes of a clip that fills a card, read
this table.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from ..model.clips import PlaybackMode
from ..model.kinds.windows import WindowKind


class Movement(NamedTuple):
    """What is known of a kind of movement."""

    words: tuple[str, ...]
    """What such clips are called, in any casing and numbering; a name of several words is written
    with spaces. The first is what a card says that it waits for."""
    mode: PlaybackMode = "loop"
    """How such a clip plays."""
    strikes: bool = False
    """Whether it hits something: then it gets a hit window and a cancel window."""
    calls: str = ""
    """The call that it makes, which the mover knows: as it begins, or where it `calls_last` as its
    last frame does."""
    window: WindowKind | Literal[""] = ""
    """The window that is open all the while."""
    calls_last: bool = False
    counted: bool = False
    """Whether there are several, one after the other: *attack 1*, *attack 2*."""


MOVEMENTS: tuple[Movement, ...] = (
    Movement(("idle", "stand", "standing", "wait", "waiting", "rest", "resting", "still",
              "breathe", "breathing", "stance")),
    Movement(("walk", "walking", "stroll", "strolling", "stride", "steps")),
    Movement(("run", "running", "sprint", "sprinting", "jog", "jogging")),
    Movement(("turn", "turning", "turn around", "turnaround", "about face"), "once"),
    Movement(("rise", "rising", "jump", "jumping", "jump up", "jump start", "jump rise", "leap",
              "leaping", "hop", "takeoff", "take off", "ascend"), "hold last", calls="jump"),
    Movement(("fall", "falling", "jump down", "jump fall", "descend", "descending"), "hold last"),
    Movement(("land", "landing", "jump land", "jump end", "touchdown", "touch down"), "once"),
    Movement(("hang", "hanging", "ledge hang", "ledge idle", "ledge grab", "ledge", "grab ledge")),
    Movement(("pull up", "pullup", "pulling up", "climb up", "ledge climb", "ledge up",
              "mantle", "vault"), "once", calls="pull_up", calls_last=True),
    Movement(("climb", "climbing", "ladder", "climb ladder", "ladder climb")),
    Movement(("slide", "sliding", "slide down", "ladder slide")),
    Movement(("swim", "swimming", "paddle")),
    Movement(("light", "attack", "attacking", "light attack", "swing", "light swing", "swinging",
              "slash", "slashing", "chop", "chopping", "punch", "jab", "strike", "striking", "stab",
              "cut", "bite", "melee", "combo", "poke"), "once", strikes=True, counted=True),
    Movement(("heavy", "heavy attack", "heavy swing", "heavy slam", "slam", "smash",
              "strong attack", "power attack", "charge attack", "charged attack", "finisher"),
             "once", strikes=True),
    Movement(("guard", "guarding", "block", "blocking", "shield", "defend", "defending", "parry"),
             "hold last", window="guard"),
    Movement(("guard walk", "block walk", "shield walk", "walk guard", "walk block"),
             window="guard"),
    Movement(("crouch", "crouching", "duck", "ducking", "kneel", "kneeling", "squat"),
             "hold last"),
    Movement(("roll", "rolling", "dodge", "dodging", "dodge roll", "evade", "tumble", "dash"),
             "once"),
    Movement(("flinch", "flinching", "hurt", "hit react", "hit reaction", "damage", "damaged",
              "pain", "stagger", "get hit", "take hit", "hit"), "once"),
    Movement(("thrown", "knockback", "knock back", "knocked back", "knockdown", "knock down",
              "launched"), "hold last"),
    Movement(("get up", "getup", "getting up", "stand up", "standup", "wake up"), "once"),
    # Known, so that they are taken for nothing else; no pattern waits for them.
    Movement(("die", "dying", "death", "dead"), "hold last"),
    Movement(("crawl", "crawling", "crouch walk"),),
    Movement(("shimmy", "shimmying", "ledge walk")),
    Movement(("wall slide", "wall grab", "cling")),
    Movement(("throw", "throwing", "shoot", "shooting", "cast", "casting"), "once"),
    Movement(("afloat", "float", "floating", "swim idle")),
    Movement(("air attack", "jump attack", "attack air"), "once", strikes=True),
    Movement(("run attack", "running attack", "dash attack"), "once", strikes=True),
    Movement(("crouch attack", "crouching attack"), "once", strikes=True),
)
BY_WORDS: dict[tuple[str, ...], Movement] = {
    tuple(words.split()): each for each in MOVEMENTS for words in each.words
}
LONGEST = max(len(words) for words in BY_WORDS)
"""Words of the longest name in the table."""


def movement_called(words: str) -> Movement | None:
    """The movement of which a card says that it waits for it, numbers aside; None for a word that
    is in no record."""
    plain = tuple(word for word in words.casefold().split() if not word.isdigit())
    return BY_WORDS.get(plain)
