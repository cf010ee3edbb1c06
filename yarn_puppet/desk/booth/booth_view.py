"""The booth: live, playable, and at a past tick as it was then. Keys go to the puppet only while it
has the focus."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath
from PyQt6.QtWidgets import QWidget

from ...core.booth.booth import game_place
from ...core.booth.booth_state import BoothState
from ...core.model.world import TILE, World
from ...core.pose.figure import ShownLayer, figure, standing
from ...core.pose.ruled import held_props, tint_of
from ...core.takes.measured import slides
from ...core.takes.run import Record, Setup
from ..pictures.art import Art
from ..pictures.feet import FeetOfClips
from ..session.booths import Booths
from ..session.document import Document
from ..session.run.player import Player
from ..session.settings import Settings
from ..widgets import theme
from ..widgets.key_table import KeyLine, press
from ..widgets.keys import BUTTONS, key_name
from ..widgets.stills import Stills
from ..widgets.view import DrawnView
from .as_drawn import AsDrawn
from .bones_figure import BonesFigure
from .dummies_drawing import Dummies
from .effects_drawing import draw_effects, draw_props, shaken
from .figure import draw_bare_body, draw_figure, draw_ghosts
from .fitting import fitting_scale, middle_over_feet, on_whole_pixels, seen_height
from .opponents_drawing import CastArt, draw_opponents
from .overlays import Overlays
from .scenery import draw_bare_ground, draw_tiles, draw_world_props, draw_zones
from .sky import draw_sky
from .switches import Switches

SLIDE_TICKS = 90
"""How long it is drawn where feet slid."""
SOUND_TICKS = 30
"""How long a sound's name stands in the booth."""
GAME = QColor("#BFEAE4")


class BoothView(DrawnView):
    """Draws the record on show; what is pressed goes to the player."""

    played = pyqtSignal()
    """An action was pressed here."""

    def __init__(
        self, document: Document, player: Player, art: Art, cast_art: CastArt, folder: Path,
        settings: Settings, booths: Booths, parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.player, self.art, self.settings = document, player, art, settings
        self.feet = FeetOfClips(art)
        self.bones_figure = BonesFigure(art)
        self.game_note = ""
        """What is said of the game that is watched."""
        self.bare = False
        """Whether only the world is drawn, without what is there to be clicked or read."""
        self.dummies = Dummies(folder, art)
        self.cast_art, self._high = cast_art, (document.puppet, seen_height(document.puppet))
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus | Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Booth")
        self._focused_by_click, self._stills = False, Stills()
        self.setMinimumSize(240, 150)
        self.switches = Switches(document, settings, art.bones.meshes, self)
        self.switches.changed.connect(self.update)
        art.bones.meshes.changed.connect(self.update)
        self.as_drawn = AsDrawn(document, booths, self)
        player.moved.connect(self.update)

    # What is pressed ------------------------------------------------------------------------------

    def _action(self, key: str) -> str | None:
        return next((action.id for action in self.document.puppet.actions if key in action.keys),
                    None)

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (KeyLine(("Esc",), "give the keys back", lambda key: self.clearFocus()),)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if press(self.key_lines(), event):
            return
        action = self._action(key_name(event.key()))
        if action is None:
            super().keyPressEvent(event)
        elif not event.isAutoRepeat():
            self.player.press(action)
            self.played.emit()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        action = self._action(key_name(event.key()))
        if action is not None and not event.isAutoRepeat():
            self.player.release(action)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        # Qt gives the focus before it delivers the click; the click that brought it is not meant
        # for the puppet.
        assert event is not None
        if self._focused_by_click:
            self._focused_by_click = False
            return
        action = self._action(BUTTONS.get(event.button(), ""))
        if action is not None:
            self.player.press(action)
            self.played.emit()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        action = self._action(BUTTONS.get(event.button(), ""))
        if action is not None:
            self.player.release(action)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        assert event is not None
        self._focused_by_click = event.reason() == Qt.FocusReason.MouseFocusReason
        if not self.player.playing and event.reason() == Qt.FocusReason.MouseFocusReason:
            self.player.play()
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.player.release_all()
        self.update()

    # What is drawn --------------------------------------------------------------------------------

    def resizeEvent(self, event: object) -> None:
        size = self.switches.sizeHint()
        self.as_drawn.lay()
        wide = min(self.width() - 8, size.width())
        self.switches.setGeometry(self.width() - wide - 4, self.height() - size.height() - 4, wide,
                                  size.height())

    def _scale(self) -> float:
        """Screen pixels to a pixel of the world: whole ones, so that art keeps its grain."""
        if self.settings.zoom:
            return float(self.settings.zoom)
        world = self.player.recording.compiled.world
        return fitting_scale(self.height(), self.devicePixelRatioF(),
                             world.tile_size if world is not None else TILE,
                             self._seen_height, self.document.puppet.mover.scale)

    @property
    def _seen_height(self) -> float:
        """How high the puppet is drawn: worked out once for each, and not with every picture."""
        puppet = self.document.puppet
        if self._high[0] is not puppet:
            self._high = (puppet, seen_height(puppet))
        return self._high[1]

    @property
    def _raised(self) -> float:
        """How much higher than it stands the puppet is drawn."""
        world = self.player.recording.compiled.world
        return (
            self.document.puppet.mover.art_up
            if world is not None and world.from_above
            else 0.0
        )

    def draw(self, painter: QPainter) -> None:
        whole = QRectF(self.rect())
        record = self.player.shown
        # A tick is shown in the world in which it was run.
        setup, booth = self.player.setup_shown, self.player.booth_shown
        if booth is None and record is not None and record.controls.game is not None:
            booth = self._game_place(record, record.controls.game.at)
        scale = self._scale()
        seen = self._seen_of(setup.world, booth, scale)
        if record is not None and booth is not None:
            seen.translate(shaken(booth.shake, record.report.tick, self.document.puppet.rate))
        self._begin_bones(painter, seen, scale, record, booth)
        draw_sky(painter, whole, seen.left() * scale)
        painter.save()
        painter.scale(scale, scale)
        painter.translate(-seen.topLeft())
        tag = self._draw_world(painter, seen, scale, setup, record, booth)
        painter.restore()
        if record is not None and booth is not None:
            self._draw_over(painter, seen, scale, record, booth, tag)
        # Corners laid over what was drawn cost far less than clipping all of it to a rounded shape.
        corners = QPainterPath()
        corners.addRect(whole)
        rounded = QPainterPath()
        rounded.addRoundedRect(whole, 10, 10)
        painter.fillPath(corners - rounded, theme.LINEN)
        self._draw_notes(painter, whole)

    def _seen_of(self, world: World | None, booth: BoothState | None, scale: float) -> QRectF:
        """The part of the world that is seen: around the puppet, on whole pixels."""
        seen = QRectF(0, 0, self.width() / scale, self.height() / scale)
        if booth is not None:
            seen.moveCenter(QPointF(booth.body.x, booth.body.y - middle_over_feet(
                world.tile_size if world is not None else TILE, self._seen_height)))
            seen.moveTopLeft(on_whole_pixels(seen.topLeft(), scale * self.devicePixelRatioF()))
        return seen

    def _draw_world(
        self, painter: QPainter, seen: QRectF, scale: float, setup: Setup, record: Record | None,
        booth: BoothState | None,
    ) -> QRectF | None:
        """The world with all that is in it, in its pixels; gives where the puppet's name is."""
        world, tick, tag = setup.world, record.report.tick if record else 0, None
        if world is None and booth is not None:
            draw_bare_ground(painter, seen, booth.body.y)
        if world is not None:
            draw_tiles(painter, world, seen, tick, self.dummies.picture, self._stills)
            draw_world_props(painter, world, False, self.dummies.picture)
            self._draw_others(painter, setup, world, booth, tick, scale, False)
        # Larger than it is drawn it keeps its grain; smaller, pixels are mixed.
        grain = scale * self.devicePixelRatioF() * self.document.puppet.mover.scale
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, grain < 1)
        if booth is not None:
            tag = self._draw_puppet(painter, record, booth)
        if world is not None:
            self._draw_others(painter, setup, world, booth, tick, scale, True)
            draw_world_props(painter, world, True, self.dummies.picture)
            if "sensors" in self.settings.over:
                draw_zones(painter, world)
        return tag

    def _draw_others(
        self, painter: QPainter, setup: Setup, world: World, booth: BoothState | None, tick: int,
        scale: float, before: bool,
    ) -> None:
        """Dummies and opponents behind the puppet, or `before` it."""
        self.dummies.draw(painter, world, booth, tick, self.document.puppet.rate, before)
        draw_opponents(painter, setup, booth, self.art, self.cast_art,
                       scale if "state" in self.settings.over else 0.0, before)

    def _draw_over(
        self, painter: QPainter, seen: QRectF, scale: float, record: Record, booth: BoothState,
        tag: QRectF | None,
    ) -> None:
        """What the switches lay over the world."""
        over = Overlays(painter, self.document.puppet, record, booth, seen, scale,
                        QRectF(self.rect()), QRectF(self.as_drawn.geometry())
                        if self.as_drawn.isVisible() else QRectF())
        over.draw(set(self.settings.over), tuple(self.settings.values), tag)
        if "slides" in self.settings.over:
            tick = self.player.tick
            past = self.player.records[max(0, tick - SLIDE_TICKS):tick + 1]
            playing = {layer.clip for each in past
                       for layer in each.report.layers[:1] if layer.clip}
            over.slides(slides(past, self.feet.of(record.setup.puppet, playing)))

    def _game_place(self, record: Record, at: tuple[float, float]) -> BoothState:
        """Where a game says that the puppet stands, and how fast that changed."""
        tick, rate = self.player.tick, self.document.puppet.rate
        before = (
            self.player.records[tick - 1].controls.game
            if 0 < tick < len(self.player.records)
            else None
        )
        was = before.at if before is not None else at
        return game_place(self.document.puppet, at,
                          ((at[0] - was[0]) * rate, (at[1] - was[1]) * rate))

    def _draw_puppet(
        self, painter: QPainter, record: Record | None, booth: BoothState
    ) -> QRectF | None:
        if record is not None and self.document.puppet.is_of_bones:
            return self._draw_bones(painter, record, booth)
        shown: tuple[ShownLayer, ...] = ()
        if record is not None:
            if "ghosts" in self.settings.over:
                draw_ghosts(painter, self.art, self.player.records, record.report.tick, booth.body,
                            self._raised)
            shown = figure(self.document.puppet, record.report, booth.body.x,
                           booth.body.y - self._raised)
        if record is None or not shown:
            return draw_bare_body(painter, self.document.puppet.mover, booth.body)
        puppet, tick = self.document.puppet, record.report.tick
        stands = standing(puppet, record.report, booth.body.x, booth.body.y)
        held = held_props(puppet, record.report, stands)
        for under in (True, False):
            draw_props(painter, self.art, puppet, held, under)
            draw_effects(painter, self.art, puppet, booth, stands, tick, under)
            if under:
                draw_figure(painter, self.art, shown, tint_of(record.report))
        return self._tag(booth)

    def _draw_bones(self, painter: QPainter, record: Record, booth: BoothState) -> QRectF:
        puppet, tick = self.document.puppet, record.report.tick
        draw_effects(painter, self.art, puppet, booth, {}, tick, True)
        drawn = self.bones_figure.draw(painter, self.player.records, self.player.tick, booth.body,
                                       "ghosts" in self.settings.over)
        draw_effects(painter, self.art, puppet, booth, {}, tick, False)
        if not drawn:
            return draw_bare_body(painter, puppet.mover, booth.body)
        return self._tag(booth)

    def _begin_bones(
        self, painter: QPainter, seen: QRectF, scale: float, record: Record | None,
        booth: BoothState | None,
    ) -> None:
        """Their mesh is drawn elsewhere, while the world is drawn here."""
        device = painter.device()
        if (record is None or booth is None or device is None
                or not self.document.puppet.is_of_bones):
            return
        place = painter.worldTransform()
        place.scale(scale, scale)
        place.translate(-seen.left(), -seen.top())
        self.bones_figure.begin(device, place, self.player.records, self.player.tick, booth.body,
                                "ghosts" in self.settings.over)

    def _tag(self, booth: BoothState) -> QRectF:
        """Where the puppet's name is."""
        high, wide = self._seen_height, self.document.puppet.mover.width
        return QRectF(booth.body.x - wide / 2, booth.body.y - high - 8, wide, high)

    def show_bare(self, on: bool) -> None:
        """Draw only the world, as for a picture to be given away; or all of it again."""
        self.bare = on
        self.as_drawn.setVisible(not on and bool(self.as_drawn.words))
        self.switches.setHidden(on)
        self.update()

    def _draw_notes(self, painter: QPainter, whole: QRectF) -> None:
        if self.bare:
            return
        world, game = self.player.recording.compiled.world, self.player.game
        past = self.player.head is not None
        if game:
            theme.draw_text(painter, 12, 22, self.game_note or game, theme.font(12.5, strong=True),
                            GAME)
            if past:
                self._banner(painter, "a past tick")
            self._draw_sounds(painter)
            return
        end = theme.draw_text(painter, 12, 22, world.name if world else "No booth",
                              theme.font(13.5, strong=True),
                              theme.MOONLIGHT)
        note = "a past tick" if past else self._seen_words(world) if world is not None else "alone"
        banner = ("No state yet: drag a clip into the Weave" if not self.document.puppet.states
                  else "The keys move the puppet · Esc gives them back" if self.hasFocus()
                  else "Click here to play")
        room = self.width() - end - 36 - theme.text_width(banner, theme.font(12))
        theme.draw_text(painter, end + 12, 22, note, theme.font(13), theme.DUSK, max(1.0, room))
        self._draw_sounds(painter)
        self._banner(painter, banner)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(QColor("#E6B45A"), 3))
            painter.drawRoundedRect(whole.adjusted(1.5, 1.5, -1.5, -1.5), 9, 9)

    def _seen_words(self, world: World) -> str:
        """How the world is seen, and how large, where that is not as usual."""
        scale = self._scale()
        if world.tile_size == TILE and scale >= 1:
            return world.seen
        size = f"{scale:.3g}" if scale >= 1 else f"1/{1 / scale:.3g}"
        return f"{world.tile_size} px a tile, art {size}×"

    def _draw_sounds(self, painter: QPainter) -> None:
        """The sounds of the last ticks, by name, as they would be heard."""
        heard: list[tuple[str, int]] = []
        tick, records = self.player.tick, self.player.records
        for record in records[max(0, tick - SOUND_TICKS): tick + 1]:
            heard += [(fired.moment.name, record.report.tick) for fired in record.report.moments
                      if fired.moment.kind == "sound"]
        x = 12.0
        for name, since in heard[-3:]:
            fade = 1 - (tick - since) / (SOUND_TICKS + 1)
            color = theme.with_alpha(QColor("#E9C9A8"), round(235 * fade))
            x = theme.draw_text(painter, x, self.height() - 30, f"♪ {name}", theme.font(12),
                                color) + 12

    def _banner(self, painter: QPainter, text: str) -> None:
        of = theme.font(12)
        wide = theme.text_width(text, of)
        theme.draw_text(painter, self.width() - wide - 12, 21, text, of, QColor("#D9CFBB"))
