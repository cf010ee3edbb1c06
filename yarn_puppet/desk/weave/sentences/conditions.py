"""Conditions as the sentences show them: their terms, what can be picked, and what is wrong with a
typed one."""

from __future__ import annotations

from ....core.model.basics.words import LONGEST_CONDITION
from ....core.model.kinds.gestures import GESTURES
from ....core.model.kinds.windows import WINDOW_WORDS
from ....core.model.puppet import Puppet
from ....core.rules.parse import parse
from ....core.rules.phrase import phrase
from ....core.rules.scope import ConditionError, scope_by_id, window_names
from ....core.rules.translate import to_ids
from ....core.rules.tree import Read, Type, conjuncts, reads
from ...widgets.parts import Suggestion


class Terms:
    """Reads the conditions of one puppet: what they can name is looked up once for all of them."""

    def __init__(self, puppet: Puppet) -> None:
        self.scope = scope_by_id(puppet)
        self.names = {node.id: node.name for node in puppet.nodes}

    def of(self, when: str) -> list[tuple[str, str, str]]:
        """The terms of a stored condition: each as stored, in words, and the kind of what it reads
        first."""
        if not when.strip():
            return []
        try:
            tree = parse(when, self.scope)
        except ConditionError:
            return [(when, when, "broken")]
        found: list[tuple[str, str, str]] = []
        for term in conjuncts(tree):
            first = next(iter(reads(term)), None)
            kind: str = (
                first.symbol.kind if isinstance(first, Read) else "window" if first else "built-in"
            )
            text = when[term.span[0]: term.span[1]]
            found.append((f"({text})" if " or " in text else text, phrase(term, self.names), kind))
        return found

    def words(self, when: str) -> str:
        """A stored condition in words."""
        return " + ".join(text for _, text, _ in self.of(when)) or "always"


def wrong(
    text: str, puppet: Puppet, expected: Type = "bool", longest: int = LONGEST_CONDITION
) -> str | None:
    """What is wrong with a condition or value over names, or None; also where it would be kept as
    too long a text."""
    try:
        to_ids(text, puppet, expected, longest)
    except ConditionError as error:
        return str(error)
    return None


def explained(stored: str, puppet: Puppet) -> str:
    """The gesture behind an intent that a term reads."""
    for intent in puppet.intents:
        if stored.strip() == intent.id:
            action = next((each.name for each in puppet.actions if each.id == intent.action),
                          intent.action)
            return f"{intent.gesture} {action}, buffered {intent.buffer:g} s"
    return ""


def term_suggestions(puppet: Puppet) -> tuple[Suggestion, ...]:
    """Whole terms that can be picked, and words to go on typing after."""
    found = []
    actions = {action.id: action.name for action in puppet.actions}
    for intent in puppet.intents:
        remark = f"{intent.gesture} {actions.get(intent.action, '?')}"
        found.append(Suggestion(intent.name, intent.name, remark))
        if GESTURES[intent.gesture].is_level:
            found.append(Suggestion(f"not {intent.name}", f"not {intent.name}", remark))
    for value in puppet.values:
        word = "sense" if value in puppet.senses else "memo"
        if value.type == "bool":
            found.append(Suggestion(value.name, value.name, word))
            found.append(Suggestion(f"not {value.name}", f"not {value.name}", word))
        elif value.id == "move_x":
            found.append(Suggestion(f"{value.name} != 0", f"{value.name} != 0", "wants to move"))
            found.append(Suggestion(f"{value.name} == 0", f"{value.name} == 0", "wants to stand"))
        else:
            if value.id == "speed" and puppet.mover.goes == "by cells":
                # By cells it stands between two steps, and is no slower before.
                found.append(Suggestion(f"{value.name} == 0", f"{value.name} == 0", "stands"))
            found.append(Suggestion(f"{value.name} …", f"{value.name} >", f"{word}, go on typing",
                                    finishes=False))
    for threshold in puppet.thresholds:
        found.append(Suggestion(threshold.name, threshold.name, "threshold"))
        found.append(Suggestion(f"not {threshold.name}", f"not {threshold.name}", "threshold"))
    found.append(Suggestion("done", "done", "the clip is at its end"))
    found += [Suggestion(f'window("{name}")', f'window("{name}")', "while it is open")
              for name in used_windows(puppet)]
    found += [Suggestion("elapsed …", "elapsed >", "seconds in the state", finishes=False),
              Suggestion("loops …", "loops >=", "times the clip came round", finishes=False)]
    return tuple(found)


def opposite(when: str) -> str:
    """What holds when a simple condition does not."""
    if when.startswith("not "):
        return when.removeprefix("not ")
    for sign, other in ((" == ", " != "), (" != ", " == "), (" >= ", " < "), (" <= ", " > "),
                        (" > ", " <= "),
                        (" < ", " >= ")):
        if when.count(sign) == 1 and " and " not in when and " or " not in when:
            return when.replace(sign, other)
    return f"not {when}" if when.isidentifier() or when.endswith(")") else f"not ({when})"


def comparisons(puppet: Puppet) -> list[str]:
    """What is usually asked of numbers and choices: whether there is any of it, and which it is."""
    found = []
    for value in puppet.values:
        if value.type in ("int", "float") and value.id != "move_x":
            found += [f"{value.name} > 0", f"{value.name} <= 0"]
        elif value.type == "choice":
            found += [f'{value.name} == "{choice}"' for choice in value.choices if choice]
    return found


def used_windows(puppet: Puppet) -> list[str]:
    """The windows that conditions and leave rules can usefully name: those the clips have, and
    their kinds."""
    kinds = {window.kind for clip in puppet.clips for window in clip.windows}
    return [name for name in window_names(puppet) if name not in WINDOW_WORDS or name in kinds]
