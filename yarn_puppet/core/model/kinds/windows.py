"""The windows: what is open from one time of a clip to another. One record each."""

from __future__ import annotations

from typing import Literal, NamedTuple

Dye = Literal["madder", "indigo", "woad", "weld", "moss", "plum", "clay", "faint"]
"""A colour of the window's palette."""
WindowKind = Literal["hit", "cancel", "guard", "safe", "named"]


class WindowTraits(NamedTuple):
    """What is known of a kind of window."""

    lane: str
    """The lane it stands on under a clip."""
    dye: Dye
    is_word: bool = True
    """Whether conditions can ask for any window of its kind, by the kind's word."""
    has_blow: bool = False
    """Whether it deals damage, pushes and holds."""
    lets_in: bool = False
    """Whether it can be kept to some states and groups."""
    makes_safe: bool = False
    """Whether nothing can hit the puppet while it is open."""


WINDOW_LANES: dict[str, WindowKind] = {"hit window": "hit", "cancel window": "cancel",
                                       "other windows": "guard"}
"""The lanes under a clip, from above, and what a drag on each makes."""
WINDOWS: dict[WindowKind, WindowTraits] = {
    "hit": WindowTraits("hit window", "madder", has_blow=True),
    "cancel": WindowTraits("cancel window", "indigo", lets_in=True),
    "guard": WindowTraits("other windows", "indigo"),
    "safe": WindowTraits("other windows", "woad", makes_safe=True),
    "named": WindowTraits("other windows", "faint", is_word=False),
}
"""By kind, in the order in which handed-off code counts them."""
WINDOW_WORDS = tuple(kind for kind, each in WINDOWS.items() if each.is_word)
"""What conditions call every window of a kind."""
