"""Draws dummies that replay or answer: the puppet once more, in another light, a skin of it, or
another puppet; over each its state."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter

from ...core.booth.booth_state import BoothState
from ...core.booth.hitting.replaying import played_at
from ...core.engine.state import Report
from ...core.model.puppet import Puppet
from ...core.pose.bones.in_hand import in_hand
from ...core.pose.bones.standing import posed_figure
from ...core.pose.figure import figure, standing
from ...core.pose.ruled import Tint, held_props, tint_of
from ...core.takes.run import Setup
from ..pictures.art import Art
from ..widgets import theme
from .dummies_drawing import stands_before
from .effects_drawing import draw_effects, draw_props
from .figure import draw_figure
from .pose_drawing import Posed, PoseDrawing

MOST_CASTS = 8
OWN_LIGHT = Tint(216, 190, 120, 0.45)
"""Tells a dummy that is the puppet itself from it."""


class CastArt:
    """An art for each file that a dummy is cast as; their sheets lie where the puppet's do."""

    def __init__(
        self, own: Art, arrived: Callable[[], None], bones_arrived: Callable[[], None]
    ) -> None:
        self.own, self.arrived, self.bones_arrived = own, arrived, bones_arrived
        self.drawing = PoseDrawing(own.bones.meshes)
        """Of those of bones, as meshes where the puppet is."""
        self._arts: dict[str, Art] = {}

    def of(self, file: str, puppet: Puppet) -> Art:
        """The pictures of a puppet in a file."""
        art = self._arts.pop(file, None)
        if art is None:
            art = Art()
            art.arrived.connect(self.arrived)
            art.bones.arrived.connect(self.bones_arrived)
            if len(self._arts) >= MOST_CASTS:
                self._arts.pop(next(iter(self._arts)))
        self._arts[file] = art
        if art.puppet is not puppet or art.folder != self.own.folder:
            art.show(puppet, self.own.folder)
        return art

    def forget(self) -> None:
        """Their pictures may be others."""
        self._arts.clear()


def draw_opponents(
    painter: QPainter, setup: Setup, booth: BoothState | None, art: Art, casts: CastArt,
    scale: float, before: bool,
) -> None:
    """Those of a booth that stand behind the puppet, or `before` it, in its world; `scale` pixels
    of the screen to one of the world, 0 to leave out what their states are called."""
    world = setup.world
    if world is None or booth is None:
        return
    for number, dummy in enumerate(world.dummies):
        found = _shown(setup, booth, number)
        if found is None or stands_before(world, booth, number) != before:
            continue
        report, x, y = found
        cast = world.cast_of(dummy, setup.puppet)
        own = cast is setup.puppet
        its_art = art if own else casts.of(dummy.cast, cast)
        answerer = booth.answerers[number] if booth.answerers else None
        if world.from_above and not cast.is_of_bones:
            y -= cast.mover.art_up
        stands = standing(cast, report, x, y, world.from_above)
        for under in (True, False):
            draw_props(painter, its_art, cast, held_props(cast, report, stands), under)
            if answerer is not None:
                draw_effects(painter, its_art, cast, answerer.booth, stands, report.tick, under)
            if under:
                tint = OWN_LIGHT if own else tint_of(report)
                if cast.is_of_bones:
                    _draw_pose(painter, its_art, casts, cast, report, x, y, tint,
                               world.from_above)
                else:
                    draw_figure(painter, its_art, figure(cast, report, x, y), tint)
        there = cast.state(report.layers[0].state) if report.layers else None
        if scale and there is not None:
            said = there.name
            if answerer is not None and cast.mover.health:
                said += f"  {answerer.booth.health}"
            counted = dummy.health and answerer is None
            high = max(dummy.height, cast.mover.height) + (16 if counted else 6)
            _draw_state(painter, said, x, y - high, scale)


def _draw_pose(
    painter: QPainter, art: Art, casts: CastArt, cast: Puppet, report: Report, x: float, y: float,
    tint: Tint | None, above: bool,
) -> None:
    """One of bones, in the pose of its report, as it is hit: without momentum."""
    stands = posed_figure(cast, report, x, y, above)
    if stands is not None:
        casts.drawing.draw(painter, art, Posed(
            stands.pose, report, x, y, in_hand(stands.poses, stands.pose, report), tint, above))


def _shown(
    setup: Setup, booth: BoothState, number: int
) -> tuple[Report, float, float] | None:
    """What an opponent reported, and where it is; None for a dummy that is none."""
    if booth.answerers and (answerer := booth.answerers[number]) is not None:
        body = answerer.booth.body
        return None if answerer.report is None else (answerer.report, body.x, body.y)
    if not setup.tracks or setup.world is None:
        return None
    dummy, state = setup.world.dummies[number], booth.dummies[number]
    played = played_at(setup.tracks, number, max(0, state.clock - 1))
    return played and (played.report, dummy.x + state.moved, dummy.y + state.down)


def _draw_state(painter: QPainter, name: str, x: float, y: float, scale: float) -> None:
    """The name of a state, as large on the screen at any scale."""
    of = theme.font(11.5, strong=True)
    wide = theme.text_width(name, of)
    painter.save()
    painter.translate(x, y)
    painter.scale(1 / scale, 1 / scale)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(24, 26, 44, 190))
    painter.drawRoundedRect(QRectF(-wide / 2 - 6, -15, wide + 12, 20), 5, 5)
    theme.draw_text(painter, -wide / 2, 0, name, of, theme.DUSK)
    painter.restore()
