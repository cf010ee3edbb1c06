"""The Wiring page: actions and their keys, intents and their gestures, senses and memos with live values."""

from __future__ import annotations

from collections.abc import Callable
from typing import get_args

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from ...core.engine.compiling import FAMILY
from ...core.model.base import LONGEST_NAME
from ...core.model.edits import wiring as edits
from ...core.model.puppet import Puppet
from ...core.model.starter import BOOTH_SENSES
from ...core.model.wiring import Action, Gesture, Intent, Memo, Sense, ValueType
from ...core.model.words import is_reserved, word_from
from ...core.takes.explain import said
from ..session.document import Document
from ..session.player import Player
from ..widgets import theme
from ..widgets.keys import said_key
from ..widgets.panel import row_of
from ..widgets.parts import Field, Part, Token, Word, choice_field, number_field
from ..widgets.sentence import Sentence
from .capture import KeyCapture
from .facing import facing_sentence
from .meters import Lamp, Strip

EVEN_IF_USED = "even if used"
TIMED = {"tap": "under", "hold": "for", "double tap": "within"}
"""What a gesture's threshold means."""


class WiringPage(QWidget):
    """Rows are made anew when what they list changes; between, they are only drawn again."""

    def __init__(self, document: Document, player: Player, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.player = document, player
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
        shown = (puppet.actions, puppet.intents, puppet.senses, puppet.memos, puppet.facing,
                 tuple(self.player.forced.items()))
        if shown == self._shown:
            return
        self._shown = shown
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
        beside.addLayout(right, 6)
        self._section(left, "Actions", "what a player can do", "add action", self._add_action)
        for action in puppet.actions:
            lamp = Lamp(f"down {action.id}", theme.MADDER, lambda id=action.id: self._is_down(id), None,
                        "Lit while it is down")
            self._row(left, "actions", action.id, self._action(action), lamp)
        left.addSpacing(12)
        self._section(left, "Memos", "what the graph keeps", "add memo", self._add_memo)
        for memo in puppet.memos:
            self._row(left, "memos", memo.id, self._memo(memo), None, Strip(self.player, f"memo:{memo.id}", 0, 4, ""))
        if not puppet.memos:
            left.addWidget(_note("None yet. A memo counts a combo's steps: a state sets it as it is entered."))
        left.addSpacing(12)
        facing = self.rows["facing"] = Sentence(background=False)
        facing.show_parts([Word("Facing", strong=True), *facing_sentence(self.document)])
        left.addWidget(facing)
        left.addStretch(1)
        self._section(right, "Intents", "a gesture of an action; a click on the disc makes it", "add intent",
                      self._add_intent)
        for intent in puppet.intents:
            self._row(right, "intents", intent.id, self._intent(intent), Lamp(
                f"fire {intent.id}", theme.MADDER, lambda intent=intent: self._is_armed(intent),
                lambda _=False, intent=intent: self.player.fire(intent),
                f"Make the gesture: {intent.gesture}. Lit while the intent is armed"))
        right.addSpacing(12)
        self._section(right, "Senses", "what the game reports; the graph only reads them", "add sense",
                      self._add_sense)
        for sense in puppet.senses:
            self._row(right, "senses", sense.id, self._sense(sense), None, Strip.of_sense(self.player, sense))
        right.addStretch(1)
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

    def _focused(self) -> tuple[str, str] | None:
        for key, row in self.rows.items():
            for token in row.tokens():
                if token.hasFocus():
                    return key, token.objectName()
        return None

    def _section(self, column: QVBoxLayout, title: str, remark: str, name: str, add: Callable[[str], None]) -> None:
        sentence = Sentence(background=False)
        known = {"add action": "the new action's name", "add memo": "the new memo's name",
                 "add sense": "the new sense's name"}
        if name == "add intent":
            field = choice_field("", [(action.name, action.id) for action in self.document.puppet.actions], add,
                                 "the action it listens to")
        else:
            check = _action_name_error if name == "add action" else _name_error
            field = Field("", lambda text: add(text.strip()), check=check, hint=known[name], longest=LONGEST_NAME)
        sentence.show_parts([Word(title, strong=True), Word(remark),
                             Token("+", theme.INDIGO, field, quiet=True, name=name, tip=name.capitalize())])
        self.rows[name] = sentence
        column.addWidget(sentence)

    def _row(self, column: QVBoxLayout, field: str, id: str, parts: list[Part], lamp: Lamp | None,
             strip: Strip | None = None) -> None:
        sentence = Sentence(background=False)
        sentence.show_parts([*parts, Token("×", theme.MADDER, quiet=True, name="remove", tip="Remove",
                                           action=lambda: self._remove(field, id))])
        self.rows[id] = sentence
        if lamp is not None:
            self.lamps.append(lamp)
        widgets = [lamp or QWidget(), sentence] if strip is None else [QWidget(), sentence, strip]
        column.addWidget(row_of(*widgets, stretch=1, spacing=2))

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

    def _change(self, name: str, field: str, id: str, /, **values: object) -> None:
        self.document.edit(name, lambda now: edits.entry_changed(now, field, id, **values))

    def _remove(self, field: str, id: str) -> None:
        self.document.edit(f"remove {field[:-1]}", lambda now: edits.entry_removed(now, field, id))

    def _name(self, field: str, entry: Action | Intent | Sense | Memo, color) -> Token:  # type: ignore[no-untyped-def]
        return Token(entry.name, color, name="name", field=Field(
            entry.name, lambda text: self._change(f"rename {field[:-1]}", field, entry.id, name=text.strip()),
            check=_name_error if field != "actions" else _action_name_error,
            hint="a rename is everywhere at once", longest=LONGEST_NAME))

    def _action(self, action: Action) -> list[Part]:
        parts: list[Part] = [self._name("actions", action, theme.MADDER), Word("on")]
        for key in action.keys:
            rest = tuple(each for each in action.keys if each != key)
            parts.append(Token(said_key(key), theme.INK, name=key, tip="Click to take this key away",
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

        KeyCapture(self, commit).open_at(self.rows[action.id].token("add key"))

    def _intent(self, intent: Intent) -> list[Part]:
        puppet = self.document.puppet
        action = next((each.name for each in puppet.actions if each.id == intent.action), intent.action)

        def change(name: str, /, **values: object) -> None:
            self._change(name, "intents", intent.id, **values)

        # One press is one gesture; seldom is another wanted from the same press, so it takes no room till it is.
        offered = intent.gesture in FAMILY and not intent.even_if_used
        even_if_used = [(f"{intent.gesture}, even if the press was used", EVEN_IF_USED)] if offered else []
        parts: list[Part] = [
            self._name("intents", intent, theme.MADDER), Word("is"),
            Token(intent.gesture, theme.INDIGO, name="gesture", field=choice_field(
                intent.gesture, [*((each, each) for each in get_args(Gesture)), *even_if_used],
                lambda gesture: change("change gesture", gesture=gesture) if gesture != EVEN_IF_USED
                else change("let it arm from a used press", even_if_used=True))),
            Token(action, theme.MADDER, name="action", field=choice_field(
                intent.action, [(each.name, each.id) for each in puppet.actions],
                lambda id: change("change action", action=id))),
        ]
        if intent.gesture in TIMED:
            parts += [Word(TIMED[intent.gesture]), Token(f"{intent.seconds:g} s", theme.INDIGO, name="seconds",
                      field=number_field(intent.seconds, lambda value: change("change threshold", seconds=value),
                                         0, 10, 0.05))]
        if intent.gesture != "held":
            parts += [Word("kept"), Token(f"{intent.buffer:g} s", theme.INDIGO, name="buffer",
                      tip="How long it stays armed, waiting for a transition to take it",
                      field=number_field(intent.buffer, lambda value: change("change buffer", buffer=value),
                                         0, 10, 0.05))]
        if intent.even_if_used and intent.gesture in FAMILY:
            parts.append(Token(
                "even if used ×", theme.WELD, filled=True, name="even if used",
                tip="It arms even if a transition used the press. Click to let one press be one gesture again",
                action=lambda: change("let one press be one gesture", even_if_used=False)))
        return parts

    def _sense(self, sense: Sense) -> list[Part]:
        own = sense.id not in {each.id for each in BOOTH_SENSES}
        parts: list[Part] = [self._name("senses", sense, theme.WOAD)]
        if own:
            parts.append(self._type("senses", sense))
            if sense.type == "bool":
                parts.append(Token(
                    "event", theme.WOAD, filled=sense.event, quiet=not sense.event, name="event",
                    tip="Reports what happens at an instant: it stays true until a tick that chooses has read it",
                    action=lambda: self._change("report an event", "senses", sense.id, event=not sense.event)))
        forced = self.player.forced.get(sense.id)
        if forced is not None:
            parts.append(Token(f"forced: {said(forced)} ×", theme.WELD, filled=True, name="force",
                               tip="Held by hand. Click to let it go",
                               action=lambda: self.player.force(sense.id, None)))
        else:
            parts.append(Token("force…", theme.WELD, quiet=True, name="force", tip="Hold it at a value by hand",
                               field=self._force_field(sense)))
        return parts

    def _force_field(self, sense: Sense) -> Field:
        if sense.type == "bool":
            return choice_field("", [("true", "true"), ("false", "false")],
                                lambda text: self.player.force(sense.id, text == "true"))
        if sense.type == "choice":
            return choice_field("", [(each, each) for each in sense.choices],
                                lambda text: self.player.force(sense.id, text))
        whole = sense.type == "int"
        return number_field(float(sense.start), lambda value: self.player.force(
            sense.id, int(value) if whole else value), -1e6, 1e6, 1)

    def _memo(self, memo: Memo) -> list[Part]:
        def start(text: str) -> None:
            value: object = {"bool": text == "true", "int": text, "float": text, "choice": text}[memo.type]
            if memo.type in ("int", "float"):
                value = int(float(text)) if memo.type == "int" else float(text)
            self._change("change start", "memos", memo.id, start=value)

        if memo.type == "bool":
            field = choice_field(said(memo.start), [("false", "false"), ("true", "true")], start)
        elif memo.type == "choice":
            field = choice_field(str(memo.start), [(each, each) for each in memo.choices], start)
        else:
            field = number_field(float(memo.start), lambda value: start(str(value)), -1e6, 1e6, 1)
        return [self._name("memos", memo, theme.PLUM), self._type("memos", memo), Word("starts at"),
                Token(said(memo.start) or "nothing", theme.INDIGO, field, name="start")]

    def _type(self, field: str, entry: Sense | Memo) -> Token:
        words = {"bool": "yes or no", "int": "whole number", "float": "number"}
        if entry.choices:
            words["choice"] = "choice"
        return Token(words.get(entry.type, entry.type), theme.INDIGO, name="type", field=choice_field(
            entry.type, [(label, each) for each in get_args(ValueType) if (label := words.get(each))],
            lambda type: self._change("change type", field, entry.id, type=type)))

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

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 10)


def _name_error(text: str) -> str | None:
    """What keeps a text from being a name that conditions can use."""
    if not text.strip():
        return "expected a name"
    word = "_".join(text.split())
    return f"{word} is a word of conditions already; {word_from(word)} is free" if is_reserved(word) else None


def _action_name_error(text: str) -> str | None:
    """What keeps a text from being the name of an action: conditions do not read it, so it may be any."""
    return None if text.strip() else "expected a name"


def _note(text: str) -> QLabel:
    label = QLabel(text)
    label.setWordWrap(True)
    label.setAlignment(Qt.AlignmentFlag.AlignTop)
    label.setStyleSheet(f"color: {theme.QUIET.name()}; font-style: italic; padding: 2px 10px;")
    return label
