"""A second engine, written from docs/semantics.md and not from the first: unit by unit of time, no
tables, no hurry.

It reads the puppet itself. What it gives for a tick is plain data, as `told` makes it of a report
of the real engine.
"""

from __future__ import annotations

import ast
from fractions import Fraction
from typing import Any

from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.model.kinds.while_rules import REPORTED
from yarn_puppet.core.model.puppet import Puppet

BOUND = 2 ** 53
SIDES = {"right": 0, "up right": 45, "up": 90, "up left": 135, "left": 180, "down left": 225,
         "down": 270,
         "down right": 315}
FAMILY = ("press", "tap", "hold", "double tap", "sequence", "both")
FULL = 1_000_000


class Unreadable(Exception):
    """A condition that cannot be read."""


def clamped(value: Any) -> Any:
    """Section 1."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return value
    if value > BOUND:
        return type(value)(BOUND)
    if value < -BOUND:
        return type(value)(-BOUND)
    return value + 0.0 if isinstance(value, float) else value


def fit(value: Any, entry: Any, otherwise: Any) -> Any:
    """A value fitted to the type of a sense or memo."""
    if entry.type == "choice":
        return value if isinstance(value, str) and value in entry.choices else otherwise
    if isinstance(value, str) or value is None or value != value:
        return otherwise
    if entry.type == "bool":
        return value != 0
    if entry.type == "int":
        return clamped(int(value)) if isinstance(value, int) else clamped(round(clamped(value)))
    return float(clamped(int(value))) if isinstance(value, int) else clamped(value)


def start_of(entry: Any) -> Any:
    """The value of a sense or memo at the start."""
    zero = {"bool": False, "int": 0, "float": 0.0,
              "choice": entry.choices[0] if entry.choices else ""}
    return fit(entry.start, entry, zero[entry.type])


class Layer:
    """Where one layer is."""

    def __init__(self, id: str) -> None:
        self.id = id
        self.state: Any = None
        self.visit = -1
        self.holding: set[str] = set()
        """The conditions of while-rules that hold."""
        self.enter(None)

    def enter(self, state: Any) -> None:
        """In a new state, nothing played."""
        self.state, self.visit = state, self.visit + 1
        self.clip: Any = None
        self.placed: Any = None
        self.fresh, self.ticks, self.time, self.cycle, self.done = True, 0, 0, 0, False
        self.open: list[tuple[Any, int, int]] = []
        """(window, frame shown, pass)"""
        self.has_hit = False
        self.waits: list[Any] = []
        self.waited: list[Any] = []
        self.blend: Any = None
        self.old: list[Old] = []
        self.blended = 0
        self.advanced = 0
        self.shown = 0

    def now_shown(self) -> int:
        """The share of what it plays now, of what is on show."""
        if not self.old:
            return FULL
        x = self.blended / self.blend[0]
        eased = {"linear": x, "ease in": x * x, "ease out": 1 - (1 - x) * (1 - x),
                 "ease in and out": x * x * (3 - 2 * x)}[self.blend[1]]
        return round(FULL * eased)

    def fading(self) -> list[tuple[Old, int]]:
        """What fades, oldest first, each with its weight."""
        return [(each, each.had * (FULL - self.now_shown()) // FULL) for each in self.old]


class Old:
    """What fades."""

    def __init__(self, clip: Any, time: int, advance: int, had: int) -> None:
        self.clip, self.time, self.advance, self.had = clip, time, advance, had


class Share:
    """A while-rule with an ease."""

    def __init__(self, layer: str, owner: str, rule: Any) -> None:
        self.layer, self.owner, self.rule = layer, owner, rule
        self.share = 0
        self.out = False


class SimpleEngine:
    """One puppet being run."""

    def __init__(self, puppet: Puppet) -> None:
        self.puppet = puppet
        self.count = 0
        self.down = {action.id: False for action in puppet.actions}
        self.since: dict[str, int] = {}
        self.first: dict[str, int] = {}
        self.spent: dict[str, bool] = {}
        self.own: dict[str, bool] = {}
        self.life: dict[str, int] = {}
        self.queues: dict[str, list[bool]] = {action.id: [] for action in puppet.actions}
        """The levels that an action goes to next, one a tick."""
        self.stopped = False
        self.dice = (1 * 2654435761 + 1013904223) % 2**32
        self.thrown: dict[str, int] = {}
        self.kept: set[str] = set()
        self.memos = {memo.id: start_of(memo) for memo in puppet.memos}
        self.senses = {sense.id: start_of(sense) for sense in puppet.senses}
        self.facing: str = puppet.facing.start
        self.remembers: dict[str, str] = {}
        self.reached: dict[str, dict[int, int]] = {}
        self.memo_life: dict[str, int] = {}
        self.on = {threshold.id: False for threshold in puppet.thresholds}
        self.shares: dict[tuple[str, bool, str, int], Share] = {}
        self.held: dict[str, Any] = {}
        self.shown = {each.id: 0 if each.shown_when.strip() else FULL for each in puppet.layers}
        self.layers = [Layer(each.id) for each in puppet.layers]
        for layer, entry in zip(self.layers, puppet.layers, strict=True):
            start = self.node(entry.start)
            end = self.end_of(start) if start is not None and start.layer == layer.id else None
            if end is None:
                end = next((state for state in puppet.states if state.layer == layer.id
                            and not self.waits(state)), None)
            layer.visit = -1
            self.put(layer, end)
        for layer in self.layers:
            if layer.state is not None:
                self.deeds(layer, layer.state.on_enter)

    # Section 2 ------------------------------------------------------------------------------------

    def node(self, id: str | None) -> Any:
        return next((each for each in (*self.puppet.groups, *self.puppet.states) if each.id == id),
                    None)

    def around(self, node: Any) -> list[Any]:
        found: list[Any] = []
        while True:
            own = next((each for each in self.puppet.groups if each.id == node.group), None)
            seam = next((each for each in self.puppet.groups
                         if each.anywhere and each.layer == node.layer), None)
            group = own if own is not None and own.layer == node.layer else seam
            if node == seam or group is None or group in found:
                return found
            found.append(group)
            node = group

    def exists(self, node: Any) -> bool:
        return any(layer.id == node.layer for layer in self.puppet.layers)

    def inside(self, group: Any) -> list[Any]:
        return [state for state in self.puppet.states if group in self.around(state)]

    def end_of(self, node: Any) -> Any:
        if not self.exists(node):
            return None
        if node in self.puppet.states:
            return None if self.waits(node) else node
        if node.remembers and node.id in self.remembers:
            return self.node(self.remembers[node.id])
        start = self.node(node.start)
        if start is not None and node in self.around(start):
            end = self.end_of(start)
            if end is not None:
                return end
        inside = [state for state in self.inside(node) if not self.waits(state)]
        return inside[0] if inside else None

    def waits(self, state: Any) -> bool:
        return state.waits_for != "" and state.clip is None and state.spread is None

    def usable(self, transition: Any) -> bool:
        source, target = self.node(transition.source), self.node(transition.target)
        return (source is not None and target is not None and source.layer == target.layer
                and self.exists(target)
                and self.end_of(target) is not None)

    def spread(self, state: Any) -> tuple[Any, list[Any]]:
        spread = next((each for each in self.puppet.spreads if each.id == state.spread), None)
        if spread is None:
            return None, []
        for name in spread.along:
            if name != "facing" and self.kind_of(name) not in ("int", "float"):
                return spread, []
        return spread, [clip for clip in spread.clips
                        if self.with_frames(clip.clip)
                        and len(clip.place) == (len(spread.along) or 1)]

    def kind_of(self, name: str) -> str | None:
        built_in = {"elapsed": "float", "clip_time": "float", "loops": "int"}
        return built_in.get(name) or next(
            (each.type for each in (*self.puppet.senses, *self.puppet.memos) if each.id == name),
            None)

    def with_frames(self, id: str | None) -> Any:
        return next((clip for clip in self.puppet.clips if clip.id == id and clip.frames), None)

    def plays(self, state: Any) -> bool:
        return bool(self.spread(state)[1]) or self.with_frames(state.clip) is not None

    def first_clip(self, state: Any) -> Any:
        placed = self.spread(state)[1]
        return self.with_frames(placed[0].clip) if placed else self.with_frames(state.clip)

    # Section 3 ------------------------------------------------------------------------------------

    def shape(self, clip: Any) -> tuple[list[int], int, int, int]:
        """Where the frames end, the length, and the stretch of own time that is run back (zero
        long for none)."""
        ends: list[int] = []
        total = 0.0
        for frame in clip.frames:
            total = total + frame.duration
            ends.append(max(round(total * self.puppet.rate), (ends[-1] if ends else 0) + 1))
        if clip.mode == "back and forth" and len(ends) > 2:
            return ends, ends[-1], ends[0], ends[-2]
        return ends, ends[-1], 0, 0

    def cycle(self, clip: Any) -> int:
        _, length, low, high = self.shape(clip)
        return length + high - low

    def own_time(self, clip: Any, time: int) -> int:
        _, length, _, high = self.shape(clip)
        return (
            time if time < length or time == self.cycle(clip) == length else high - (time - length)
        )

    def frame(self, clip: Any, time: int) -> int:
        ends, length, _, high = self.shape(clip)
        if time < length:
            return next(number for number, end in enumerate(ends) if time < end)
        if time >= self.cycle(clip):
            return len(ends) - 1
        own = high - (time - length)
        return next(number for number, end in enumerate(ends) if own <= end)

    def times(self, clip: Any, moment: Any) -> list[int]:
        """When in the cycle a moment comes."""
        _, length, low, high = self.shape(clip)
        at = min(round(moment.at * self.puppet.rate), length)
        return [at, *([length + high - at] if low < at <= high else [])]

    def stretches(self, clip: Any, window: Any) -> list[tuple[int, int, int]]:
        """When in the cycle a window stands: (start, end, frame it opens on)."""
        ends, length, low, high = self.shape(clip)
        if window.end <= window.start or window.start >= round(
            sum(frame.duration for frame in clip.frames), 3
        ):
            return []
        start = min(round(window.start * self.puppet.rate), length)
        end = max(start, min(round(window.end * self.puppet.rate), length))
        found = [(start, end, len(ends) - 1 if start >= length else self.frame(clip, start))]
        if max(start, low) < min(end, high):
            opens = length + high - min(end, high)
            found.append((opens, length + high - max(start, low), self.frame(clip, opens)))
        return found

    def goes_round(self, clip: Any) -> bool:
        return clip.mode in ("loop", "back and forth")

    # Section 4 ------------------------------------------------------------------------------------

    def reads(self, name: str) -> Any:
        for kind, entries in (("intent", self.puppet.intents), ("sense", self.puppet.senses),
                              ("memo", self.puppet.memos), ("threshold", self.puppet.thresholds)):
            for entry in entries:
                if entry.id == name:
                    return kind, entry
        return None, None

    def type_of(self, node: ast.expr) -> str:
        """The type of an expression; raises Unreadable."""
        match node:
            case ast.Constant(value=bool()):
                return "bool"
            case ast.Constant(value=int() | float() as value):
                if abs(value) > 1e9:
                    raise Unreadable
                return "int" if isinstance(value, int) else "float"
            case ast.Constant(value=str()):
                return "choice"
            case ast.Name(id="true" | "false" | "done"):
                return "bool"
            case ast.Name(id="facing"):
                return "choice"
            case ast.Name(id="elapsed" | "clip_time"):
                return "float"
            case ast.Name(id="loops"):
                return "int"
            case ast.Name(id=name):
                kind, entry = self.reads(name)
                if kind is None:
                    raise Unreadable
                return "bool" if kind in ("intent", "threshold") else str(entry.type)
            case ast.BoolOp(values=values):
                self.all_of(values, "bool")
                return "bool"
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                self.all_of([operand], "bool")
                return "bool"
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return self.all_of([operand], "int", "float")
            case ast.BinOp(op=ast.Add() | ast.Sub() | ast.Mult(), left=left, right=right):
                return self.all_of([left, right], "int", "float")
            case ast.BinOp(op=ast.Div(), left=left, right=right):
                self.all_of([left, right], "int", "float")
                return "float"
            case ast.Compare(left=left, ops=ops, comparators=comparators):
                for one, op, other in zip([left, *comparators], ops, comparators, strict=False):
                    self.comparable(one, op, other)
                return "bool"
            case ast.Call(func=ast.Name(id="window"), args=[ast.Constant(value=str(name))]):
                return "bool"
            case ast.Call(func=ast.Name(id="in_state"), args=[ast.Constant(value=str(name))]):
                if self.node(name) is None:
                    raise Unreadable
                return "bool"
            case ast.Call(func=ast.Name(id=name), args=args) if name in (
                "abs",
                "sign",
                "min",
                "max",
                "clamp",
            ):
                least, most = {"abs": (1, 1), "sign": (1, 1), "clamp": (3, 3)}.get(name, (2, 8))
                if not least <= len(args) <= most:
                    raise Unreadable
                type = self.all_of(args, "int", "float")
                return "int" if name == "sign" else type
        raise Unreadable

    def all_of(self, nodes: list[ast.expr], *wanted: str) -> str:
        types = [self.type_of(node) for node in nodes]
        if not set(types) <= set(wanted):
            raise Unreadable
        return "float" if "float" in types else types[0]

    def comparable(self, one: ast.expr, op: ast.cmpop, other: ast.expr) -> None:
        types = (self.type_of(one), self.type_of(other))
        for each, beside in ((one, other), (other, one)):
            if any(isinstance(part, ast.Name) and self.reads(part.id)[0] == "intent"
                   for part in ast.walk(each)):
                raise Unreadable
            if isinstance(each, ast.Name):
                kind, entry = self.reads(each.id)
                choices = (
                    tuple(SIDES)
                    if each.id == "facing"
                    else entry.choices
                    if kind in ("sense", "memo")
                    else ()
                )
                if isinstance(beside, ast.Constant) and isinstance(beside.value, str) and (
                    beside.value not in choices
                ):
                    raise Unreadable
        if set(types) <= {"int", "float"}:
            return
        if types[0] != types[1] or not isinstance(op, ast.Eq | ast.NotEq):
            raise Unreadable

    def parsed(self, text: str, type: str) -> ast.expr:
        try:
            node = ast.parse(text.strip(), mode="eval").body
        except SyntaxError:
            raise Unreadable from None
        found = self.type_of(node)
        if found != type and (found, type) != ("int", "float"):
            raise Unreadable
        return node

    def value(self, node: ast.expr, layer: Layer) -> Any:
        match node:
            case ast.Constant(value=value):
                return value
            case ast.Name(id=name):
                return self.named(name, layer)
            case ast.BoolOp(op=ast.And(), values=values):
                return all(self.value(each, layer) for each in values)
            case ast.BoolOp(values=values):
                return any(self.value(each, layer) for each in values)
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                return not self.value(operand, layer)
            case ast.Compare(left=left, ops=ops, comparators=comparators):
                sides = [self.value(each, layer) for each in (left, *comparators)]
                return all(compare(*each) for each in zip(sides, ops, sides[1:], strict=False))
            case ast.Call(func=ast.Name(id="window"), args=[ast.Constant(value=name)]):
                return any(name == window.name or (name == window.kind and name != "named")
                           for each in self.layers for window, _, _ in each.open)
            case ast.Call(func=ast.Name(id="in_state"), args=[ast.Constant(value=name)]):
                wanted = self.node(name)
                return any(each.state is not None
                           and (each.state == wanted or wanted in self.around(each.state))
                           for each in self.layers)
        return self.number(node, layer)

    def number(self, node: ast.expr, layer: Layer) -> Any:
        operands: list[ast.expr]
        match node:
            case ast.UnaryOp(operand=operand):
                name, operands = "negate", [operand]
            case ast.BinOp(op=op, left=left, right=right):
                name, operands = op.__class__.__name__, [left, right]
            case ast.Call(func=ast.Name(id=name), args=operands):
                pass
            case _:
                raise AssertionError
        values = [self.value(each, layer) for each in operands]
        if name == "sign":
            return 1 if values[0] > 0 else -1 if values[0] < 0 else 0
        if self.type_of(node) == "float":
            values = [float(each) for each in values]
        if name == "Div":
            return clamped(values[0] / values[1]) if values[1] != 0 else 0.0
        if name == "clamp":
            value, low, high = values
            least = high if high < value else value
            return clamped(least if least > low else low)
        if name in ("min", "max"):
            best = values[0]
            for each in values[1:]:
                if (each < best) if name == "min" else (each > best):
                    best = each
            return clamped(best)
        a, b = (*values, 0)[:2]
        return clamped({"negate": -a, "abs": abs(a), "Add": a + b, "Sub": a - b, "Mult": a * b}[
            name])

    def named(self, name: str, layer: Layer) -> Any:
        rate = self.puppet.rate
        if name in ("true", "false"):
            return name == "true"
        if name == "done":
            return layer.done or not self.plays(layer.state)
        if name == "elapsed":
            return layer.ticks / rate
        if name == "clip_time":
            return self.own_time(layer.clip, layer.time) / (1000 * rate) if layer.clip else 0.0
        if name == "loops":
            return layer.cycle
        if name == "facing":
            return self.facing
        kind, entry = self.reads(name)
        if kind == "intent":
            return self.intent(entry)
        if kind == "threshold":
            return self.on[name]
        return self.senses[name] if kind == "sense" else self.held.get(name, self.memos[name])

    def intent(self, entry: Any) -> bool:
        return (
            self.down.get(entry.action, False) if entry.gesture == "held" else entry.id in self.life
        )

    def used(self, node: ast.expr, layer: Layer) -> list[str]:
        """What a condition that is true uses up."""
        match node:
            case ast.Name(id=name) if self.reads(name)[0] == "intent":
                return [name]
            case ast.BoolOp(op=ast.And(), values=values):
                return [each for value in values for each in self.used(value, layer)]
            case ast.BoolOp(values=values):
                return self.used(next(each for each in values if self.value(each, layer)), layer)
        return []

    # Section 6 ------------------------------------------------------------------------------------

    def tick(
        self,
        down: dict[str, bool],
        senses: dict[str, Any],
        landed: list[tuple[int, int, int]],
        stopped: bool,
        edges: dict[str, int] | None = None,
    ) -> dict[str, Any]:
        """One tick; what it reports."""
        self.stopped = stopped
        down = self.one_edge(down, edges or {})
        self.moments: list[Any] = []
        self.taken: list[Any] = []
        self.used_up: list[str] = []
        self.stuck = False
        self.controls(down, stopped)
        for sense in self.puppet.senses:
            self.senses[sense.id] = fit(senses.get(sense.id, sense.start), sense, start_of(sense))
            if sense.id in self.kept:
                self.senses[sense.id] = True
        self.kept = {
            sense.id for sense in self.puppet.senses
            if stopped and sense.event and sense.type == "bool" and self.senses[sense.id]
        }
        if not stopped:
            self.thresholds()
        for place, visit, loop in landed:
            self.hear(self.layers[place] if 0 <= place < len(self.layers) else None, visit, loop)
        running = [layer for layer in self.layers if layer.state is not None]
        if not stopped:
            for layer in running:
                self.choose(layer)
            for layer in self.layers:
                self.throw(layer)
            for layer in self.layers:
                self.ask(layer)
            was_open = {layer.id: (layer.visit, list(layer.open)) for layer in self.layers}
            self.ease(self.of_nodes(), False)
            self.show()
            doing = [(layer, self.play(layer, was_open[layer.id][1])) for layer in running]
            for layer, fired in doing:
                for moment in fired:
                    self.deeds(layer, moment.deeds)
            self.ease(self.of_windows(), True)
            self.keep_few()
            self.hold()
        counting = self.counting()
        factors = {"move_speed": 1.0, "gravity": 1.0, "jump_height": 1.0}
        for _, _, rule, share in counting:
            if rule.kind in factors:
                factors[rule.kind] = clamped(factors[rule.kind] * factor(rule, share))
        holds = {rule.kind for _, _, rule, share in counting if share >= FULL // 2}
        safe = "safe" in holds or any(
            window.kind == "safe" for layer in running for window, _, _ in layer.open
        )
        if not stopped and "lock_facing" not in holds:
            self.turn()
        self.count += 1
        return {
            "layers": [self.place(layer) for layer in running], "facing": self.facing,
            "senses": dict(self.senses),
            "memos": {id: self.held.get(id, value) for id, value in self.memos.items()},
            "thresholds": dict(self.on),
            "armed": [intent.id for intent in self.puppet.intents if intent.id in self.life],
            "used": self.used_up, "moments": [
                (layer, clip, frame, moment.id, *self.sound(clip, moment))
                for layer, clip, frame, moment in self.moments],
            "windows": [(layer.id, layer.clip.id, frame, window.id, loop)
                        for layer in running for window, frame, loop in layer.open],
            "rules": [(owner, rule.kind, float(rule.value), share / FULL)
                      for _, owner, rule, share in counting],
            "taken": self.taken,
            "together": (*factors.values(), "lock_movement" in holds, "lock_facing" in holds, safe),
            "weights": [self.weight(layer, counting) for layer in running],
            "on show": [
                (layer.now_shown() / FULL, [
                    (old.clip.id, self.frame(old.clip, old.time),
                     self.own_time(old.clip, old.time) / (1000 * self.puppet.rate), weight / FULL)
                    for old, weight in layer.fading() if old.clip
                ])
                for layer in running
            ],
            "stuck": self.stuck,
        }

    def weight(self, layer: Layer, counting: list[Any]) -> float:
        entry = next(each for each in self.puppet.layers if each.id == layer.id)
        weight = float(entry.weight) * (self.shown[layer.id] / FULL)
        for _, _, rule, share in counting:
            if rule.kind == "layer_weight" and rule.layer == layer.id:
                weight = clamped(weight * factor(rule, share))
        return min(1.0, max(0.0, weight))

    # While-rules ----------------------------------------------------------------------------------

    def ask(self, layer: Layer) -> None:
        """Which conditions of while-rules hold for a layer, to be known till they are asked
        again."""
        texts = {rule.when for owner in (
            *self.puppet.states, *self.puppet.groups,
            *(window for clip in self.puppet.clips for window in clip.windows))
            for rule in owner.rules if rule.when.strip()}
        layer.holding = set()
        for text in texts:
            try:
                if layer.state is not None and self.value(self.parsed(text, "bool"), layer):
                    layer.holding.add(text)
            except Unreadable:
                continue

    def works(self, rule: Any, layer: Layer) -> bool:
        """Whether a rule is not as if it were not there."""
        puppet = self.puppet
        if rule.when.strip() and rule.when not in layer.holding:
            return False
        return bool({
            "memo": any(memo.id == rule.memo for memo in puppet.memos),
            "prop": any(anchor.id == rule.anchor for anchor in puppet.anchors),
            "layer_weight": any(layer.id == rule.layer for layer in puppet.layers),
            "box": rule.box, "tint": rule.colour,
        }.get(rule.kind, True))

    def of_nodes(self) -> list[tuple[tuple[str, bool, str, int], Any]]:
        """The rules of nodes in force, each with what it is known by."""
        return [((layer.id, False, owner.id, index), rule)
                for layer in self.layers if layer.state is not None
                for owner in (layer.state, *self.around(layer.state))
                for index, rule in enumerate(owner.rules)
                if self.works(rule, layer)]

    def of_windows(self) -> list[tuple[tuple[str, bool, str, int], Any]]:
        found: dict[tuple[str, bool, str, int], Any] = {}
        for layer in self.layers:
            for window, _, _ in layer.open:
                for index, rule in enumerate(window.rules):
                    if self.works(rule, layer):
                        found.setdefault((layer.id, True, window.id, index), rule)
        return list(found.items())

    def step(self, seconds: float) -> int:
        """What a share changes by in a tick; all of it where there is no ease."""
        units = self.units(seconds)
        return FULL if units < 1 else min(FULL, max(1, 1000 * FULL // units))

    def eased(self, rule: Any) -> bool:
        return self.step(rule.ease_in) < FULL or self.step(rule.ease_out) < FULL

    def ease(self, force: list[tuple[tuple[str, bool, str, int], Any]], windows: bool) -> None:
        """The shares of the rules of nodes, or of windows, go on."""
        keys = [key for key, _ in force]
        going = [(key, each) for key, each in self.shares.items() if each.out]
        ended = [(key, each) for key, each in self.shares.items()
                 if key[1] == windows and not each.out and key not in keys]
        others = [(key, each) for key, each in self.shares.items()
                  if key[1] != windows and not each.out]
        now: list[Any] = []
        for key, rule in force:
            if self.eased(rule):
                each = self.shares.get(key) or Share(key[0], key[2], rule)
                each.share, each.out = min(FULL, each.share + self.step(rule.ease_in)), False
                now.append((key, each))
        outs = []
        for key, each in going + ended:
            if key in keys:
                continue
            if key[1] == windows:
                each.out = True
                each.share -= self.step(each.rule.ease_out)
            if each.share > 0:
                outs.append((key, each))
        self.shares = dict((others + now if windows else now + others) + outs)

    def keep_few(self) -> None:
        outs = [key for key, each in self.shares.items() if each.out]
        for key in outs[:-32]:
            del self.shares[key]

    def counting(self) -> list[tuple[tuple[str, bool, str, int], str, Any, int]]:
        """The rules that count, in order: what each is known by, its owner, the rule and its
        share."""
        found = []
        for key, rule in self.of_nodes() + self.of_windows():
            share = (
                self.shares[key].share if key in self.shares else 0 if self.eased(rule) else FULL
            )
            found.append((key, key[2], rule, share))
        return found + [(key, each.owner, each.rule, each.share)
                        for key, each in self.shares.items() if each.out]

    def hold(self) -> None:
        """What memos are held at."""
        places = [layer.id for layer in self.layers]
        counting = self.counting()

        def strength(number: int) -> tuple[int, int, int]:
            key = counting[number][0]
            out = key in self.shares and self.shares[key].out
            kind = 2 if out else 0 if key[1] else 1
            return -places.index(key[0]), kind, -number if out else number

        self.held = {}
        for number in sorted(range(len(counting)), key=strength):
            _, _, rule, share = counting[number]
            if rule.kind == "memo" and share >= FULL // 2 and rule.memo not in self.held:
                memo = next(each for each in self.puppet.memos if each.id == rule.memo)
                self.held[rule.memo] = fit(rule.to, memo, start_of(memo))

    def show(self) -> None:
        """The shares by which layers are shown."""
        holds = {}
        for layer, entry in zip(self.layers, self.puppet.layers, strict=True):
            holds[layer.id] = True
            if entry.shown_when.strip():
                try:
                    holds[layer.id] = layer.state is not None and self.value(
                        self.parsed(entry.shown_when, "bool"), layer)
                except Unreadable:
                    holds[layer.id] = False
        for entry in self.puppet.layers:
            if holds[entry.id]:
                self.shown[entry.id] = min(FULL, self.shown[entry.id] + self.step(entry.ease_in))
            else:
                self.shown[entry.id] = max(0, self.shown[entry.id] - self.step(entry.ease_out))

    def thresholds(self) -> None:
        for threshold in self.puppet.thresholds:
            kind, entry = self.reads(threshold.source)
            if kind not in ("sense", "memo") or entry.type not in ("int", "float"):
                continue
            value = self.senses[threshold.source] if kind == "sense" else self.held.get(
                threshold.source, self.memos[threshold.source])
            if threshold.on >= threshold.off:
                self.on[threshold.id] = value >= threshold.on or (
                    self.on[threshold.id] and not value < threshold.off
                )
            else:
                self.on[threshold.id] = value <= threshold.on or (
                    self.on[threshold.id] and not value > threshold.off
                )

    def place(self, layer: Layer) -> tuple[Any, ...]:
        clip, rate = layer.clip, self.puppet.rate
        shown = (clip.id, self.own_time(clip, layer.shown) / (1000 * rate),
                 self.frame(clip, layer.shown)
                 ) if clip else (None, 0.0, 0)
        return (layer.id, layer.state.id, [group.id for group in self.around(layer.state)], *shown,
                layer.ticks / rate, layer.cycle, layer.done or not clip, layer.visit)

    def units(self, seconds: float) -> int:
        return round(seconds * self.puppet.rate * 1000)

    def controls(self, down: dict[str, bool], stopped: bool) -> None:
        if not stopped:
            self.life = {id: life - 1 for id, life in self.life.items() if life > 0}
            self.memo_life = {id: life - 1 for id, life in self.memo_life.items()}
            for memo in self.puppet.memos:
                if self.memo_life.get(memo.id) == 0:
                    self.memos[memo.id] = start_of(memo)
                    del self.memo_life[memo.id]
        begins, ends = [], []
        noted = (dict(self.first), dict(self.spent))
        for action in self.puppet.actions:
            id, now = action.id, down.get(action.id, False)
            if now and not self.down[id]:
                begins.append(id)
                self.since[id], self.spent[id], self.own[id] = self.count, False, False
            elif self.down[id] and not now:
                ends.append(id)
            self.down[id] = now
        arming = []
        for intent in self.puppet.intents:
            if not self.can_arm(intent) or not self.completes(intent, begins, ends, noted[0]):
                continue
            if intent.gesture not in FAMILY:
                self.life[intent.id] = self.units(intent.buffer) // 1000 + stopped
                continue
            spent = noted[1] if intent.gesture == "double tap" else self.spent
            if intent.even_if_used or not any(
                spent.get(action, False) for action in touched(intent)
            ):
                arming.append(intent)
        for id in begins:
            if any(each.gesture == "double tap" and each.action == id for each in arming):
                self.first.pop(id, None)
            else:
                self.first[id] = self.count
        for action in {action for each in arming for action in touched(each)}:
            self.forget_family(action)
            self.own[action] = True
        for each in arming:
            self.life[each.id] = self.units(each.buffer) // 1000 + stopped

    def one_edge(self, down: dict[str, bool], edges: dict[str, int]) -> dict[str, bool]:
        """What is down in this tick: section 6, step 1."""
        found = {}
        for action in self.puppet.actions:
            queue = self.queues[action.id]
            last = queue[-1] if queue else self.down[action.id]
            for _ in range(edges.get(action.id, 0)):
                last = not last
                queue.append(last)
            if last != down.get(action.id, False):
                queue.append(not last)
            found[action.id] = queue.pop(0) if queue else self.down[action.id]
            while len(queue) > 3:
                del queue[:2]
        return found

    def forget_family(self, action: str, all_of_it: bool = True) -> None:
        for intent in self.puppet.intents:
            if (
                intent.gesture in FAMILY
                and action in touched(intent)
                and (all_of_it or not intent.even_if_used)
            ):
                self.life.pop(intent.id, None)

    def can_arm(self, each: Any) -> bool:
        wanted = [each.action]
        if each.gesture in ("sequence", "both"):
            wanted += each.others
            if not each.others or (
                each.gesture == "both" and (len(each.others) != 1 or each.action in each.others)
            ):
                return False
        return all(any(action.id == id for action in self.puppet.actions) for id in wanted)

    def completes(
        self, each: Any, begins: list[str], ends: list[str], noted: dict[str, int]
    ) -> bool:
        id, threshold = each.action, self.units(each.seconds)
        if each.gesture == "sequence":
            return self.in_order(each, begins)
        if each.gesture == "both":
            pair = [id, *each.others]
            return (
                all(self.down[action] for action in pair)
                and any(action in begins for action in pair)
                and all((self.count - self.since[action]) * 1000 <= threshold for action in pair)
            )
        if not self.down[id] and id not in ends:
            return False
        age = (self.count - self.since[id]) * 1000
        holds = [self.units(other.seconds) for other in self.puppet.intents
                 if other.action == id and other.gesture == "hold" and other.seconds > 0]
        often = max(threshold, 1000)
        return {
            "press": id in begins, "release": id in ends, "held": False,
            "tap": id in ends and age < min([threshold, *holds]),
            "hold": age >= threshold > age - 1000,
            "double tap": id in begins and id in noted
            and (self.count - noted[id]) * 1000 <= threshold,
            "repeat": self.down[id] and (id in begins or age // often > (age - 1000) // often),
        }[each.gesture]

    def in_order(self, each: Any, begins: list[str]) -> bool:
        """Whether a sequence completes."""
        if not begins:
            return False
        steps = [*each.others, each.action]
        kept = self.reached.setdefault(each.id, {})
        reached: dict[int, int] = {}
        for k in range(1, len(steps) + 1):
            for j in range(k + 1):
                between = steps[j:k]
                if len(set(between)) < len(between) or not set(between) <= set(begins):
                    continue
                first = self.count if j == 0 else kept.get(j)
                if first is not None and (j < k or k in kept):
                    reached[k] = max(reached.get(k, first), first)
        last = reached.pop(len(steps), None)
        if last is not None and (self.count - last) * 1000 <= self.units(each.seconds):
            self.reached[each.id] = {}
            return True
        self.reached[each.id] = reached
        return False

    def hear(self, layer: Layer | None, visit: int, loop: int) -> None:
        if layer is None or layer.clip is None or layer.visit != visit:
            return
        fire: list[Any] = []
        if loop == layer.cycle:
            layer.has_hit = True
            fire, layer.waits = layer.waits, []
        elif loop == layer.cycle - 1:
            fire, layer.waited = layer.waited, []
        self.moments += [(layer.id, layer.clip.id, self.frame(layer.clip, layer.shown), each)
                         for each in fire]
        for each in fire:
            self.deeds(layer, each.deeds)

    def deaf(self, state: Any) -> set[tuple[str, str]]:
        """(owner, transition) of what a state does not listen to."""
        found = set()
        for node in (state, *self.around(state)):
            found |= {(group.id, id) for group in self.around(node) for id in node.deaf_to}
        return found

    def choose(self, layer: Layer) -> None:
        entered = 0
        before = (layer.clip, layer.shown, layer.advanced, layer.now_shown(), layer.fading(),
                  layer.fresh)
        while True:
            groups = self.around(layer.state)
            owners = [(each, True) for each in (*reversed(groups), layer.state)]
            owners += [(each, False) for each in (layer.state, *groups)]
            tried = [transition for owner, overrides in owners
                     for transition in self.puppet.transitions
                     if transition.source == owner.id and transition.overrides == overrides
                     and self.usable(transition)
                     and (owner.id, transition.id) not in self.deaf(layer.state)]
            found = next((each for each in tried if self.can_take(layer, each)), None)
            if found is None:
                return
            self.take(layer, found)
            self.begin_blend(layer, found.blend, *before)
            if self.plays(layer.state):
                return
            entered += 1
            if entered == 9:
                self.stuck = True
                return

    def can_take(self, layer: Layer, each: Any) -> bool:
        target = self.node(each.target)
        leave = each.leave
        if leave.kind == "after" and layer.ticks * 1000 < self.units(leave.seconds):
            return False
        if leave.kind == "at the end" and not (layer.done or not self.plays(layer.state)):
            return False
        lets_in = {target.id, *(group.id for group in self.around(target))}
        if leave.kind == "in a window" and not any(
            leave.window in {window.name, *({window.kind} - {"named"})}
            and (not window.into or lets_in & set(window.into)) for window, _, _ in layer.open
        ):
            return False
        if each.when.strip():
            try:
                if not self.value(self.parsed(each.when, "bool"), layer):
                    return False
            except Unreadable:
                return False
        return bool(each.reenters or self.end_of(target) != layer.state)

    def take(self, layer: Layer, each: Any) -> None:
        used = self.used(self.parsed(each.when, "bool"), layer) if each.when.strip() else []
        for id in used:
            if id not in self.life:
                continue
            entry = self.reads(id)[1]
            del self.life[id]
            self.used_up.append(id)
            if entry.gesture in FAMILY:
                for action in touched(entry):
                    if self.own.get(action, False):
                        self.spent[action] = True
                    self.forget_family(action, False)
        old, new = layer.state, self.end_of(self.node(each.target))
        self.deeds(layer, old.on_leave)
        self.put(layer, new)
        self.deeds(layer, new.on_enter)
        self.taken.append((layer.id, each.id, old.id, new.id))

    def put(self, layer: Layer, state: Any) -> None:
        layer.enter(state)
        if state is None:
            return
        layer.clip = self.first_clip(state)
        for group in self.around(state):
            if group.remembers:
                self.remembers[group.id] = state.id

    def begin_blend(
        self,
        layer: Layer,
        blend: Any,
        clip: Any,
        time: int,
        advance: int,
        share: int,
        fading: list[Any],
        fresh: bool,
    ) -> None:
        layer.blend, layer.old, layer.blended = None, [], 0
        units = self.units(blend.seconds)
        if blend.kind != "crossfade" or units < 1:
            return
        layer.blend = (units, blend.easing)
        old = [Old(each.clip, each.time, each.advance, weight) for each, weight in fading]
        if not fresh:
            old.append(Old(clip, time, 0 if blend.frozen else advance,
                           FULL - sum(each.had for each in old)))
        while len(old) > 4:
            least = min(old, key=lambda each: each.had)
            old.remove(least)
            old[-1].had += least.had
        layer.old = old

    def deeds(self, layer: Layer, deeds: Any) -> None:
        for deed in deeds:
            if deed.kind == "set":
                self.set(layer, deed)
                continue
            intent = next((entry for entry in self.puppet.intents if entry.id == deed.intent), None)
            if intent is None or intent.gesture == "held":
                continue
            if deed.kind == "drop":
                self.life.pop(intent.id, None)
            elif any(action.id == intent.action for action in self.puppet.actions) and self.can_arm(
                intent
            ):
                if intent.gesture in FAMILY:
                    for action in touched(intent):
                        self.forget_family(action)
                        self.own[action] = False
                self.life[intent.id] = self.units(intent.buffer) // 1000 + self.stopped

    def set(self, layer: Layer, each: Any) -> None:
        memo = next((entry for entry in self.puppet.memos if entry.id == each.memo), None)
        if memo is None:
            return
        try:
            value = self.value(self.parsed(each.value, memo.type), layer)
        except Unreadable:
            return
        if memo.type == "choice" and value not in memo.choices:
            return
        value = fit(value, memo, self.memos[memo.id])
        if memo.type == "int" and memo.wraps > 0:
            value = start_of(memo) + (value - start_of(memo)) % memo.wraps
        self.memos[memo.id] = value
        if memo.returns > 0:
            self.memo_life[memo.id] = max(1, self.units(memo.returns) // 1000) + self.stopped

    def throw(self, layer: Layer) -> None:
        """In a spread along nothing, at its beginning and where a clip is over, the dice say what
        comes."""
        spread, placed = self.spread(layer.state) if layer.state is not None else (None, [])
        if not placed or spread.along or not (layer.fresh or layer.done):
            return
        comes = self.drawn(layer.state.id, [each.place[0] for each in placed], spread.repeats)
        if not layer.fresh:
            layer.cycle += not self.goes_round(layer.clip)
            layer.time, layer.done, layer.open, layer.has_hit = 0, False, [], False
            layer.waits, layer.waited, layer.advanced, layer.fresh = [], [], 0, True
        layer.clip = self.with_frames(placed[comes].clip)

    def roll(self, sides: int) -> int:
        """What the dice show, 0 to one less than their sides."""
        self.dice = self.dice ^ (self.dice * 2**13) % 2**32
        self.dice = self.dice ^ self.dice // 2**17
        self.dice = self.dice ^ (self.dice * 2**5) % 2**32
        return self.dice % sides

    def drawn(self, who: Any, weights: list[float], repeats: bool) -> int:
        """Which of several comes to one who may have drawn before."""
        weight = {number: round(1000 * min(1000.0, max(0.0, each)))
                  for number, each in enumerate(weights)}
        without = {number: each for number, each in weight.items()
                   if number != self.thrown.get(who)}
        if not repeats and sum(without.values()):
            weight = without
        comes = 0
        if sum(weight.values()):
            at = self.roll(sum(weight.values()))
            # As many tickets as it weighs: whose is this one?
            for number in sorted(weight):
                at -= weight[number]
                if at < 0:
                    comes = number
                    break
        self.thrown[who] = comes
        return comes

    def sound(self, clip: str, moment: Any) -> list[Any]:
        """Which sound, how loud and how high, of a moment that sounds otherwise than its file."""
        heard = moment.heard
        if moment.kind != "sound" or not (
            heard.others or heard.volume_spread or heard.pitch_spread
            or heard.volume != 1.0 or heard.pitch != 1.0
        ):
            return []
        weights = [heard.weight, *(each.weight for each in heard.others)]
        which = self.drawn((clip, moment.id), weights, heard.repeats) if heard.others else 0
        scales = []
        for value, spread, least in ((heard.volume, heard.volume_spread, 0),
                                     (heard.pitch, heard.pitch_spread, 1)):
            middle, off = round(1000 * value), round(1000 * spread)
            steps = list(range(middle - off, middle + off + 1))
            at = self.roll(len(steps)) if off else 0
            scales.append(max(least, steps[at]) / 1000)
        return [which, *scales]

    def pick(self, layer: Layer) -> Any:
        """The clip of a spread to play."""
        spread, placed = self.spread(layer.state)
        if not placed or not spread.along:
            return layer.clip
        best, least, kept = None, None, None
        for each in placed:
            away = 0.0
            for axis, name in enumerate(spread.along):
                if name == "facing":
                    gap = abs(each.place[axis] - SIDES[self.facing]) % 360
                    share = min(gap, 360 - gap) / 180
                else:
                    gap = abs(each.place[axis] - float(self.named(name, layer)))
                    places = [other.place[axis] for other in placed]
                    share = gap / ((max(places) - min(places)) or 1.0)
                share = min(share, float(BOUND))
                away += share * share
            away = away ** 0.5
            if least is None or away < least:
                best, least = each, away
            if not layer.fresh and each is layer.placed:
                kept = away
        assert best is not None and least is not None
        if kept is not None and kept <= least + spread.hold:
            best = layer.placed
        layer.placed = best
        return self.with_frames(best.clip)

    def play(self, layer: Layer, was_open: list[Any]) -> list[Any]:
        """A layer plays; the moments that fired."""
        state = layer.state
        fading = self.playback(layer, was_open)
        for old in layer.old:
            if old.clip:
                cycle = self.cycle(old.clip)
                old.time = (old.time + old.advance) % cycle if self.goes_round(old.clip) else min(
                    cycle, old.time + old.advance)
        layer.blended += 1000
        if layer.blend is not None and layer.blended >= layer.blend[0]:
            layer.old = []
        if not self.plays(state):
            layer.ticks += 1
            layer.fresh, layer.done, layer.advanced, layer.shown = False, True, 0, layer.time
            return []
        clip, unbegun = self.pick(layer), False
        if clip.id != layer.clip.id:
            layer.shown = layer.shown * self.cycle(clip) // self.cycle(layer.clip)
            layer.time = layer.time * self.cycle(clip) // self.cycle(layer.clip)
            if self.goes_round(clip) and layer.time == self.cycle(clip):
                layer.time = 0
            # A pass of which nothing was shown yet is begun in the new clip, even if it goes not
            # round.
            unbegun = layer.done and self.goes_round(layer.clip)
            layer.waits = self.carried(layer.clip, clip, layer.waits)
            layer.waited = self.carried(layer.clip, clip, layer.waited)
            layer.clip = clip
        advance = layer.advanced = self.advance(layer, fading)
        layer.ticks += 1
        cycle, round_ = self.cycle(clip), self.goes_round(clip)
        # What the tick comes to: up to the time on show, and where it reaches the end of the cycle
        # all that is left.
        come: list[tuple[int, int]] = []
        begins = layer.fresh or unbegun or (layer.done and round_)
        since = -1 if begins else cycle if layer.done else layer.shown
        come += [(0, time) for time in range(since + 1, layer.time + 1)]
        layer.shown = layer.time
        loop = 0
        for _ in range(advance):
            if layer.time == cycle:
                break
            layer.time += 1
            if layer.time == cycle:
                first = max(since, layer.shown) + 1 if loop == 0 else 0
                come += [(loop, time) for time in range(first, cycle + 1)]
                if round_:
                    loop, layer.time = loop + 1, 0
        fired = self.fire(layer, clip, come, loop)
        layer.fresh, layer.cycle = False, layer.cycle + loop
        layer.done = loop > 0 if round_ else layer.time == cycle
        self.windows(layer, clip, set(come), loop)
        return fired

    def playback(self, layer: Layer, was_open: list[Any]) -> list[tuple[Any, int]]:
        """The rules that change how fast a layer plays, and their shares, in order."""
        found = []
        for key, rule in self.of_nodes():
            if key[0] == layer.id:
                found.append((rule, self.shares[key].share if key in self.shares else FULL))
        open_rules: dict[Any, Any] = {}
        for window, _, _ in was_open:
            for index, rule in enumerate(window.rules):
                if self.works(rule, layer):
                    open_rules.setdefault((layer.id, True, window.id, index), rule)
        for key, each in self.shares.items():
            if key[0] == layer.id and key[1] and not each.out and (
                    each.rule.ease_out > 0 or self.works(each.rule, layer)):
                open_rules.setdefault(key, each.rule)
        for key, rule in open_rules.items():
            # One with an ease whose condition holds for the first time had no share yet.
            found.append((rule, self.shares[key].share if key in self.shares
                          else 0 if self.eased(rule) else FULL))
        found += [(each.rule, each.share)
                  for key, each in self.shares.items()
                  if each.out and key[0] == layer.id and key not in open_rules]
        return [(rule, share) for rule, share in found if rule.kind == "playback"]

    def carried(self, old: Any, new: Any, waiting: list[Any]) -> list[Any]:
        def keys(clip: Any) -> list[tuple[str, str, int]]:
            return [(each.kind, each.name, sum((other.kind, other.name) == (each.kind, each.name)
                                               for other in clip.moments[:index]))
                    for index, each in enumerate(clip.moments)]

        before = dict(zip([moment.id for moment in old.moments], keys(old), strict=True))
        after = dict(zip(keys(new), new.moments, strict=True))
        return [after[before[each.id]] for each in waiting if before[each.id] in after]

    def advance(self, layer: Layer, playback: list[tuple[Any, int]]) -> int:
        state = layer.state
        speed, mapped = state.speed, state.speed_map
        if mapped is not None and self.kind_of(mapped.source) in ("int", "float"):
            span = mapped.high - mapped.low
            share = (float(self.named(mapped.source, layer)) - mapped.low) / span if span else 0.0
            speed = mapped.slow + max(0.0, min(1.0, share)) * (mapped.fast - mapped.slow)
        for rule, share in playback:
            speed = clamped(speed * factor(rule, share))
        if playback:
            speed = max(0.0, min(100.0, speed))
        return round(speed * 1000)

    def fire(self, layer: Layer, clip: Any, met: list[tuple[int, int]], last: int) -> list[Any]:
        layer.waited = []
        fired: list[Any] = []
        present = 0
        if last and (not met or met[-1][0] < last):
            met = [*met, (last, -1)]
        times = [(moment, self.times(clip, moment)) for moment in clip.moments]
        for loop, time in met:
            if loop != present:
                layer.waited, layer.waits, layer.has_hit, present = layer.waits, [], False, loop
            if loop < last - 64:
                continue
            for moment, at in times:
                if time not in at:
                    continue
                if moment.only_on_hit and not layer.has_hit:
                    layer.waits += [] if moment in layer.waits else [moment]
                else:
                    fired.append(moment)
        frame = self.frame(clip, layer.shown)
        self.moments += [(layer.id, clip.id, frame, each) for each in fired]
        return fired

    def windows(self, layer: Layer, clip: Any, met: set[tuple[int, int]], last: int) -> None:
        _, length, _, _ = self.shape(clip)
        found: list[tuple[int, Any, tuple[Any, int, int]]] = []
        for window in clip.windows:
            for start, end, opens_on in self.stretches(clip, window):
                held = (
                    clip.mode == "hold last" and end == length and layer.shown == self.cycle(clip)
                )
                on_show = start <= layer.shown < end or held
                if on_show or (0, start) in met or last > 1:
                    frame = self.frame(clip, layer.shown) if on_show else opens_on
                    found.append((start, window, (window, frame, layer.cycle - (last > 0))))
        layer.open = [each for _, _, each in sorted(found, key=lambda one: one[0])]

    def turn(self) -> None:
        facing = self.puppet.facing
        if (
            self.kind_of(facing.follows) not in ("int", "float")
            or self.reads(facing.follows)[0] != "sense"
        ):
            return
        across, up = self.senses[facing.follows], 0
        if facing.kind != "mirror" and self.reads(facing.follows_up)[0] == "sense" and (
            self.kind_of(facing.follows_up) in ("int", "float")
        ):
            up = self.senses[facing.follows_up]
        if across == 0 and up == 0:
            return
        side = "right" if across > 0 else "left" if across < 0 else self.facing
        height = "up" if up > 0 else "down"
        less, more = sorted((float(abs(across)), float(abs(up))))
        if facing.kind == "eight" and less > 0.41421356237309503 * more:
            self.facing = f"{height} {side}"
        elif up == 0 or abs(across) > abs(up):
            self.facing = side
        elif abs(across) < abs(up):
            self.facing = height
        elif self.facing not in (side, height):
            self.facing = side


def touched(intent: Any) -> list[str]:
    """The actions that an intent touches."""
    return [intent.action, *(intent.others if intent.gesture == "both" else ())]


def factor(rule: Any, share: int) -> float:
    """What a rule of a number counts as."""
    return float(clamped(1.0 + (float(rule.value) - 1.0) * (share / FULL)))


def compare(one: Any, op: ast.cmpop, other: Any) -> bool:
    """One comparison, exact between whole numbers and floats."""
    if isinstance(one, int | float) and isinstance(other, int | float):
        one, other = Fraction(one), Fraction(other)
    return bool({
        ast.Lt: lambda: one < other, ast.LtE: lambda: one <= other, ast.Gt: lambda: one > other,
        ast.GtE: lambda: one >= other, ast.Eq: lambda: one == other,
        ast.NotEq: lambda: one != other,
    }[type(op)]())


def plain_report(program: Program, report: Report) -> dict[str, Any]:
    """A report of the real engine as the same plain data."""
    loops = {layer.layer: layer.cycle for layer in report.layers}
    return {
        "layers": [
            (each.layer, each.state, list(each.groups), each.clip, each.clip_time, each.frame,
             each.elapsed, each.cycle,
             each.done, each.visit)
            for each in report.layers
        ],
        "facing": report.facing,
        "senses": {sense.id: value
                   for sense, value in zip(program.senses, report.senses, strict=True)},
        "memos": {memo.id: value for memo, value in zip(program.memos, report.memos, strict=True)},
        "thresholds": {each.id: on
                       for each, on in zip(program.thresholds, report.thresholds, strict=True)},
        "armed": list(report.armed), "used": list(report.used),
        "moments": [(moment.layer, moment.clip, moment.frame, moment.moment.id, *(
            (moment.sound, moment.volume, moment.pitch) if moment.moment.heard else ()))
                    for moment in report.moments],
        "windows": [(window.layer, window.clip, window.frame, window.window.id,
                     loops[window.layer] - window.late)
                    for window in report.windows],
        "rules": [(rule.owner, rule.rule.kind, rule.rule.value, rule.share)
                  for rule in report.rules],
        "taken": [(each.layer, each.transition, each.source, each.target) for each in report.taken],
        # All that while-rules come to, by the table: a kind that is new is missing here above.
        "together": tuple(getattr(report, kind) for kind in REPORTED),
        "weights": [each.weight for each in report.layers],
        "on show": [
            (each.blend, [(old.clip, old.frame, old.clip_time, old.weight) for old in each.fading])
            for each in report.layers
        ],
        "stuck": report.stuck,
    }
