"""A skin: other art for a puppet. What it has not, it takes from the puppet; `core/skins` says
how."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from msgspec import Meta, structs

from .basics.base import Identifier, Name, Value
from .clips import Frame, Point, Sheet, Side
from .events import Moment, Window
from .mover import Mover

OwnPart = Literal["durations", "pivots", "boxes", "anchors", "moments", "windows"]
"""What a skin can have of its own in a clip, beside the cells."""
OWN_PARTS: tuple[OwnPart, ...] = get_args(OwnPart)

LISTENS = ("left", "right", "up", "down", "jump", "across", "along", "goes")
"""What of a mover is wiring, and everyone's."""
NUMBERS = tuple(name for name in Mover.__struct_fields__ if name not in LISTENS)
"""The numbers of a mover, which a skin may have others of."""


class MoverNumber(Value, frozen=True):
    """A number of the mover by its name, as `Mover` has it."""

    name: Identifier
    value: Annotated[float, Meta(ge=-1e9, le=1e9)]


class SkinClip(Value, frozen=True):
    """What a skin has for one `clip` of the puppet.

    Without `frames` it shows the puppet's. Of `own` it has what is said here; the rest of frames
    and clip is the puppet's, whatever stands in the fields: a frame's duration, pivot, boxes and
    anchors, the clip's pivot, moments and windows.
    """

    clip: Identifier
    frames: tuple[Frame, ...] = ()
    faces: Side = "right"
    own: tuple[OwnPart, ...] = ()
    pivot: Point | None = None
    moments: tuple[Moment, ...] = ()
    windows: tuple[Window, ...] = ()


class Skin(Value, frozen=True):
    """Other art for the puppet whose file is called `puppet`.

    Cells of its frames are of its own sheets, or of the puppet's. Ids are unique within `sheets`,
    and a clip of the puppet, or a number of its mover, stands here once.
    """

    format: Literal[1] = 1
    name: Name = "skin"
    puppet: Annotated[str, Meta(max_length=255)] = ""
    sheets: tuple[Sheet, ...] = ()
    clips: tuple[SkinClip, ...] = ()
    numbers: tuple[MoverNumber, ...] = ()

    def clip(self, id: str) -> SkinClip | None:
        """What it has for the clip of this id, or None."""
        return next((each for each in self.clips if each.clip == id), None)


def with_numbers(mover: Mover, numbers: tuple[MoverNumber, ...]) -> Mover:
    """A mover with other numbers; those of no known name are left out."""
    return structs.replace(mover, **{
        each.name: int(each.value) if each.name == "health" else each.value
        for each in numbers if each.name in NUMBERS})
