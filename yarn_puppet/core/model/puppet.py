"""One character: clips, graph, wiring."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal, TypeVar

from msgspec import Meta

from .basics.base import Name, Value
from .clips import Anchor, Clip, Sheet
from .graph import BODY, Group, Layer, Spread, State, Transition
from .motions import BoneBox, BoneFile
from .mover import Mover
from .wiring import Action, Axis, Facing, Intent, Memo, Rate, Sense, Threshold

Entry = TypeVar("Entry", Sheet, BoneFile, BoneBox, Anchor, Clip, Spread, Layer, Group, State,
                Transition, Action, Intent, Sense, Memo)

COLLECTIONS = (
    "sheets", "bone_files", "bone_boxes", "anchors", "clips", "spreads", "layers", "groups",
    "states", "transitions", "actions", "intents", "senses", "memos", "thresholds", "axes",
)
"""The fields of a puppet that hold entries with an id."""


class Puppet(Value, frozen=True):
    """A puppet, whole. Ids are unique within each collection, and over states and groups
    together."""

    format: Literal[1] = 1
    name: Name = "new puppet"
    rate: Rate = 60
    sheets: tuple[Sheet, ...] = ()
    bone_files: tuple[BoneFile, ...] = ()
    bone_boxes: tuple[BoneBox, ...] = ()
    anchors: tuple[Anchor, ...] = ()
    clips: tuple[Clip, ...] = ()
    spreads: tuple[Spread, ...] = ()
    layers: tuple[Layer, ...] = (Layer(BODY, "body"),)
    groups: tuple[Group, ...] = ()
    states: tuple[State, ...] = ()
    transitions: tuple[Transition, ...] = ()
    actions: tuple[Action, ...] = ()
    intents: tuple[Intent, ...] = ()
    senses: tuple[Sense, ...] = ()
    memos: tuple[Memo, ...] = ()
    thresholds: tuple[Threshold, ...] = ()
    axes: tuple[Axis, ...] = ()
    facing: Facing = Facing()
    mover: Mover = Mover()
    booth: Annotated[str, Meta(max_length=255)] = ""
    """The file name of the booth it is tried in; empty for the first that ships."""

    @property
    def is_of_bones(self) -> bool:
        """Whether it is built of bones, not of sprites."""
        return bool(self.bone_files)

    @property
    def nodes(self) -> tuple[State | Group, ...]:
        """Groups, then states."""
        return (*self.groups, *self.states)

    @property
    def states_and_groups(self) -> tuple[State | Group, ...]:
        """States, then groups: as they are offered to people."""
        return (*self.states, *self.groups)

    @property
    def values(self) -> tuple[Sense | Memo, ...]:
        """Senses, then memos: what conditions read a value of."""
        return (*self.senses, *self.memos)

    @property
    def named_values(self) -> tuple[Intent | Sense | Memo | Threshold, ...]:
        """Everything that conditions read by name: intents, senses, memos, thresholds."""
        return (*self.intents, *self.senses, *self.memos, *self.thresholds)

    def clip(self, id: str | None) -> Clip | None:
        """The clip of this id, or None."""
        return find(self.clips, id)

    def clips_of(self, state: State) -> tuple[Clip, ...]:
        """The clips a state may play: those of its spread, or its one clip; the first stands for
        all of them."""
        spread = find(self.spreads, state.spread)
        ids = [each.clip for each in spread.clips] if spread else [state.clip]
        return tuple(clip for clip in map(self.clip, ids) if clip is not None)

    def clips_by_state(self) -> Iterator[tuple[State, tuple[Clip, ...]]]:
        """Every state with what `clips_of` finds for it, which searches all clips each time: too
        much for all states together."""
        clips = {clip.id: clip for clip in reversed(self.clips)}
        spreads = {spread.id: spread for spread in reversed(self.spreads)}
        for state in self.states:
            spread = spreads.get(state.spread or "")
            ids = [each.clip for each in spread.clips] if spread else [state.clip or ""]
            yield state, tuple(clips[id] for id in ids if id in clips)

    def state(self, id: str | None) -> State | None:
        """The state of this id, or None."""
        return find(self.states, id)

    def group(self, id: str | None) -> Group | None:
        """The group of this id, or None."""
        return find(self.groups, id)

    def node(self, id: str | None) -> State | Group | None:
        """The state or group of this id, or None."""
        return self.state(id) or self.group(id)

    def transition(self, id: str | None) -> Transition | None:
        """The transition of this id, or None."""
        return find(self.transitions, id)

    def transitions_of(self, source: str) -> tuple[Transition, ...]:
        """The transitions of one state or group, in the order in which they are tried."""
        return tuple(transition for transition in self.transitions if transition.source == source)

    def groups_around(self, node: State | Group) -> Iterator[Group]:
        """The groups that hold `node`, from the inside out."""
        anywhere, seen = self.anywhere(node.layer), set()
        at: State | Group = node
        while at is not anywhere:
            around = self.group(at.group) or anywhere
            if around is None or around.id in seen:
                return
            seen.add(around.id)
            yield around
            at = around

    def anywhere(self, layer: str) -> Group | None:
        """The group that is around all of a layer, or None."""
        return next((each for each in self.groups if each.anywhere and each.layer == layer), None)

    def held_by(self, group: str) -> tuple[State | Group, ...]:
        """What is in a group and in none inside it: groups, then states."""
        return tuple(node for node in self.nodes
                     if next((each.id for each in self.groups_around(node)), None) == group)

    def states_inside(self, group: str) -> tuple[State, ...]:
        """Every state in a group, those of inner groups too."""
        return tuple(state for state in self.states
                     if any(each.id == group for each in self.groups_around(state)))

    def window_names(self) -> tuple[str, ...]:
        """The names of all windows of all clips, each once, in order of appearance."""
        return tuple(dict.fromkeys(window.name for clip in self.clips for window in clip.windows))


def find(entries: Iterable[Entry], id: str | None) -> Entry | None:
    """The entry of this id, or None."""
    return next((entry for entry in entries if entry.id == id), None)
