"""The sheets of a puppet as one field: each can be cut again, given another file, and taken out
where no clip is cut from it."""

from __future__ import annotations

from collections.abc import Callable

from ....core.model.clips import Sheet
from ....core.model.edits.entries import removed
from ....core.model.puppet import Puppet
from ...widgets.parts import Field, choice_field

REPLACE, REMOVE = "\0replace", "\0remove"
"""What can be done to the sheet itself: no id begins so."""


def is_used(puppet: Puppet, sheet: str) -> bool:
    """Whether a clip is cut from a sheet."""
    return any(frame.cell.sheet == sheet for clip in puppet.clips for frame in clip.frames)


def without(puppet: Puppet, sheet: str) -> Puppet:
    """Without a sheet, unless a clip is cut from it."""
    return puppet if is_used(puppet, sheet) else removed(puppet, "sheets", sheet)


def sheet_field(puppet: Puppet, sheet: Sheet, act: Callable[[str], None]) -> Field:
    """Another sheet to be cut, or what can be done to this one; `act` is given an id, or
    `REPLACE` or `REMOVE`."""
    offers = [(f"cut {each.name}", each.id) for each in puppet.sheets if each.id != sheet.id]
    offers.append(("another file in its place…", REPLACE))
    if not is_used(puppet, sheet.id):
        offers.append(("remove it: no clip is cut from it", REMOVE))
    return choice_field("", offers, act)
