"""Where the booth of a take is looked for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from ..demo import DEMO_FOLDER
from .bones import bones_known

if TYPE_CHECKING:
    from ..core.model.world import World


def world_at(booth: str | None, revision: str, *folders: Path) -> tuple[World | None, str]:
    """The same as it was in a revision of the git repository it lies in, and where it is not that
    one, why: a booth that is no part of that revision is used as it is now."""
    from ..core.formats.booth_file import booth_from, booth_path, load_booth
    from ..core.formats.errors import FileProblem
    from ..core.formats.revisions import file_at
    from ..core.skins.opponents import opponents_beside

    if booth is None:
        return None, ""
    path = booth_path(booth, (*folders, DEMO_FOLDER))
    if path.parent == DEMO_FOLDER and DEMO_FOLDER not in folders:
        return opponents_beside(load_booth(path), path.parent), ""
    try:
        raw = file_at(path, revision)
    except FileProblem:
        return (opponents_beside(load_booth(path), path.parent),
                f"its booth {booth} is not in {revision}: both run in the one that is here now")
    world = opponents_beside(booth_from(raw, f"{path} in {revision}"), path.parent)
    who = " and ".join(each.file for each in world.opponents)
    return world, f"its opponent {who} is as it is now in both" if who else ""


def world_for(booth: str | None, *folders: Path) -> World | None:
    """The world of a take's booth: beside the take, beside the puppet, or one that ships; None for
    no booth."""
    from ..core.formats.booth_file import booth_path, load_booth
    from ..core.skins.opponents import opponents_beside

    if booth is None:
        return None
    path = booth_path(booth, (*folders, DEMO_FOLDER))
    return _bones_known(opponents_beside(load_booth(path), path.parent), path.parent)


def _bones_known(world: World, folder: Path) -> World:
    """A booth whose opponents' bones are read."""
    from msgspec.structs import replace

    if not any(each.puppet.bone_files for each in world.opponents):
        return world
    return replace(world, opponents=tuple([
        replace(each, puppet=bones_known(each.puppet, folder)) for each in world.opponents]))
