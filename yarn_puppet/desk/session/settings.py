"""What the desk remembers between sessions: the panes' borders, the window's place, the last folder
and files."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

import msgspec
from platformdirs import user_config_path

from ...core.formats.errors import FileProblem, read_whole
from ...core.formats.replacing import write_safely
from ...core.languages.table import DEFAULT_LANGUAGES

LARGEST = 1024 * 1024
"""Bytes of settings beyond which they are not read."""
Pixels = Annotated[int, msgspec.Meta(ge=0, le=32_767)]
"""A size that a window can have."""
Place = Annotated[int, msgspec.Meta(ge=-100_000, le=100_000)]
"""Where an edge of a window can be; screens may stand left of the first one, and above it."""
MOST_RECENT = 8


class HandOffChoice(msgspec.Struct, frozen=True, omit_defaults=True):
    """What is handed off, where, and when. A folder is whole; empty while none was chosen."""

    languages: tuple[str, ...] = DEFAULT_LANGUAGES
    folder: str = ""
    on_save: bool = False
    art: bool = True
    tests: bool = False
    wire: bool = False


class Settings(msgspec.Struct, omit_defaults=True):
    """All of it has a default, so that a file that cannot be read costs nothing but the memory of
    it."""

    width: Pixels = 1280
    height: Pixels = 800
    left: Place | None = None
    top: Place | None = None
    maximized: bool = False
    splits: dict[str, list[Pixels]] = msgspec.field(default_factory=dict)
    folder: str = ""
    recent: list[str] = msgspec.field(default_factory=list)
    """Puppets that were worked on, the last one first."""
    news: dict[str, int] = msgspec.field(default_factory=dict)
    """By page what was said of it last."""
    greeted: bool = True
    """Whether what to press was shown, and something was pressed. Who has no settings yet was not
    greeted."""
    appearance: Literal["system", "day", "night"] = "system"
    over: list[str] = msgspec.field(default_factory=lambda: [
        "state", "velocity", "boxes", "ghosts"])
    """What is drawn over the puppet in the booth."""
    values: list[str] = msgspec.field(default_factory=list)
    """The ids of the senses and memos written beside it."""
    meshes: bool = False
    """Whether figures of bones are drawn as their meshes, not as limbs."""
    zoom: Annotated[int, msgspec.Meta(ge=0, le=64)] = 0
    """Screen pixels to a pixel of the booth; zero for as large as there is room."""
    hand_offs: dict[str, HandOffChoice] = msgspec.field(default_factory=dict)
    """By a puppet's file how it was handed off last."""
    wire: str = "127.0.0.1:47800"
    """Where the live wire listens when it is switched on."""


def worked_on(settings: Settings, path: Path) -> None:
    """A puppet was opened or saved."""
    name = str(path.absolute())
    settings.recent = [name, *(each for each in settings.recent if each != name)][:MOST_RECENT]


def settings_path() -> Path:
    """Where the settings are kept."""
    return user_config_path("yarn-puppet") / "desk.json"


def load_settings() -> Settings:
    """The remembered settings, or the defaults."""
    return settings_and_problem()[0]


def settings_and_problem() -> tuple[Settings, str]:
    """The remembered settings, and nothing; or the defaults, and what was wrong with those that
    were there.

    Those are put aside, for who wants to fix them.
    """
    path = settings_path()
    if not path.exists():
        return Settings(greeted=False), ""
    try:
        return msgspec.json.decode(read_whole(path, LARGEST), type=Settings), ""
    except (FileProblem, msgspec.MsgspecError, RecursionError, UnicodeDecodeError) as error:
        aside = path.with_name(f"{path.name}.damaged")
        try:
            path.replace(aside)
        except OSError:
            aside = path
        return (
            Settings(),
            f"The settings could not be read ({error}) and were reset; the old ones lie in {aside}",
        )


def save_settings(settings: Settings) -> None:
    """Remember settings; a folder that cannot be written is no reason to trouble anyone who is
    closing a window."""
    path = settings_path()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        write_safely(path, msgspec.json.encode(settings))
    except (OSError, FileProblem, UnicodeEncodeError):
        return
