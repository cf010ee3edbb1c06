"""Where every action, intent, sense, memo and threshold is used: what reads it, and what sets it."""

from __future__ import annotations

from typing import Literal, NamedTuple

from ..model.events import Deed, Rule
from ..model.puppet import Puppet
from .parse import parse
from .scope import ConditionError, scope_by_id
from .tree import Read, Type, reads


class Use(NamedTuple):
    """A place where something is used: the kind and id of the entry, how it is called, and whether it is set there."""

    kind: str
    id: str
    said: str
    sets: bool = False


Space = Literal["action", "axis", "value"]
"""What an id belongs to: an action may be called like an axis, or like a value, which is an intent, sense, memo or
threshold."""


def uses_of(puppet: Puppet) -> dict[tuple[Space, str], list[Use]]:
    """By space and id, every use, in the order of the puppet; what is used nowhere is not in it."""
    return {key: list(uses) for key, uses in _Uses(puppet).found.items()}


class _Uses:
    def __init__(self, puppet: Puppet) -> None:
        self.found: dict[tuple[Space, str], dict[Use, None]] = {}
        """Each use once, in order: a dict looks one up at once."""
        self.scope = scope_by_id(puppet)
        self.types: dict[str, Type] = {memo.id: memo.type for memo in puppet.memos}
        self.read: dict[tuple[str, Type], tuple[str, ...]] = {}
        names = {node.id: node.name for node in puppet.nodes}
        for each in puppet.transitions:
            said = f"{names.get(each.source, each.source)} → {names.get(each.target, each.target)}"
            self.text(each.when, Use("transition", each.id, said))
        for state in puppet.states:
            use = Use("state", state.id, state.name)
            self.deeds((*state.on_enter, *state.on_leave), use)
            self.rules(state.rules, use)
            if state.speed_map is not None:
                self.put(state.speed_map.source, use)
        for group in puppet.groups:
            self.rules(group.rules, Use("group", group.id, group.name))
        for layer in puppet.layers:
            self.text(layer.shown_when, Use("layer", layer.id, f"layer {layer.name}"))
        for spread in puppet.spreads:
            for name in spread.along:
                self.put(name, Use("spread", spread.id, f"spread {spread.name}"))
        for clip in puppet.clips:
            use = Use("clip", clip.id, f"clip {clip.name}")
            for moment in clip.moments:
                self.deeds(moment.deeds, use)
            for window in clip.windows:
                self.rules(window.rules, use)
        for intent in puppet.intents:
            for action in (intent.action, *intent.others):
                self.put(action, Use("intent", intent.id, f"intent {intent.name}"), "action")
        for threshold in puppet.thresholds:
            self.put(threshold.source, Use("threshold", threshold.id, f"threshold {threshold.name}"))
        for name in ("follows", "follows_up") if puppet.facing.kind != "mirror" else ("follows",):
            self.put(getattr(puppet.facing, name), Use("facing", "facing", "the facing"))
        for axis in puppet.axes:
            for end in (axis.less, axis.more):
                if end is not None:
                    self.put(end, Use("axis", axis.id, f"axis {axis.name}"), "action")
        if puppet.mover.across is not None:
            self.put(puppet.mover.across, Use("mover", "mover", "the walker"), "axis")
        for action in (puppet.mover.left, puppet.mover.right) if puppet.mover.across is None else ():
            self.put(action, Use("mover", "mover", "the walker"), "action")

    def put(self, id: str, use: Use, space: Space = "value") -> None:
        """One use of an entry, told once."""
        self.found.setdefault((space, id), {})[use] = None

    def text(self, text: str, use: Use, expected: Type = "bool") -> None:
        """What a condition reads."""
        if not text.strip():
            return
        key = (text, expected)
        if key not in self.read:
            try:
                tree = parse(text, self.scope, expected)
                self.read[key] = tuple(
                    part.symbol.id for part in reads(tree) if isinstance(part, Read) and part.symbol.kind != "built-in")
            except ConditionError:
                self.read[key] = ()
        for id in self.read[key]:
            self.put(id, use)

    def deeds(self, deeds: tuple[Deed, ...], use: Use) -> None:
        """What deeds set, arm, drop and read."""
        for each in deeds:
            for id in (each.memo, each.intent):
                if id is not None:
                    self.put(id, use._replace(sets=True))
            self.text(each.value, use, self.types.get(each.memo or "", "bool"))

    def rules(self, rules: tuple[Rule, ...], use: Use) -> None:
        """The memos that while-rules hold."""
        for each in rules:
            if each.kind == "memo" and each.memo is not None:
                self.put(each.memo, use._replace(sets=True))
