"""Promises: statements that must hold on a take. docs/takes.md says exactly when each is kept."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Fraction, Scalar, Value
from .kinds.promises import PromiseKind

HappeningKind = Literal["state", "intent", "window", "moment", "sense", "always"]
Ticks = Annotated[int, Meta(ge=0, le=1_000_000)]


class Happening(Value, frozen=True):
    """Something that is so in some ticks: a state or group is active, an intent is armed, a
    window is open, a moment fires, a sense is true. `id` is the name of a window or a moment, and
    the id of any other. What is so `always` has the id "always"."""

    kind: HappeningKind
    id: Annotated[str, Meta(min_length=1, max_length=200)]


class Promise(Value, frozen=True):
    """A statement about a take.

    - `then`: whenever `first` begins, `other` is so within `ticks`.
    - `never`: `first` is never so while `other` is.
    - `hits`: `first` hits `target`, a dummy by name, `times` times.
    - `after`: when `first` ends, the sense, memo or while-rule `value` is `to` within `ticks`.
    - `lasts`: `first` lasts at most `ticks`.
    - `jumps`: while `first` is so no bone goes further than `centimetres` from one tick to the
      next, where the puppet stands being no part of it.
    - `can`: from `first` there is always some way to play to `other` within `ticks`.
    """

    kind: PromiseKind
    first: Happening
    other: Happening | None = None
    ticks: Ticks = 0
    times: Ticks = 1
    target: Annotated[str, Meta(max_length=200)] = ""
    value: Annotated[str, Meta(max_length=200)] = ""
    to: Scalar | None = None
    centimetres: Fraction = 4.0
