"""Copying states and bands, and pasting them into this or another window's puppet, through the
clipboard."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QMimeData, Qt
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...core.formats.errors import FileProblem
from ...core.formats.puppet_file import puppet_bytes, puppet_from
from ...core.model.puppet import Puppet
from ...core.rules.clashes import Answer, Clash, Key, clashes
from ...core.rules.copying import pasted
from ...core.rules.parcels import parcel_of
from ..session.document import Document
from ..session.files.rebasing import Rebasing
from ..widgets import theme
from ..widgets.asking import complain
from ..widgets.buttons import PillButton
from ..widgets.certain import sure
from ..widgets.parts import Token, Word
from ..widgets.sentence import Sentence

MIME = "application/x-yarn-puppet-parcel"
LEFT = "application/x-yarn-puppet-left"
"""What could not come along, a line each."""
MOST_BYTES = 64 << 20


def nodes_selected(document: Document) -> tuple[str, ...]:
    """The states and the band that are selected."""
    kind, id = document.selection or ("", "")
    return (id,) if kind == "group" else document.selected_states


def copy_selected(document: Document) -> None:
    """Put what is selected, with what it needs, on the clipboard."""
    copy_nodes(document, nodes_selected(document))


def copy_layer(document: Document, layer: str) -> None:
    """The same for a whole layer."""
    copy_nodes(document, [node.id for node in document.puppet.nodes if node.layer == layer])


def copy_nodes(document: Document, nodes: tuple[str, ...] | list[str]) -> None:
    """Some states and groups; nothing where there are none."""
    if not nodes:
        return
    parcel, left = parcel_of(document.puppet, nodes)
    # Art is named by whole paths on its way, since the other puppet's file lies elsewhere.
    whole = Rebasing(document.folder, document.folder, whole=True).puppet(parcel)
    content = QMimeData()
    raw = puppet_bytes(replace(whole, name=document.puppet.name))
    content.setData(MIME, raw)
    content.setText(raw.decode())
    content.setData(LEFT, "\n".join(left).encode())
    sure(QApplication.clipboard()).setMimeData(content)


def duplicate_selected(document: Document) -> None:
    """A second copy of what is selected, in the same bands, selected in its place."""
    nodes = nodes_selected(document)
    if not nodes:
        return
    puppet = document.puppet
    made = pasted(puppet, parcel_of(puppet, nodes).puppet,
                  (puppet.node(nodes[0]) or puppet.states[0]).layer)
    originals = [state for state in puppet.states if state.id in nodes]
    homes = (
        dict(zip(made.states, originals, strict=False))
        if len(made.states) == len(originals)
        else {}
    )
    states = tuple(
        replace(state, group=homes[state.id].group, place=None)
        if state.id in homes and state.group is None
        else state for state in made.puppet.states
    )
    document.edit("duplicate", replace(made.puppet, states=states))
    select_pasted(document, made.states, made.groups)


def select_pasted(document: Document, states: tuple[str, ...], groups: tuple[str, ...]) -> None:
    """Select what is new."""
    if groups:
        document.select("group", groups[0])
    elif states:
        document.select("state", states[0])
        if states[1:]:
            document.select_also(*states[1:])


def paste(
    document: Document,
    layer: str,
    window: QWidget | None,
    say: Callable[[str], None] = lambda text: None,
) -> None:
    """Put what is on the clipboard into the puppet. Where names clash it asks first; what did not
    come along is said."""
    content = sure(QApplication.clipboard()).mimeData()
    raw = content.data(MIME).data() if content is not None and content.hasFormat(MIME) else b""
    if not raw:
        return
    try:
        if len(raw) > MOST_BYTES:
            raise FileProblem("clipboard", "its size", f"expected at most {MOST_BYTES >> 20} MB")
        parcel = puppet_from(raw, "clipboard")
    except FileProblem as problem:
        complain(window, "This cannot be pasted", str(problem))
        return
    left = [line for line in sure(content).data(LEFT).data().decode(errors="replace").splitlines()
            if line]
    here = Rebasing(document.folder, document.folder, stored=document.stored).puppet(parcel)

    def put(answers: dict[Key, Answer]) -> None:
        puppet = document.puppet
        made = pasted(puppet, here, layer, answers)
        band = puppet.group(chosen)
        states = tuple(
            replace(state, group=band.id, place=None)
            if band is not None and band.layer == layer and state.group is None
            and state.id in made.states else state
            for state in made.puppet.states
        )
        document.edit("paste", replace(made.puppet, states=states))
        select_pasted(document, made.states, made.groups)
        count = len(made.states)
        message = f"{count} state{'s' * (count != 1)} pasted"
        if left:
            listed = ", ".join(left[:4]) + (f" and {len(left) - 4} more" if len(left) > 4 else "")
            message += f" · left behind: {listed}"
        say(message)

    # States without a band of their own go into the one that is selected, or that of the selected
    # state.
    kind, id = document.selection or ("", "")
    state = document.puppet.state(id) if kind == "state" else None
    chosen = id if kind == "group" else state.group if state is not None else None
    found = clashes(document.puppet, here)
    if found:
        ClashDialog(window, found, here, put).open()
    else:
        put({})


ANSWERS: tuple[tuple[Answer, str, str], ...] = (
    ("ours", "ours", "Keep what is here; what you paste uses it"),
    ("theirs", "theirs", "Put what you paste in its place; what is here uses it too"),
    ("both", "both", "Bring what you paste as well, under a name of its own"),
)
MOST_FIELDS = 6
"""Fields of one clash that are shown; of more only how many there are."""


class ClashDialog(QDialog):
    """Asks about each name that is taken here by something else: field by field what is here, and
    what was copied."""

    def __init__(
        self,
        parent: QWidget | None,
        found: tuple[Clash, ...],
        parcel: Puppet,
        put: Callable[[dict[Key, Answer]], None],
    ) -> None:
        super().__init__(parent)
        self.setObjectName("clashes")
        theme.dressed(self)
        self.setWindowTitle("Names that are taken here")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.found, self.put = found, put
        self.answers: dict[Key, Answer] = {clash.key: "ours" for clash in found}
        note = QLabel(
            "What you paste uses names that differ in this puppet. Choose for each: ours is what "
            "is here,"
            " theirs is what you paste."
        )
        note.setWordWrap(True)
        self.sentences: dict[Key, Sentence] = {}
        rows = QWidget()
        column = QVBoxLayout(rows)
        for clash in found:
            column.addWidget(self._row(clash))
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidget(rows)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        paste_button, leave = PillButton("Paste"), PillButton("Leave it")
        paste_button.setChecked(True)
        paste_button.clicked.connect(self.accept)
        leave.clicked.connect(self.reject)
        buttons = QHBoxLayout()
        for answer, label, tip in ANSWERS:
            every = PillButton(f"all {label}")
            every.setToolTip(tip)
            every.clicked.connect(lambda _, answer=answer: self._all(answer))
            buttons.addWidget(every)
        buttons.addStretch(1)
        buttons.addWidget(leave)
        buttons.addWidget(paste_button)
        layout = QVBoxLayout(self)
        layout.addWidget(note)
        layout.addWidget(scroll, 1)
        layout.addLayout(buttons)
        self.setMinimumSize(620, min(560, 150 + 110 * len(found)))
        self.accepted.connect(lambda: self.put(self.answers))
        self._show()

    def _row(self, clash: Clash) -> QWidget:
        """One clash: its answers as a sentence, and a table of what differs."""
        panel = QWidget()
        grid = QGridLayout(panel)
        grid.setContentsMargins(0, 0, 0, 8)
        # The tables of all clashes stand below each other.
        grid.setColumnMinimumWidth(0, 190)
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(2, 1)
        sentence = self.sentences[clash.key] = Sentence()
        grid.addWidget(sentence, 0, 0, 1, 3)
        heads = ("", "ours", "theirs")
        fields = [tuple(field) for field in clash.fields[:MOST_FIELDS]]
        for line, row in enumerate([heads, *fields], 1):
            for index, text in enumerate(row):
                label = QLabel(text)
                label.setTextFormat(Qt.TextFormat.PlainText)
                label.setWordWrap(True)
                label.setFont(theme.font(12.5, strong=line == 1))
                grid.addWidget(label, line, index)
        if len(clash.fields) > MOST_FIELDS:
            grid.addWidget(QLabel(f"and {len(clash.fields) - MOST_FIELDS} more fields"),
                           len(fields) + 2, 0, 1, 3)
        return panel

    def _show(self) -> None:
        for clash in self.found:
            parts: list[Word | Token] = [Word(f"{clash.what} {clash.name}", strong=True)]
            parts += [Token(label, theme.INDIGO, name=f"{label} {clash.name}",
                            filled=self.answers[clash.key] == answer,
                            action=partial(self._choose, clash.key, answer),
                            tip=tip)
                      for answer, label, tip in ANSWERS]
            self.sentences[clash.key].show_parts(parts)

    def _choose(self, key: Key, answer: Answer) -> None:
        self.answers[key] = answer
        self._show()

    def _all(self, answer: Answer) -> None:
        self.answers = dict.fromkeys(self.answers, answer)
        self._show()
