"""The golden cases: for each corner of docs/semantics.md a puppet, inputs and the trace, as JSON
for any language.

`python -m tests.golden_cases` writes them to tests/golden, after the simple engine has agreed with
them.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import msgspec

from tests.helpers import clip, puppet_of
from tests.random_puppets import Shaker
from tests.simple_engine import SimpleEngine, plain_report
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Inputs, Landed
from yarn_puppet.core.formats.writing import plain
from yarn_puppet.core.model.clips import Anchor
from yarn_puppet.core.model.events import Deed, Heard, Moment, Rule, Sound, Window
from yarn_puppet.core.model.graph import (
    BODY,
    Blend,
    Group,
    Layer,
    Leave,
    Placed,
    Spread,
    State,
    Transition,
)
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Facing, Intent, Memo, Sense, Threshold
from yarn_puppet.core.takes.sampling import Sampler

FOLDER = Path(__file__).parent / "golden"
Tick = tuple[tuple[str, ...], dict[str, Any], tuple[tuple[int, int, int], ...], bool]
"""Actions down, senses, hits that landed as (layer, visit, pass), stopped."""


def held(*spans: tuple[int, int, str], ticks: int, **more: Any) -> list[Tick]:
    """Ticks with actions held from one tick to before another; `stops` are stopped ticks, `news`
    hits by tick."""
    return [
        (tuple(action for first, last, action in spans if first <= number < last),
         more.get("senses", {}),
         tuple(more.get("news", {}).get(number, ())), number in more.get("stops", ()))
        for number in range(ticks)
    ]


def gestures() -> tuple[Puppet, list[Tick]]:
    """Every gesture of one action; what one transition uses spends the press."""
    kinds: Any = ("press", "release", "tap", "hold", "double tap")
    intents = tuple(Intent(kind.replace(" ", "_"), kind.replace(" ", "_"), "attack", kind, 0.1, 0.1)
                    for kind in kinds)
    intents += (Intent("all_the_same", "all_the_same", "attack", "hold", 0.15, 0.0, True),)
    states = [State(id, id, clip="rest") for id in "abc"]
    ways = [Transition("ab", "a", "b", "double_tap"), Transition("ac", "a", "c", "hold"),
            Transition("ba", "b", "a", "release and elapsed > 0.05"),
            Transition("ca", "c", "a", "all_the_same or tap")]
    spans = [(2, 4, "attack"), (6, 8, "attack"), (9, 10, "attack"), (20, 40, "attack"),
             (50, 53, "attack")]
    return puppet_of([clip("rest")], states, ways, intents=intents), held(
        *spans, ticks=70, stops={51, 52})


def back_and_forth() -> tuple[Puppet, list[Tick]]:
    """Moments at both ends and in between, and windows shorter than a tick, there and back, across
    seams and a stop."""
    moments = [Moment(f"m{at}", at, "call", "step") for at in (0, 50, 100, 150, 210)]
    windows = [Window("w", 60, 70, "hit", "pole"), Window("z", 210, 210, "named", "end"),
               Window("l", 0, 5, "guard", "g")]
    played = clip("c", (60, 90, 60), "back and forth", moments, windows)
    return puppet_of([played], [State("a", "A", clip="c")]), held(ticks=60, stops={11, 12, 30})


def hits() -> tuple[Puppet, list[Tick]]:
    """Only on a hit: told in the pass, told just after its seam, and told too late; a cancel on hit
    after a stop."""
    moments = [Moment(id, at, "call", id, only_on_hit=True)
               for id, at in (("knock", 20), ("late", 90))]
    windows = [Window("w", 80, 100, "hit", "pole", rules=(Rule("move_speed", 0.5),))]
    played = clip("c", (50, 50), "loop", moments, windows)
    ways = [Transition("ab", "a", "b", "hit_landed and elapsed > 0.3")]
    puppet = puppet_of([played], [State("a", "A", clip="c"), State("b", "B", clip="c")], ways)
    news = {3: [(0, 0, 0)], 7: [(0, 0, 0)], 12: [(0, 0, 0)], 19: [(0, 0, 2)], 22: [(0, 9, 0)]}
    ticks = held(ticks=40, news=news, stops={23, 24})
    return puppet, [
        (down, {"hit_landed": number == 23}, landed, stop)
        for number, (down, _, landed, stop) in enumerate(ticks)
    ]


def nested() -> tuple[Puppet, list[Tick]]:
    """Groups in groups that remember, overriding, re-entry, starts that cannot be entered, states
    that play nothing."""
    groups = (Group("out", "Out", start="empty", remembers=True),
              Group("in", "In", group="out", start="c"),
              Group("empty", "Empty"),
              Group("other", "Other", start="e", rules=(Rule("lock_facing"),)))
    states = [State("a", "A", group="out", clip="c"), State("b", "B", group="in", clip="c"),
              State("c", "C", group="in"), State("d", "D", group="in", clip="c"),
              State("e", "E", group="other", clip="c")]
    ways = [Transition("oe", "out", "e", "tap_attack", overrides=True),
            Transition("eo", "e", "out", "tap_attack"),
            Transition("ai", "a", "in", "press_jump"), Transition("cd", "c", "d"),
            Transition("db", "d", "b", "press_jump"), Transition("x", "a", "empty"),
            Transition("bb", "b", "b", "held_guard", Leave("after", 0.1), reenters=True)]
    spans = [(2, 4, "jump"), (8, 10, "attack"), (14, 16, "attack"), (20, 22, "jump"),
             (26, 40, "guard"),
             (42, 44, "attack"), (50, 52, "attack")]
    return puppet_of([clip("c")], states, ways, groups=groups), held(*spans, ticks=60)


def waiting() -> tuple[Puppet, list[Tick]]:
    """States that wait for a clip, alone, as the start of a group and of the layer, and all in a
    group of theirs."""
    groups = (Group("first", "First", start="a"), Group("bare", "Bare", start="d"),
              Group("rest", "Rest", start="e"))
    states = [State("a", "A", group="first", waits_for="stand"),
              State("b", "B", group="first", clip="c", waits_for="stand"),
              State("d", "D", group="bare", waits_for="walk"),
              State("e", "E", group="rest", waits_for="fall"),
              State("f", "F", group="rest", clip="c"), State("g", "G", waits_for="rise")]
    ways = [Transition("bd", "b", "bare", "press_jump"), Transition("ba", "b", "a", "tap_attack"),
            Transition("br", "b", "rest", "press_jump"), Transition("fg", "f", "g"),
            Transition("fb", "f", "first", "tap_attack")]
    puppet = puppet_of([clip("c")], states, ways, groups=groups,
                       layers=(Layer(BODY, "body", "a"), Layer("idle", "idle", "g")))
    return puppet, held((2, 4, "jump"), (6, 8, "attack"), (12, 14, "jump"), (16, 18, "attack"),
                        ticks=24)


def values() -> tuple[Puppet, list[Tick]]:
    """Numbers at their bounds, division by zero, choices, settings on entering and leaving, wrong
    types."""
    memos = (Memo("count", "count"), Memo("share", "share", "float", "abc"),
             Memo("mood", "mood", "choice", "odd",
             ("calm", "cross")))
    sets = (Deed("count", "(count + 7) * 1000000000"),
            Deed("share", "count / (speed - 2) + elapsed"),
            Deed("mood", '"cross"'))
    states = [State("a", "A", clip="c", on_leave=sets),
              State("b", "B", clip="c", on_enter=(Deed("share", "-share * 3"),))]
    ways = [Transition("ab", "a", "b", "speed >= 2 or count / 0 == 1"),
            Transition("ba", "b", "a", "elapsed > 0.04")]
    speeds: list[Any] = [0.5, 2.0, "abc", True, 2.5, 10.0**300, -0.0, 3, None, 2.0]
    ticks: list[Tick] = [((),
                          {"speed": speeds[number // 3 % len(speeds)], "move_x": number % 3 - 1},
                          (), False)
                         for number in range(40)]
    return puppet_of([clip("c")], states, ways, memos=memos), ticks


def spread() -> tuple[Puppet, list[Tick]]:
    """A spread that changes its clip in the middle: the time keeps its share, what waits goes
    along."""
    made = [clip(id, frames, "loop", [Moment(f"{id}m", 30, "call", "knock", only_on_hit=True)],
                 [Window(f"{id}w", 20, 60, "hit", "pole")])
                 for id, frames in (("slow", (90, 90)), ("quick", (40, 60)))]
    placed = Spread("s", "S", (Placed("slow", (0.0,)), Placed("quick", (100.0,))), ("speed",))
    speeds = [0.0] * 4 + [90.0] * 5 + [20.0] * 12 + [80.0] * 19
    ticks: list[Tick] = [((), {"speed": speed}, ((0, 0, 0),) if number == 7 else (), False)
                         for number, speed in enumerate(speeds)]
    return puppet_of(made, [State("a", "A", spread="s")], spreads=(placed,)), ticks


def pressed_together() -> tuple[Puppet, list[Tick]]:
    """A sequence, both, and repeat: in order, at once, too late, spent, and used."""
    intents = (
        Intent("quake", "quake", "attack", "sequence", 0.2, 0.05, others=("down", "right")),
        Intent("twice", "twice", "jump", "sequence", 0.3, 0.05, others=("jump",)),
        Intent("throw", "throw", "attack", "both", 0.05, 0.05, others=("guard",)),
        Intent("again", "again", "guard", "repeat", 0.1, 0.0),
        Intent("press", "press", "attack", "press", 0.0, 0.1),
    )
    states = [State(id, id, clip="rest") for id in "ab"]
    ways = [Transition("ab", "a", "b", "quake or throw or twice"),
            Transition("ba", "b", "a", "elapsed > 0.1")]
    spans = [(2, 4, "down"), (5, 7, "right"), (8, 10, "attack"), (20, 40, "guard"),
             (22, 24, "attack"),
             (50, 52, "down"), (50, 52, "right"), (50, 52, "attack"), (60, 61, "jump"),
             (63, 64, "jump"),
             (65, 66, "jump"), (80, 81, "down"), (100, 101, "right"), (102, 103, "attack")]
    return puppet_of([clip("rest")], states, ways, intents=intents), held(*spans, ticks=110)


def blends() -> tuple[Puppet, list[Tick]]:
    """Dissolves of every easing, one broken off by the next, more than are kept, frozen ones and
    through nothing."""
    easings: Any = ("linear", "ease in", "ease out", "ease in and out")
    clips = [clip(f"c{number}", (50, 70 + number), "once" if number == 2 else "loop")
             for number in range(6)]
    states = [State(f"s{number}", f"S{number}", clip=f"c{number}", speed=1.0 + number / 4)
              for number in range(6)]
    states.append(State("none", "None"))
    ways = [
        Transition(f"t{number}", f"s{number}", f"s{(number + 1) % 6}" if number != 3 else "none",
                   "elapsed > 0.05" if number else "elapsed > 0.3",
                   blend=Blend("crossfade", 0.3 + number / 10, easings[number % 4], number == 1))
        for number in range(6)
    ]
    ways.append(Transition("out", "none", "s4", "elapsed > 0.03", blend=Blend("crossfade", 0.2)))
    return puppet_of(clips, states, ways), held(ticks=110, stops={24, 25, 40})


def while_rules() -> tuple[Puppet, list[Tick]]:
    """While-rules of every kind with eases, of nodes, groups, layers and windows; come back to
    while they go out."""
    layers = (Layer("body", "body"),
              Layer("arms", "arms", weight=0.8, shown_when="held_guard", ease_in=0.1,
                                           ease_out=0.2))
    groups = (Group("strike", "Strike", rules=(
        Rule("gravity", 0.5, 0.1, 0.1), Rule("memo", memo="step", to=5),
        Rule("layer_weight", 0.5, layer="arms"))),)
    window = Window("w", 30, 80, "safe", "w", rules=(
        Rule("playback", 0.25, 0.05, 0.1), Rule("move_speed", 0.1),
        Rule("memo", memo="step", to=7, ease_out=0.05)))
    swing = clip("swing", (60, 60), "once", windows=[window])
    states = [
        State("rest", "Rest", clip="c", rules=(Rule("jump_height", 2.0, ease_out=0.15),)),
        State("swing", "Swing", group="strike", clip="swing", rules=(
            Rule("playback", 2.0), Rule("lock_movement", ease_in=0.1, ease_out=0.1),
            Rule("safe", ease_in=0.2),
            Rule("tint", 0.5, 0.1, colour="#ff0000"), Rule("box", box="low"),
            Rule("prop", anchor="hand"))),
        State("arm", "Arm", layer="arms", clip="c", rules=(Rule("lock_facing"),)),
    ]
    ways = [Transition("go", "rest", "swing", "held_down"),
            Transition("back", "swing", "rest", "not held_down"),
            Transition("four", "rest", "rest", "step == 5 and elapsed > 1")]
    puppet = puppet_of([swing, clip("c")], states, ways, groups=groups, layers=layers,
                       memos=(Memo("step", "step"),), anchors=(Anchor("hand", "hand"),))
    spans = [(3, 30, "down"), (34, 40, "down"), (60, 62, "down"), (5, 20, "guard"),
             (26, 50, "guard")]
    return puppet, held(*spans, ticks=80, stops={10, 11, 36})


def combo() -> tuple[Puppet, list[Tick]]:
    """A memo that steps, wraps and goes back by itself; deeds at a moment; thresholds; what a state
    is deaf to."""
    memos = (Memo("step", "step", "int", 1, wraps=3, returns=0.3),)
    thresholds = (Threshold("fast", "fast", "speed", 60.0, 40.0),
                  Threshold("low", "low", "step", 1.0, 2.0))
    swing = clip("swing", (50, 50), "once", [Moment("m", 40, "call", "m", deeds=(
        Deed("step", "step + 1"), Deed(kind="arm", intent="press_jump"),
        Deed(kind="drop", intent="tap_attack")))])
    groups = (Group("all", "All"), Group("strike", "Strike", group="all", deaf_to=("hop",)))
    states = [State("rest", "Rest", group="all", clip="c"),
              State("swing", "Swing", group="strike", clip="swing",
                    on_leave=(Deed("step", "step + 4"),)),
              State("hop", "Hop", group="all", clip="c", deaf_to=("hurt",))]
    ways = [Transition("hop", "all", "hop", "press_jump", overrides=True),
            Transition("go", "rest", "swing", "tap_attack"),
            Transition("back", "swing", "rest", "done and step < 3 or fast"),
            Transition("down", "hop", "rest", "low or fast"),
            Transition("hurt", "all", "rest", "speed > 90")]
    puppet = puppet_of([swing, clip("c")], states, ways, groups=groups, memos=memos,
                       thresholds=thresholds)
    speeds = [0.0] * 20 + [50.0, 60.0, 50.0, 41.0, 39.0] + [0.0] * 20 + [95.0] * 10 + [45.0] * 35
    spans = held((2, 4, "attack"), (8, 10, "attack"), (30, 32, "attack"), (60, 62, "attack"),
                 ticks=90, stops={50, 51})
    return puppet, [(down, {"speed": speeds[number]}, landed, stop)
                    for number, (down, _, landed, stop) in enumerate(spans)]


def anywhere() -> tuple[Puppet, list[Tick]]:
    """A transition from anywhere in a layer: out of a band, out of a state in none, on another
    layer none; what is deaf to it, and while-rules that all of the layer shares."""
    groups = (Group("air", "Air", deaf_to=("down",)),
              Group("seam", "Anywhere", group="air", start="rise", anywhere=True,
                    rules=(Rule("move_speed", 0.5),)),
              Group("second", "Second", anywhere=True, remembers=True))
    layers = (Layer("body", "body", "rest"), Layer("arms", "arms", "held"))
    states = [State("rest", "Rest", clip="c"), State("hurt", "Hurt", clip="c", group="second"),
              State("rise", "Rise", clip="c", group="air"),
              State("held", "Held", "arms", group="air", clip="c")]
    ways = [Transition("hit", "seam", "hurt", "tap_attack", overrides=True),
            Transition("down", "seam", "rest", "hold_down"),
            Transition("up", "rest", "rise", "press_jump"),
            Transition("again", "hurt", "seam", "done"),
            Transition("other", "seam", "held", "press_jump")]
    puppet = puppet_of([clip("c", (40, 40), "once")], states, ways, groups=groups,
                       layers=layers)
    spans = held((2, 4, "attack"), (12, 14, "jump"), (16, 40, "down"), (44, 46, "attack"),
                 (50, 70, "down"), ticks=80)
    return puppet, spans


def sounds() -> tuple[Puppet, list[Tick]]:
    """Sounds at random: of several by weight, never the same twice or the same again, one that is
    silent, there and back, on a hit in a stopped tick; louder and higher by chance."""
    steps = Moment("step", 20, "sound", "step", file="a.wav", heard=Heard(
        1.0, (Sound("b.wav", 2.0), Sound("", 0.5)), volume=0.8, volume_spread=0.2, pitch=1.1,
        pitch_spread=0.25))
    again = Moment("again", 60, "sound", "again", file="c.wav", heard=Heard(
        0.0, (Sound("d.wav"), Sound("e.wav", 3.0)), True))
    knock = Moment("knock", 30, "sound", "knock", file="f.wav", only_on_hit=True, heard=Heard(
        others=(Sound("g.wav"),), pitch_spread=0.5))
    loud = Moment("loud", 70, "sound", "loud", file="h.wav", heard=Heard(volume=2.0))
    plain = Moment("plain", 70, "sound", "plain", file="h.wav")
    clips = [clip("a", (40, 40), "back and forth", [steps, loud]),
             clip("b", (50, 50), "loop", [again, knock, plain, steps])]
    puppet = puppet_of(clips, [State("a", "A", clip="a"), State("b", "B", clip="b")],
                       [Transition("ab", "a", "b", "elapsed > 0.6"),
                        Transition("ba", "b", "a", "elapsed > 0.6")])
    news = {number: [(0, visit, number % 7)] for visit, numbers in (
        (1, range(40, 75)), (3, range(110, 145))) for number in numbers}
    return puppet, held(ticks=180, news=news, stops={43, 44, 120})


def eight() -> tuple[Puppet, list[Tick]]:
    """Eight facings, and a spread that holds on at its borders."""
    made = [clip(f"c{turn}", (40, 60)) for turn in (0, 45, 90, 180)]
    placed = Spread("s", "S", tuple(Placed(f"c{turn}", (float(turn), place)) for turn, place in (
        (0, 0.0), (45, 10.0), (90, 0.0), (180, 5.0))), ("facing", "speed"), 0.25)
    puppet = puppet_of(made, [State("a", "A", spread="s")], spreads=(placed,),
                       facing=Facing("eight", "move_x", "right", "move_y"),
                       senses=(Sense("speed", "speed", "float", 0.0),
                               Sense("move_x", "move_x", "float", 0.0),
                               Sense("move_y", "move_y", "float", 0.0)))
    ways = [(1.0, 0.0), (1.0, 0.41), (1.0, 0.42), (0.3, 1.0), (-1.0, 1.0), (0.0, 0.0), (-1.0, -0.5),
            (0.0, -2.0)]
    return puppet, [((), {"move_x": ways[number // 4 % 8][0], "move_y": ways[number // 4 % 8][1],
                          "speed": float(number % 13)}, (), False) for number in range(64)]


def _random(seed: int) -> Callable[[], tuple[Puppet, list[Tick]]]:
    def make() -> tuple[Puppet, list[Tick]]:
        shaker = Shaker(seed, waiting=False, asking=False, seams=False, sounding=False,
                        others=False)
        puppet = shaker.puppet()
        return puppet, [
            (tuple(each for each in ("a", "b", "c") if shaker.chance(4)), {
                id: value for id, value in shaker.senses().items()
                if isinstance(value, bool | int | str)
                and value != 10**400
            }, (), shaker.chance(1)) for _ in range(30)
        ]

    return make


CASES: dict[str, Callable[[], tuple[Puppet, list[Tick]]]] = {
    "gestures": gestures, "back_and_forth": back_and_forth, "hits": hits, "nested": nested,
    "waiting": waiting,
    "values": values,
    "spread": spread, "pressed_together": pressed_together, "blends": blends,
    "while_rules": while_rules, "combo": combo,
    "eight": eight, "anywhere": anywhere, "sounds": sounds,
    **{f"random_{seed}": _random(seed) for seed in (3, 14, 159, 2653)},
}


def make_case(name: str) -> dict[str, Any]:
    """A case as data, its trace by the plain engine."""
    puppet, ticks = CASES[name]()
    program = compile_puppet(puppet)
    sampler, state, trace = Sampler(program), initial_state(program), []
    for down, senses, landed, stopped in ticks:
        given = Inputs(tuple(action in down for action in program.actions),
                       sampler.alone(tuple(senses.items())),
                       tuple(Landed(*each) for each in landed), stopped)
        state, report = tick(program, state, given)
        trace.append(plain_report(program, report))
    return {"about": " ".join((CASES[name].__doc__ or "Drawn at random.").split()),
            "puppet": {"format": 1, **plain(puppet)},
            "inputs": [{"down": down, "senses": senses, "landed": landed, "stopped": stopped}
                       for down, senses, landed, stopped in ticks], "trace": trace}


def case_lines(case: dict[str, Any]) -> Iterator[str]:
    """The text of a case: one tick a line."""
    def text(value: Any) -> str:
        return json.dumps(msgspec.to_builtins(value), ensure_ascii=False)

    yield "{"
    yield f' "about": {text(case["about"])},'
    yield f' "puppet": {text(case["puppet"])},'
    for key in ("inputs", "trace"):
        yield f' "{key}": ['
        for number, each in enumerate(case[key]):
            yield f"  {text(each)}{',' if number < len(case[key]) - 1 else ''}"
        yield " ]" + ("," if key == "inputs" else "")
    yield "}"


def main() -> int:
    """Write all cases, once the simple engine gives the same."""
    FOLDER.mkdir(exist_ok=True)
    for name in CASES:
        case, (puppet, ticks) = make_case(name), CASES[name]()
        simple = SimpleEngine(puppet)
        for number, (down, senses, landed, stopped) in enumerate(ticks):
            expected = simple.tick({action.id: action.id in down for action in puppet.actions},
                                   senses, list(landed), stopped)
            if repr(expected) != repr(case["trace"][number]):
                print(f"{name}, tick {number}: {expected} is not {case['trace'][number]}")
                return 1
        (FOLDER / f"{name}.json").write_text("\n".join(case_lines(case)) + "\n", encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
