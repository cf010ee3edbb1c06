"""Unresolved references: whatever names a thing that is not there."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from ..model.world import TILE
from .snag import Snag

FIXES = {
    "state": "choose a clip for the state",
    "intent": "choose an action for the intent",
    "puppet": "choose a sense of a number for the facing to follow",
    "sense": "choose another start value",
    "memo": "choose another start value",
    "threshold": "choose a sense or memo of a number for it",
}
"""What fixes a problem that says nothing of it, by the kind of entry."""


def unresolved_references(puppet: Puppet, program: Program) -> list[Snag]:
    """What the compiler had to leave out, and whatever else names an entry that the puppet does not
    have."""
    named = Named(puppet)
    found = [
        Snag("error", problem.where[0], problem.where[1], named.of(*problem.where), problem.words,
             problem.fix or FIXES[problem.where[0]])
        for problem in program.problems
    ]
    return found + _of_clips(puppet) + _of_nodes(puppet) + _of_spreads(
        puppet, {clip.id for clip in puppet.clips}) + (
        _of_mover(puppet) + _of_axes(puppet)
    )


def _of_clips(puppet: Puppet) -> list[Snag]:
    sheets = {sheet.id for sheet in puppet.sheets}
    bone_files = {file.id for file in puppet.bone_files}
    anchors = {anchor.id for anchor in puppet.anchors}
    nodes = {node.id for node in puppet.nodes}
    found = []
    for clip in puppet.clips:
        lost = {frame.cell.sheet for frame in clip.frames} - sheets
        found += [
            Snag("error", "clip", clip.id, clip.name,
                 f"its frames come from the sheet {id}, which is not there",
                 "bring the sheet in again")
            for id in sorted(lost)
        ]
        if clip.motion is not None and clip.motion.bones not in bone_files:
            found.append(Snag("error", "clip", clip.id, clip.name,
                              f"it comes from the file of bones {clip.motion.bones}, which is not "
                              "there", "bring the file in again"))
        shown = {moment.clip for moment in clip.moments if moment.clip is not None}
        found += [
            Snag("error", "clip", clip.id, clip.name,
                 f"a moment shows the clip {id}, which is not there",
                 "choose another clip, or none")
            for id in sorted(shown) if puppet.clip(id) is None
        ]
        used = {moment.anchor for moment in clip.moments if moment.anchor} | {
            point.anchor for frame in clip.frames for point in frame.anchors
        }
        found += [
            Snag("error", "clip", clip.id, clip.name,
                 f"it uses the anchor {id}, which is not there",
                 "choose another anchor")
            for id in sorted(used - anchors)
        ]
        found += [
            Snag("error", "clip", clip.id, f"{clip.name}, {window.name}",
                 f"the window lets in {id}, which is not there", "choose what it lets in")
            for window in clip.windows for id in window.into if id not in nodes
        ]
    return found


def _of_spreads(puppet: Puppet, clips: set[str]) -> list[Snag]:
    return [
        Snag("error", "spread", spread.id, spread.name,
             f"it places the clip {clip.clip}, which is not there",
             "take it out of the spread")
        for spread in puppet.spreads for clip in spread.clips if clip.clip not in clips
    ]


def _of_nodes(puppet: Puppet) -> list[Snag]:
    layers = {layer.id for layer in puppet.layers}
    groups = {group.id: group for group in puppet.groups}
    transitions = {transition.id for transition in puppet.transitions}
    names = {group.id: group.name for group in puppet.groups}
    seams: dict[str, str] = {}
    found = []
    for group in puppet.groups:
        if group.anywhere and seams.setdefault(group.layer, group.id) != group.id:
            found.append(Snag("warning", "group", group.id, group.name,
                              "it is around all of its layer, and so is "
                              f"{names[seams[group.layer]]}: only the first is",
                              "remove one of the two, or let it be a band"))
    for node in puppet.nodes:
        kind = "group" if node.id in groups else "state"
        if node.layer not in layers:
            found.append(Snag("error", kind, node.id, node.name, f"its layer {node.layer} is gone",
                              "give it a layer"))
        lost = [id for id in node.deaf_to if id not in transitions]
        found += [
            Snag("warning", kind, node.id, node.name,
                 f"it does not listen to {id}, which is no transition any more",
                 "let it listen again")
            for id in lost
        ]
        if node.group is None:
            continue
        if node.group not in groups:
            found.append(Snag("error", kind, node.id, node.name,
                              f"the group around it, {node.group}, is gone",
                              "drag it into a band"))
        elif groups[node.group].layer != node.layer:
            found.append(
                Snag(
                    "error",
                    kind,
                    node.id,
                    node.name,
                    f"the group around it, {groups[node.group].name}, is on another layer",
                    "drag it into a band of its own layer",
                )
            )
    return found


def _of_mover(puppet: Puppet) -> list[Snag]:
    actions = {action.id for action in puppet.actions}
    return [
        Snag("warning", "puppet", puppet.name, puppet.name,
             f"the walker listens to the action {id}, which is not there",
             f"add an action called {id} on the Wiring page")
        for id in (puppet.mover.left, puppet.mover.right) if id not in actions
    ] + [
        Snag("warning", "puppet", puppet.name, puppet.name,
             f"the walker is moved along the axis {puppet.mover.across}, which is not there",
             "add an axis on the Wiring page, or let the walker listen to actions")
        for across in [puppet.mover.across]
        if across is not None and across not in {axis.id for axis in puppet.axes}
    ] + [
        Snag("warning", "puppet", puppet.name, puppet.name,
             f"the walker is {puppet.mover.width:g} pixels wide, and goes by cells of {TILE}",
             "make it no wider than a cell, or let it go freely")
        for _ in [puppet.mover] if puppet.mover.goes == "by cells" and puppet.mover.width > TILE
    ]


def _of_axes(puppet: Puppet) -> list[Snag]:
    actions = {action.id for action in puppet.actions}
    return [
        Snag("error", "axis", axis.id, axis.name, f"it reads the action {id}, which is not there",
             "choose another action for it")
        for axis in puppet.axes for id in (axis.less, axis.more)
        if id is not None and id not in actions
    ] + [
        Snag("warning", "axis", axis.id, axis.name, "neither a stick nor an action moves it",
             "push a stick, or choose two actions")
        for axis in puppet.axes if not axis.stick and axis.less is None and axis.more is None
    ]


class Named:
    """The entries of a puppet in words."""

    def __init__(self, puppet: Puppet) -> None:
        self.nodes = {node.id: node.name for node in puppet.nodes}
        self.transitions = {transition.id: transition for transition in puppet.transitions}
        self.names = {
            "state": self.nodes, "group": self.nodes,
            "layer": {layer.id: layer.name for layer in puppet.layers},
            "intent": {intent.id: intent.name for intent in puppet.intents},
            "sense": {sense.id: sense.name for sense in puppet.senses},
            "memo": {memo.id: memo.name for memo in puppet.memos},
            "threshold": {threshold.id: threshold.name for threshold in puppet.thresholds},
            "clip": {clip.id: clip.name for clip in puppet.clips},
        }

    def of(self, kind: str, id: str) -> str:
        """An entry in words: a transition by its ends, anything else by its name."""
        each = self.transitions.get(id) if kind == "transition" else None
        if each is not None:
            return (f"{self.nodes.get(each.source, each.source)} → "
                    f"{self.nodes.get(each.target, each.target)}")
        return self.names.get(kind, {}).get(id, id)
