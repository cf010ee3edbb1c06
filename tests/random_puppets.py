"""Puppets of many shapes and input for them, from a seed: nested groups, layers, spreads, every
gesture and leave rule."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random
from typing import Any, TypeVar, get_args

from msgspec.structs import replace

from yarn_puppet.core.model.clips import Anchor, Cell, Clip, Frame
from yarn_puppet.core.model.events import Deed, Heard, Moment, Rule, Sound, Window
from yarn_puppet.core.model.graph import (
    Blend,
    Group,
    Layer,
    Leave,
    Placed,
    SpeedMap,
    Spread,
    State,
    Transition,
)
from yarn_puppet.core.model.kinds.gestures import Gesture
from yarn_puppet.core.model.kinds.while_rules import WHILE_RULES
from yarn_puppet.core.model.kinds.windows import WindowKind
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Facing, Intent, Memo, Sense, Threshold

Option = TypeVar("Option")
CELL = Cell("sheet", 0, 0, 8, 8)
ANCHORS = (Anchor("hand", "hand"),)
SENSES = (
    Sense("grounded", "grounded"), Sense("landed", "landed", event=True),
    Sense("speed", "speed", "float", 0.0),
    Sense("move_x", "move_x", "int", 0), Sense("move_y", "move_y", "int", 0),
    Sense("ground", "ground", "choice", "stone", choices=("stone", "straw")),
)
MEMOS = (Memo("steps", "steps", wraps=4, returns=0.2),
         Memo("count", "count", "int", 1, returns=0.05),
         Memo("tired", "tired", "bool", False), Memo("weight", "weight", "float", 0.5),
         Memo("mood", "mood", "choice", "calm", choices=("calm", "cross")))
CONDITIONS = (
    "", "", "i0", "i1", "i2", "i3", "i4", "not i0", "i0 and grounded", "(i0 and tired) or grounded",
    "i1 or i2 and i3",
    "i0 and i1 or not i2", "speed > 2 and not grounded", "-1 < speed <= 3", "move_x != 0", "done",
    "elapsed > 0.05",
    "clip_time >= 0.1 or loops > 1", 'facing == "left"', 'window("pole")', 'window("hit") and i4',
    'in_state("s0")',
    'not in_state("g0")', "steps * 3 - 2 > 4", "steps / 0 == 0", 'ground == "straw"',
    'mood != "calm" and tired',
    "abs(speed) + min(steps, 2, weight) > clamp(speed, 0, 1)", "landed", "landed and i0",
    "sign(speed - 2) == -1",
    "tired == grounded", "i0 == true", "(i0 or tired) == grounded", 'ground == "sand"', "broken +",
    "gone > 2",
    "max(steps, -3) < 2", "speed * 1000000001 > 1",
    "fast", "not fast and low", "lost or i1", 'facing == "up left"',
    'facing == "down right" and fast',
    "1000000000 * 1000000000 + steps == 1000000000 * 9007199.254740992", "true", "not (i0 or i1)",
)
SETS = (("steps", "steps + 1"), ("steps", "steps * 1000000000"), ("tired", "not tired"),
        ("tired", "i0"),
        ("weight", "weight * 2 + speed"), ("weight", "steps"), ("mood", '"cross"'),
        ("mood", "ground"),
        ("mood", '"odd"'), ("weight", "elapsed + clip_time"), ("gone", "1"), ("steps", "loops"))
THRESHOLDS = (Threshold("fast", "fast", "speed", 2.0, 1.0),
              Threshold("low", "low", "steps", -1.0, 2.0),
              Threshold("lost", "lost", "ground", 1.0, 0.0))


RULES = (
    Rule("move_speed", 0.5), Rule("move_speed", 1e9), Rule("lock_movement"), Rule("lock_facing"),
    Rule("gravity", -2.0),
    Rule("jump_height", 1.5), Rule("memo", memo="steps", to=9),
    Rule("memo", memo="mood", to="cross"),
    Rule("memo", memo="tired", to="odd"), Rule("memo", memo="gone"), Rule("safe"),
    Rule("playback", 0.5),
    Rule("playback", -1.0), Rule("playback", 3.0), Rule("layer_weight", 0.5, layer="arms"),
    Rule("layer_weight", 2.0, layer="body"), Rule("layer_weight", layer="gone"),
    Rule("prop", anchor="hand"),
    Rule("prop", anchor="gone"), Rule("box", box="low"), Rule("box"),
    Rule("tint", 0.5, colour="#ff8800"), Rule("tint"),
)
OTHER_RULES = (
    Rule("mode", mode="ladder"), Rule("height", 0.6),
    *(Rule(kind, traits.start) for kind, traits in WHILE_RULES.items()
      if kind not in {"mode", "height", *(rule.kind for rule in RULES)}),
)
"""Kinds that none of those above is of: drawn by dice of their own, so that the cases of `golden/`
stay what they are when there is another kind."""


class Shaker:
    """Draws from a seed; `waiting` says whether some states wait for clips, `asking` whether some
    while-rules have conditions, `seams` whether some groups are around all of their layer,
    `sounding` whether some moments are sounds at random, and `others` whether some while-rules are
    of OTHER_RULES: these four are drawn by dice of their own."""

    def __init__(
        self, seed: int, waiting: bool = True, asking: bool = True, seams: bool = True,
        sounding: bool = True, others: bool = True,
    ) -> None:
        self.random, self._conditions = Random(seed), Random(seed + 1)
        self._seams, self._sounds = Random(seed + 2), Random(seed + 3)
        self._others = Random(seed + 4)
        self.waiting, self.asking, self.seams, self.sounding = waiting, asking, seams, sounding
        self.others = others

    def pick(self, options: Sequence[Option]) -> Option:
        """One of some options."""
        return self.random.choice(options)

    def some(self, options: Sequence[Option], most: int) -> tuple[Option, ...]:
        """Up to `most` of some options, which may come twice."""
        return tuple(self.pick(options) for _ in range(self.random.randint(0, most)))

    def chance(self, of_ten: int) -> bool:
        """Whether it is so, in that many cases of ten."""
        return self.random.randrange(10) < of_ten

    def puppet(self) -> Puppet:
        """A puppet."""
        layers = [self.layer(id)
                  for id in ("body", "arms", "lantern")[: 1 + self.chance(3) + self.chance(1)]]
        homes = [each.id for each in layers]
        states = [f"s{number}" for number in range(
            self.random.randint(0 if self.chance(1) else 2, 7))]
        groups = [f"g{number}" for number in range(self.random.randint(0, 4))]
        clips = [f"c{number}" for number in range(self.random.randint(1, 4))]
        nodes = [*states, *groups, "gone"]
        made_groups = []
        for number, id in enumerate(groups):
            around = self.pick([None, None, *groups[:number]])
            layer = next((group.layer for group in made_groups if group.id == around),
                         self.pick(homes))
            if self.chance(1):
                layer = self.pick([*homes, "gone"])
            made_groups.append(Group(id, id, layer, around, self.pick([None, *nodes]),
                                     self.chance(4), self.rules(),
                                     deaf_to=self.deaf(),
                                     anywhere=self.seams and self._seams.randrange(5) == 0))
        made_states = []
        for id in states:
            around = self.pick([None, *groups, *groups])
            layer = next((group.layer for group in made_groups if group.id == around),
                         self.pick(homes))
            if self.chance(1):
                layer = self.pick([*homes, "gone"])
            mapped = SpeedMap(self.pick(["speed", "steps", "elapsed", "gone"]), 0.0,
                              self.pick([0.0, 3.0]), 0.5, 2.0)
            made_states.append(State(
                id, id, layer, around, self.pick([None, "gone", *clips, *clips, *clips]),
                self.pick([1.0, 1.0, 0.0, 0.33, 3.7]), mapped if self.chance(2) else None,
                self.rules(), self.deeds(),
                self.deeds(), deaf_to=self.deaf(),
                spread=self.pick([None, None, None, "spread", "gone"]),
                # One in three of those that play nothing waits for a clip.
                waits_for="walk" if self.waiting and len(made_states) % 3 == 1 else "",
            ))
        transitions = [
            Transition(f"t{number}", self.pick(nodes), self.pick(nodes), self.pick(CONDITIONS),
                       self.leave(),
                       self.blend(), overrides=self.chance(2), reenters=self.chance(2))
            for number in range(self.random.randint(0, 4 * len(states)))
        ]
        return Puppet(
            rate=self.pick([15, 30, 60, 240]), clips=tuple(self.clip(id, nodes) for id in clips),
            spreads=(self.spread([*clips, "gone"]),),
            layers=tuple(replace(each, start=self.pick([None, *nodes])) for each in layers),
            anchors=ANCHORS,
            groups=tuple(made_groups), states=tuple(made_states), transitions=tuple(transitions),
            actions=(Action("a", "a"), Action("b", "b"), Action("c", "c")), intents=self.intents(),
            senses=SENSES, memos=MEMOS, thresholds=THRESHOLDS,
            facing=Facing(self.pick(["mirror", "four", "eight"]),
                          self.pick(["move_x", "speed", "grounded"]),
                          self.pick(["right", "up", "up left"]), self.pick(["move_y", "gone"])),
        )

    def rules(self) -> tuple[Rule, ...]:
        """While-rules."""
        found: tuple[Rule, ...] = ()
        if not self.chance(7):
            found = tuple(
                replace(rule, ease_in=self.pick([0.0, 0.0, 0.004, 0.1, 0.3]),
                        ease_out=self.pick([0.0, 0.0, 0.02, 0.07, 1e9]),
                        when=self._conditions.choice(["", "", *CONDITIONS]) if self.asking else "")
                for rule in self.some(RULES, 2)
            )
        if self.others and self._others.random() < 0.15:
            other = self._others.choice(OTHER_RULES)
            found += (replace(other, ease_in=self._others.choice([0.0, 0.1]),
                              ease_out=self._others.choice([0.0, 0.07])),)
        return found

    def deeds(self) -> tuple[Deed, ...]:
        """Settings of memos, and arming and dropping of intents."""
        if self.chance(7):
            return ()
        return tuple(
            Deed(*each) if len(each) == 2 else Deed(kind=self.pick(["arm", "drop"]), intent=each[0])
            for each in self.some((*SETS, ("count", "count + 1"), ("i0",), ("i1",), ("i2",),
                                   ("i3",), ("gone",)), 2)
        )

    def deaf(self) -> tuple[str, ...]:
        """Transitions that a node does not listen to."""
        return tuple(f"t{self.random.randrange(12)}" for _ in range(3)) if self.chance(2) else ()

    def layer(self, id: str) -> Layer:
        """A layer."""
        return Layer(id, id, weight=self.pick([1.0, 0.3, 0.0]),
                     shown_when=self.pick(["", "", *CONDITIONS]),
                     ease_in=self.pick([0.0, 0.1]), ease_out=self.pick([0.0, 0.05]))

    def blend(self) -> Blend:
        """How a transition takes over."""
        kind: Any = self.pick(["cut", "cut", "crossfade", "crossfade", "momentum"])
        easing: Any = self.pick(["linear", "ease in", "ease out", "ease in and out"])
        return Blend(kind, self.pick([0.0, 0.01, 0.05, 0.1, 0.35, 1000.0]), easing, self.chance(4))

    def leave(self) -> Leave:
        """A leave rule."""
        kind: Any = self.pick(["any time", "any time", "after", "at the end", "in a window"])
        return Leave(kind, self.pick([0.0, 0.05, 0.1]),
                     self.pick(["pole", "cancel", "hit", "gone"]))

    def intents(self) -> tuple[Intent, ...]:
        """Five intents on three actions and one that is not there."""
        gestures = list(get_args(Gesture))
        return tuple(
            Intent(f"i{number}", f"i{number}", self.pick(["a", "a", "a", "b", "gone"]),
                   self.pick(gestures),
                   self.pick([0.0, 0.05, 0.1, 0.2]), self.pick([0.0, 0.05, 0.15, 1.0]),
                   self.chance(2),
                   self.some(["a", "b", "c", "a", "b", "gone"][: 5 + self.chance(1)], 3))
            for number in range(5)
        )

    def clip(self, id: str, nodes: list[str]) -> Clip:
        """A clip of a few short frames."""
        frames = tuple(Frame(CELL, self.pick([1.0, 16.6, 33.4, 50.0, 81.3]))
                       for _ in range(self.random.randint(0, 4)))
        length = sum(frame.duration for frame in frames)
        times = [0.0, 33.4, 33.401, length, length / 2, length * 2, 16.6, 50.0,
                 *(self.random.random() * length for _ in range(3))]
        kinds = list(get_args(WindowKind))
        moments = tuple(
            self.sound(Moment(
                f"{id}m{number}", self.pick(times), "call", self.pick(["step", "knock"]),
                only_on_hit=self.chance(4),
                deeds=self.deeds()))
            for number in range(self.random.randint(0, 3))
        )
        windows = tuple(
            Window(f"{id}w{number}", self.pick(times), self.pick(times), self.pick(kinds),
                   self.pick(["pole", "pole", "cancel", "hit"]),
                   self.some(nodes, 2) if self.chance(3) else (),
                   rules=self.rules())
            for number in range(self.random.randint(0, 3))
        )
        modes: Any = ["once", "loop", "back and forth", "hold last"]
        return Clip(id, id, frames, self.pick(modes), moments=moments, windows=windows)

    def sound(self, moment: Moment) -> Moment:
        """A moment, or a sound in its place: one of several, more or less loud and high."""
        dice = self._sounds
        if not self.sounding or dice.random() < 0.5:
            return moment
        weights = [0.0, 0.0, 1.0, 1.0, 0.5, 2.3456, 1000.0]
        return replace(moment, kind="sound", file="a.wav", heard=Heard(
            dice.choice(weights), tuple(Sound(f"{place}.wav", dice.choice(weights))
                                        for place in range(dice.choice([0, 0, 1, 2, 3]))),
            dice.random() < 0.3, dice.choice([1.0, 0.5, 0.0]), dice.choice([0.0, 0.1, 2.0]),
            dice.choice([1.0, 1.5]), dice.choice([0.0, 0.0305, 4.0])))

    def spread(self, clips: list[str]) -> Spread:
        """Clips along the facing, a value or two."""
        along = self.pick([("facing",), ("speed",), ("steps", "facing"), ("elapsed",), ("gone",)])
        places = [-2.0, 0.0, 1.0, 90.0, 180.0, 1e9]
        dice = self._conditions
        if self.asking and dice.random() < 0.4:
            weights = [0.0, 0.0] if dice.random() < 0.1 else [0.0, 0.5, 1.0, 3.0, 1e9, -1.0]
            return Spread("spread", "spread", tuple(
                Placed(clip, (dice.choice(weights),)) for clip in clips), (),
                repeats=dice.random() < 0.4)
        return Spread("spread", "spread", tuple(
            Placed(clip, tuple(self.pick(places)
                               for _ in range(2 if self.chance(1) else len(along))))
                               for clip in clips
        ), along, self.pick([0.0, 0.0, 0.2, 1.0]))

    def edges(self) -> tuple[int, ...]:
        """How often each action went down or up between two ticks; mostly as its level tells."""
        return tuple(self.pick([0, 0, 1, 2, 3, 9]) for _ in "abc") if self.chance(2) else ()

    def senses(self) -> dict[str, Any]:
        """What a game reports, not always of the right type."""
        odd: list[Any] = ["abc", float("nan"), float("inf"), 10**400, True, -0.0, None]
        return {
            "grounded": self.chance(5), "landed": self.chance(2),
            "speed": self.pick([0.0, 1.5, 2.5, -4.0]),
            "move_x": self.pick([-1, 0, 0, 1]), "move_y": self.pick([-1, 0, 1]),
            "ground": self.pick(["stone", "straw"]),
        } | ({self.pick([sense.id for sense in SENSES]): self.pick(odd)} if self.chance(1) else {})
