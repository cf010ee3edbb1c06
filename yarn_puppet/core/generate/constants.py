"""The words by which handed-off code knows kinds, counted from zero as the tables count them."""

from __future__ import annotations

from ..model.kinds.gestures import GESTURES
from ..model.kinds.while_rules import WHILE_RULES


def _word(kind: str) -> str:
    return kind.upper().replace(" ", "_")


CONSTANTS: tuple[tuple[str, ...], ...] = (
    tuple(map(_word, GESTURES)),
    ("ANY_TIME", "AFTER", "AT_THE_END", "IN_A_WINDOW"),
    ("LINEAR", "EASE_IN", "EASE_OUT", "EASE_IN_AND_OUT"),
    ("A_BOOL", "AN_INT", "A_FLOAT", "A_CHOICE"),
    ("SETS", "ARMS", "DROPS"),
    tuple(map(_word, WHILE_RULES)),
    ("RIGHT", "UP_RIGHT", "UP", "UP_LEFT", "LEFT", "DOWN_LEFT", "DOWN", "DOWN_RIGHT"),
    ("MIRROR", "FOUR", "EIGHT"),
    ("NOTHING", "A_SENSE", "A_MEMO"),
)
"""One tuple a kind."""
