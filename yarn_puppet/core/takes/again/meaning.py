"""What the parts of a compiled puppet come to, over ids: equal in two programs where they do the
same.

A program says most things by their places in it, and places shift: with a state put in front of the
others, every transition leads to another number and to the same state. Here each place is its id
again, and each clip comes with what is drawn and hit by it, which the program leaves to the world.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...engine.program import ProgramGroup, ProgramState, ProgramTransition
from ...engine.program_clips import NOWHERE, ProgramClip, ProgramDeed, ProgramMoment, ProgramRule
from ...model.clips import Clip
from ...rules.bind import Tree
from ..run import Setup


class Meaning:
    """The parts of one program over ids. Nothing is forgotten by being new: what has no entry in
    the table of kinds is told field by field."""

    def __init__(self, setup: Setup) -> None:
        program = setup.program
        self.program = program
        self.clips = {clip.id: clip for clip in setup.puppet.clips}
        self.intent_ids = [intent.id for intent in program.intents]
        self.group_ids = [group.id for group in program.groups]
        self.state_ids = [state.id for state in program.states]
        self._known: dict[int, tuple[Any, Any]] = {}
        """By identity what was told already, with the part itself, which must live as long."""

    def of(self, part: Any) -> Any:
        """A part of the program, over ids."""
        if not isinstance(part, tuple) or not part:
            return part
        known = self._known.get(id(part))
        if known is None:
            tell: Callable[[Meaning, Any], Any] = KINDS.get(type(part), Meaning._fields)
            known = self._known[id(part)] = part, tell(self, part)
        return known[1]

    def _fields(self, part: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple([self.of(each) for each in part])

    def _tree(self, tree: Tree) -> Any:
        value = self.intent_ids[int(tree.value or 0)] if tree.operator == "intent" else tree.value
        return tree.operator, value, self._fields(tree.operands), tree.type

    def _deed(self, deed: ProgramDeed) -> Any:
        # What a deed sets is a memo, and memos that differ touch every tick.
        place: Any = deed.place if deed.kind == "set" else self.intent_ids[deed.place]
        return deed.kind, place, self.of(deed.value)

    def _clip(self, clip: ProgramClip) -> Any:
        return self._fields(clip), self._drawn(clip.id, frozenset())

    def _shows_clip(self, part: ProgramMoment | ProgramRule) -> Any:
        return self._fields(part), self._drawn(part.clip, frozenset())

    def _drawn(self, id: str | None, seen: frozenset[str]) -> Any:
        """A clip as it was made, and those that its moments and while-rules show."""
        clip = self.clips.get(id or "")
        if clip is None or clip.id in seen:
            return None
        return clip, tuple([self._drawn(each, seen | {clip.id}) for each in _shown_by(clip)])

    def _transition(self, each: ProgramTransition) -> Any:
        rest = each._replace(source=0, target=0)
        return self._node_id(each.source), self._node_id(each.target), self._fields(rest)

    def _node(self, node: ProgramState | ProgramGroup) -> Any:
        groups = [self.group_ids[place] for place in node.groups]
        if isinstance(node, ProgramState):
            return groups, self._fields(node._replace(groups=()))
        rest = node._replace(groups=(), start=0, memory=0)
        return groups, self._node_id(node.start), node.memory >= 0, self._fields(rest)

    def _node_id(self, node: int) -> str | None:
        if node == NOWHERE:
            return None
        return self.state_ids[node] if node >= 0 else self.group_ids[~node]


KINDS: dict[type, Callable[[Meaning, Any], Any]] = {
    Tree: Meaning._tree, ProgramDeed: Meaning._deed, ProgramClip: Meaning._clip,
    ProgramMoment: Meaning._shows_clip,
    ProgramRule: Meaning._shows_clip, ProgramTransition: Meaning._transition,
    ProgramState: Meaning._node,
    ProgramGroup: Meaning._node,
}


def _shown_by(clip: Clip) -> list[str]:
    found = [moment.clip for moment in clip.moments]
    found += [rule.clip for window in clip.windows for rule in window.rules]
    return [each for each in found if each is not None]
