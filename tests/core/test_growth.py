"""What grows, grows linearly. Lines that are run are counted, not seconds, so that it holds on any
machine; seconds are measured in `bench/growth.py`."""

from __future__ import annotations

import sys
from collections.abc import Callable
from types import FrameType
from typing import Any, NamedTuple

from msgspec.structs import replace

from bench.large import large_puppet
from tests.depth import EVERY_CASE
from tests.helpers import Case
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.formats.puppet_file import checked, puppet_bytes, puppet_from
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.languages.table import LANGUAGES
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import Skin, SkinClip
from yarn_puppet.core.patterns.keeping import pattern_of
from yarn_puppet.core.patterns.offering import fitting
from yarn_puppet.core.rules.clashes import clashes
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.needs import needs_of
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.rules.renames import windows_renamed
from yarn_puppet.core.rules.uses import uses_of
from yarn_puppet.core.skins.dressing import dressed
from yarn_puppet.core.skins.undressing import undressed
from yarn_puppet.core.skins.wardrobe import wardrobe
from yarn_puppet.core.snags.check import CHECKS
from yarn_puppet.core.snags.crossings import Crossings
from yarn_puppet.core.versions.differing import puppets_differ
from yarn_puppet.core.versions.merging import merged

TIMES = 4
"""How many times as many states the larger puppet has."""
SLACK = 1.05


class Sized(NamedTuple):
    """A puppet of some size, and what the works below begin with."""

    puppet: Puppet
    program: Program
    renamed: Puppet
    parcel: Puppet
    skin: Skin
    raw: bytes


def sized(states: int) -> Sized:
    """A puppet of that many states; one whose states are called otherwise; all of it as copied,
    each clip another; a skin that has frames for each clip."""
    puppet = large_puppet(states)
    renamed = replace(puppet, states=tuple(
        replace(state, name=f"{state.name} again") for state in puppet.states))
    other = replace(puppet, clips=tuple(
        replace(clip, frames=tuple(replace(frame, duration=frame.duration + 1)
                                   for frame in clip.frames)) for clip in puppet.clips))
    return Sized(puppet, compile_puppet(puppet), renamed,
                 parcel_of(other, {state.id for state in other.states}).puppet,
                 Skin(clips=tuple(SkinClip(clip.id, clip.frames) for clip in puppet.clips)),
                 puppet_bytes(puppet))


def _compiled_again(on: Sized) -> Program:
    """Every condition is another one, or they would be known from before."""
    return compile_puppet(replace(on.puppet, transitions=tuple(
        replace(each, when=f"{each.when or 'grounded'} and elapsed > 0.125")
        for each in on.puppet.transitions)))


def _ways(on: Sized) -> list[Any]:
    crossings = Crossings(on.program)
    return [crossings.ways(state.id) for state in on.puppet.states]


WORKS: dict[str, Callable[[Sized], object]] = {
    "compile": _compiled_again,
    "write": lambda on: puppet_bytes(on.puppet),
    "read": lambda on: puppet_from(on.raw),
    "checked": lambda on: checked(on.puppet, "file"),
    "uses": lambda on: uses_of(on.puppet),
    "needs": lambda on: needs_of(on.puppet),
    "crossings": _ways,
    "copy": lambda on: parcel_of(on.puppet, {state.id for state in on.puppet.states}),
    "clashes": lambda on: clashes(on.puppet, on.parcel),
    "paste": lambda on: pasted(on.puppet, on.parcel, "body"),
    "paste, keeping both": lambda on: pasted(
        on.puppet, on.parcel, "body", {("clips", clip.id): "both" for clip in on.parcel.clips}),
    "diff": lambda on: puppets_differ(on.puppet, on.renamed),
    "merge": lambda on: merged(on.puppet, on.renamed, replace(on.puppet, name="other")),
    "keep a pattern": lambda on: pattern_of(on.puppet, "pattern"),
    "patterns that fit": lambda on: fitting(on.puppet, {"large": pattern_of(on.puppet, "large")}),
    "dress": lambda on: dressed(on.puppet, on.skin),
    "undress": lambda on: undressed(on.puppet, on.skin, dressed(on.puppet, on.skin),
                                    dressed(on.renamed, on.skin)),
    "skins together": lambda on: wardrobe(on.puppet, [on.skin]),
    "rename windows": lambda on: windows_renamed(on.puppet, {"pole": "poles"}),
    "add a state": lambda on: edits.state_added(on.puppet, "New", "c0", None),
    "remove a state": lambda on: edits.state_removed(on.puppet, "s3"),
    "change a condition": lambda on: edits.transition_changed(
        on.puppet, on.puppet.transitions[5].id, when="speed > 3"),
} | {f"check: {check.__name__}": lambda on, check=check: list(check(on.puppet, on.program))
     for check in CHECKS}


def lines_run(work: Callable[[], object]) -> int:
    """How many lines of Python a piece of work runs."""
    count = 0

    def counted(frame: FrameType, event: str, argument: object) -> Any:
        nonlocal count
        count += event == "line"
        return counted

    before = sys.gettrace()
    sys.settrace(counted)
    try:
        work()
    finally:
        sys.settrace(before)
    return count


class Growth(Case):
    def test_four_times_the_states_are_no_more_than_four_times_the_work(self) -> None:
        states = 40 if EVERY_CASE else 20
        few, many = sized(states), sized(states * TIMES)
        for name, work in WORKS.items():
            with self.subTest(name):
                first = lines_run(lambda work=work: work(few))
                self.assertLess(lines_run(lambda work=work: work(many)), TIMES * SLACK * first)

    def test_code_in_every_language_grows_so_too(self) -> None:
        few, many = large_puppet(10), large_puppet(10 * TIMES)
        for language in LANGUAGES:
            with self.subTest(language):
                first = lines_run(lambda language=language: hand_off(few, [language], "made"))
                self.assertLess(
                    lines_run(lambda language=language: hand_off(many, [language], "made")),
                    TIMES * SLACK * first)

    def test_what_searches_everything_for_everything_is_found(self) -> None:
        few, many = (large_puppet(states) for states in (60, 60 * TIMES))
        self.assertGreater(
            lines_run(lambda: [many.clips_of(state) for state in many.states]),
            TIMES * SLACK * lines_run(lambda: [few.clips_of(state) for state in few.states]))
