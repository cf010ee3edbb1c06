"""State Chart XML as the skeleton of a puppet: states, nesting, layers, transitions, conditions
that can be read."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any, NamedTuple
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from ...formats.errors import FileProblem, read_whole
from ...model.basics.words import LONGEST_CONDITION
from ...model.events import Deed
from ...model.graph import BODY, Group, Layer, State, Transition
from ...model.puppet import Puppet
from ...rules.parse import parse
from ...rules.scope import ConditionError, scope_by_id
from .conditions import read_condition
from .events import Events
from .words import ChartWords
from .writing import OURS, SCXML

DEEPEST = 40
"""Nodes within nodes that are read."""
NODES = ("state", "parallel", "final")
KNOWN = frozenset(("datamodel", "data", "initial", "transition", "onentry", "onexit", "history",
                   "assign", *NODES))


class ChartPuppet(NamedTuple):
    """What was made of a chart, and a sentence for each thing in it that was not."""

    puppet: Puppet
    unread: tuple[str, ...]


def read_chart(path: Path) -> ChartPuppet:
    """The chart in a file. Raises FileProblem."""
    return chart_from(read_whole(path), path)


def chart_from(content: bytes, path: Path | str) -> ChartPuppet:
    """The chart in a text of XML; `path` is for the error. Raises FileProblem."""
    try:
        root = fromstring(content, forbid_dtd=True)
    except ParseError as error:
        line, column = error.position
        raise FileProblem(path, f"line {line}, column {column + 1}", "expected XML") from None
    except (DefusedXmlException, ValueError, LookupError):
        raise FileProblem(
            path, "", "expected XML in an encoding that is known, without a document type"
        ) from None
    if root.tag != f"{{{SCXML}}}scxml":
        raise FileProblem(path, "the outermost element", f"expected scxml of the namespace {SCXML}")
    name = root.get(f"{{{OURS}}}name") or root.get("name") or Path(path).stem
    return _ChartReader(root, name[:120] or "puppet").skeleton()


def _kind(element: Element) -> str:
    """The name of an element of the standard; empty for one of another namespace."""
    return (
        element.tag.removeprefix(f"{{{SCXML}}}")
        if str(element.tag).startswith(f"{{{SCXML}}}")
        else ""
    )


def _of(element: Element, kind: str) -> list[Element]:
    return element.findall(f"{{{SCXML}}}{kind}")


class _ChartReader:
    def __init__(self, root: Element, name: str) -> None:
        self.root, self.name = root, name
        self.unread: list[str] = []
        self.ids: dict[str, str] = {}
        """Ids of nodes here, by what the chart calls them."""
        self.around: dict[str, str | None] = {}
        """The group right around a node."""
        self.made: dict[Element, str] = {}
        """Ids of nodes here, by their elements: some have no id in the chart."""
        self.histories: dict[str, str] = {}
        """By what the chart calls a history the group that remembers."""
        self.starts: dict[str, str] = {}
        """Of groups that remember, where they are entered that are not entered by their history."""
        self.finals: dict[str, list[str]] = {}
        """By what the chart calls a node the final states right inside it."""
        self.ours = root.get(f"{{{OURS}}}rate") is not None
        self.said = ChartWords(root, self.unread)
        self.events = Events(root, self.said, self.unread)
        self.states: list[State] = []
        self.groups: list[Group] = []
        self.transitions: list[tuple[Transition, str, str]] = []
        self.deeds: list[tuple[str, str, list[tuple[str, str]]]] = []
        self.layers: list[Layer] = []

    def skeleton(self) -> ChartPuppet:
        """The puppet, and what was not read."""
        self.said.read_data()
        self.events.sense()
        children = [each for each in self.root if _kind(each) in NODES]
        whole = children[0] if len(children) == 1 and _kind(children[0]) == "parallel" else None
        parts = [each for each in whole if _kind(each) in NODES] if whole is not None else []
        if whole is not None and parts and not _of(whole, "transition"):
            for index, part in enumerate(parts):
                layer = BODY if not index else self.said.id(part.get("id") or "layer")
                inside = [each for each in part if _kind(each) in NODES]
                # A part with nothing inside is the one state of its layer, but for a layer of ours
                # that has none.
                inside = inside if inside or part.get(f"{{{OURS}}}means") == "layer" else [part]
                self._nodes(inside, layer, None, 1)
                start = self._start(part, inside)
                self.layers.append(Layer(layer,
                                         (part.get(f"{{{OURS}}}name") or part.get("id") or layer)[
                                             :120], start))
                if part not in inside and _of(part, "transition"):
                    self.unread.append(
                        f"transitions of {part.get('id') or 'a part'}, which is a layer now"
                    )
        else:
            self._nodes(children, BODY, None, 0)
            self.layers.append(Layer(BODY, BODY, self._start(self.root, children)))
        if _of(self.root, "history"):
            self.unread.append("a history of the whole chart, which is begun once")
        self._others()
        return self._puppet()

    # Nodes ----------------------------------------------------------------------------------------

    def _nodes(self, elements: list[Element], layer: str, group: str | None, depth: int) -> None:
        for element in elements:
            word = element.get("id") or ""
            name = element.get(f"{{{OURS}}}name") or word or "unnamed"
            if word in self.ids:
                self.unread.append(f"a second node with the id {word}")
                continue
            id = self.said.id(word or name)
            if word:
                self.ids[word] = id
            self.around[id], self.made[element] = group, id
            inside = [each for each in element if _kind(each) in NODES]
            if inside and depth >= DEEPEST:
                self.unread.append(f"what is inside {name}, which is nested {depth} deep")
                inside = []
            if _kind(element) == "parallel" and inside:
                self.unread.append(
                    f"{name} runs its parts side by side; it is a group now, of which one is active"
                )
            if inside or element.get(f"{{{OURS}}}means") == "group":
                self._nodes(inside, layer, id, depth + 1)
                self.finals[word] = [self.made[each]
                                     for each in inside if _kind(each) == "final"
                                     and each in self.made]
                start = self._history(element, id, name, inside)
                self.groups.append(Group(id, name[:120], layer, group, start,
                                         bool(_of(element, "history"))))
            else:
                self.states.append(State(id, name[:120], layer, group))
            for number, each in enumerate(_of(element, "transition")):
                self._transition(each, id, name, number)
            for kind in ("onentry", "onexit"):
                settings = [(each.get("location") or "", each.get("expr") or "")
                            for block in _of(element, kind)
                            for each in _of(block, "assign")]
                if settings:
                    self.deeds.append((id, kind, settings))

    def _history(self, element: Element, id: str, name: str, inside: list[Element]) -> str | None:
        """Take in the histories of a group; gives where it is entered that remembers nothing
        yet."""
        histories = _of(element, "history")
        start = self._start(element, inside)
        if not histories:
            return start
        if len(histories) > 1:
            self.unread.append(f"{len(histories)} histories of {name}, which are one here")
        nested = any(group.group == id for group in self.groups)
        for history in histories:
            self.histories[history.get("id") or ""] = id
            if nested and history.get("type") != "deep":
                self.unread.append(
                    f"the history of {name} is shallow: here the innermost state is remembered"
                )
        by_default = self._starts_of(histories[0])
        if start is not None:
            self.starts[id] = start
        return next(iter(by_default), start)

    def _starts_of(self, element: Element) -> list[str]:
        words = [word for each in _of(element, "transition")
                 for word in (each.get("target") or "").split()]
        return [self.ids[word] for word in words if word in self.ids]

    def _entered(self, id: str | None) -> str | None:
        """Where a node is entered that is named itself, and not its history: what it remembers does
        not count then."""
        seen: set[str] = set()
        while id is not None and not self.ours and id in self.starts and id not in seen:
            seen.add(id)
            id = self.starts[id]
        return id

    def _start(self, element: Element, inside: list[Element]) -> str | None:
        words = (element.get("initial") or "").split()
        ids = [self._entered(self.ids[word]) for word in words if word in self.ids]
        histories = {each.get("id") or "": each for each in _of(element, "history")}
        for word in words:
            # Its own history is begun where that says: nothing was remembered before.
            ids += self._starts_of(histories[word]) if word in histories else []
            ids += [self.histories[word]] if word in self.histories else []
        for initial in _of(element, "initial"):
            ids += [self._entered(each) for each in self._starts_of(initial)]
            ids += [self.histories[word] for each in _of(initial, "transition")
                    for word in (each.get("target") or "").split() if word in self.histories]
        if words and not ids:
            self.unread.append(
                f"where {element.get('id') or 'the chart'} starts: {' '.join(words)}, which is no "
                "state"
            )
        entered = [self._entered(self.made[each]) for each in inside if each in self.made]
        return next(iter([*ids, *entered]), None)

    def _transition(self, element: Element, source: str, name: str, number: int) -> None:
        targets = (element.get("target") or "").split()
        if not targets:
            self.unread.append(f"a transition of {name} that goes nowhere")
            return
        if len(targets) > 1:
            self.unread.append(
                f"further targets of a transition of {name}: {' '.join(targets[1:])}"
            )
        said = element.get("cond") or ""
        for setting in () if self.ours else _of(element, "assign"):
            self.unread.append(f"{setting.get('location')} set by a transition of {name}")
        id = self.said.id(f"{source}_{number + 1}")
        self.transitions.append((Transition(id, source, targets[0]), said,
                                 element.get("event") or ""))

    # The puppet -----------------------------------------------------------------------------------

    def _others(self) -> None:
        """What the chart has beside all that."""
        counted: dict[str, int] = {}
        for element in self.root.iter():
            kind = _kind(element)
            if kind and kind not in KNOWN and kind != "scxml":
                counted[kind] = counted.get(kind, 0) + 1
        self.unread += [f"{count} × {kind}" for kind, count in sorted(counted.items())]

    def _puppet(self) -> ChartPuppet:
        base = self.said.base
        bare = Puppet(
            name=self.name, actions=(*base.actions, *(action for action, _ in self.said.intents)),
            intents=(*base.intents, *(each for _, each in self.said.intents)),
            senses=(*base.senses, *self.said.senses.values()),
            memos=tuple(self.said.memos.values()),
            layers=tuple(self.layers), states=tuple(self.states), groups=tuple(self.groups))
        scope = scope_by_id(bare)
        # Clips, which come later, bring the windows that conditions ask for.
        scope.windows.update({name: name for name in self.said.windows})
        made = []
        for transition, said, descriptors in self.transitions:
            target = self.histories.get(transition.target) or self._entered(
                self.ids.get(transition.target)
            )
            if target is None:
                self.unread.append(f"a transition to {transition.target}, which is no state")
                continue
            events = self.events.condition(descriptors, transition.source, self.finals)
            when, reenters = self._when(said, transition.source, target, scope)
            both = [each for each in (events, when) if each]
            when = " and ".join(f"({each})" if " or " in each and len(both) > 1 else each
                                for each in both)
            made.append(Transition(transition.id, transition.source, target,
                                   when[:LONGEST_CONDITION],
                                   reenters=reenters))
        deeds = self._deeds(scope)
        states = [State(state.id, state.name, state.layer, state.group,
                        on_enter=deeds.get((state.id, "onentry"), ()),
                        on_leave=deeds.get((state.id, "onexit"), ())) for state in self.states]
        groups = {group.id for group in self.groups}
        for id, _ in deeds:
            if id in groups:
                self.unread.append(f"what {id} does on the way in or out: it is a group")
        return ChartPuppet(Puppet(
            name=bare.name, rate=self._rate(), actions=bare.actions, intents=bare.intents,
            senses=bare.senses,
            memos=bare.memos, layers=bare.layers, states=tuple(states), groups=bare.groups,
            transitions=tuple(made)), tuple(dict.fromkeys(self.unread)))

    def _rate(self) -> int:
        said = self.root.get(f"{{{OURS}}}rate") or ""
        return int(said) if re.fullmatch("[0-9]{2,3}", said) and 30 <= int(said) <= 240 else 60

    def _when(self, said: str, source: str, target: str, scope: Any) -> tuple[str, bool]:
        """A condition, and whether the transition may enter the state that it is in."""
        reenters = source == target
        if self.ours:
            # What we wrote says so itself.
            own = re.search(r"(?:^| && )!In\('(\w+)'\)$", said)
            reenters = own is None or target not in self._around(self.ids.get(own[1], ""))
            said = said[: own.start()] if own is not None and not reenters else said
        if not said.strip():
            return "", reenters
        read = read_condition(said, self.said.words.get, self.ids.get)
        if read is not None and len(read) <= LONGEST_CONDITION:
            try:
                parse(read, scope)
                return read, reenters
            except ConditionError:
                pass
        # It stays as it was written: it never holds, and the checks say so where it can be fixed.
        self.unread.append(f"the condition {said[:200]}")
        return said[:LONGEST_CONDITION], reenters

    def _around(self, id: str) -> list[str]:
        """A node and the groups around it, inside out."""
        found = [id]
        while self.around.get(found[-1]):
            found.append(str(self.around[found[-1]]))
        return found

    def _deeds(self, scope: Any) -> dict[tuple[str, str], tuple[Deed, ...]]:
        found: dict[tuple[str, str], tuple[Deed, ...]] = {}
        intents = {each.id for each in (*self.said.base.intents,
                                        *(intent for _, intent in self.said.intents))}
        types = {memo.id: memo.type for memo in self.said.memos.values()}
        for owner, kind, settings in self.deeds:
            made = []
            for location, value in settings:
                id, read = self.said.words.get(location, ""), read_condition(
                    value, self.said.words.get, self.ids.get)
                if id in intents and read in ("true", "false"):
                    made.append(Deed(kind="arm" if read == "true" else "drop", intent=id))
                    continue
                try:
                    if id not in types or read is None:
                        raise ConditionError(0, "")
                    parse(read, scope, types[id])
                    made.append(Deed(id, read))
                except ConditionError:
                    self.unread.append(f"{location} set to {value[:200]}")
            found[owner, kind] = tuple(made)
        return found
