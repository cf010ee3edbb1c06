"""Events of a state chart as conditions: descriptors by prefix, any event, and the done events of
states."""

from __future__ import annotations

from collections.abc import Mapping
from xml.etree.ElementTree import Element

from .words import ChartWords
from .writing import OURS, SCXML

NEVER = "false"
DONE = "done.state"


class Events:
    """What the descriptors of a chart's transitions stand for.

    A descriptor matches the events it names and all whose names go on after it and a dot (SCXML
    3.12.1). The events a chart can be given are those it names itself. What cannot be made out is
    added to `unread`.
    """

    def __init__(self, root: Element, said: ChartWords, unread: list[str]) -> None:
        self.said, self.unread = said, unread
        ours = root.get(f"{{{OURS}}}rate") is not None
        self.ticks = frozenset(("tick",)) if ours else frozenset[str]()
        """The event that charts of ours are sent before every tick: what waits for it waits for
        nothing."""
        named: dict[str, None] = {}
        for element in root.iter(f"{{{SCXML}}}transition"):
            named |= dict.fromkeys(map(_bare, (element.get("event") or "").split()))
        for kind in ("raise", "send"):
            named |= dict.fromkeys(each.get("event") or ""
                                   for each in root.iter(f"{{{SCXML}}}{kind}"))
        self.names = [each for each in named
                      if each and each not in self.ticks and not _of_done(each)]

    def sense(self) -> None:
        """Give every event a sense, in the order of the chart."""
        for name in self.names:
            if name not in self.said.words:
                self.said.event(name)

    def condition(self, descriptors: str, of: str, finals: Mapping[str, list[str]]) -> str:
        """When a transition of a node called `of` is let through by its descriptors; empty where it
        has none. `finals` are the ids of the final states right inside a node, by what the chart
        calls that."""
        tokens = [each for each in descriptors.split() if each not in self.ticks]
        if not tokens:
            return ""
        found: dict[str, None] = {}
        for token in tokens:
            found |= dict.fromkeys(self._one(token, of, finals))
        return " or ".join(found) or NEVER

    def _one(self, token: str, of: str, finals: Mapping[str, list[str]]) -> list[str]:
        bare = _bare(token)
        if not bare:
            self.unread.append(
                f"any event, which a transition of {of} waits for: it is taken on those the chart "
                "names"
            )
            return [self.said.words[name] for name in self.names]
        if not _of_done(bare):
            return [self.said.words[name]
                    for name in self.names if name == bare or name.startswith(f"{bare}.")]
        inside = [state for node, states in finals.items() for state in states
                  if f"{DONE}.{node}" == bare or f"{DONE}.{node}".startswith(f"{bare}.")]
        if not inside:
            self.unread.append(
                f"the event {token}, which a transition of {of} waits for: nothing inside ends so"
            )
        return [f'in_state("{each}")' for each in inside]


def _bare(token: str) -> str:
    """A descriptor without what may stand at its end; empty for any event."""
    return token.removesuffix("*").removesuffix(".")


def _of_done(name: str) -> bool:
    return name == "done" or name.startswith("done.")
