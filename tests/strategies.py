"""Puppets and edits drawn at random."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, get_args

from hypothesis import strategies as some

from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model import clips, events, graph, wiring
from yarn_puppet.core.model.clips import Box, Cell, Frame, Point, Sheet
from yarn_puppet.core.model.edits import clips as clip_edits
from yarn_puppet.core.model.edits import graph as graph_edits
from yarn_puppet.core.model.edits import joining, pieces, ready_made
from yarn_puppet.core.model.edits import layers as layer_edits
from yarn_puppet.core.model.edits import spreads as spread_edits
from yarn_puppet.core.model.edits import wiring as wiring_edits
from yarn_puppet.core.model.edits.anywhere import from_anywhere
from yarn_puppet.core.model.edits.frames import boxes as box_edits
from yarn_puppet.core.model.edits.frames import events as event_edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.edits.movers import art_fitted, as_drawn
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import OWN_PARTS, MoverNumber, Skin, SkinClip
from yarn_puppet.core.patterns.combining import combined
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.rules.renames import windows_renamed
from yarn_puppet.patterns import PATTERN_FOLDER, PATTERNS

SHIPPED = tuple([load_puppet(PATTERN_FOLDER / f"{name}.puppet.json") for name in PATTERNS])
"""The patterns that ship."""

NAMES = some.text(min_size=1, max_size=12).filter(
    lambda text: not any("\ud800" <= each <= "\udfff" for each in text))
TYPED = NAMES | some.just("a" * 300) | some.just("n\udcffot text") | some.just("")
"""Names as they may come to an edit: of files, pasted, or none at all."""
NUMBERS = some.floats(-1e6, 1e6, allow_nan=False).map(lambda value: round(value, 3))
POSITIVE = some.floats(0.5, 1e5, allow_nan=False).map(lambda value: round(value, 3))
TIMES = some.floats(0, 5000, allow_nan=False).map(lambda value: round(value, 2))


def ids(prefix: str, count: int) -> list[str]:
    """Some ids."""
    return [f"{prefix}_{number}" for number in range(count)]


def made(of: Callable[..., Any], *parts: some.SearchStrategy[Any]) -> some.SearchStrategy[Any]:
    """One of a class, from its parts: without looking into its types, which takes most of the time
    otherwise."""
    return some.tuples(*parts).map(lambda values: of(*values))


@some.composite
def puppets(draw: some.DrawFn) -> Puppet:
    """Puppets that use every part of the model; what they refer to mostly exists."""
    pick = lambda options: draw(some.sampled_from(options))  # noqa: E731
    clip_ids, state_ids = ids("clip", draw(some.integers(0, 3))), ids(
        "state", draw(some.integers(0, 4)))
    group_ids, anchor_ids = ids("group", draw(some.integers(0, 3))), ids(
        "anchor", draw(some.integers(0, 2)))
    rule = made(
        events.Rule, some.sampled_from(get_args(events.RuleKind)), NUMBERS,
        some.sampled_from([0.0, 0.2]),
        some.sampled_from([0.0, 3.0]), some.sampled_from([None, "steps", "gone"]),
        some.sampled_from([0, True, "x", 2.5]), some.sampled_from([None, *anchor_ids]),
        some.sampled_from(["", "art/prop.png"]), some.sampled_from(["", "low"]),
        some.sampled_from(["", "#12abEF"]),
        some.sampled_from([None, "body", "gone"]))
    deeds = some.sampled_from(
        [
            (),
            (events.Deed("steps", "steps + 1"),),
            (events.Deed(kind="arm", intent="tap_attack"), events.Deed(kind="drop", intent="gone")),
        ]
    )
    rules = some.lists(rule, max_size=2).map(tuple)
    point = made(clips.Point, NUMBERS, NUMBERS)
    box = made(clips.Box, some.sampled_from(["body", "hit"]), NUMBERS, NUMBERS, POSITIVE, POSITIVE,
                      some.sampled_from(["", "pole"]))
    cell = made(clips.Cell, some.just("sheet"), *[some.integers(0, 500)] * 2,
                *[some.integers(1, 500)] * 2)
    anchor_points = some.lists(made(clips.AnchorPoint, some.sampled_from([*anchor_ids, "gone"]),
                                    NUMBERS,
                                           NUMBERS), max_size=2).map(tuple)
    frame = made(clips.Frame, cell, some.floats(1, 5000).map(lambda value: round(value, 1)),
                 some.booleans(),
                        some.none() | point, some.lists(box, max_size=2).map(tuple), anchor_points,
                        some.none() | made(clips.Mark, some.sampled_from(["aa", "0f"]),
                                           some.integers(0, 9),
                                                  some.integers(0, 9)))
    made_clips = []
    for id in clip_ids:
        moments = tuple(
            events.Moment(f"{id}_moment_{number}", draw(TIMES), pick(get_args(events.MomentKind)),
                          draw(NAMES),
                         pick([None, *anchor_ids]), draw(some.booleans()), draw(some.booleans()),
                         pick(["", "a b.wav"]),
                         angle=draw(some.floats(-90, 90)), only_on_hit=draw(some.booleans()),
                         deeds=draw(deeds),
                         arguments=pick([(), (events.Argument("loud", 3),
                                              events.Argument("tone", "low"))]))
            for number in range(draw(some.integers(0, 2))))
        windows = tuple(
            events.Window(f"{id}_window_{number}", draw(TIMES), draw(TIMES),
                         pick(["hit", "cancel", "guard", "safe", "named"]),
                         pick(["pole", "cancel", "soft spot"]),
                         tuple(draw(some.lists(
                             some.sampled_from([*state_ids, "gone"]), max_size=2, unique=True))),
                         draw(some.integers(0, 99)), draw(rules), draw(some.floats(-9, 9)),
                         draw(some.integers(0, 9)))
            for number in range(draw(some.integers(0, 2))))
        made_clips.append(clips.Clip(id, draw(NAMES), tuple(draw(some.lists(frame, max_size=4))),
                                     pick(["once", "loop", "back and forth", "hold last"]),
                                     pick(["right", "left"]),
                                     draw(some.none() | point), moments, windows))
    states = tuple(
        graph.State(id, draw(NAMES), group=pick([None, *group_ids]), clip=pick([None, *clip_ids]),
                    waits_for=pick(["", "", "walk"]),
                    speed=draw(some.floats(0, 4)), rules=draw(rules),
                    place=draw(some.none() | some.integers(0, 5)),
                    speed_map=draw(some.none() | some.just(
                        graph.SpeedMap("speed", 0.0, 90.0, 0.5, 1.5))),
                    on_enter=draw(deeds), on_leave=draw(deeds),
                    deaf_to=pick([(), ("transition_0",), ("gone",)]),
                    spread=pick([None, "spread", "spread", "gone"]))
        for id in state_ids)
    groups = tuple(
        graph.Group(id, draw(NAMES), group=pick([None, *group_ids[:number]]),
                    start=pick([None, *state_ids]),
                    remembers=draw(some.booleans()), rules=draw(rules),
                    thread=pick(list(graph_edits.THREADS)), anywhere=pick([False, False, True]))
        for number, id in enumerate(group_ids))
    nodes = [*state_ids, *group_ids]
    transitions = tuple(
        graph.Transition(f"transition_{number}", pick(nodes), pick(nodes),
                         pick(["", "tap_attack", "speed > 2 and not grounded", 'window("pole")',
                               "broken +"]),
                         graph.Leave(pick(["any time", "after", "at the end", "in a window"]),
                                     draw(some.floats(0, 3)),
                                     pick(["", "pole", "cancel"])),
                         graph.Blend(pick(["cut", "crossfade", "momentum"]),
                                     draw(some.floats(0, 1)),
                                     pick(["linear", "ease in"]), draw(some.booleans())),
                         draw(some.booleans()), draw(some.booleans()))
        for number in range(draw(some.integers(0, 5)) if nodes else 0))
    return Puppet(
        name=draw(NAMES), rate=pick([15, 30, 60, 240]),
        sheets=(clips.Sheet("sheet", draw(NAMES), "art/sheet.png",
                            draw(some.none() | some.just(clips.Grid(96, 64)))),),
        anchors=tuple(clips.Anchor(id, draw(NAMES)) for id in anchor_ids), clips=tuple(made_clips),
        spreads=(graph.Spread("spread", draw(NAMES), tuple(
            graph.Placed(id, (float(number * 90),))
            for number, id in enumerate([*clip_ids, "gone"])),
            pick([("facing",), ("facing",), ("speed",), ("nowhere",)]), pick([0.0, 0.25])),),
        facing=pick([wiring.Facing(), wiring.Facing("four", "move_x", "up", "move_y"),
                     wiring.Facing("eight")]),
        layers=(graph.Layer("body", "body", pick([None, *state_ids])), graph.Layer(
            "arms", draw(NAMES), weight=pick([1.0, 0.25]), shown_when=pick(["", "grounded"]),
            ease_in=0.1,
            under=draw(some.booleans()),
            pinned_to=pick([None, *anchor_ids])))[:pick([1, 2])], groups=groups, states=states,
        transitions=transitions,
        actions=(wiring.Action("attack", draw(NAMES), ("key:J",)), wiring.Action("right", "right")),
        intents=(wiring.Intent("tap_attack", "tap", "attack",
                               pick(["tap", "press", "hold", "double tap", "held"])),),
        senses=(wiring.Sense("grounded", "grounded"),
                wiring.Sense("speed", "speed", "float", 0.0, 0.0, 99.0, (), "px/s"),
                wiring.Sense("move_x", "move_x", "int", 0),
                wiring.Sense("ground", "ground", "choice", "stone", choices=("stone", "straw"))),
        memos=(wiring.Memo("steps", "steps", wraps=pick([0, 3]), returns=pick([0.0, 1.5])),),
        thresholds=pick([(), (wiring.Threshold("quick", "quick", "speed", 60.0, 40.0),)]),
    )


Edit = tuple[str, Callable[[Puppet], Puppet]]


def _some_of(entries: tuple, number: int, otherwise: str = "nobody") -> str:  # type: ignore[type-arg]
    return entries[number % len(entries)].id if entries else otherwise


@some.composite
def edits(draw: some.DrawFn) -> Edit:
    """A named edit of any kind, of an entry that is picked once the puppet is known."""
    number, name = draw(some.integers(0, 20)), draw(TYPED)
    other = draw(some.integers(0, 20))
    window = events.Window("w", 10, 50, "hit", "pole")
    kinds: dict[str, Callable[[Puppet], Puppet]] = {
        "add clip": lambda p: clip_edits.clip_of_frames(
            p, name, [clips.Frame(clips.Cell("sheet", 0, 0, 9, 9))])[0],
        "rename clip": lambda p: clip_edits.clip_changed(p, _some_of(p.clips, number), name=name),
        "remove clip": lambda p: clip_edits.clip_removed(p, _some_of(p.clips, number)),
        "mirror": lambda p: clip_edits.mirrored_copy(p, _some_of(p.clips, number))[0],
        "duplicate": lambda p: clip_edits.clip_duplicated(p, _some_of(p.clips, number))[0],
        "split": lambda p: joining.clip_split(p, _some_of(p.clips, number), other % 4)[0],
        "merge": lambda p: joining.clips_merged(p, [clip.id for clip in p.clips[number % 3:]]),
        "duration": lambda p: frame_edits.frame_changed(
            p, _some_of(p.clips, number), other % 3, duration=33.0),
        "length": lambda p: frame_edits.length_set(p, _some_of(p.clips, number), 300.0 + other),
        "move frames": lambda p: frame_edits.frames_moved(
            p, _some_of(p.clips, number), (other % 3, 2), other % 4),
        "copy frames": lambda p: frame_edits.frames_copied(
            p, _some_of(p.clips, number), (0, other % 3)),
        "remove frames": lambda p: frame_edits.frames_removed(
            p, _some_of(p.clips, number), (other % 3,)),
        "reverse": lambda p: frame_edits.frames_reversed(p, _some_of(p.clips, number)),
        "box": lambda p: box_edits.box_added(p, _some_of(p.clips, number), other % 3,
                                             clips.Box("hit", 1, 2, 3, 4)),
        "change box": lambda p: box_edits.box_changed(
            p, _some_of(p.clips, number), other % 3, 0, clips.Box("body", 1, 2, 3, 4)),
        "copy boxes": lambda p: box_edits.boxes_copied(
            p, _some_of(p.clips, number), 0, "body", (1, other % 4)),
        "anchor": lambda p: box_edits.anchor_set(
            p, _some_of(p.clips, number), other % 3, "anchor_0", 1.0, 2.0),
        "add window": lambda p: event_edits.event_added(p, _some_of(p.clips, number), window)[0],
        "move events": lambda p: event_edits.events_moved(
            p, _some_of(p.clips, number), {event.id for clip in p.clips for event in clip.events},
            other * 7.0 - 60),
        "copy events": lambda p: event_edits.events_copied(
            p, _some_of(p.clips, number), {event.id for clip in p.clips for event in clip.events},
            _some_of(p.clips, other))[0],
        "spread": lambda p: spread_edits.spread_added(
            p, name, [(clip.id, side)
                      for clip, side in zip(p.clips, ("left", "right"), strict=False)])[0],
        "place clip": lambda p: spread_edits.spread_clip_placed(
            p, _some_of(p.spreads, number), _some_of(p.clips, other), other * 45.0),
        "spread along": lambda p: spread_edits.spread_along(
            p, _some_of(p.spreads, number), ["facing", "speed", "vx"][other % 3:][:1 + number % 2]),
        "take clip out": lambda p: spread_edits.spread_clip_taken_out(
            p, _some_of(p.spreads, number), _some_of(p.clips, other)),
        "remove spread": lambda p: spread_edits.spread_removed(p, _some_of(p.spreads, number)),
        "rename window": lambda p: windows_renamed(p, {"pole": "stick"}),
        "add state": lambda p: graph_edits.state_added(
            p, name, None, _some_of(p.groups, number, "") or None, 1)[0],
        "place state": lambda p: graph_edits.state_ordered(
            p, _some_of(p.states, number), None, other % 4),
        "remove state": lambda p: graph_edits.state_removed(p, _some_of(p.states, number)),
        "add group": lambda p: graph_edits.group_added(p, name)[0],
        "nest group": lambda p: graph_edits.group_nested(
            p, _some_of(p.groups, number), _some_of(p.groups, other)),
        "remove group": lambda p: graph_edits.group_removed(p, _some_of(p.groups, number)),
        "add transition": lambda p: graph_edits.transition_added(
            p, _some_of(p.states, number), _some_of(p.states, other))[0],
        "order": lambda p: graph_edits.transition_ordered(
            p, _some_of(p.transitions, number), other % 4),
        "remove transition": lambda p: graph_edits.transition_removed(
            p, _some_of(p.transitions, number)),
        "rule": lambda p: graph_edits.rule_set(
            p, _some_of(p.states, number), events.Rule("move_speed", 0.5)),
        "start": lambda p: graph_edits.start_set(p, _some_of(p.states, number)),
        "add action": lambda p: wiring_edits.action_added(p, name)[0],
        "keys": lambda p: wiring_edits.keys_set(p, _some_of(p.actions, number), ("key:J",)),
        "add intent": lambda p: wiring_edits.intent_added(p, _some_of(p.actions, number), "hold")[
            0],
        "rename sense": lambda p: wiring_edits.entry_changed(
            p, "senses", _some_of(p.senses, number), name=name),
        "remove action": lambda p: wiring_edits.entry_removed(
            p, "actions", _some_of(p.actions, number)),
        "several removed": lambda p: graph_edits.states_removed(
            p, [state.id for state in p.states[number % 3:][:2]]),
        "order bands": lambda p: graph_edits.group_ordered(
            p, _some_of(p.groups, number), _some_of(p.groups, other)),
        "deaf": lambda p: graph_edits.deaf_set(
            p, _some_of(p.states, number), _some_of(p.transitions, other), number % 2 == 0),
        "chain": lambda p: ready_made.chained(p, [state.id for state in p.states[number % 3:][:3]],
                                              "tap_attack"),
        "back at the end": lambda p: ready_made.back_at_the_end(
            p, [state.id for state in p.states]),
        "while held": lambda p: ready_made.while_held(
            p, _some_of(p.groups, number), _some_of(p.states, other), "tap_attack"),
        "there and back": lambda p: ready_made.there_and_back(
            p, _some_of(p.states, number), _some_of(p.states, other), "tap_attack",
            "not tap_attack"),
        "add layer": lambda p: layer_edits.layer_added(p, name)[0],
        "move layer": lambda p: layer_edits.layer_moved(
            p, _some_of(p.layers, number), other % 3 - 1),
        "remove layer": lambda p: layer_edits.layer_removed(p, _some_of(p.layers, number)),
        "paste": lambda p: pasted(
            p, parcel_of(p, [_some_of(p.states, number), _some_of(p.groups, other)]).puppet,
            p.layers[0].id).puppet,
        "threshold": lambda p: wiring_edits.threshold_added(
            p, _some_of(p.senses, number), other, other - 2.5)[0],
        "remove intent": lambda p: wiring_edits.entry_removed(
            p, "intents", _some_of(p.intents, number)),
        "from anywhere": lambda p: from_anywhere(
            p, p.layers[0].id, _some_of(p.states, number), "tap_attack")[0],
        "a jump": lambda p: pieces.jump(p, [state.id for state in p.states[number % 4:][:3]],
                                        _some_of(p.groups, other), "tap_attack"),
        "a pattern": lambda p: combined(p, [SHIPPED[number % len(SHIPPED)]]).puppet,
        "as drawn": as_drawn,
        "drawn to fit": art_fitted,
        "add memo": lambda p: wiring_edits.memo_added(p, name)[0],
        "remove memo": lambda p: wiring_edits.entry_removed(p, "memos", _some_of(p.memos, number)),
    }
    kind = draw(some.sampled_from(sorted(kinds)))
    return kind, kinds[kind]


@some.composite
def skins(draw: some.DrawFn, puppet: Puppet) -> Skin:
    """A skin of a puppet: other art for some of its clips, and whatever it has of its own there; a
    sheet may have the id of one of the puppet's."""
    sheets = tuple([Sheet(id, id, f"{id}.png") for id in draw(some.sets(
        some.sampled_from(["sheet_0", "other", "third"]), min_size=1))])
    cells = some.builds(Cell, some.sampled_from([sheet.id for sheet in sheets]), some.just(0),
                        some.just(0), some.integers(1, 64), some.integers(1, 64))
    clips = []
    for clip in puppet.clips:
        if not draw(some.booleans()):
            continue
        own = tuple([part for part in OWN_PARTS if draw(some.booleans())])
        frames = [Frame(
            cell, mirrored=draw(some.booleans()),
            duration=draw(some.sampled_from([1.0, 40.0, 83.333]))
            if "durations" in own else 100.0,
            pivot=draw(some.sampled_from([None, Point(3.0, 7.0)])) if "pivots" in own else None,
            boxes=(Box("body", 1.0, 2.0, 3.0, 4.0),) if "boxes" in own else ())
            for cell in draw(some.lists(cells, max_size=5))]
        length = sum(frame.duration for frame in (frames or clip.frames))
        windows = (Window("own_window", 0.0, max(1.0, length / 2), "hit", "strike"),)
        clips.append(SkinClip(
            clip.id, tuple(frames), draw(some.sampled_from(["right", "left"])), own,
            Point(1.0, 2.0) if "pivots" in own and frames else None,
            (Moment("own_moment", length / 3, "call", "ring"),) if "moments" in own else (),
            windows if "windows" in own else ()))
    numbers = (MoverNumber("walk_speed", 77.0),) if draw(some.booleans()) else ()
    return Skin(name="other", puppet="some.puppet.json", sheets=sheets, clips=tuple(clips),
                numbers=numbers)
