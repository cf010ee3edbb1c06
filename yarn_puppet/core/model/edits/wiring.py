"""Edits of actions, intents, senses, memos and thresholds, and what a name of them may be."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from ..basics.ids import all_ids, new_id
from ..basics.words import word_from
from ..events import Deed, Rule
from ..kinds.gestures import GESTURES, Gesture
from ..puppet import Puppet
from ..wiring import Action, Axis, Intent, Memo, Sense, Threshold
from .entries import added, changed, removed, with_entries

START_VALUES: dict[str, bool | int | float | str] = {
    "bool": False, "int": 0, "float": 0.0, "choice": ""}


def free_word(puppet: Puppet, name: str) -> str:
    """A word like `name` that no intent, sense or memo of the puppet is called yet."""
    return word_from(name, {entry.name for entry in puppet.named_values})


def action_added(puppet: Puppet, name: str, keys: tuple[str, ...] = ()) -> tuple[Puppet, str]:
    """With an action; also its id."""
    id = new_id(name, all_ids(puppet), "action")
    return added(puppet, "actions", Action(id, name, keys)), id


def keys_set(puppet: Puppet, action: str, keys: tuple[str, ...]) -> Puppet:
    """With an action bound to these keys, taken away from the other actions that had them."""
    actions = tuple(
        replace(each, keys=keys) if each.id == action
        else replace(each, keys=tuple(key for key in each.keys if key not in keys))
        for each in puppet.actions
    )
    return with_entries(puppet, "actions", actions)


def action_removed(puppet: Puppet, id: str) -> Puppet:
    """Without an action and its intents."""
    for intent in puppet.intents:
        if intent.action == id:
            puppet = entry_removed(puppet, "intents", intent.id)
    left = tuple(
        replace(each, others=tuple(other for other in each.others if other != id))
        if id in each.others else each
        for each in puppet.intents
    )
    axes = tuple(
        replace(axis, less=None if axis.less == id else axis.less,
                more=None if axis.more == id else axis.more)
        for axis in puppet.axes
    )
    puppet = with_entries(puppet, "axes", axes)
    return with_entries(removed(puppet, "actions", id), "intents", left)


def intent_added(
    puppet: Puppet, action: str, gesture: Any, seconds: float = 0.25
) -> tuple[Puppet, str]:
    """With an intent, named by its gesture and action; also its id."""
    found = next((each for each in puppet.actions if each.id == action), None)
    name = free_word(puppet, f"{gesture}_{found.name if found else action}")
    id = new_id(name, all_ids(puppet), "intent")
    return added(puppet, "intents", Intent(id, name, action, gesture, seconds)), id


def axis_added(puppet: Puppet, name: str) -> tuple[Puppet, str]:
    """With an axis; also its id. The first is what moves the puppet across, by the actions that did
    so far."""
    id = new_id(name, all_ids(puppet), "axis")
    first = puppet.mover.across is None
    less, more = (puppet.mover.left, puppet.mover.right) if first else (None, None)
    known = {action.id for action in puppet.actions}
    made = Axis(id, name, less if less in known else None, more if more in known else None)
    puppet = added(puppet, "axes", made)
    return (replace(puppet, mover=replace(puppet.mover, across=id)) if first else puppet), id


def gesture_chosen(puppet: Puppet, id: str, gesture: Gesture) -> Puppet:
    """With another gesture of an intent. One of several actions begins with one beside its own."""
    intent = next((each for each in puppet.intents if each.id == id), None)
    if intent is None:
        return puppet
    others = intent.others
    if GESTURES[gesture].others != "none":
        free = [action.id for action in puppet.actions if action.id != intent.action]
        others = others or tuple(free[:1])
        others = others[:1] if GESTURES[gesture].others == "one" else others
    return changed(puppet, "intents", id, gesture=gesture, others=others)


def sense_added(puppet: Puppet, name: str, type: Any = "bool") -> tuple[Puppet, str]:
    """With a sense; also its id."""
    name = free_word(puppet, name)
    id = new_id(name, all_ids(puppet), "sense")
    return added(puppet, "senses", Sense(id, name, type, START_VALUES[type])), id


def memo_added(puppet: Puppet, name: str, type: Any = "int") -> tuple[Puppet, str]:
    """With a memo; also its id."""
    name = free_word(puppet, name)
    id = new_id(name, all_ids(puppet), "memo")
    return added(puppet, "memos", Memo(id, name, type, START_VALUES[type])), id


def threshold_added(puppet: Puppet, source: str, on: float, off: float) -> tuple[Puppet, str]:
    """With a threshold of a sense or memo; also its id."""
    names = {sense.id: sense.name for sense in puppet.senses} | {
        memo.id: memo.name for memo in puppet.memos}
    of = names.get(source, source)
    name = free_word(puppet,
                     f"{of}_{'over' if on >= off else 'under'}_{abs(on):g}".replace(".", "_"))
    id = new_id(name, all_ids(puppet), "threshold")
    return added(puppet, "thresholds", Threshold(id, name, source, on, off)), id


def entry_changed(puppet: Puppet, field: str, id: str, **values: Any) -> Puppet:
    """With other values in an action, intent, sense or memo. A name for conditions is made usable
    first."""
    if "name" in values and field not in ("actions", "axes"):
        current = next((each.name for each in getattr(puppet, field) if each.id == id), None)
        kept = word_from(values["name"]) == current
        values["name"] = current if kept else free_word(puppet, values["name"])
    if "type" in values:
        values.setdefault("start", START_VALUES[values["type"]])
    return changed(puppet, field, id, **values)


def entry_removed(puppet: Puppet, field: str, id: str) -> Puppet:
    """Without an action, intent, sense, memo or threshold. Deeds and while-rules of one that is
    gone go too; conditions keep their text."""
    if field == "actions":
        return action_removed(puppet, id)
    puppet = removed(puppet, field, id)
    if field == "axes" and puppet.mover.across == id:
        puppet = replace(puppet, mover=replace(puppet.mover, across=None))
    if field in ("memos", "intents"):
        puppet = _without_deeds(puppet, id)
    return puppet


def _without_deeds(puppet: Puppet, id: str) -> Puppet:
    """Without the deeds and while-rules that are about a memo or an intent."""
    def deeds(each: tuple[Deed, ...]) -> tuple[Deed, ...]:
        return tuple(deed for deed in each if id not in (deed.memo, deed.intent))

    def rules(each: tuple[Rule, ...]) -> tuple[Rule, ...]:
        return tuple(rule for rule in each if rule.memo != id)

    states = tuple(
        replace(state, on_enter=deeds(state.on_enter), on_leave=deeds(state.on_leave),
                rules=rules(state.rules))
        if state.on_enter or state.on_leave or state.rules else state for state in puppet.states
    )
    groups = tuple(replace(group, rules=rules(group.rules)) if group.rules else group
                   for group in puppet.groups)
    clips = tuple(
        replace(
            clip, moments=tuple(replace(moment, deeds=deeds(moment.deeds))
                                for moment in clip.moments),
            windows=tuple(replace(window, rules=rules(window.rules)) for window in clip.windows),
        )
        if any(moment.deeds for moment in clip.moments)
        or any(window.rules for window in clip.windows) else clip
        for clip in puppet.clips
    )
    for field, entries in (("states", states), ("groups", groups), ("clips", clips)):
        puppet = with_entries(puppet, field, entries)
    return puppet
