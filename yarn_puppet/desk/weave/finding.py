"""What can be found in a puppet by typing: states and bands by name, clips, transitions by what
they wait for."""

from __future__ import annotations

from ...core.model.puppet import Puppet
from .sentences.conditions import Terms

Found = tuple[str, str, str, str]
"""Kind, id, what is shown, and a remark."""


def found(puppet: Puppet) -> list[Found]:
    """Everything, in the order in which it is offered."""
    names = {node.id: node.name for node in puppet.nodes}
    clips = {clip.id: clip.name for clip in puppet.clips}
    playing: dict[str, str] = {}
    for state in puppet.states:
        if state.clip is not None:
            playing.setdefault(state.clip, state.id)
    entries: list[Found] = [
        ("state", state.id, state.name, names.get(state.group or "", "no band"))
        for state in puppet.states
    ]
    entries += [("group", group.id, group.name, "band") for group in puppet.groups]
    entries += [
        ("state", playing[id], f"{name}", f"clip of {names.get(playing[id], playing[id])}")
        for id, name in clips.items() if id in playing and name != names.get(playing[id])
    ]
    terms = Terms(puppet)
    for transition in puppet.transitions:
        words = terms.words(transition.when)
        if transition.leave.kind == "in a window":
            words += f" + {transition.leave.window} window"
        ends = (f"{names.get(transition.source, transition.source)} → "
                f"{names.get(transition.target, transition.target)}")
        entries.append(("transition", transition.id, f"{ends}: {words}", "transition"))
    return entries
