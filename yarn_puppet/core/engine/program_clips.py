"""What a program holds of clips, and of what states, groups and windows bring: moments, windows,
while-rules, deeds.

Times here are whole numbers of *units*. A tick is `TICK` units at any rate, and a millisecond is
`rate` units, so that frame borders and ticks compare exactly; floats would let a window open a tick
early or late. The rules of a tick are in docs/semantics.md.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from ..model.kinds.moments import MomentKind
from ..model.kinds.while_rules import RuleKind
from ..model.kinds.windows import WindowKind
from ..rules.bind import Tree

TICK = 1000
"""Units in one tick. A millisecond is `rate` units: rate × 1000 units make a second either way."""

NOWHERE = -(1 << 60)
"""The node that is none. A state is its place among the states, a group ~ of its place among the
groups."""


class ProgramHeard(NamedTuple):
    """How a sound is heard. `files` are all it may be, the moment's own first, `chances` their
    weights in thousandths; there is one at least. Volume and pitch are thousandths too, each more
    or less by up to its spread."""

    files: tuple[str, ...]
    chances: tuple[int, ...]
    repeats: bool
    volume: int
    volume_spread: int
    pitch: int
    pitch_spread: int


class ProgramMoment(NamedTuple):
    """A moment of a clip, at `at` units of its cycle.

    `number` is its place among the moments of its kind and name in the clip. The other fields are
    those of the model, for who acts on it; `heard` is that of a sound that is not just its file as
    it is, None of all others.
    """

    id: str
    at: int
    kind: MomentKind
    name: str
    anchor: str | None
    follow: bool
    mirrors: bool
    file: str
    strength: float
    seconds: float
    speed: float
    angle: float
    arguments: tuple[tuple[str, Any], ...]
    only_on_hit: bool
    number: int
    deeds: tuple[ProgramDeed, ...]
    clip: str | None = None
    round: bool = False
    under: bool = False
    heard: ProgramHeard | None = None


FULL = 1_000_000
"""A whole share: shares are counted in millionths."""


class ProgramRule(NamedTuple):
    """A while-rule. `number` is its place among those of its owner.

    Its share grows by `rise` in a tick in which it is in force, and falls by `fall` in one in which
    it is not; `FULL` is all of it at once. `place` is that of the memo or layer it is for; `text`
    the id of a prop's anchor, the name of a box or a colour; `to` what a memo reads as; `shows` a
    prop's picture, `clip` its clip. `when` is the condition that has to hold too, None for none.
    """

    kind: RuleKind
    value: float
    number: int = 0
    rise: int = FULL
    fall: int = FULL
    place: int = -1
    text: str = ""
    to: Any = None
    shows: str = ""
    clip: str | None = None
    round: bool = False
    under: bool = False
    when: Tree | None = None

    @property
    def eased(self) -> bool:
        """Whether it comes or goes over more than a tick."""
        return self.rise < FULL or self.fall < FULL


class ProgramWindow(NamedTuple):
    """A window of a clip, from `start` to before `end` units of its cycle.

    `names` are what `window("…")` may ask for: its name and its kind. `into` holds the ids of the
    nodes it lets in, empty for any. `frame` is the frame it opens on. `held` keeps it open at the
    end of a clip that holds its last frame. `number` is its place among the windows of its kind and
    name.
    """

    id: str
    start: int
    end: int
    kind: WindowKind
    name: str
    names: tuple[str, ...]
    into: tuple[str, ...]
    damage: int
    rules: tuple[ProgramRule, ...]
    frame: int
    held: bool
    push: float
    hit_stop: int
    number: int


class ProgramClip(NamedTuple):
    """One cycle of a clip. `ends[i]` is where part i ends, `frames[i]` the index of the frame it
    shows.

    A clip that plays back and forth has the way back in its cycle, so that playing knows loops and
    ends only. `local[i]` is where part i starts in the clip's own time; `backwards[i]` says that it
    is run in reverse.
    """

    id: str
    cycle: int
    loops: bool
    ends: tuple[int, ...]
    frames: tuple[int, ...]
    local: tuple[int, ...]
    backwards: tuple[bool, ...]
    moments: tuple[ProgramMoment, ...]
    windows: tuple[ProgramWindow, ...]


class ProgramDeed(NamedTuple):
    """Sets the memo at `place` to the value of `value`, or arms or drops the intent at `place`."""

    kind: str
    place: int
    value: Tree | None


class ProgramSpeed(NamedTuple):
    """Clip speed: `fixed`, or where `source` is given, that value's low..high mapped to
    slow..fast."""

    fixed: float
    source: Tree | None = None
    low: float = 0.0
    high: float = 1.0
    slow: float = 1.0
    fast: float = 1.0
