"""The weave by keyboard: from card to card and along their tails, linking, sizes, folding,
copying."""

from __future__ import annotations

from ...core.model.edits import graph as edits
from ..widgets.key_table import KeyLine
from .ground import WeaveGround
from .placing.layout import Card
from .transfer import copy_selected, duplicate_selected, paste

ARROWS = {"Left": (-1, 0), "Right": (1, 0), "Up": (0, -1), "Down": (0, 1)}


class WeaveKeys:
    """What each key does."""

    def __init__(self, view: WeaveGround) -> None:
        self.view = view
        document = view.document

        def selected() -> bool:
            return document.selection is not None

        self.lines = (
            KeyLine(tuple(ARROWS), "to the nearest card that way",
                    lambda key: self.step(*ARROWS[key], also=False)),
            KeyLine(tuple(f"Shift+{arrow}" for arrow in ARROWS), "select it too",
                    lambda key: self.step(*ARROWS[key.rpartition("+")[2]], also=True)),
            KeyLine(("O", "Shift+O"), "along the ways out, or back",
                    lambda key: self.along_tails(1 if key == "O" else -1)),
            KeyLine(("T",), "begin a transition here", lambda key: self.begin_link()),
            KeyLine(("Return",), "end it here", lambda key: self.end_link()),
            KeyLine(("F",), "fold the band, or open it", lambda key: self.fold()),
            KeyLine(("+", "=", "-"), "larger or smaller cards",
                    lambda key: self.resize(1 if key == "-" else -1)),
            KeyLine(("0",), "as large as there is room", lambda key: view.showing.fit()),
            KeyLine(("Ctrl+C", "Ctrl+X"), "copy, or cut, what is selected",
                    lambda key: copy_selected(document) if key == "Ctrl+C" else self.cut()),
            KeyLine(("Ctrl+V",), "paste",
                    lambda key: paste(document, view.showing.layer, view.window(),
                                      view.message.emit)),
            KeyLine(("Ctrl+D",), "once more", lambda key: duplicate_selected(document)),
            KeyLine(("Ctrl+A",), "select all states", lambda key: self.select_all()),
            KeyLine(("Del",), "remove what is selected", lambda key: self.remove(), selected),
            KeyLine(("Esc",), "select nothing", lambda key: self.let_go()),
        )

    @property
    def selection(self) -> tuple[str, str]:
        """What is selected."""
        return self.view.document.selection or ("", "")

    def step(self, across: int, down: int, also: bool) -> None:
        """Select the nearest card in a direction."""
        layout, document = self.view.layout_now, self.view.document
        here = layout.cards.get(self.selection[1])
        if here is None:
            first = next(iter(layout.cards), None)
            if first is not None:
                document.select("state", first)
            return

        def far(card: Card) -> float:
            return abs(card.box.x - here.box.x) + abs(card.box.y - here.box.y) * 3

        ahead = [
            card for card in layout.cards.values()
            if (across and card.row == here.row and (card.box.x - here.box.x) * across > 0)
            or (down and (card.row - here.row) * down > 0)
        ]
        if ahead:
            state = min(ahead, key=far).state
            if also:
                before = document.selected_states
                document.select("state", state)
                document.select_also(*(each for each in before if each != state))
            else:
                document.select("state", state)
            self.view.show_card(state)

    def along_tails(self, by: int) -> None:
        """Go through the transitions of the selected state or group."""
        puppet, (kind, id) = self.view.document.puppet, self.selection
        current = puppet.transition(id) if kind == "transition" else None
        ids = [each.id for each in puppet.transitions_of(current.source if current else id)]
        if ids:
            place = (ids.index(id) + by) % len(ids) if current else 0 if by > 0 else -1
            self.view.document.select("transition", ids[place])

    def begin_link(self) -> None:
        """The selected state, band or layer is where a transition begins."""
        if self.selection[0] in ("state", "group", "layer"):
            self.view.linking = self.selection[1]
            self.view.update()

    def end_link(self) -> None:
        """The selected state is where it leads."""
        source, self.view.linking = self.view.linking, None
        if source is None or self.selection[0] not in ("state", "group"):
            return
        if self.view.document.puppet.node(source) is None:
            self.view.add_from_anywhere(source, self.selection[1])
        else:
            self.view.add_transition(source, self.selection[1])

    def let_go(self) -> None:
        """Nothing is selected, nothing being linked."""
        self.view.linking = None
        self.view.document.deselect()

    def fold(self) -> None:
        """Fold the selected band, or the one of the selected state, or open it."""
        kind, id = self.selection
        group = self.view.picture.index.outermost(id) or (id if kind == "group" else None)
        if group is not None:
            self.view.showing.fold(group)

    def resize(self, by: int) -> None:
        """A larger or smaller size."""
        self.view.showing.resize(by, self.view.layout_now.size)

    def select_all(self) -> None:
        """Every state of the layer."""
        states = list(self.view.layout_now.cards)
        if states:
            self.view.document.select("state", states[0])
            self.view.document.select_also(*states[1:])

    def cut(self) -> None:
        """Copy, then remove."""
        copy_selected(self.view.document)
        self.remove()

    def remove(self) -> None:
        """Remove what is selected."""
        document = self.view.document
        kind, id = self.selection
        states = document.selected_states
        if len(states) > 1:
            document.deselect()
            document.edit("remove states", lambda now: edits.states_removed(now, states))
            return
        remove = {
            "state": edits.state_removed, "group": edits.group_removed,
            "transition": edits.transition_removed,
        }.get(kind)
        if remove is not None:
            document.deselect()
            document.edit(f"remove {kind}", lambda now: remove(now, id))
