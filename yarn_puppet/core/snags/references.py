"""Unresolved references: whatever names a thing that is not there."""

from __future__ import annotations

from ..engine.compiling import compile_puppet
from ..model.puppet import Puppet, find
from .snag import Snag

MENDS = {
    "state": "choose a clip for the state, or mend what it sets",
    "transition": "mend the condition, or remove the transition",
    "group": "choose a start inside the group",
    "layer": "choose a start inside the layer",
    "intent": "choose an action for the intent",
    "puppet": "choose a sense of a number for the facing to follow",
}


def unresolved_references(puppet: Puppet) -> list[Snag]:
    """What the compiler had to leave out, and art that frames name but the puppet does not have."""
    found = [
        Snag("error", problem.where[0], problem.where[1], named(puppet, *problem.where), problem.text,
             MENDS[problem.where[0]])
        for problem in compile_puppet(puppet).problems
    ]
    sheets = {sheet.id for sheet in puppet.sheets}
    anchors = {anchor.id for anchor in puppet.anchors}
    for clip in puppet.clips:
        lost = {frame.cell.sheet for frame in clip.frames} - sheets
        found += [
            Snag("error", "clip", clip.id, clip.name, f"its frames come from the sheet {id}, which is not there",
                 "bring the sheet in again")
            for id in sorted(lost)
        ]
        used = {moment.anchor for moment in clip.moments if moment.anchor} | {
            point.anchor for frame in clip.frames for point in frame.anchors
        }
        found += [
            Snag("error", "clip", clip.id, clip.name, f"it uses the anchor {id}, which is not there",
                 "choose another anchor")
            for id in sorted(used - anchors)
        ]
    for spread in puppet.spreads:
        found += [
            Snag("error", "spread", spread.id, spread.name, f"it places the clip {each.clip}, which is not there",
                 "take it out of the spread")
            for each in spread.clips if puppet.clip(each.clip) is None
        ]
    for group in puppet.groups:
        if group.group is not None and puppet.group(group.group) is None:
            found.append(Snag("error", "group", group.id, group.name, f"the group around it, {group.group}, is gone",
                              "drag it into another group"))
    for state in puppet.states:
        if state.group is not None and puppet.group(state.group) is None:
            found.append(Snag("error", "state", state.id, state.name, f"its group {state.group} is gone",
                              "drag it into a band"))
        if find(puppet.layers, state.layer) is None:
            found.append(Snag("error", "state", state.id, state.name, f"its layer {state.layer} is gone",
                              "give it a layer"))
    return found


def named(puppet: Puppet, kind: str, id: str) -> str:
    """An entry in words: a transition by its ends, anything else by its name."""
    if kind == "transition":
        each = puppet.transition(id)
        if each is None:
            return id
        source, target = puppet.node(each.source), puppet.node(each.target)
        return f"{source.name if source else each.source} → {target.name if target else each.target}"
    names = {node.id: node.name for node in puppet.nodes} if kind in ("state", "group") else {}
    if kind == "layer":
        names = {layer.id: layer.name for layer in puppet.layers}
    elif kind == "intent":
        names = {intent.id: intent.name for intent in puppet.intents}
    return names.get(id, id)
