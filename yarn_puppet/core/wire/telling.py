"""A tick's report as a game that is driven is told of it: by names, with what it shows and where
that is.

States are called by their names, clips by their ids, as generated code calls them. All places are
pixels beside the puppet's own, y downwards, turned by the facing.
"""

from __future__ import annotations

from ..engine.state import Fired, InForce, LayerReport, Open, Report
from ..model.kinds.while_rules import REPORTED
from ..pose.cuboid import Area
from ..pose.figure import Placed, Standing, place_of, placed_in, standing
from ..pose.place import PlacedFrame, placed
from ..pose.ruled import HeldProp, body_boxes, held_props, tint_of
from ..takes.run import Setup
from .messages import (
    FadingMessage,
    LayerMessage,
    MomentMessage,
    Picture,
    PropMessage,
    ReportMessage,
    RuleMessage,
    WindowMessage,
)


class Teller:
    """Tells of reports of one setup."""

    def __init__(self, setup: Setup) -> None:
        self.puppet, program = setup.puppet, setup.program
        self.layers = {layer.id: layer.name for layer in program.layers}
        self.layer_ids = [layer.id for layer in program.layers]
        self.nodes = {state.id: state.name for state in program.states}
        self.nodes |= {group.id: group.name for group in program.groups}
        self.around = {state.id: frozenset(program.groups[each].name for each in state.groups)
                       for state in program.states}
        self.intents = {intent.id: intent.name for intent in program.intents}
        self.memos = [memo.name for memo in program.memos]
        self.anchors = {anchor.id: anchor.name for anchor in self.puppet.anchors}
        self.sheets = {sheet.id: sheet.path for sheet in self.puppet.sheets}

    def message(self, report: Report) -> ReportMessage:
        """All of a report."""
        stands = standing(self.puppet, report, 0.0, 0.0)
        entered, left = self._crossed(report)
        return ReportMessage(
            report.tick, report.facing,
            tuple([self._layer(layer, report, stands) for layer in report.layers]),
            tuple([self._moment(moment, report, stands) for moment in report.moments]),
            tuple([self._window(window, report, stands) for window in report.windows]),
            tuple([self._rule(rule) for rule in report.rules]),
            tuple([_sides(each) for _, each in body_boxes(report, stands)]),
            tuple([_prop(prop) for prop in held_props(self.puppet, report, stands)]),
            tint_of(report), entered, left,
            dict(zip(self.memos, report.memos, strict=True)),
            tuple([self.intents[each] for each in report.armed]),
            tuple([self.intents[each] for each in report.used]),
            **{kind: getattr(report, kind) for kind in REPORTED})

    def _crossed(self, report: Report) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The states and groups that were entered and left, in order."""
        entered: list[str] = []
        left: list[str] = []
        for taken in report.taken:
            source, target = self.around.get(taken.source, frozenset()), self.around.get(
                taken.target, frozenset())
            left += [self.nodes.get(taken.source, ""), *sorted(source - target)]
            entered += [*sorted(target - source), self.nodes.get(taken.target, "")]
        return tuple(entered), tuple(left)

    def _layer(self, layer: LayerReport, report: Report, stands: Standing) -> LayerMessage:
        at = place_of(self.puppet, stands, layer.layer, 0.0, 0.0)
        fading = tuple([FadingMessage(
            each.clip, each.frame, each.clip_time, each.weight,
            self._picture(placed(self.puppet, each.clip, each.frame, report.facing, *at)))
            for each in layer.fading])
        return LayerMessage(
            self.layers[layer.layer], self.nodes[layer.state],
            tuple([self.nodes[group] for group in layer.groups]),
            layer.clip, layer.frame, layer.clip_time, layer.elapsed, layer.weight, layer.blend,
            layer.done,
            layer.visit, layer.cycle, fading, self._picture(stands.get(layer.layer)))

    def _picture(self, shown: Placed | None) -> Picture | None:
        if not isinstance(shown, PlacedFrame):
            # Bones are posed by whoever draws them.
            return None
        cell = shown.frame.cell
        rectangle, flipped = shown.picture()
        return Picture(self.sheets.get(cell.sheet, ""), cell.page,
                       (cell.x, cell.y, cell.width, cell.height),
                       (rectangle.x, rectangle.y), flipped, shown.scale)

    def _moment(self, fired: Fired, report: Report, stands: Standing) -> MomentMessage:
        moment = fired.moment
        shown = placed_in(self.puppet, report, fired.clip, fired.frame, fired.layer, 0.0, 0.0)
        at = shown.anchor(moment.anchor) if shown is not None else None
        return MomentMessage(
            moment.name, moment.kind, self.layers[fired.layer], fired.clip, fired.frame,
            self.anchors.get(moment.anchor or ""), at, fired.file, dict(moment.arguments),
            fired.volume, fired.pitch)

    def _window(self, opened: Open, report: Report, stands: Standing) -> WindowMessage:
        window = opened.window
        shown = placed_in(self.puppet, report, opened.clip, opened.frame, opened.layer, 0.0, 0.0)
        boxes = shown.hit_boxes(window.name) if shown is not None and window.kind == "hit" else ()
        layer = next(each for each in report.layers if each.layer == opened.layer)
        return WindowMessage(
            window.name, window.kind, self.layers[opened.layer], opened.clip, layer.visit,
            layer.cycle - opened.late, window.damage, window.push, window.hit_stop,
            tuple([_sides(box) for box in boxes]))

    def _rule(self, each: InForce) -> RuleMessage:
        rule = each.rule
        return RuleMessage(rule.kind, self.layers[self.layer_ids[each.layer]], each.share,
                           rule.value, rule.text)


def _sides(box: Area) -> tuple[float, float, float, float]:
    return box.x, box.y, box.width, box.height


def _prop(held: HeldProp) -> PropMessage:
    return PropMessage(held.shows, held.clip, held.seconds, (held.x, held.y), held.flipped,
                       held.under, held.round)
