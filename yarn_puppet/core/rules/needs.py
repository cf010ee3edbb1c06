"""What a graph needs beside itself: everything its states, groups and transitions name, and what
that names in turn."""

from __future__ import annotations

from dataclasses import replace
from re import findall, sub

from ..model.events import Deed, Rule
from ..model.puppet import Puppet
from .parse import parse
from .scope import ConditionError, scope_by_id
from .tree import Read, Type, reads

Needs = dict[str, set[str]]
"""By field of a puppet, the ids of what is needed of it."""
VALUES = {"intent": "intents", "sense": "senses", "memo": "memos", "threshold": "thresholds"}


def needs_of(puppet: Puppet) -> Needs:
    """What the states, groups and transitions of a puppet need of the rest of it."""
    return _Needs(puppet).found()


WORD = r"[A-Za-z_][A-Za-z0-9_]*"


def words_of(text: str) -> list[str]:
    """The names in a text that cannot be read, without what is quoted in it."""
    return findall(WORD, sub(r"\"[^\"]*\"|'[^']*'", " ", text))


class _Needs:
    def __init__(self, puppet: Puppet) -> None:
        self.puppet = puppet
        self.scope = replace(scope_by_id(puppet), any_node=True)
        self.types: dict[str, Type] = {memo.id: memo.type for memo in puppet.memos}
        self.needs: Needs = {field: set() for field in (
            "sheets", "bone_files", "anchors", "clips", "spreads", "actions", "intents", "senses",
            "memos", "thresholds")}

    def found(self) -> Needs:
        puppet, needs = self.puppet, self.needs
        self._of_nodes()
        for spread in puppet.spreads:
            if spread.id in needs["spreads"]:
                needs["clips"] |= {clip.clip for clip in spread.clips}
                for name in spread.along:
                    self._value(name)
        self._shown_clips()
        self._of_clips()
        for threshold in puppet.thresholds:
            if threshold.id in needs["thresholds"]:
                self._value(threshold.source)
        for intent in puppet.intents:
            if intent.id in needs["intents"]:
                needs["actions"] |= {intent.action, *intent.others}
        return needs

    def _of_nodes(self) -> None:
        puppet, needs = self.puppet, self.needs
        for state in puppet.states:
            self._rules(state.rules)
            self._deeds((*state.on_enter, *state.on_leave))
            needs["clips"] |= {state.clip} if state.clip else set()
            needs["spreads"] |= {state.spread} if state.spread else set()
            if state.speed_map is not None:
                self._value(state.speed_map.source)
        for group in puppet.groups:
            self._rules(group.rules)
        for transition in puppet.transitions:
            self._text(transition.when)

    def _of_clips(self) -> None:
        needs = self.needs
        for clip in self.puppet.clips:
            if clip.id in needs["clips"]:
                needs["sheets"] |= {frame.cell.sheet for frame in clip.frames}
                needs["bone_files"] |= {clip.motion.bones} if clip.motion is not None else set()
                needs["anchors"] |= {point.anchor for frame in clip.frames
                                     for point in frame.anchors}
                for moment in clip.moments:
                    needs["anchors"] |= {moment.anchor} if moment.anchor else set()
                    self._deeds(moment.deeds)
                for window in clip.windows:
                    self._rules(window.rules)

    def _shown_clips(self) -> None:
        """Clips that moments and while-rules of what is needed show, and those that these show in
        turn."""
        clips = {clip.id: clip for clip in self.puppet.clips}
        waiting = [clip for id, clip in clips.items() if id in self.needs["clips"]]
        while waiting:
            clip = waiting.pop()
            shown = {moment.clip for moment in clip.moments if moment.clip is not None}
            shown |= {rule.clip for window in clip.windows
                      for rule in window.rules if rule.clip is not None}
            shown -= self.needs["clips"]
            self.needs["clips"] |= shown
            waiting += [clips[id] for id in shown if id in clips]

    def _rules(self, rules: tuple[Rule, ...]) -> None:
        self.needs["memos"] |= {rule.memo for rule in rules if rule.memo}
        self.needs["anchors"] |= {rule.anchor for rule in rules if rule.anchor}
        self.needs["clips"] |= {rule.clip for rule in rules if rule.clip}
        for rule in rules:
            self._text(rule.when)

    def _deeds(self, deeds: tuple[Deed, ...]) -> None:
        for deed in deeds:
            self.needs["memos"] |= {deed.memo} if deed.memo else set()
            self.needs["intents"] |= {deed.intent} if deed.intent else set()
            self._text(deed.value, self.types.get(deed.memo or "", "bool"))

    def _value(self, id: str) -> None:
        for field in ("senses", "memos"):
            if any(each.id == id for each in getattr(self.puppet, field)):
                self.needs[field].add(id)

    def _text(self, text: str, expected: Type = "bool") -> None:
        if not text.strip():
            return
        try:
            tree = parse(text, self.scope, expected)
        except ConditionError:
            # What cannot be read may name things all the same, which must not be taken for others
            # elsewhere.
            for word in words_of(text):
                for field in VALUES.values():
                    self.needs[field] |= {each.id
                                          for each in getattr(self.puppet, field)
                                          if each.id == word}
            return
        for part in reads(tree):
            if isinstance(part, Read) and part.symbol.kind in VALUES:
                self.needs[VALUES[part.symbol.kind]].add(part.symbol.id)
