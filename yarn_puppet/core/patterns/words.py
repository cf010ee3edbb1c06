"""Kinds of movement: one record each.

A kind is added with a record here and a line of words in `words.toml`; matching, and what becomes
of a clip that fills a card, read both.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from ..model.basics.name_words import meanings, plain
from ..model.clips import PlaybackMode
from ..model.kinds.windows import WindowKind


class Movement(NamedTuple):
    """What is known of a kind of movement."""

    name: str
    """What a card says that it waits for. Clips are called so, and as `words.toml` says."""
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
    Movement("idle"),
    Movement("walk"),
    Movement("run"),
    Movement("turn", "once"),
    Movement("rise", "hold last", calls="jump"),
    Movement("fall", "hold last"),
    Movement("land", "once"),
    Movement("hang"),
    Movement("pull up", "once", calls="pull_up", calls_last=True),
    Movement("climb"),
    Movement("slide"),
    Movement("swim"),
    Movement("light", "once", strikes=True, counted=True),
    Movement("heavy", "once", strikes=True),
    Movement("guard", "hold last", window="guard"),
    Movement("guard walk", window="guard"),
    Movement("crouch", "hold last"),
    Movement("roll", "once"),
    Movement("flinch", "once"),
    Movement("thrown", "hold last"),
    Movement("get up", "once"),
    # Known, so that they are taken for nothing else; no pattern waits for them.
    Movement("die", "hold last"),
    Movement("crawl"),
    Movement("shimmy"),
    Movement("wall slide"),
    Movement("throw", "once"),
    Movement("afloat"),
    Movement("air attack", "once", strikes=True),
    Movement("run attack", "once", strikes=True),
    Movement("crouch attack", "once", strikes=True),
)
BY_NAME = {each.name: each for each in MOVEMENTS}


def movement_called(words: str) -> Movement | None:
    """The movement of which a card says that it waits for it, numbers aside; None for words that
    mean none."""
    said = tuple([plain(word) for word in words.split() if not word.isdigit()])
    return next((BY_NAME[name] for meaning in meanings().get(said, ())
                 if (name := meaning.replace("_", " ")) in BY_NAME), None)
