"""Renaming one or many by pattern: one sentence, and under it every place it touches before it
happens."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QVBoxLayout, QWidget

from ....core.model.edits.naming import (
    NAME_KINDS,
    NameKind,
    Rename,
    clashes,
    names_of,
    planned_renames,
    renamed,
)
from ....core.rules.renames import windows_renamed
from ...session.document import Document
from ...widgets import theme
from ...widgets.buttons import PillButton
from ...widgets.caption import Caption
from ...widgets.parts import Field, Part, Suggestion, Token, Word, choice_field
from ...widgets.sentence import Sentence


class RenameDialog(QDialog):
    """`walk_*` to `stroll_*`: a star stands for anything, and for what it was."""

    def __init__(self, document: Document, parent: QWidget | None, pattern: str = "*") -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("rename")
        theme.dressed(self)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Rename everywhere")
        self.resize(600, 380)
        self.kind: NameKind = "clips"
        self.pattern = self.becomes = pattern
        self.sentence, self.list, self.note = Sentence(), QListWidget(), Caption()
        self.note.setWordWrap(True)
        self.go = PillButton("rename", size=13)
        self.go.setCheckable(False)
        self.go.outlined = True
        self.go.clicked.connect(self._rename)
        below = QHBoxLayout()
        below.addWidget(self.note, 1)
        below.addWidget(self.go)
        column = QVBoxLayout(self)
        column.addWidget(self.sentence)
        column.addWidget(self.list, 1)
        column.addLayout(below)
        document.puppet_changed.connect(self.refresh)
        self.refresh()

    def planned(self) -> tuple[Rename, ...]:
        """What would be renamed. Raises ValueError with what was expected."""
        return planned_renames(self.document.puppet, self.kind, self.pattern, self.becomes)

    def refresh(self) -> None:
        """Show the sentence and the places."""
        names = names_of(self.document.puppet, self.kind)

        def choose_kind(kind: str) -> None:
            self.kind = kind
            self.refresh()

        def text(name: str, value: str, known: tuple[str, ...]) -> Token:
            return Token(value, theme.MADDER, name=name, field=Field(
                value, lambda typed: self._set(**{name: typed}),
                tuple(Suggestion(each, each) for each in known),
                check=lambda typed: None
                if typed.strip() else "expected a name, or a pattern with *",
                hint="* stands for anything"))

        parts: list[Part] = [
            Word("Rename", strong=True),
            Token(self.kind, theme.INDIGO, name="kind", field=choice_field(
                self.kind, [(kind, kind) for kind in NAME_KINDS], choose_kind)),
            Word("named"), text("pattern", self.pattern, names), Word("to"),
            text("becomes", self.becomes, ()),
        ]
        self.sentence.show_parts(parts)
        self.list.clear()
        try:
            planned, problem = self.planned(), ""
        except ValueError as error:
            planned, problem = (), str(error)
        problem = problem or "; ".join(clashes(self.document.puppet, self.kind, planned))
        for each in planned:
            self.list.addItem(f"{each.old}  →  {each.new}"
                              + (f"     {', '.join(each.places)}" if each.places else ""))
        places = sum(len(each.places) for each in planned)
        self.note.setText(problem or f"{len(planned)} names, seen in {places} places")
        self.note.set_color(theme.MADDER if problem else theme.QUIET)
        self.go.setText(f"rename {len(planned)}" if planned else "rename")
        self.go.setEnabled(bool(planned) and not problem)

    def _set(self, **values: str) -> None:
        for name, value in values.items():
            setattr(self, name, value.strip())
        if "pattern" in values and "*" not in self.pattern:
            self.becomes = self.pattern
        self.refresh()

    def _rename(self) -> None:
        puppet, planned = self.document.puppet, self.planned()
        if self.kind == "windows":
            puppet = windows_renamed(puppet, {each.old: each.new for each in planned})
        else:
            puppet = renamed(puppet, self.kind, planned)
        self.document.edit(f"rename {self.kind}", puppet)
        self.close()
