"""What every value of the model shares."""

from __future__ import annotations

from typing import Annotated

import msgspec


class Value(msgspec.Struct, frozen=True, forbid_unknown_fields=True, gc=False):
    """An immutable value of the model. It can hold no circle, so the collector need not look at it.

    Equal values compare and hash equal. A file with a field nobody knows is refused, so that a
    misspelt key is never silently dropped.
    """


Identifier = Annotated[str, msgspec.Meta(pattern=r"^[A-Za-z_][A-Za-z0-9_]*$", max_length=120)]
"""A stable id: a Python identifier, because conditions are stored over ids."""

LONGEST_NAME = 200
"""Characters of a name."""

NO_NUL = r"^[^\x00]*$"
"""What the text of a path must fit: no system has a file with NUL in its name."""

Name = Annotated[str, msgspec.Meta(min_length=1, max_length=LONGEST_NAME)]
"""A name for people; any text, and free to change."""

Positive = Annotated[float, msgspec.Meta(gt=0, le=1e9)]
"""A finite number above zero."""

Fraction = Annotated[float, msgspec.Meta(ge=0, le=1e9)]
"""A finite number of zero or more."""

Number = Annotated[float, msgspec.Meta(ge=-1e9, le=1e9)]
"""A finite number."""

Pixel = Annotated[int, msgspec.Meta(ge=0, le=1 << 20)]
"""A whole number of pixels of a picture."""

def tidy(number: float) -> float:
    """A thousandth is fine enough for pixels and milliseconds; the noise of a sum should not reach
    the file."""
    return round(number, 3)



Scalar = bool | int | float | str
"""What a sense, a memo or an argument can hold."""
