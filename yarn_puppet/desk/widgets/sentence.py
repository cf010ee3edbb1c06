"""A sentence: words in which every coloured token is the field itself. It flows over as many lines
as it needs."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QLabel, QLayout, QLayoutItem, QSizePolicy, QWidget

from . import theme
from .caption import Caption
from .certain import sure
from .dialogs import plain
from .painting import painting
from .parts import Part, Token, Word
from .popup import TokenPopup

LINE = 26
GAP, SIGN_GAP = 5, 2


AROUND = 6


def lines_high(count: int) -> int:
    """How high a sentence of so many lines is, in pixels."""
    return count * LINE + (count - 1) * 2 + 2 * AROUND


def spoken(token: Token) -> str:
    """What a token is called where it is heard: a sign by its name, a value with its name, a word
    as it is."""
    if not any(each.isalnum() for each in token.text):
        return token.name or token.text
    return f"{token.name}: {token.text}" if token.name and token.name != token.text else token.text


class TokenButton(QAbstractButton):
    """One token."""

    def __init__(self, token: Token, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.token = token
        self.setText(token.text)
        self.setToolTip(plain(token.tip))
        self.setAccessibleName(spoken(token))
        self.setObjectName(token.name or token.text)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.clicked.connect(self.activate)
        self.popup: TokenPopup | None = None

    def activate(self) -> None:
        """Do the token's action, or open its editor."""
        if self.token.action is not None:
            self.token.action()
        elif self.token.field is not None:
            self.popup = TokenPopup(self.window(), self.token.field, self.token.color)
            self.popup.closed.connect(self._popup_closed)
            self.popup.open_at(self)

    def _popup_closed(self) -> None:
        self.popup = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.click()
        else:
            super().keyPressEvent(event)

    def _font(self) -> QFont:
        return theme.font(12.5 if self.token.quiet else 13.5, strong=not self.token.quiet)

    def sizeHint(self) -> QSize:
        return QSize(int(theme.text_width(self.token.text, self._font())) + (
            11 if self.token.quiet else 14), LINE - 2)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            rect = QRectF(self.rect()).adjusted(1, 2, -1, -2)
            color = self.token.color
            hot = self.underMouse() or self.hasFocus() or self.popup is not None
            fill = (
                color if self.token.filled else theme.tint(color, 0.12 if hot else 0.0, theme.WHITE)
            )
            if self.token.quiet and not hot:
                painter.setPen(theme.pen(theme.SEAM, 1, (3, 2.4)))
            else:
                painter.setPen(theme.pen(color, 1.9 if self.hasFocus() else 1.2))
            painter.setBrush(fill)
            painter.drawRoundedRect(rect, 5, 5)
            painter.setFont(self._font())
            painter.setPen(theme.WHITE if self.token.filled else theme.QUIET
                           if self.token.quiet and not hot else color)
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, self.token.text)
            lit = self.token.lit() if self.token.lit is not None else None
            if lit is not None:
                # A stitch under a term: drawn through while it holds.
                painter.setPen(theme.pen(theme.WOAD if lit else theme.FAINT, 2.2,
                                         None if lit else (1, 2.2)))
                painter.drawLine(QPointF(rect.x() + 5, rect.bottom() - 1),
                                 QPointF(rect.right() - 5, rect.bottom() - 1))

    def show_now(self) -> None:
        """Show what holds now."""
        if self.token.lit is not None:
            lit = self.token.lit()
            now = "" if lit is None else " · holds now" if lit else " · does not hold now"
            self.setToolTip(plain(f"{self.token.tip}{now}"))
            self.update()


class _Flow(QLayout):
    """Lays its items out like the words of a text."""

    def __init__(self, parent: QWidget) -> None:
        self._items: list[QLayoutItem] = []
        self._heights: dict[int, int] = {}
        super().__init__(parent)

    def addItem(self, item: QLayoutItem | None) -> None:
        self._items.append(sure(item))

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        # Qt asks many times for one sentence.
        if width not in self._heights:
            self._heights[width] = self._place(QRect(0, 0, width, 0), move=False)
        return self._heights[width]

    def invalidate(self) -> None:
        self._heights.clear()
        super().invalidate()

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._place(rect, move=True)

    def sizeHint(self) -> QSize:
        return QSize(200, self.heightForWidth(max(200, self.geometry().width())))

    def minimumSize(self) -> QSize:
        return QSize(80, LINE)

    def _place(self, rect: QRect, move: bool) -> int:
        margins = self.contentsMargins()
        left, right = rect.x() + margins.left(), rect.right() - margins.right()
        x, y = left, rect.y() + margins.top()
        for held in self._held_together():
            sizes = [item.sizeHint() for item in held]
            if (
                x + sum(size.width() for size in sizes) + SIGN_GAP * (len(held) - 1) > right
                and x > left
            ):
                x, y = left, y + LINE + 2
            for item, size in zip(held, sizes, strict=True):
                if move:
                    item.setGeometry(QRect(QPoint(x, y + (LINE - size.height()) // 2), size))
                x += size.width() + SIGN_GAP
            x += GAP - SIGN_GAP
        return y + LINE + margins.bottom() - rect.y()


    def _held_together(self) -> list[list[QLayoutItem]]:
        """A sign that removes or eases something stays with what it is about."""
        found: list[list[QLayoutItem]] = []
        for item in self._items:
            widget = item.widget()
            sign = (
                isinstance(widget, TokenButton)
                and widget.token.quiet
                and len(widget.token.text) == 1
            )
            if sign and found:
                found[-1].append(item)
            else:
                found.append([item])
        return found


class Sentence(QWidget):
    """Shows parts, and keeps the keyboard focus on the token of the same name when they change."""

    def __init__(
        self, parent: QWidget | None = None, background: bool = True, around: int = 2
    ) -> None:
        super().__init__(parent)
        self._flow = _Flow(self)
        around = AROUND if background else around
        self._flow.setContentsMargins(10, around, 10, around)
        self._parts: list[Part] = []
        self._background, self.least = background, 0
        self.fallback: QWidget | None = None
        """What gets the keyboard when the token that had it is gone."""
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    @property
    def parts(self) -> Sequence[Part]:
        """What is shown."""
        return self._parts

    def show_parts(self, parts: Sequence[Part]) -> None:
        """Show a sentence. Tokens stay, also one that is being pressed, where only words differ
        or nothing is."""
        if not self._parts or [_kept(each) for each in self._parts] != [
            _kept(each) for each in parts
        ]:
            self._make(parts)
            return
        for index, (before, part) in enumerate(zip(self._parts, parts, strict=True)):
            label = sure(self._flow.itemAt(index)).widget()
            if isinstance(label, QLabel) and before.text != part.text:
                label.setText(part.text)
                self._flow.invalidate()
                self.setMinimumHeight(self.height_for(self.width()))
        self._renew(parts)

    def _make(self, parts: Sequence[Part]) -> None:
        focused = next((token.objectName() for token in self.tokens() if token.hasFocus()), None)
        while (item := self._flow.takeAt(0)) is not None:
            widget = sure(item.widget())
            widget.hide()
            widget.deleteLater()
        self._parts = list(parts)
        # Laid out once all of it is there, not word by word.
        self._flow.setEnabled(False)
        for part in self._parts:
            widget = self._word(part) if isinstance(part, Word) else TokenButton(part, self)
            self._flow.addWidget(widget)
            widget.show()
            if focused is not None and widget.objectName() == focused:
                widget.setFocus()
                focused = None
        if focused is not None and self.fallback is not None:
            self.fallback.setFocus()
        self._flow.setEnabled(True)
        self._flow.invalidate()
        self.updateGeometry()
        self.setMinimumHeight(self.height_for(self.width()))

    def _renew(self, parts: Sequence[Part]) -> None:
        """Nothing that is seen of the tokens is another: what they do is, and what they say when
        asked."""
        self._parts = list(parts)
        tokens = [part for part in parts if isinstance(part, Token)]
        for widget, token in zip(self.tokens(), tokens, strict=True):
            if widget.token.tip != token.tip:
                widget.setToolTip(plain(token.tip))
            widget.token = token
            widget.setAccessibleName(spoken(token))

    def height_for(self, width: int) -> int:
        """How high it is at a width."""
        return max(self.least, self._flow.heightForWidth(max(120, width)))

    def keep_room(self, least: int) -> None:
        """Be so high at the least: what stands beside it must not move when it says more."""
        if least != self.least:
            self.least = least
            self.setMinimumHeight(self.height_for(self.width()))

    def resizeEvent(self, event: object) -> None:
        self.setMinimumHeight(self.height_for(self.width()))

    def tokens(self) -> list[TokenButton]:
        """The tokens shown, in order."""
        found = (sure(self._flow.itemAt(place)).widget() for place in range(self._flow.count()))
        return [each for each in found if isinstance(each, TokenButton)]

    def show_now(self) -> None:
        """Show which terms hold now."""
        for token in self.tokens():
            token.show_now()

    def token(self, name: str) -> TokenButton:
        """The token of this name or text. Raises KeyError."""
        for token in self.tokens():
            if token.objectName() == name:
                return token
        raise KeyError(f"{name} is not among {[token.objectName() for token in self.tokens()]}")

    def _word(self, word: Word) -> QLabel:
        color = word.color if word.color is not None else theme.INK if word.strong else theme.QUIET
        label = Caption("", color, theme.font(13.5, bold=word.strong), self)
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setText(word.text)
        return label

    def paintEvent(self, event: object) -> None:
        if not self._background:
            return
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.LINEN)
            painter.drawRoundedRect(QRectF(self.rect()), 8, 8)


def _kept(part: Part) -> tuple[object, ...]:
    """What of a part is the same while it can stay: all that is seen of a token, of a word all but
    what it is."""
    color = part.color.name() if part.color is not None else None
    rest = (
        (part.text, part.filled, part.quiet, part.name)
        if isinstance(part, Token)
        else (part.strong,)
    )
    return (type(part), color, *rest)
