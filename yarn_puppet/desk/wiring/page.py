"""The Wiring page: actions and their keys, intents and their gestures, senses and memos with live
values."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from functools import partial

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ...core.model.basics.base import LONGEST_NAME
from ...core.model.basics.words import one_of
from ...core.model.edits import wiring as edits
from ...core.model.kinds.gestures import GESTURES
from ...core.model.puppet import Puppet
from ...core.model.wiring import Action, Axis, Intent
from ...core.rules.uses import Space as IdSpace
from ...core.rules.uses import Uses
from ..pads.pads import Pads
from ..session.document import Document
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.caption import Caption
from ..widgets.certain import sure
from ..widgets.keys import said_key
from ..widgets.painting import painting
from ..widgets.panel import scrolling
from ..widgets.parts import Field, Part, Token, Word, choice_field, many_field
from ..widgets.sentence import Sentence
from .axes import axis_sentence
from .capture import KeyCapture
from .facing import facing_sentence
from .gesture_line import GestureLine
from .intents import intent_sentence
from .meters import Lamp, Strip
from .names import action_name_error, change, name_error, name_token
from .rows import RowColumn, RowContent, Space
from .values import memo_sentence, sense_sentence, threshold_sentence

SPACES: dict[str, IdSpace] = {"actions": "action", "axes": "axis"}
"""The space of the ids in a field of the puppet, for all but values."""


def row_name(field: str, id: str) -> str:
    """What the row of an entry is called: values share one space of ids, actions and axes have
    their own."""
    return f"{SPACES[field]} {id}" if field in SPACES else id


class WiringPage(QWidget):
    """Rows stay while what they are about does, and are told again; nothing is done while the page
    is hidden."""

    wanted = pyqtSignal(str, str, str)
    """A page to go to, and the kind and id of what should be seen there."""

    def __init__(
        self,
        document: Document,
        player: Player,
        pads: Pads | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.player, self.pads = document, player, pads
        self._shown: tuple[object, ...] = ()
        self._uses_of = Uses()
        self.left, self.right = RowColumn(), RowColumn()
        body = QWidget()
        beside = QHBoxLayout(body)
        beside.setContentsMargins(0, 0, 6, 0)
        beside.setSpacing(14)
        beside.addWidget(self.left, 4)
        beside.addWidget(self.right, 8)
        self.scroller = scrolling(body)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 6, 8)
        column.addWidget(self.scroller)
        for each in (self.left, self.right):
            each.grown.connect(self._light)
        document.puppet_changed.connect(self._may_be_another)
        player.seen.connect(self._light)
        player.state_changed.connect(self._may_be_another)
        self.refresh()

    @property
    def rows(self) -> dict[str, Sentence]:
        """By the names of rows what they say."""
        return {**self.left.sentences, **self.right.sentences}

    def showEvent(self, event: object) -> None:
        self.refresh()

    def _may_be_another(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the puppet's wiring, when it or what is forced is another."""
        puppet = self.document.puppet
        shown = (puppet.actions, puppet.intents, puppet.senses, puppet.memos, puppet.thresholds,
                 puppet.axes,
                 puppet.facing,
                 puppet.states, puppet.transitions, puppet.groups, puppet.layers, puppet.clips,
                 puppet.mover,
                 tuple(self.player.forced.items()))
        if shown == self._shown:
            return
        self._shown = shown
        self.uses = self._uses_of.of(puppet)
        held = sure(self.scroller.verticalScrollBar()).value()
        focus = self._focused()
        self.left.show_rows(self._controls())
        self.right.show_rows(self._values())
        sure(self.scroller.verticalScrollBar()).setValue(held)
        if focus is not None and self._focused() is None and focus[0] in self.rows:
            for token in self.rows[focus[0]].tokens():
                if token.objectName() == focus[1]:
                    token.setFocus()

    def _controls(self) -> list[RowContent | Space]:
        """What hands do: actions, axes, and where the puppet turns by them."""
        puppet = self.document.puppet
        rows: list[RowContent | Space] = [
            self._section("Actions", "what a player can do", "add action", self._add_action)]
        for action in puppet.actions:
            rows.append(self._row("actions", action.id, action.id, self._action(action),
                                  partial(lambda id: Lamp(
                f"down {id}", theme.MADDER, lambda: self._is_down(id), None,
                "Lit while it is down"), action.id)))
        rows += [Space(12), self._section("Axes", "a stick, or two actions: how far", "add axis",
                                          self._add_axis)]
        for axis in puppet.axes:
            rows.append(self._row("axes", axis.id, axis.id, axis_sentence(
                self.document, axis, partial(self._capture_stick, axis))))
        rows += [Space(12), RowContent("facing", (),
                                       [Word("Facing", strong=True),
                                        *facing_sentence(self.document)],
                                indented=False)]
        return rows

    def _values(self) -> list[RowContent | Space]:
        """What conditions read: intents, memos, thresholds, senses."""
        puppet = self.document.puppet
        rows: list[RowContent | Space] = [self._section(
            "Intents", "a gesture of an action; a click on the disc makes it", "add intent",
            self._add_intent)]
        for intent in puppet.intents:
            rows.append(self._row(
                "intents", intent.id, intent, intent_sentence(self.document, intent),
                partial(lambda intent: Lamp(
                    f"fire {intent.id}", theme.MADDER, lambda: self._is_armed(intent),
                    partial(lambda _: self.player.fire(intent), False),
                    f"Make the gesture: {intent.gesture}. Lit while the intent is armed"), intent),
                partial(lambda intent: GestureLine(self.player, intent), intent)))
        rows += self._kept()
        rows += [Space(12), self._section(
            "Senses", "what the game reports; the graph only reads them", "add sense",
            self._add_sense)]
        for sense in puppet.senses:
            rows.append(self._row(
                "senses", sense.id, sense, sense_sentence(self.document, self.player, sense),
                strip=partial(lambda sense: Strip.of_sense(self.player, sense), sense)))
        return rows

    def _kept(self) -> list[RowContent | Space]:
        """What the graph itself keeps: memos and thresholds."""
        puppet = self.document.puppet
        rows: list[RowContent | Space] = [
            Space(12), self._section("Memos", "what the graph keeps", "add memo", self._add_memo)]
        for memo in puppet.memos:
            most = max(4, memo.wraps)
            rows.append(self._row(
                "memos", memo.id, most, memo_sentence(self.document, memo),
                strip=partial(lambda id, most: Strip(self.player, f"memo:{id}", 0, most, ""),
                              memo.id, most)))
        if not puppet.memos:
            rows.append(Space(0, "no memos", lambda: _note(
                "None yet. A memo counts a combo's steps: a state sets it as it is entered.")))
        rows += [Space(12), self._section(
            "Thresholds", "a number that has passed a value, with another to go back past",
            "add threshold",
            self._add_threshold)]
        for threshold in puppet.thresholds:
            rows.append(self._row(
                "thresholds", threshold.id, threshold.id,
                threshold_sentence(self.document, threshold),
                partial(lambda id: Lamp(
                    f"on {id}", theme.WOAD, lambda: self._is_on(id), None, "Lit while it is on"),
                    threshold.id)))
        return rows

    def go_to(self, kind: str, id: str) -> None:
        """Show the row of an entry, and give its name the keyboard."""
        self.refresh()
        row = self.rows.get(row_name({"action": "actions", "axis": "axes"}.get(kind, ""), id),
                            self.rows["facing"])
        self.scroller.ensureWidgetVisible(row)
        if row.tokens():
            row.tokens()[0].setFocus()

    def _focused(self) -> tuple[str, str] | None:
        for key, row in self.rows.items():
            for token in row.tokens():
                if token.hasFocus():
                    return key, token.objectName()
        return None

    def _section(
        self, title: str, remark: str, name: str, add: Callable[[str], None]
    ) -> RowContent:
        known = {"add axis": "the new axis's name", "add action": "the new action's name",
                 "add memo": "the new memo's name",
                 "add sense": "the new sense's name"}
        puppet = self.document.puppet
        if name == "add intent":
            field = choice_field("", [(action.name, action.id) for action in puppet.actions], add,
                                 "the action it listens to")
        elif name == "add threshold":
            field = choice_field("",
                                 [(each.name, each.id) for each in puppet.values
                                      if each.type in ("int", "float")], add,
                                      "the number it watches")
        else:
            check = action_name_error if name in ("add action", "add axis") else name_error
            field = Field("", lambda text: add(text.strip()), check=check, hint=known[name],
                          longest=LONGEST_NAME)
        return RowContent(name, (), [Word(title, strong=True), Word(remark),
                              Token("+", theme.INDIGO, field, quiet=True, name=name,
                                    tip=name.capitalize())],
                   indented=False)

    def _row(
        self, field: str, id: str, made_for: Hashable, parts: list[Part],
        lamp: Callable[[], Lamp | None] = lambda: None,
        strip: Callable[[], QWidget | None] = lambda: None,
    ) -> RowContent:
        remove = Token("×", theme.MADDER, quiet=True, name="remove", tip="Remove",
                       action=lambda: self._remove(field, id))
        uses = self._uses(SPACES.get(field, "value"), id)
        return RowContent(row_name(field, id), made_for, [*parts, uses, remove], lamp, strip)

    def _uses(self, space: IdSpace, id: str) -> Token:
        """Where an entry is used: picking a place goes there."""
        found = self.uses.get((space, id), [])
        if not found:
            return Token("unused", theme.WELD, quiet=True, name="uses",
                         tip="Nothing reads or sets it",
                         action=lambda: None)
        return Token(str(len(found)), theme.WOAD, quiet=True, name="uses",
                     tip="Where it is used: pick one to go there",
                     field=many_field(lambda: [(f"set in {each.said}" if each.sets else each.said,
                                                f"{each.kind} {each.id}") for each in found],
                                                self._go))

    def _go(self, picked: str) -> None:
        kind, _, id = picked.partition(" ")
        if kind not in ("facing", "mover", "intent", "threshold", "axis"):
            self.document.select(kind, id)
            self.wanted.emit("Clips" if kind == "clip" else "Weave", kind, id)

    def _is_on(self, threshold: str) -> bool:
        record = self.player.shown
        place = record.setup.program.places.get(("threshold", threshold)) if record else None
        return place is not None and record is not None and record.report.thresholds[place]

    def _light(self) -> None:
        for lamp in (*self.left.lamps, *self.right.lamps):
            lamp.update()

    def _is_down(self, action: str) -> bool:
        record = self.player.shown
        place = record.setup.program.places.get(("action", action)) if record else None
        return place is not None and record is not None and record.inputs.down[place]

    def _is_armed(self, intent: Intent) -> bool:
        record = self.player.shown
        if record is None:
            return False
        return intent.id in record.report.armed or intent.id in record.report.used or (
            GESTURES[intent.gesture].is_level and self._is_down(intent.action))

    # Sentences ------------------------------------------------------------------------------------

    def _remove(self, field: str, id: str) -> None:
        self.document.edit(f"remove {one_of(field)}",
                           lambda now: edits.entry_removed(now, field, id))

    def _action(self, action: Action) -> list[Part]:
        parts: list[Part] = [name_token(self.document, "actions", action, theme.MADDER), Word("on")]
        for key in action.keys:
            rest = tuple(each for each in action.keys if each != key)
            others = [each.name for each in self.document.puppet.actions
                      if each.id != action.id and key in each.keys]
            clash = f"Also on {', '.join(others)}: one press does both. " if others else ""
            parts.append(Token(f"{said_key(key)} !" if others else said_key(key),
                               theme.WELD if others else theme.INK,
                               name=key, tip=f"{clash}Click to take this key away",
                               action=partial(lambda rest: self.document.edit(
                                   "take key away", lambda now: edits.keys_set(
                                       now, action.id, rest)), rest)))
        parts.append(Token("+ key" if not action.keys else "+", theme.INK, quiet=True,
                           name="add key",
                           tip="Press the key or mouse button it should have",
                           action=lambda: self._capture(action)))
        return parts

    def _capture(self, action: Action) -> None:
        def commit(key: str) -> None:
            keys = tuple(dict.fromkeys((*action.keys, key)))
            self.document.edit("set key", lambda now: edits.keys_set(now, action.id, keys))

        KeyCapture(self, commit, self.pads).open_at(
            self.rows[row_name("actions", action.id)].token("add key"))

    # Adding ---------------------------------------------------------------------------------------

    def _add(self, name: str, made: tuple[Puppet, str]) -> None:
        self.document.edit(name, made[0])

    def _add_action(self, name: str) -> None:
        self._add("add action", edits.action_added(self.document.puppet, name))

    def _add_intent(self, action: str) -> None:
        self._add("add intent", edits.intent_added(self.document.puppet, action, "press"))

    def _add_sense(self, name: str) -> None:
        self._add("add sense", edits.sense_added(self.document.puppet, name))

    def _add_memo(self, name: str) -> None:
        self._add("add memo", edits.memo_added(self.document.puppet, name))

    def _capture_stick(self, axis: Axis) -> None:
        KeyCapture(self, lambda stick: change(self.document, "set stick", "axes", axis.id,
                                              stick=stick), self.pads,
                   stick=True).open_at(self.rows[row_name("axes", axis.id)].token("stick"))

    def _add_axis(self, name: str) -> None:
        self._add("add axis", edits.axis_added(self.document.puppet, name))

    def _add_threshold(self, source: str) -> None:
        high = next((sense.high for sense in self.document.puppet.senses if sense.id == source),
                    2.0)
        self._add("add threshold",
                  edits.threshold_added(self.document.puppet, source, high / 2, high / 2 * 0.8))

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 10)


def _note(text: str) -> QLabel:
    label = Caption(text, theme.QUIET, theme.font(13, italic=True))
    label.setWordWrap(True)
    label.setAlignment(Qt.AlignmentFlag.AlignTop)
    label.setContentsMargins(10, 2, 10, 2)
    return label
