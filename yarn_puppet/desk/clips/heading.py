"""What stands over the clips: how many there are, where they are from, the search, and what brings
more of them in."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QWidget

from ...core.art.cutting import grid_size
from ...core.model.puppet import Puppet
from ..pictures.art import Art
from ..widgets import theme
from ..widgets.buttons import PillButton
from ..widgets.caption import Caption
from ..widgets.panel import QuietLine, row_of
from ..widgets.sentence import Sentence

SEARCH_WIDTH, MORE_WIDTH = 112, 84


class ClipsHeading(QWidget):
    """One line. What its buttons do is the page's."""

    def __init__(self, art: Art) -> None:
        super().__init__()
        self.art = art
        self.count = Caption(font=theme.font(14.5, bold=True))
        self.source, self.search, self.more = QuietLine(), QLineEdit(), Sentence(background=False)
        theme.dressed(self.search)
        self.search.setPlaceholderText("find a clip")
        self.search.setAccessibleName("find a clip")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(SEARCH_WIDTH)
        self.bring_in, self.recut = (PillButton("bring in…", size=13),
                                     PillButton("cut again…", size=13))
        for button in (self.bring_in, self.recut):
            button.setCheckable(False)
            button.outlined = True
        self.more.setFixedWidth(MORE_WIDTH)
        row = row_of(self.count, self.source, self.search, self.bring_in, self.recut, self.more,
                     stretch=1)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(row)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def show_puppet(self, puppet: Puppet, under_way: str) -> None:
        """Show what a puppet has; `under_way` is what is being read or written, and said first."""
        count = len(puppet.clips)
        self.count.setText(f"{count} clip{'s' * (count != 1)}")
        self.source.setText(under_way or self._sources(puppet))
        self.recut.setEnabled(bool(puppet.sheets))
        self.recut.setVisible(not puppet.is_of_bones)
        self.search.setVisible(bool(puppet.clips))

    def _sources(self, puppet: Puppet) -> str:
        """Where its art is from."""
        if puppet.is_of_bones:
            return self._bone_files(puppet)
        if not puppet.sheets:
            return "no art yet: drop files here"
        first = puppet.sheets[0]
        more = f" and {len(puppet.sheets) - 1} more" if len(puppet.sheets) > 1 else ""
        image = self.art.sheet(first.id)
        if first.grid is None or first.islands is not None or image is None:
            return f"from {first.name}{more}"
        size = grid_size(image.width(), image.height(), first.grid)
        return f"from {first.name}{more}, {size[0]} × {size[1]} cells"

    def _bone_files(self, puppet: Puppet) -> str:
        poses = self.art.bones.poses
        bones = f" · {len(poses.skeleton.names)} bones" if poses is not None else ""
        return f"from {', '.join(file.name for file in puppet.bone_files)}{bones}"
