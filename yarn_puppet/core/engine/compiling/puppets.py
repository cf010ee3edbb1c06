"""Compiles a puppet into a program, once or again after an edit."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from ...model.kinds.while_rules import WHILE_RULES
from ...model.kinds.windows import WINDOW_WORDS
from ...rules.bind import Key, Tree
from ...rules.scope import Near
from ...rules.tree import Type
from ..program import (
    Exits,
    Problem,
    Program,
    ProgramGroup,
    ProgramLayer,
    ProgramState,
)
from ..program_clips import NOWHERE, ProgramClip, ProgramRule
from .clip_tables import compile_clip
from .collecting import collector_held
from .conditions import Conditions, Known, QueryKey
from .nodes import Nodes
from .rules_and_deeds import RulesAndDeeds, share_step
from .states import KeptStates, States
from .transitions import NO_EXITS, KeptTransitions, Transitions
from .wiring import Wiring, by_action

if TYPE_CHECKING:
    from ...model.clips import Clip
    from ...model.puppet import Puppet

READ_EVERYWHERE = ("intents", "senses", "memos", "thresholds", "layers", "anchors")
"""What nearly everything else is compiled by, and is seldom edited."""


class Reusable(NamedTuple):
    """What the next compiling takes over where it still holds: by entry of the puppet, and by text
    of a condition."""

    puppet: Puppet
    nodes: Nodes
    windows: frozenset[str]
    conditions: dict[tuple[str, Type], Known]
    clips: dict[int, tuple[Any, ProgramClip]]
    transitions: KeptTransitions
    states: KeptStates


def compile_puppet(puppet: Puppet, before: Program | None = None) -> Program:
    """The program of a puppet. What cannot be used is left out and listed in `problems`; nothing is
    raised.

    A transition whose condition cannot be read never holds; one that cannot be taken is not among
    the exits. With the program of an earlier puppet only what differs is compiled; the result is
    the same.
    """
    for known, program in _last:
        if known is puppet:
            return program
    with collector_held():
        program = _Compiler(puppet, before).program()
    # In one step: others may be looking.
    _last[:] = [(puppet, program), *_last[:1]]
    return program


_last: list[tuple[Puppet, Program]] = []
"""The puppets that were compiled last, by identity: several views ask for the same one after an
edit."""


class _Compiler:
    def __init__(self, puppet: Puppet, before: Program | None) -> None:
        self.puppet = puppet
        self.problems: list[Problem] = []
        self.clips_before = before.clips if before is not None else {}
        self.kept = self._still_kept(before.kept if before is not None else None)
        kept = self.kept
        same_nodes = kept is not None and all(
            getattr(kept.puppet, field) is getattr(puppet, field)
            for field in ("states", "groups", "layers")
        )
        self.nodes = kept.nodes if kept is not None and same_nodes else Nodes(puppet)
        self.places: dict[Key, int] = {("in_state", id): ref for id, ref in self.nodes.refs.items()}
        wiring: tuple[tuple[str, tuple[Any, ...]], ...] = (
            ("action", puppet.actions), ("intent", puppet.intents), ("sense", puppet.senses),
            ("memo", puppet.memos),
            ("threshold", puppet.thresholds),
        )
        for kind, entries in wiring:
            self.places |= {(kind, each.id): index for index, each in enumerate(entries)}
        if kept is not None and kept.puppet.clips is puppet.clips:
            self.windows = kept.windows
        else:
            self.windows = frozenset((*WINDOW_WORDS,
                                      *[window.name for clip in puppet.clips
                                        for window in clip.windows]))
        self.moved: frozenset[str] = frozenset()
        changed: frozenset[QueryKey] = frozenset()
        if kept is not None:
            self.moved = self.nodes.moved_since(kept.nodes)
            renamed = self.nodes.renamed_since(kept.nodes)
            changed = frozenset(("in_state", id) for id in self.moved | renamed) | frozenset(
                ("window", name) for name in self.windows ^ kept.windows
            )
        self.conditions = Conditions(puppet, self.places, kept.conditions if kept else {}, changed,
                                     kept is not None and same_nodes
                                     and kept.windows == self.windows)
        self.brought = RulesAndDeeds(puppet, self.conditions, self.places)

    def _still_kept(self, kept: Reusable | None) -> Reusable | None:
        """What was kept, where what is read everywhere is the same."""
        if kept is None:
            return None
        old, new = kept.puppet, self.puppet
        same = all(getattr(old, field) is getattr(new, field) for field in READ_EVERYWHERE)
        return kept if same and old.rate == new.rate else None

    def program(self) -> Program:
        puppet, kept = self.puppet, self.kept
        clips, kept_clips = self.compiled_clips()
        refs, before = self.nodes.refs, kept.nodes.refs if kept is not None else {}
        places: dict[int, int] | None = None
        if not before.items() <= refs.items():
            places = {place: refs[id] for id, place in before.items() if id in refs}
        # What moved may be nodes that are new, or gone with all that touched them; a transition
        # that still leads to one that is gone has to be told.
        gone = before.keys() - refs.keys()
        all_stand = (
            kept is not None
            and kept.windows <= self.windows
            and not self.conditions.dropped
            and self.moved.isdisjoint(before.keys() & refs.keys())
            and not (gone and any(each.source in gone or each.target in gone
                                  for each in puppet.transitions))
        )
        transitions = Transitions(
            puppet, self.nodes, self.conditions, self.windows,
            kept.transitions if kept else KeptTransitions(),
            self.moved, all_stand, places,
        )
        exits = transitions.exits
        states = States(
            puppet, self.nodes, self.conditions, self.brought, clips, exits,
            kept.states if kept else {}
        )
        self.problems += transitions.problems + states.problems
        groups, remembering = self.groups(exits)
        layers = tuple(self.layer(place) for place in range(len(puppet.layers)))
        self.problems += self.brought.problems
        picking = tuple([place for place, state in enumerate(states.made) if state.chances])
        wiring = Wiring(puppet, self.conditions, self.places)
        self.problems += wiring.problems
        return Program(
            puppet.name, puppet.rate, layers, tuple(states.made), groups, tuple(transitions.made),
            tuple(action.id for action in puppet.actions), wiring.intents,
            by_action(wiring.intents, len(puppet.actions)), wiring.senses, wiring.memos,
            wiring.thresholds, remembering,
            wiring.facing_sense, wiring.facing_up, puppet.facing.kind,
            puppet.facing.start, special_rules(states.made, groups, clips), clips, self.places,
            tuple(self.problems),
            Reusable(puppet, self.nodes, self.windows, self.conditions.known, kept_clips,
                     transitions.kept,
                     states.kept),
            rule_conditions(states.made, groups, clips),
            picking, sounding_moments(clips, len(picking)),
        )

    def problem(self, kind: str, id: str, text: str, fix: str, near: Near | None = None) -> None:
        self.problems.append(Problem((kind, id), text, fix, near))

    def compiled_clips(self) -> tuple[dict[str, ProgramClip], dict[int, tuple[Any, ProgramClip]]]:
        known = self.kept.clips if self.kept else {}
        found, kept = {}, {}
        for clip in self.puppet.clips:
            if clip.frames or clip.motion is not None:
                old = known.get(id(clip))
                if old is not None and old[0] is clip:
                    made = old[1]
                else:
                    before = len(self.brought.problems)
                    made = self.compiled_clip(clip)
                    # One that came out the same is the same: states that are kept play it.
                    same = self.clips_before.get(clip.id)
                    made = same if same is not None and same == made else made
                    if (
                        len(self.brought.problems) > before
                        or any(moment.deeds for moment in clip.moments)
                        or any(map(self.brought.have_conditions, clip.windows))
                    ):
                        # What its deeds read can change without it.
                        found[clip.id] = made
                        continue
                found[clip.id] = made
                kept[id(clip)] = (clip, made)
        return found, kept

    def compiled_clip(self, clip: Clip) -> ProgramClip:
        where = ("clip", clip.id)
        return compile_clip(
            clip, self.puppet.rate, lambda window: self.brought.rules(window.rules, where),
            lambda moment: self.brought.deeds(moment.deeds, where),
        )

    # Nodes ----------------------------------------------------------------------------------------

    def layer_start(self, place: int) -> int:
        layer = self.puppet.layers[place]
        start = self.nodes.refs.get(layer.start, NOWHERE) if layer.start is not None else NOWHERE
        inside = start != NOWHERE and self.nodes.layer(start) == place
        trouble = self.nodes.start_trouble(layer.start, inside)
        if trouble is not None:
            self.problem("layer", layer.id, trouble, "choose a start inside the layer")
        entered = inside and trouble is None and self.nodes.can_be_entered(start)
        return start if entered else self.nodes.first_of_layer[place]

    def layer(self, place: int) -> ProgramLayer:
        layer, rate = self.puppet.layers[place], self.puppet.rate
        condition = None
        if layer.shown_when.strip():
            read = self.conditions.read(layer.shown_when)
            condition = read.condition
            if read.error is not None:
                self.problem("layer", layer.id,
                             f"“{layer.shown_when}” cannot be used: {read.error}",
                             "fix the condition of its weight", read.near)
            elif read.trouble is not None:
                self.problem("layer", layer.id, f"“{layer.shown_when}”: {read.trouble}",
                             "ask for another window, or give a clip this one")
        pinned = layer.pinned_to if layer.pinned_to in self.brought.anchors else None
        if layer.pinned_to != pinned:
            self.problem("layer", layer.id,
                         f"it is pinned to the anchor {layer.pinned_to}, which does not exist",
                         "choose an anchor that is there")
        return ProgramLayer(
            layer.id, layer.name, self.layer_start(place), layer.mask, float(layer.weight),
            condition,
            share_step(layer.ease_in, rate), share_step(layer.ease_out, rate), layer.under, pinned,
        )

    def groups(self, exits: dict[int, Exits]) -> tuple[tuple[ProgramGroup, ...], tuple[int, ...]]:
        made: list[ProgramGroup] = []
        remembering: list[int] = []
        for index, group in enumerate(self.puppet.groups):
            start = (
                self.nodes.refs.get(group.start, NOWHERE) if group.start is not None else NOWHERE
            )
            trouble = self.nodes.start_trouble(
                group.start, start != NOWHERE and index in self.nodes.around(start)
            )
            if trouble is not None:
                self.problem("group", group.id, trouble, "choose a start inside the group")
            memory = -1
            if group.remembers:
                memory = len(remembering)
                remembering.append(index)
            made.append(ProgramGroup(
                group.id, group.name, self.nodes.group_layers[index],
                self.nodes.around_group[index],
                self.brought.rules(group.rules, ("group", group.id)), self.nodes.start_of(index),
                memory,
                frozenset(group.deaf_to), exits.get(~index, NO_EXITS),
            ))
        return tuple(made), tuple(remembering)


def sounding_moments(
    clips: dict[str, ProgramClip], first: int
) -> dict[tuple[str, str], int]:
    """By clip and moment the places, from the first, of what was picked last by those with several
    sounds. Both ways of one moment are one."""
    found = dict.fromkeys([
        (clip.id, moment.id) for clip in clips.values() for moment in clip.moments
        if moment.heard is not None and len(moment.heard.chances) > 1])
    return {key: first + number for number, key in enumerate(found)}


def all_rules(
    states: list[ProgramState], groups: tuple[ProgramGroup, ...], clips: dict[str, ProgramClip]
) -> list[ProgramRule]:
    """The while-rules of a program, each once, in the order in which they stand."""
    found = [rule for state in states if state.rules for rule in state.rules]
    found += [rule for group in groups for rule in group.rules]
    found += [rule for clip in clips.values() for window in clip.windows for rule in window.rules]
    return list(dict.fromkeys(found))


def special_rules(
    states: list[ProgramState], groups: tuple[ProgramGroup, ...], clips: dict[str, ProgramClip]
) -> frozenset[str]:
    """What the while-rules of a program change beside the report; see `Program`."""
    found = all_rules(states, groups, clips)
    special: set[str] = {str(WHILE_RULES[rule.kind].changes) for rule in found} - {""}
    special |= {"eased"} if any(rule.eased for rule in found) else set()
    return frozenset(special | ({"conditions"} if any(rule.when for rule in found) else set()))


def rule_conditions(
    states: list[ProgramState], groups: tuple[ProgramGroup, ...], clips: dict[str, ProgramClip]
) -> dict[Tree, int]:
    """The conditions of while-rules, each with its place."""
    trees = [rule.when for rule in all_rules(states, groups, clips) if rule.when is not None]
    return {tree: place for place, tree in enumerate(dict.fromkeys(trees))}
