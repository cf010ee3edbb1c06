"""Where the booth of a take is looked for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from ..demo import DEMO_FOLDER

if TYPE_CHECKING:
    from ..core.model.world import World


def world_for(booth: str | None, *folders: Path) -> World | None:
    """The world of a take's booth: beside the take, beside the puppet, or one that ships; None for no booth."""
    from ..core.formats.booth_file import find_booth

    return None if booth is None else find_booth(booth, (*folders, DEMO_FOLDER))
