"""What happened at each tick, as one line of plain data each, over names for people."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from ..model.kinds.while_rules import FACTORS, SWITCHES
from .run import Record, Setup


def trace_lines(records: Iterable[Record]) -> Iterator[dict[str, Any]]:
    """Each tick as JSON data; the fields are described in docs/file-format.md."""
    names: Names | None = None
    for record in records:
        if names is None or names.setup is not record.setup:
            names = Names(record.setup)
        yield trace_line(record, names)


def trace_line(record: Record, names: Names) -> dict[str, Any]:
    """One tick as JSON data. `names` are those of its setup."""
    setup, report = record.setup, record.report
    program = setup.program
    rules: dict[str, Any] = {}
    kinds = {rule.rule.kind for rule in report.rules}
    rules |= {kind: getattr(report, kind) for kind in FACTORS if kind in kinds}
    rules |= {kind: True for kind in SWITCHES if getattr(report, kind)}
    line: dict[str, Any] = {
        "tick": report.tick,
        "layers": {
            names.layers[layer.layer]: {
                "state": names.nodes[layer.state],
                "groups": [names.nodes[group] for group in layer.groups],
                "clip": names.clips.get(layer.clip or ""),
                "clip_time": round(layer.clip_time, 6),
                "frame": layer.frame,
                "blend": layer.blend,
                **({"fading": [
                    {"clip": names.clips.get(each.clip), "frame": each.frame, "weight": each.weight}
                    for each in layer.fading
                ]} if layer.fading else {}),
                **({"weight": layer.weight} if len(report.layers) > 1 else {}),
            }
            for layer in report.layers
        },
        "facing": report.facing,
        "senses": {sense.name: value
                   for sense, value in zip(program.senses, report.senses, strict=True)},
        "memos": {memo.name: value
                  for memo, value in zip(program.memos, report.memos, strict=True)},
        **({"thresholds": {each.name: on
                           for each, on in zip(program.thresholds, report.thresholds, strict=True)}}
           if program.thresholds else {}),
        "armed": [names.intents[id] for id in report.armed],
        "used": [names.intents[id] for id in report.used],
        "moments": [
            {
                "name": fired.moment.name, "kind": fired.moment.kind,
                "anchor": names.anchors.get(fired.moment.anchor or ""),
                **({"arguments": dict(fired.moment.arguments)} if fired.moment.arguments else {}),
                **({"file": fired.file, "volume": fired.volume, "pitch": fired.pitch}
                   if fired.moment.heard is not None else {}),
            }
            for fired in report.moments
        ],
        "windows": [opened.window.name for opened in report.windows],
        "rules": rules,
        "taken": [
            {"layer": names.layers[taken.layer], "from": names.nodes[taken.source],
             "to": names.nodes[taken.target]}
            for taken in report.taken
        ],
    }
    booth = record.after.booth
    if booth is not None and setup.world is not None:
        line["booth"] = {
            "x": booth.body.x,
            "y": booth.body.y,
            "hits": [
                {"window": hit.window, "target": setup.world.dummies[hit.dummy].name,
                 "damage": hit.damage}
                for hit in booth.hits
            ],
        }
    return line


class Names:
    """The names for people of a setup's ids."""

    def __init__(self, setup: Setup) -> None:
        self.setup = setup
        program, puppet = setup.program, setup.puppet
        self.layers = {layer.id: layer.name for layer in program.layers}
        self.nodes = {state.id: state.name for state in program.states}
        self.nodes |= {group.id: group.name for group in program.groups}
        self.intents = {intent.id: intent.name for intent in program.intents}
        self.clips = {clip.id: clip.name for clip in puppet.clips}
        self.anchors = {anchor.id: anchor.name for anchor in puppet.anchors}
        self.senses = {sense.id: sense.name for sense in program.senses}
        self.memos = {memo.id: memo.name for memo in program.memos}
        self.thresholds = {threshold.id: threshold.name for threshold in program.thresholds}

    def of(self, kind: str, id: str) -> str:
        """The name of an entry of a kind, "nodes" or "clips" say; its id where there is none."""
        named: dict[str, str] = getattr(self, kind)
        return named.get(id, id)
