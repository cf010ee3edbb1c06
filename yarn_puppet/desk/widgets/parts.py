"""What a sentence is made of: words, and tokens that are fields themselves."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TypeVar, cast

from PyQt6.QtGui import QColor

from ...core.model.basics.base import LONGEST_NAME
from . import theme


@dataclass(frozen=True)
class Suggestion:
    """Something that can be picked: what is shown, what it stands for, and a quiet remark."""

    label: str
    value: str
    remark: str = ""
    finishes: bool = True
    """Whether picking it is the whole answer; otherwise it is typed in, and typing goes on."""


@dataclass(frozen=True)
class Field:
    """How a token is edited.

    `check` gives what is wrong with a typed text, or None; `commit` is called with a text that
    passed. Where `free` is False only suggestions can be chosen. `step` makes the arrow keys count
    a number up and down.
    """

    value: str
    commit: Callable[[str], None]
    suggestions: tuple[Suggestion, ...] = ()
    free: bool = True
    check: Callable[[str], str | None] = lambda text: None
    step: float | None = None
    hint: str = ""
    longest: int = 4000
    """Characters that can be typed."""
    offers: Callable[[], tuple[Suggestion, ...]] | None = None
    """Gives the suggestions when the editor opens, where there are many: a sentence is made far
    more often."""

    @property
    def offered(self) -> tuple[Suggestion, ...]:
        """What can be picked."""
        return self.suggestions if self.offers is None else self.offers()


@dataclass(frozen=True)
class Word:
    """Plain text of a sentence; `strong` for what the sentence is about, in a colour of its own
    where it has one."""

    text: str
    strong: bool = False
    color: QColor | None = None


@dataclass(frozen=True)
class Token:
    """A coloured field in a sentence: with `field` a click edits it, with `action` a click does
    it."""

    text: str
    color: QColor = field(default_factory=lambda: theme.INDIGO)
    field: Field | None = None
    action: Callable[[], None] | None = None
    filled: bool = False
    quiet: bool = False
    tip: str = ""
    name: str = ""
    """What tests and assistive tools call it; the text where it is empty."""
    lit: Callable[[], bool | None] | None = None
    """Whether what it says holds now, None where that is not known: shown by a mark, and said in
    its tip."""


Part = Word | Token
Chosen = TypeVar("Chosen", bound=str)


def number_field(
    value: float,
    commit: Callable[[float], None],
    low: float,
    high: float,
    step: float,
    hint: str = "",
) -> Field:
    """A field for a number between two bounds."""

    def check(text: str) -> str | None:
        try:
            number = float(text.replace(",", "."))
        except ValueError:
            return "expected a number"
        return None if low <= number <= high else f"expected {low:g} to {high:g}"

    return Field(
        f"{value:g}", lambda text: commit(float(text.replace(",", "."))), check=check, step=step,
        hint=hint or f"{low:g} to {high:g}; the arrow keys step",
    )


def ticks_field(
    ticks: int, seconds: float, commit: Callable[[int, float], None], most: int, hint: str
) -> Field:
    """A field for a time that is counted in ticks, or given in seconds ("3", "0.05 s", "50 ms"):
    `commit` is given the ticks, and the seconds or zero."""

    def read(text: str) -> tuple[int, float]:
        plain = text.strip().lower().replace(",", ".")
        for unit, share in (("ms", 0.001), ("seconds", 1.0), ("s", 1.0)):
            if plain.endswith(unit) and not plain.endswith("ticks"):
                return ticks, float(plain.removesuffix(unit)) * share
        number = float(plain.removesuffix("ticks").removesuffix("tick"))
        if number != int(number):
            raise ValueError
        return int(number), 0.0

    def check(text: str) -> str | None:
        try:
            counted, given = read(text)
        except (ValueError, OverflowError):
            return "expected whole ticks, or seconds as 0.05 s"
        return (
            None
            if 0 <= counted <= most and 0 <= given <= 10
            else f"expected 0 to {most} ticks, or up to 10 s"
        )

    return Field(ticks_text(ticks, seconds), lambda text: commit(*read(text)), check=check,
                 hint=f"{hint}; ticks, or seconds as 0.05 s, which are as long at any rate")


def ticks_text(ticks: int, seconds: float) -> str:
    """Such a time in words."""
    return (
        f"{seconds:.9f}".rstrip("0").rstrip(".") + " s"
        if seconds > 0
        else f"{ticks} tick{'s' * (ticks != 1)}"
    )


def name_field(value: str, commit: Callable[[str], None], hint: str = "a name") -> Field:
    """A field for a name of people's choosing."""
    return Field(
        value, lambda text: commit(text.strip()),
        check=lambda text: None if text.strip() else "expected a name", hint=hint,
        longest=LONGEST_NAME,
    )


def many_field(
    options: Callable[[], list[tuple[str, str]]], commit: Callable[[str], None], hint: str = ""
) -> Field:
    """A field for one of many (label, value) options, which are worked out when it is opened."""
    return Field("", commit, free=False, hint=hint, offers=lambda: tuple(
        [Suggestion(text, each) for text, each in options()]))


def choice_field(
    value: str, options: Sequence[tuple[str, Chosen]], commit: Callable[[Chosen], None],
    hint: str = "",
) -> Field:
    """A field for one of (label, value) options."""
    label = next((label for label, each in options if each == value), value)
    # What is picked is one of the options: the popup knows it as text only.
    picked = cast("Callable[[str], None]", commit)
    return Field(label, picked, tuple(Suggestion(text, each) for text, each in options),
                 free=False, hint=hint)


def shared_name_field(
    value: str, known: tuple[str, ...], commit: Callable[[str], None], seen: tuple[str, ...] = ()
) -> Field:
    """A field for a name that others may have too: one that exists is picked; only a new one is
    typed.

    `seen` are the places where it is seen now, in words.
    """
    places = (f"; {value} is seen in "
              f"{', '.join(seen[:4])}{f' and {len(seen) - 4} more' if len(seen) > 4 else ''}")
    return Field(
        value, lambda text: commit(text.strip()), tuple(Suggestion(name, name) for name in known),
        check=lambda text: None if text.strip() else "expected a name",
        hint=f"pick one, or type a new name{places if seen else ''}", longest=LONGEST_NAME,
    )
