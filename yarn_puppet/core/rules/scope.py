"""The names a condition may use, and the error that says which were meant."""

from __future__ import annotations

import difflib
from collections.abc import Collection
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, NamedTuple

from ..model.basics.words import LANGUAGE, word_of
from ..model.kinds.windows import WINDOW_WORDS
from .tree import Symbol

if TYPE_CHECKING:
    from ..model.puppet import Puppet

FACINGS = ("left", "right", "up", "down", "up left", "up right", "down left", "down right")

BUILT_IN = {
    symbol.name: symbol
    for symbol in (
        Symbol("built-in", "done", "done", "bool"),
        Symbol("built-in", "elapsed", "elapsed", "float"),
        Symbol("built-in", "clip_time", "clip_time", "float"),
        Symbol("built-in", "loops", "loops", "int"),
        Symbol("built-in", "facing", "facing", "choice", FACINGS),
    )
}
"""Values the engine itself gives: `elapsed` and `clip_time` in seconds, `loops` counted since
entering."""

FUNCTIONS = {"abs": (1, 1), "sign": (1, 1), "min": (2, 8), "max": (2, 8), "clamp": (3, 3)}
"""Functions of numbers, with the least and greatest count of arguments. `clamp(value, low,
high)`."""

QUERIES = ("window", "in_state")

assert {*BUILT_IN, *FUNCTIONS,
        *QUERIES} <= LANGUAGE, "the words that names may not be are listed in the model"


class Near(NamedTuple):
    """A name that is not known, and those that are. Which of them is most like it is looked for
    when it is told: among a thousand names that takes as long as compiling all of a puppet."""

    word: str
    known: Collection[str]

    @property
    def nearest(self) -> str | None:
        """The known name most like it, or None where none is (by `difflib`'s ratio of matching
        letters)."""
        by_folded = {name.lower(): name for name in self.known}
        close = difflib.get_close_matches(self.word.lower(), by_folded, n=1, cutoff=0.5)
        return by_folded[close[0]] if close else None

    @property
    def hint(self) -> str:
        """The same as the end of a sentence."""
        nearest = self.nearest
        return f"; did you mean {nearest}?" if nearest else ""


class ConditionError(ValueError):
    """A condition that cannot be used. `column` counts characters from 0; `near` is a name in it
    that is not known."""

    def __init__(self, column: int, expected: str, near: Near | None = None) -> None:
        self.column = column
        self.expected = expected
        self.near = near
        super().__init__(column, expected)

    @property
    def nearest(self) -> str | None:
        """The known name that may have been meant."""
        return self.near.nearest if self.near is not None else None

    @property
    def words(self) -> str:
        """What is wrong, without the name that may have been meant."""
        return f"column {self.column + 1}: {self.expected}"

    def __str__(self) -> str:
        return self.words + (self.near.hint if self.near is not None else "")


@dataclass(frozen=True)
class Scope:
    """Symbols by the word that stands for them in the text, and what the two queries may name.

    `windows` and `nodes` map the word in the text to the one it is translated to; in a scope by id
    both are ids. With `any_window` a window may be asked for that no clip has: it is never open;
    with `any_node` a state or group that is not there, as in what was copied without it.
    """

    symbols: dict[str, Symbol]
    windows: dict[str, str] = field(default_factory=dict)
    nodes: dict[str, str] = field(default_factory=dict)
    any_window: bool = False
    any_node: bool = False


def scope_by_id(puppet: Puppet) -> Scope:
    """The names of a stored condition: ids. The last clip with a window may be gone since it was
    written."""
    return Scope(
        {symbol.id: symbol for symbol in symbols_of(puppet)},
        {name: name for name in window_names(puppet)},
        {node.id: node.id for node in puppet.nodes}, any_window=True,
    )


def scope_by_name(puppet: Puppet) -> Scope:
    """The names of a condition as people write it. Of two of one name the first is meant, the
    built-in before all."""
    return Scope(
        {word_of(symbol.name): symbol for symbol in reversed(symbols_of(puppet))},
        {name: name for name in window_names(puppet)},
        {node.name: node.id for node in reversed(puppet.nodes)},
    )


def window_names(puppet: Puppet) -> tuple[str, ...]:
    """What `window("…")` can name: the kinds of windows, then the puppet's own windows."""
    own = dict.fromkeys(window.name for clip in puppet.clips for window in clip.windows)
    return tuple(dict.fromkeys((*WINDOW_WORDS, *own)))


def symbols_of(puppet: Puppet) -> list[Symbol]:
    """Every symbol a condition of this puppet can read, the built-in ones first."""
    symbols = list(BUILT_IN.values())
    symbols += [Symbol("intent", intent.id, intent.name, "bool") for intent in puppet.intents]
    symbols += [Symbol("sense", sense.id, sense.name, sense.type, sense.choices)
                for sense in puppet.senses]
    symbols += [Symbol("memo", memo.id, memo.name, memo.type, memo.choices)
                for memo in puppet.memos]
    symbols += [Symbol("threshold", threshold.id, threshold.name, "bool")
                for threshold in puppet.thresholds]
    return symbols
