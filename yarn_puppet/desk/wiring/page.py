"""The Wiring page: actions and their keys, intents and their gestures, senses and memos with live values."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from ...core.model.base import LONGEST_NAME
from ...core.model.edits import wiring as edits
from ...core.model.puppet import Puppet
from ...core.model.wiring import Action, Axis, Intent
from ...core.model.words import one_of
from ...core.rules.uses import Space, uses_of
from ..pads.pads import Pads
from ..session.document import Document
from ..session.player import Player
from ..widgets import theme
from ..widgets.keys import said_key
from ..widgets.panel import row_of
from ..widgets.parts import Field, Part, Token, Word, choice_field
from ..widgets.sentence import Sentence
from .axes import axis_sentence
from .capture import KeyCapture
from .facing import facing_sentence
from .gesture_line import GestureLine
from .intents import intent_sentence
from .meters import Lamp, Strip
from .names import action_name_error, change, name_error, name_token
from .values import memo_sentence, sense_sentence, threshold_sentence

SPACES: dict[str, Space] = {"actions": "action", "axes": "axis"}
"""The space of the ids in a field of the puppet, for all but values."""


def row_name(field: str, id: str) -> str:
    """What the row of an entry is called: values share one space of ids, actions and axes have their own."""
    return f"{SPACES[field]} {id}" if field in SPACES else id


class WiringPage(QWidget):
    """Rows are made anew when what they list changes; between, they are only drawn again."""

    wanted = pyqtSignal(str, str, str)
    """A page to go to, and the kind and id of what should be seen there."""

    def __init__(
        self, document: Document, player: Player, pads: Pads | None = None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.player, self.pads = document, player, pads
        self.rows: dict[str, Sentence] = {}
        self._shown: tuple[object, ...] = ()
        self.scroll = QScrollArea()
        self.scroll.setWidgetResizable(True)
        self.scroll.setStyleSheet("QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; }")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 6, 8)
        column.addWidget(self.scroll)
        document.puppet_changed.connect(self.refresh)
        player.seen.connect(self._light)
        player.state_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the puppet's wiring, when it or what is forced is another."""
        puppet = self.document.puppet
        shown = (puppet.actions, puppet.intents, puppet.senses, puppet.memos, puppet.thresholds, puppet.axes,
                 puppet.facing,
                 puppet.states, puppet.transitions, puppet.groups, puppet.layers, puppet.clips, puppet.mover,
                 tuple(self.player.forced.items()))
        if shown == self._shown:
            return
        self._shown = shown
        self.uses = uses_of(puppet)
        held = self.scroll.verticalScrollBar().value()
        focus = self._focused()
        self.rows = {}
        self.lamps: list[Lamp] = []
        body = QWidget()
        beside = QHBoxLayout(body)
        beside.setContentsMargins(0, 0, 6, 0)
        beside.setSpacing(14)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(1)
        right.setSpacing(1)
        beside.addLayout(left, 4)
        beside.addLayout(right, 8)
        self._show_controls(left)
        self._show_values(right)
        # The old rows may be in the middle of the very click that led here: they go once it is over.
        old = self.scroll.takeWidget()
        if old is not None:
            old.hide()
            old.deleteLater()
        self.scroll.setWidget(body)
        self.scroll.verticalScrollBar().setValue(held)
        if focus is not None and focus[0] in self.rows:
            for token in self.rows[focus[0]].tokens():
                if token.objectName() == focus[1]:
                    token.setFocus()

    def _show_controls(self, column: QVBoxLayout) -> None:
        """What hands do: actions, axes, and where the puppet turns by them."""
        puppet = self.document.puppet
        self._section(column, "Actions", "what a player can do", "add action", self._add_action)
        for action in puppet.actions:
            lamp = Lamp(f"down {action.id}", theme.MADDER, lambda id=action.id: self._is_down(id), None,
                        "Lit while it is down")
            self._row(column, "actions", action.id, self._action(action), lamp)
        column.addSpacing(12)
        self._section(column, "Axes", "a stick, or two actions: how far", "add axis", self._add_axis)
        for axis in puppet.axes:
            self._row(column, "axes", axis.id, axis_sentence(
                self.document, axis, lambda axis=axis: self._capture_stick(axis)), None)
        column.addSpacing(12)
        facing = self.rows["facing"] = Sentence(background=False)
        facing.show_parts([Word("Facing", strong=True), *facing_sentence(self.document)])
        column.addWidget(facing)
        column.addStretch(1)

    def _show_values(self, column: QVBoxLayout) -> None:
        """What conditions read: intents, memos, thresholds, senses."""
        puppet = self.document.puppet
        self._section(column, "Intents", "a gesture of an action; a click on the disc makes it", "add intent",
                      self._add_intent)
        for intent in puppet.intents:
            self._row(column, "intents", intent.id, intent_sentence(self.document, intent), Lamp(
                f"fire {intent.id}", theme.MADDER, lambda intent=intent: self._is_armed(intent),
                lambda _=False, intent=intent: self.player.fire(intent),
                f"Make the gesture: {intent.gesture}. Lit while the intent is armed"),
                GestureLine(self.player, intent))
        self._show_kept(column)
        column.addSpacing(12)
        self._section(column, "Senses", "what the game reports; the graph only reads them", "add sense",
                      self._add_sense)
        for sense in puppet.senses:
            self._row(column, "senses", sense.id, sense_sentence(self.document, self.player, sense), None,
                      Strip.of_sense(self.player, sense))
        column.addStretch(1)

    def _show_kept(self, column: QVBoxLayout) -> None:
        """What the graph itself keeps: memos and thresholds."""
        puppet = self.document.puppet
        column.addSpacing(12)
        self._section(column, "Memos", "what the graph keeps", "add memo", self._add_memo)
        for memo in puppet.memos:
            most = max(4, memo.wraps)
            self._row(column, "memos", memo.id, memo_sentence(self.document, memo), None,
                      Strip(self.player, f"memo:{memo.id}", 0, most, ""))
        if not puppet.memos:
            column.addWidget(_note("None yet. A memo counts a combo's steps: a state sets it as it is entered."))
        column.addSpacing(12)
        self._section(column, "Thresholds", "a number that has passed a value, with another to go back past",
                      "add threshold", self._add_threshold)
        for threshold in puppet.thresholds:
            self._row(column, "thresholds", threshold.id, threshold_sentence(self.document, threshold), Lamp(
                f"on {threshold.id}", theme.WOAD, lambda id=threshold.id: self._is_on(id), None, "Lit while it is on"))

    def go_to(self, kind: str, id: str) -> None:
        """Show the row of an entry, and give its name the keyboard."""
        row = self.rows.get(row_name({"action": "actions", "axis": "axes"}.get(kind, ""), id), self.rows["facing"])
        self.scroll.ensureWidgetVisible(row)
        if row.tokens():
            row.tokens()[0].setFocus()

    def _focused(self) -> tuple[str, str] | None:
        for key, row in self.rows.items():
            for token in row.tokens():
                if token.hasFocus():
                    return key, token.objectName()
        return None

    def _section(self, column: QVBoxLayout, title: str, remark: str, name: str, add: Callable[[str], None]) -> None:
        sentence = Sentence(background=False)
        known = {"add axis": "the new axis's name", "add action": "the new action's name",
                 "add memo": "the new memo's name",
                 "add sense": "the new sense's name"}
        puppet = self.document.puppet
        if name == "add intent":
            field = choice_field("", [(action.name, action.id) for action in puppet.actions], add,
                                 "the action it listens to")
        elif name == "add threshold":
            field = choice_field("", [(each.name, each.id) for each in (*puppet.senses, *puppet.memos)
                                      if each.type in ("int", "float")], add, "the number it watches")
        else:
            check = action_name_error if name in ("add action", "add axis") else name_error
            field = Field("", lambda text: add(text.strip()), check=check, hint=known[name], longest=LONGEST_NAME)
        sentence.show_parts([Word(title, strong=True), Word(remark),
                             Token("+", theme.INDIGO, field, quiet=True, name=name, tip=name.capitalize())])
        self.rows[name] = sentence
        column.addWidget(sentence)

    def _row(self, column: QVBoxLayout, field: str, id: str, parts: list[Part], lamp: Lamp | None,
             strip: QWidget | None = None) -> None:
        sentence = Sentence(background=False)
        sentence.show_parts([*parts, self._uses(SPACES.get(field, "value"), id),
                             Token("×", theme.MADDER, quiet=True, name="remove", tip="Remove",
                                   action=lambda: self._remove(field, id))])
        self.rows[row_name(field, id)] = sentence
        if lamp is not None:
            self.lamps.append(lamp)
        widgets = [lamp or QWidget(), sentence] if strip is None else [lamp or QWidget(), sentence, strip]
        column.addWidget(row_of(*widgets, stretch=1, spacing=2))

    def _uses(self, space: Space, id: str) -> Token:
        """Where an entry is used: picking a place goes there."""
        found = self.uses.get((space, id), [])
        if not found:
            return Token("unused", theme.WELD, quiet=True, name="uses", tip="Nothing reads or sets it",
                         action=lambda: None)
        options = [(f"set in {each.said}" if each.sets else each.said, f"{each.kind} {each.id}") for each in found]
        return Token(str(len(found)), theme.WOAD, quiet=True, name="uses", tip="Where it is used: pick one to go there",
                     field=choice_field("", options, self._go))

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
        for lamp in self.lamps:
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
            intent.gesture == "held" and self._is_down(intent.action))

    # Sentences --------------------------------------------------------------------------------------------------

    def _remove(self, field: str, id: str) -> None:
        self.document.edit(f"remove {one_of(field)}", lambda now: edits.entry_removed(now, field, id))

    def _action(self, action: Action) -> list[Part]:
        parts: list[Part] = [name_token(self.document, "actions", action, theme.MADDER), Word("on")]
        for key in action.keys:
            rest = tuple(each for each in action.keys if each != key)
            others = [each.name for each in self.document.puppet.actions
                      if each.id != action.id and key in each.keys]
            clash = f"Also on {', '.join(others)}: one press does both. " if others else ""
            parts.append(Token(f"{said_key(key)} !" if others else said_key(key), theme.WELD if others else theme.INK,
                               name=key, tip=f"{clash}Click to take this key away",
                               action=lambda rest=rest: self.document.edit(
                                   "take key away", lambda now: edits.keys_set(now, action.id, rest))))
        parts.append(Token("+ key" if not action.keys else "+", theme.INK, quiet=True, name="add key",
                           tip="Press the key or mouse button it should have",
                           action=lambda: self._capture(action)))
        return parts

    def _capture(self, action: Action) -> None:
        def commit(key: str) -> None:
            keys = tuple(dict.fromkeys((*action.keys, key)))
            self.document.edit("set key", lambda now: edits.keys_set(now, action.id, keys))

        KeyCapture(self, commit, self.pads).open_at(self.rows[row_name("actions", action.id)].token("add key"))

    # Adding -----------------------------------------------------------------------------------------------------

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
        KeyCapture(self, lambda stick: change(self.document, "set stick", "axes", axis.id, stick=stick), self.pads,
                   stick=True).open_at(self.rows[row_name("axes", axis.id)].token("stick"))

    def _add_axis(self, name: str) -> None:
        self._add("add axis", edits.axis_added(self.document.puppet, name))

    def _add_threshold(self, source: str) -> None:
        high = next((each.high for each in self.document.puppet.senses if each.id == source), 2.0)
        self._add("add threshold", edits.threshold_added(self.document.puppet, source, high / 2, high / 2 * 0.8))

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 10)


def _note(text: str) -> QLabel:
    label = QLabel(text)
    label.setWordWrap(True)
    label.setAlignment(Qt.AlignmentFlag.AlignTop)
    label.setProperty("role", "quiet")
    label.setStyleSheet("font-style: italic; padding: 2px 10px;")
    return label
