"""What the conditions of a state chart read: its data and events, as senses, memos and intents."""

from __future__ import annotations

import json
import re
from typing import Any
from xml.etree.ElementTree import Element

from ...generate.names import identifier
from ...model.basics.base import LONGEST_NAME
from ...model.basics.words import is_word
from ...model.starter import new_puppet
from ...model.wiring import Action, Intent, Memo, Sense
from .conditions import TEXT, WORDS, unquoted
from .writing import OURS, SCXML

BUILT_IN = ("elapsed", "clip_time", "done", "loops", "facing")


class ChartWords:
    """Gives out ids, and knows what each name of the chart is; what it cannot make out is added to
    `unread`."""

    def __init__(self, root: Element, unread: list[str]) -> None:
        self.root, self.unread = root, unread
        self.base = new_puppet()
        """The wiring that any puppet begins with: what the chart names alike is that."""
        self.conditions = [each.get("cond") or "" for each in root.iter(f"{{{SCXML}}}transition")]
        self.taken: set[str] = {*BUILT_IN, *WORDS, "and", "or", "not", "true", "false", "window",
                                "in_state", "min",
                                "max", "abs", "sign", "clamp",
                                *(action.id for action in self.base.actions),
                                *(value.id for value in self.base.named_values)}
        self.names = {*(action.name for action in self.base.actions),
                      *(intent.name for intent in self.base.intents),
                      *(sense.name for sense in self.base.senses)}
        self.words: dict[str, str] = {}
        self.windows: list[str] = []
        self.senses: dict[str, Sense] = {}
        self.memos: dict[str, Memo] = {}
        self.intents: list[tuple[Action, Intent]] = []

    def read_data(self) -> None:
        """The data of the chart."""
        assigned = {each.get("location", "") for each in self.root.iter(f"{{{SCXML}}}assign")}
        for element in self.root.iter(f"{{{SCXML}}}data"):
            id, means = element.get("id") or "", element.get(f"{{{OURS}}}means")
            name = element.get(f"{{{OURS}}}name") or id
            if not id or id in self.words:
                self.unread.append(f"a piece of data without an id of its own: {id or 'none'}")
            elif means in BUILT_IN:
                self.words[id] = str(means)
            elif means == "window":
                self.words[id] = f"window({json.dumps(name)})"
                self.windows.append(name)
            elif means == "intent":
                known = [intent.id for intent in self.base.intents if intent.name == name]
                self.words[id] = known[0] if known else self._intent(id, name)
            else:
                start = _value(element.get("expr"))
                if start is None:
                    self.unread.append(
                        f"where {id} starts: {element.get('expr') or 'nothing is said'}"
                    )
                    start = False
                self._named(id, name, start, id in assigned or means == "memo")

    def _intent(self, word: str, name: str) -> str:
        own = self.id(word)
        action = Action(self.id(f"{word}_key"), self.name(f"{name}_key", f"{own}_key"))
        self.intents.append((action, Intent(own, self.name(name, own), action.id)))
        return own

    def _named(self, word: str, name: str, start: Any, memo: bool) -> None:
        type = {bool: "bool", int: "int", float: "float", str: "choice"}[start.__class__]
        known = [sense.id for sense in self.base.senses if sense.id == word and not memo
                 and (sense.type == type or (sense.type, type) == ("float", "int"))]
        if known:
            self.words[word] = known[0]
            return
        own = self.id(word)
        name = self.name(name, own)
        values = (
            {"choices": tuple(dict.fromkeys([start, *self._choices(word)]))}
            if type == "choice"
            else {}
        )
        if memo:
            self.memos[word] = Memo(own, name, type, start, **values)  # type: ignore[arg-type]
        else:
            self.senses[word] = Sense(own, name, type, start, **values)  # type: ignore[arg-type]
        self.words[word] = own

    def _choices(self, word: str) -> list[str]:
        """The texts that conditions compare a piece of data with."""
        pattern = rf"(?<![\w$.]){re.escape(word)}\s*[!=]==?\s*({TEXT.pattern})"
        return [unquoted(found) for said in self.conditions for found in re.findall(pattern, said)]

    def id(self, word: str) -> str:
        """An id that nothing else has."""
        base = identifier(word)
        made, number = base, 2
        while made in self.taken:
            made, number = f"{base}_{number}", number + 1
        self.taken.add(made)
        return made

    def name(self, name: str, id: str) -> str:
        """A name that conditions can use and nothing else has: the one asked for, or else an id."""
        made = (
            name if len(name) <= LONGEST_NAME and is_word(name) and name not in self.names else id
        )
        self.names.add(made)
        return made

    def event(self, word: str) -> None:
        """A sense for an event of the chart: true in the tick in which it comes."""
        own = self.id(word)
        self.senses[word] = Sense(own, self.name(word, own), "bool", False, event=True)
        self.words[word] = own


def _value(text: str | None) -> Any:
    """A literal of ECMAScript; None for another expression."""
    said = (text or "").strip()
    if re.fullmatch(r"'[^'\\\"]*'", said):
        said = f'"{said[1:-1]}"'
    try:
        value = json.loads(said)
    except (ValueError, RecursionError):
        return None
    fits = isinstance(value, bool | str) or (isinstance(value, int | float) and abs(value) <= 1e9)
    return value if fits else None
