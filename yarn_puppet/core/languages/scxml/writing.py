"""A puppet as State Chart XML."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Sequence
from typing import NamedTuple
from xml.etree import ElementTree

from ...engine.program import Program, ProgramGroup, ProgramState, ProgramTransition
from ...engine.program_clips import NOWHERE, ProgramDeed
from ...generate.names import Identifiers, RenamedForCode, identifier
from ...model.kinds.gestures import GESTURES
from ...rules.bind import Tree, leaves
from .conditions import WORDS, Data, without_brackets

SCXML = "http://www.w3.org/2005/07/scxml"
OURS = "urn:yarn-puppet:state-chart"
UNITS = 1000
"""Units of time in a tick, see the program's docstring."""
NOT_XML = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""What no text of XML may hold."""
HEAD = """<?xml version="1.0" encoding="UTF-8"?>
<!-- Made by Yarn Puppet. It is yours, without conditions. SPDX-License-Identifier: MIT-0 -->
"""


class StateChart(NamedTuple):
    """The file, a sentence for each thing of the puppet that it cannot say, and the names that had
    to change."""

    content: bytes
    unsaid: tuple[str, ...]
    renames: tuple[RenamedForCode, ...]


def state_chart(program: Program) -> StateChart:
    """The states, groups, layers, transitions, conditions and deeds of a program as a state
    chart."""
    return _Writer(program).chart()


class _Writer:
    def __init__(self, program: Program) -> None:
        self.program = program
        self.identifiers = Identifiers(WORDS | {"puppet", "facing", "tick"})
        of = self.identifiers.of
        self.owners: list[ProgramState | ProgramGroup] = [*program.states, *program.groups]
        nodes = of("state", [each.name for each in self.owners])
        self.node_names = dict(zip([each.id for each in self.owners], nodes, strict=True))
        self.inside: dict[tuple[int, int], list[int]] = {}
        """Nodes by the layer and the group that they are right inside, -1 for none; groups before
        states."""
        self.deaf: dict[int, list[ProgramState | ProgramGroup]] = {}
        """What of a group does not listen to some of its transitions."""
        for index, group in enumerate(program.groups):
            self.inside.setdefault((group.layer, self._right_around(group)), []).append(~index)
        for index, state in enumerate(program.states):
            self.inside.setdefault((state.layer, self._right_around(state)), []).append(index)
        for owner in self.owners:
            for around in owner.groups if owner.deaf_to else ():
                self.deaf.setdefault(around, []).append(owner)
        self.layers = of("layer", [f"layer {each.name}" for each in program.layers], nodes)
        taken = {*nodes, *self.layers, *(f"{node}_last" for node in nodes)}
        built_in = ("elapsed", "clip_time", "done", "loops")
        taken |= {f"{layer}_{each}" for layer in self.layers for each in built_in}
        names: dict[tuple[str, object], str] = {}
        windows = sorted({name for clip in program.clips.values() for window in clip.windows
                          for name in window.names}
                         | {str(leaf.value) for tree in self._trees() for leaf in leaves(tree)
                            if leaf.operator == "window"}
                         | {transition.window for transition in program.transitions
                            if transition.leave == "in a window"})
        for kind, keys, texts in (
            ("sense", range(len(program.senses)), [sense.name for sense in program.senses]),
            ("memo", range(len(program.memos)), [memo.name for memo in program.memos]),
            ("threshold", range(len(program.thresholds)),
             [threshold.name for threshold in program.thresholds]),
            ("intent", range(len(program.intents)), [intent.name for intent in program.intents]),
            ("window", windows, [f"window {window}" for window in windows]),
        ):
            made = of(kind, texts, taken)
            taken |= set(made)
            names |= {(kind, key): name for key, name in zip(keys, made, strict=True)}
        self.data = Data(names, self.node_names)
        self.built_in = built_in

    def _trees(self) -> list[Tree]:
        return [transition.condition.tree
                for transition in self.program.transitions if transition.condition is not None]

    def chart(self) -> StateChart:
        """The whole file."""
        program = self.program
        root = ElementTree.Element("scxml", {
            "xmlns": SCXML, "xmlns:puppet": OURS, "version": "1.0", "datamodel": "ecmascript",
            "name": identifier(program.name), "initial": "puppet", "puppet:rate": str(program.rate),
            "puppet:name": program.name})
        self._declare(root)
        whole = ElementTree.SubElement(root, "parallel", {"id": "puppet"})
        for index, layer in enumerate(program.layers):
            element = ElementTree.SubElement(whole, "state", {
                "id": self.layers[index], "puppet:name": layer.name, "puppet:means": "layer"})
            self._inside(element, index, -1, layer.start)
        for element in root.iter():
            for key, value in element.items():
                element.set(key, NOT_XML.sub("\ufffd", value))
        ElementTree.indent(root, "  ")
        text = ElementTree.tostring(root, encoding="unicode")
        return StateChart(f"{HEAD}{text}\n".encode(), tuple(self._unsaid()),
                          tuple(self.identifiers.renames))

    def _declare(self, root: ElementTree.Element) -> None:
        """What a game sets before each `tick`."""
        program, data = self.program, ElementTree.SubElement(root, "datamodel")
        values: list[tuple[str, object, str, str]] = [
            ("facing", program.facing_start, "facing", "")]
        for kind, those in (("sense", program.senses), ("memo", program.memos)):
            values += [(self.data.names[kind, index], each.start, kind, each.name)
                       for index, each in enumerate(those)]
        known = {"threshold": [threshold.name for threshold in program.thresholds],
                "intent": [intent.name for intent in program.intents]}
        values += [(name, False, kind, known[kind][int(str(key))] if kind in known else str(key))
                   for (kind, key), name in self.data.names.items()
                   if kind in ("threshold", "intent", "window")]
        values += [(f"{layer}_{each}", False if each == "done" else 0, each, "")
                   for layer in self.layers for each in self.built_in]
        for id, value, means, name in values:
            said = {"id": id, "expr": json.dumps(value), "puppet:means": means}
            ElementTree.SubElement(data, "data", said | ({"puppet:name": name} if name else {}))

    def _inside(self, parent: ElementTree.Element, layer: int, group: int, start: int) -> str:
        """The groups and states that are right inside a group, or a layer; which of them is entered
        first."""
        nodes = self.inside.get((layer, group), [])
        first = ""
        if nodes:
            begin = start if start in nodes or self._within(start, group) else nodes[0]
            first = self._target(begin)
            initial = ElementTree.SubElement(parent, "initial")
            ElementTree.SubElement(initial, "transition", {"target": first})
        for node in nodes:
            if node < 0:
                self._group(parent, layer, ~node)
            else:
                self._state(parent, node)
        return first

    def _right_around(self, owner: ProgramState | ProgramGroup) -> int:
        """The group right around a node, -1 for none: one of another layer is none."""
        return next((group for group in owner.groups
                     if self.program.groups[group].layer == owner.layer), -1)

    def _within(self, node: int, group: int) -> bool:
        if node in range(-len(self.program.groups), len(self.program.states)):
            around = (
                self.program.states[node].groups if node >= 0 else self.program.groups[~node].groups
            )
            return group in around or group < 0
        return False

    def _target(self, node: int) -> str:
        name = self.node_names[self.program.node_id(node)]
        # The history of a group stands for it: it gives what was last, or its own default.
        return f"{name}_last" if self._remembers(node) else name

    def _remembers(self, node: int) -> bool:
        """Whether a node is a group that remembers, and has something inside to remember."""
        return node < 0 and self.program.groups[~node].memory >= 0 and bool(
            self.inside.get((self.program.groups[~node].layer, ~node)))

    def _group(self, parent: ElementTree.Element, layer: int, place: int) -> None:
        group = self.program.groups[place]
        name = self.node_names[group.id]
        element = ElementTree.SubElement(
            parent, "state", {"id": name, "puppet:name": group.name, "puppet:means": "group"})
        first = self._inside(element, layer, place, group.start)
        if self._remembers(~place):
            history = ElementTree.SubElement(element, "history",
                                             {"id": f"{name}_last", "type": "deep"})
            ElementTree.SubElement(history, "transition", {"target": first})
        deaf: dict[str, list[str]] = {each.id: [] for exits in group.exits for each in exits}
        for owner in self.deaf.get(place, ()):
            for id in owner.deaf_to & deaf.keys():
                deaf[id].append(self.node_names[owner.id])
        for exits in group.exits:
            for each in exits:
                self._transition(element, layer, each, sorted(deaf[each.id]))

    def _state(self, parent: ElementTree.Element, place: int) -> None:
        state = self.program.states[place]
        said = {"id": self.node_names[state.id], "puppet:name": state.name}
        if state.clip is not None and not state.spread:
            said["puppet:clip"] = state.clip.id
        element = ElementTree.SubElement(parent, "state", said)
        for word, deeds in (("onentry", state.on_enter), ("onexit", state.on_leave)):
            if deeds:
                self._deeds(ElementTree.SubElement(element, word), deeds, state.layer)
        for exits in state.exits:
            for each in exits:
                self._transition(element, state.layer, each, [])

    def _deeds(
        self, element: ElementTree.Element, deeds: Sequence[ProgramDeed], layer: int
    ) -> None:
        for deed in deeds:
            kind = "memo" if deed.value is not None else "intent"
            value = (without_brackets(self.data.text(deed.value, self.layers[layer]))
                     if deed.value is not None
                     else json.dumps(deed.kind == "arm"))
            ElementTree.SubElement(
                element, "assign", {"location": self.data.names[kind, deed.place], "expr": value})

    def _transition(
        self,
        element: ElementTree.Element,
        layer: int,
        transition: ProgramTransition,
        deaf: Iterable[str],
    ) -> None:
        own = self.layers[layer]
        terms = []
        if transition.leave == "after":
            terms.append(f"{own}_elapsed >= {transition.after / (UNITS * self.program.rate):.6g}")
        elif transition.leave == "at the end":
            terms.append(f"{own}_done")
        elif transition.leave == "in a window":
            terms.append(self.data.names["window", transition.window])
        if transition.condition is not None:
            terms.append(self.data.text(transition.condition.tree, own))
        end = self._end(transition.target)
        terms += [f"!In('{each}')" for each in deaf]
        if not transition.reenters and end != NOWHERE:
            terms.append(f"!In('{self.node_names[self.program.node_id(end)]}')")
        said = {"event": "tick", "target": self._target(transition.target)}
        if terms:
            said["cond"] = " && ".join(terms) if len(terms) > 1 else without_brackets(terms[0])
        made = ElementTree.SubElement(element, "transition", said)
        if transition.condition is not None:
            for place in _used(transition.condition.tree):
                if GESTURES[self.program.intents[place].gesture].is_level:
                    continue
                ElementTree.SubElement(
                    made, "assign", {"location": self.data.names["intent", place], "expr": "false"})

    def _end(self, node: int) -> int:
        """The state that entering a node ends in where nothing is remembered."""
        while node < 0 and node != NOWHERE:
            node = self.program.groups[~node].start
        return node

    def _unsaid(self) -> list[str]:
        program = self.program
        owners = self.owners

        def left_out(what: str, of: Sequence[str]) -> list[str]:
            names = ", ".join(of[:6]) + (f" and {len(of) - 6} more" if len(of) > 6 else "")
            return [f"{what}: {names}"] if of else []

        def ways(those: Iterable[ProgramTransition]) -> list[str]:
            return [f"{program.node_name(each.source)} to {program.node_name(each.target)}"
                    for each in those]

        usable = [each for owner in owners for exits in owner.exits for each in exits]
        played = [state for state in program.states if state.spread]
        return [
            *left_out("what is in no layer is left out",
                      [each.name for each in owners if each.layer < 0]),
            *left_out("moments, windows and how long frames last are the game's",
                      sorted(program.clips)),
            *left_out("blends are cuts", ways(each for each in usable if each.blend is not None)),
            *left_out("overriding transitions come after those further in", ways(
                each for each in usable if each.overrides)),
            *left_out("while-rules are the game's", [each.name for each in owners if each.rules]),
            *left_out("spreads are one state without a clip", [each.name for each in played]),
            *left_out("speeds of clips are as drawn", [
                state.name for state in program.states if state.speed.source is not None
                or state.speed.fixed != 1]),
            *left_out("gestures become intents in the game, which sets them and lets them lapse", [
                intent.name for intent in program.intents]),
            *left_out("thresholds are the game's",
                      [threshold.name for threshold in program.thresholds]),
            *left_out("layers run together, how they are shown is the game's", [
                layer.name for layer in program.layers[1:]]),
            *left_out("conditions that use intents on a side of “or” use all of them up", ways(
                each for each in usable if each.condition is not None
                and _either(each.condition.tree))),
            *left_out("of a group that remembers, entering where it already is", ways(
                each for each in usable if not each.reenters and each.target < 0
                and program.groups[~each.target].memory >= 0)),
            "at most one transition a layer and tick is taken; the puppet goes on, up to eight",
        ]


def _used(tree: Tree) -> list[int]:
    """The intents that a transition uses up when its condition holds."""
    if tree.operator == "intent":
        return [int(tree.value or 0)]
    if tree.operator in ("and", "or"):
        return list(dict.fromkeys(place for operand in tree.operands for place in _used(operand)))
    return []


def _either(tree: Tree) -> bool:
    if tree.operator == "or":
        return len(_used(tree)) > 1
    return tree.operator == "and" and any(map(_either, tree.operands))
