"""All that a record tells, as facts: a path of ids and fields to each value, with no place in a
list left in it.

Nothing is chosen here. Every field of a report and of the world is told, whatever it is; the tables
below say only which fields are ids of what, and by what the items of a list are known. A field that
is new is told as it stands.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from ...booth.booth_state import Answerer, BoothState
from ...booth.hitting.blows import Blow
from ...booth.hitting.dummies import DummyState
from ...booth.hitting.effects import Effect, Prop, Shot
from ...booth.hitting.hits import Hit
from ...booth.senses import SENSES
from ...engine.program_clips import ProgramDeed, ProgramMoment, ProgramRule, ProgramWindow
from ...engine.state import Fading, Fired, InForce, LayerReport, Open, Report, Taken
from ...model.kinds.while_rules import WHILE_RULES
from ...rules.bind import Tree
from ..run import Record
from .matching import Matching

Path = tuple[str, ...]
Facts = dict[Path, Any]

WORDS = {(Taken, "terms"), (ProgramMoment, "heard")}
"""What nothing that happens hangs on: words over names, for people; what might have been heard."""

IDS: dict[tuple[type, str], str] = {
    (LayerReport, "layer"): "layer", (LayerReport, "state"): "node",
    (LayerReport, "groups"): "node",
    (LayerReport, "clip"): "clip", (Fading, "clip"): "clip",
    (Taken, "layer"): "layer", (Taken, "transition"): "transition", (Taken, "source"): "node",
    (Taken, "target"): "node",
    (Fired, "layer"): "layer", (Fired, "clip"): "clip", (Open, "layer"): "layer",
    (Open, "clip"): "clip",
    (ProgramWindow, "id"): "event", (ProgramWindow, "into"): "node",
    (ProgramMoment, "id"): "event", (ProgramMoment, "anchor"): "anchor",
    (ProgramMoment, "clip"): "clip",
    (ProgramRule, "clip"): "clip", (Report, "armed"): "intent", (Report, "used"): "intent",
    (Effect, "anchor"): "anchor", (Effect, "clip"): "clip", (Effect, "layer"): "layer",
    (Shot, "clip"): "clip", (Prop, "anchor"): "anchor", (Prop, "layer"): "layer",
    (Prop, "clip"): "clip",
    (Hit, "layer"): "layer",
}
"""The fields that hold an id, or several, and of what."""
KEYS: dict[type, Callable[[Any], tuple[Any, ...]]] = {
    LayerReport: lambda each: (each.layer,), Fading: lambda each: (each.clip,),
    Taken: lambda each: (each.layer, each.transition),
    Fired: lambda each: (each.layer, each.clip, each.moment.id),
    Open: lambda each: (each.layer, each.clip, each.window.id, each.late),
    Effect: lambda each: (each.name, each.born), Shot: lambda each: (each.name, each.born),
    Prop: lambda each: (each.layer, each.name, each.anchor),
}
"""By what an item of a list is known, where its place is not enough. Ids in it are matched as those
of its fields."""
KEY_IDS: dict[type, tuple[str, ...]] = {
    LayerReport: ("layer",), Fading: ("clip",), Taken: ("layer", "transition"),
    Fired: ("layer", "clip", "event"),
    Open: ("layer", "clip", "event", ""), Prop: ("layer", "", "anchor"),
}
"""Of what the parts of such a key are ids; empty for none."""


class Telling:
    """Tells records of one setup. With a matching it tells them by the ids of the other puppet."""

    def __init__(self, record: Record, matching: Matching | None = None) -> None:
        self.setup, self.matching = record.setup, matching
        program, world = record.setup.program, record.setup.world
        self.dummies = [dummy.name for dummy in world.dummies] if world is not None else []
        self.senses = [self._id("sense", sense.id) for sense in program.senses]
        self.memos = [self._id("memo", memo.id) for memo in program.memos]
        self.thresholds = [self._id("threshold", threshold.id) for threshold in program.thresholds]
        self.layers = [self._id("layer", layer.id) for layer in program.layers]
        self.intents = [self._id("intent", intent.id) for intent in program.intents]
        self._lists: dict[tuple[type, str], list[str]] = {
            (Report, "senses"): self.senses, (Report, "memos"): self.memos,
            (Report, "thresholds"): self.thresholds,
            (BoothState, "reported_senses"): list(SENSES)[2:],
        }
        self._kinds: dict[type, Callable[[Any], Any]] = {
            ProgramDeed: self._deed, ProgramRule: self._rule, InForce: self._in_force,
            Tree: self._tree,
            Hit: self._of_dummy, Blow: self._of_dummy,
        }
        self._owners = {window.id for clip in program.clips.values() for window in clip.windows}

    def facts(self, record: Record, fields: Mapping[type, set[str]] | None = None) -> Facts:
        """All facts of a record; with `fields` those of these fields of its report and of its
        world."""
        found: Facts = {}
        for part in (record.report, record.after.booth):
            if part is not None:
                wanted = fields[type(part)] if fields is not None else set(part._fields)
                found |= {path: value for field in part._fields if field in wanted
                          for path, value in self._field(part, field, ())}
        return found

    def _id(self, kind: str, id: Any) -> Any:
        return self.matching.id(kind, id) if self.matching is not None and kind else id

    def _field(self, part: Any, field: str, path: Path) -> Iterator[tuple[Path, Any]]:
        of, value = type(part), getattr(part, field)
        if (of, field) in WORDS:
            return
        if of is Fired and field == "sound":
            # Which file it is, however many it was picked among; in place of the first of them.
            yield (*path, "moment", "file"), part.file
            return
        if of is ProgramMoment and field == "file":
            return
        kind = IDS.get((of, field))
        if kind is not None:
            value = (
                tuple([self._id(kind, each) for each in value])
                if isinstance(value, tuple)
                else self._id(kind, value)
            )
            yield (*path, field), value
            return
        listed = self._lists.get((of, field))
        if listed is not None and len(listed) == len(value):
            for id, each in zip(listed, value, strict=True):
                yield (*path, field, id), each
            return
        if of is BoothState and field == "answerers":
            for index, answerer in enumerate(value):
                yield from self._answerer(answerer, (*path, field, self._dummy(index)))
            return
        if of is BoothState and field == "struck":
            value = sorted([(self._id("layer", layer), *rest, self._dummy(dummy))
                            for layer, *rest, dummy in value])
        yield from self._value(value, (*path, field))

    def _answerer(self, answerer: Answerer | None, path: Path) -> Iterator[tuple[Path, Any]]:
        """Of a dummy that answers what is seen of it: its machine is nobody's here."""
        if answerer is None or answerer.report is None:
            return
        yield (*path, "state"), tuple([self._id("node", layer.state)
                                       for layer in answerer.report.layers])
        yield (*path, "facing"), answerer.report.facing
        for field in ("x", "y"):
            yield (*path, field), getattr(answerer.booth.body, field)
        yield (*path, "health"), answerer.booth.health

    def _value(self, value: Any, path: Path) -> Iterator[tuple[Path, Any]]:
        describe = self._kinds.get(type(value))
        if describe is not None:
            value = describe(value)
        if isinstance(value, dict):
            for field, each in value.items():
                yield from self._value(each, (*path, field))
        elif hasattr(value, "_fields"):
            for field in value._fields:
                yield from self._field(value, field, path)
        elif isinstance(value, (tuple, list)) and any(hasattr(each, "_fields") for each in value):
            seen: dict[tuple[Any, ...], int] = {}
            for index, each in enumerate(value):
                key = self._key(each, index)
                seen[key] = seen.get(key, -1) + 1
                at = (*path, " ".join(map(str, (*key, seen[key]) if seen[key] else key)))
                yield at, True
                yield from self._value(each, at)
        else:
            yield path, tuple(value) if isinstance(value, list) else value

    def _key(self, item: Any, place: int) -> tuple[Any, ...]:
        if isinstance(item, DummyState):
            return (self._dummy(place),)
        if isinstance(item, (Hit, Blow)):
            return (getattr(item, "window", "blow"), self._dummy(item.dummy))
        if isinstance(item, InForce):
            owner = self._owner(item.owner)
            return self.layers[item.layer], owner, item.rule.kind, item.rule.number
        if type(item) not in KEYS:
            return (place,)
        kinds = KEY_IDS.get(type(item), ())
        parts = KEYS[type(item)](item)
        return tuple([self._id(kinds[at] if kinds else "", part) for at, part in enumerate(parts)])

    def _owner(self, id: str) -> Any:
        return self._id("event" if id in self._owners else "node", id)

    def _dummy(self, place: int) -> str:
        """A dummy by its name, and its place among those of that name."""
        if place >= len(self.dummies):
            return f"dummy {place + 1}"
        name = self.dummies[place]
        before = self.dummies[:place].count(name)
        return f"{name} {before + 1}" if before else name

    def _of_dummy(self, item: Hit | Blow) -> Any:
        found = {field: getattr(item, field) for field in item._fields} | {
            "dummy": self._dummy(item.dummy)}
        return found | {"layer": self._id("layer", item.layer)} if isinstance(item, Hit) else found

    def _in_force(self, item: InForce) -> Any:
        return {"owner": self._owner(item.owner), "rule": item.rule,
                "layer": self.layers[item.layer],
                "share": item.share, "out": item.out}

    def _rule(self, rule: ProgramRule) -> Any:
        found = {field: getattr(rule, field) for field in rule._fields} | {
            "clip": self._id("clip", rule.clip)}
        chooses = WHILE_RULES[rule.kind].chooses
        if chooses in ("memo", "layer"):
            found["place"] = (self.memos if chooses == "memo" else self.layers)[rule.place]
        elif chooses == "anchor":
            found["text"] = self._id("anchor", rule.text)
        return found

    def _deed(self, deed: ProgramDeed) -> Any:
        return {"kind": deed.kind,
                "place": (self.memos if deed.kind == "set" else self.intents)[deed.place],
                "value": repr(self._tree(deed.value)) if deed.value is not None else None}

    def _tree(self, tree: Tree) -> Any:
        """A tree as text, over ids."""
        value: Any = tree.value
        lists = {"sense": self.senses, "memo": self.memos, "threshold": self.thresholds,
                 "intent": self.intents}
        if tree.operator in lists:
            value = lists[tree.operator][int(value)]
        elif tree.operator == "in_state":
            value = self._id("node", value)
        return (f"{tree.operator} {value!r} {[self._tree(operand) for operand in tree.operands]} "
                f"{tree.type}")
