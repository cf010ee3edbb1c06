"""The sentences of the Hand-off page: what is written, where and when; whether it is the same in
all; the live wire."""

from __future__ import annotations

import re
from collections.abc import Callable
from ipaddress import ip_address
from pathlib import Path
from time import monotonic

from PyQt6.QtWidgets import QApplication

from ...core.languages.table import LANGUAGES
from ...core.wire.server import LOOPBACK
from ..widgets import theme
from ..widgets.certain import sure
from ..widgets.parts import Field, Part, Token, Word, choice_field, many_field
from .desk import HandOffDesk
from .wire_desk import WireDesk, split_address

MACHINE = re.compile(r"(?=.{1,253}$)\w[\w-]{0,62}(\.\w[\w-]{0,62})*", re.ASCII)
"""The name of a machine."""
EXTRAS = {
    "art": (
        "its art",
        "The frames as one packed sheet, and the sounds and pictures that moments and props name",
    ),
    "tests": (
        "the game's own tests",
        "The kept takes as golden traces, and what runs them: the game's own build then "
        "proves that it does what was shown",
    ),
    "wire": (
        "its wire client",
        "One file a language, with which the game speaks to the desk while both run",
    ),
}


COMPARED = 1 + sum(language.run is not None for language in LANGUAGES.values())
"""The desk's own engines, and the languages that can be run."""


def hand_off_sentence(
    desk: HandOffDesk, ask_folder: Callable[[], None], now: float | None = None
) -> list[Part]:
    """What is written, where and when; write it, and when it was written last."""
    return [*_what(desk), *_where(desk, ask_folder), *_written(desk, now)]


def _what(desk: HandOffDesk) -> list[Part]:
    choice = desk.choice
    parts: list[Part] = [Word("Hand-off", strong=True), Word("in")]
    for language, each in LANGUAGES.items():
        words, on = each.words, language in choice.languages
        parts.append(Token(words, theme.INDIGO, name=f"in {words}", filled=on, quiet=not on,
                           action=lambda each=language: desk.toggle(
                               each, tuple(LANGUAGES))))  # type: ignore[misc]
    parts.append(Word("with"))
    for extra, (words, tip) in EXTRAS.items():
        on = getattr(choice, extra)
        parts.append(Token(words, theme.PLUM, name=f"with {extra}", filled=on, quiet=not on,
                           tip=tip,
                           action=lambda each=extra, now=on: desk.choose(
                               **{each: not now})))  # type: ignore[misc]
    skins = [skin.name for skin in desk.document.skins.values()]
    if skins:
        parts.append(Word(f"and its skin{'s' * (len(skins) != 1)} {', '.join(skins)}"))
    return parts


def _where(desk: HandOffDesk, ask_folder: Callable[[], None]) -> list[Part]:
    choice = desk.choice
    folder = shortened(choice.folder) if choice.folder else "a folder…"
    when = "on every save" if choice.on_save else "by hand"
    parts: list[Part] = [Word("into"), Token(
        folder, theme.INK, name="into", action=ask_folder, quiet=not choice.folder,
        tip=choice.folder or "Choose where it goes: a folder of the game")]
    parts += [Word("written"), Token(when, theme.MOSS, name="when", field=choice_field(
        str(choice.on_save), [("by hand", "False"), ("on every save", "True")],
        lambda text: desk.choose(on_save=text == "True"), "when the files are written"))]
    return parts


def _written(desk: HandOffDesk, now: float | None) -> list[Part]:
    parts: list[Part] = []
    if desk.choice.folder:
        parts.append(Token("write now", theme.MADDER, name="write now", action=desk.write,
                           tip="Only changed files are written"))
    if desk.problem:
        return [*parts, Word(desk.problem, color=theme.MADDER)]
    made = desk.made
    if desk.busy and made is None:
        return [*parts, Word("is being made…")]
    if desk.written is not None and made is not None:
        count = len(made.files)
        changed = f"{desk.changed_then} of {count} files changed" if desk.changed_then else (
            f"all {count} files were the same")
        parts.append(
            Word(
                f"last written {ago((monotonic() if now is None else now) - desk.written)}: "
                f"{changed}"
            )
        )
    elif not desk.choice.folder:
        parts.append(Word("choose a folder first; until then nothing is written"))
    elif made is not None:
        other = sum(file.changed for file in made.files)
        parts.append(Word(f"{other} of {len(made.files)} files differ from the folder" if other else
                          "all files are the same as in the folder"))
    return parts


def same_sentence(desk: HandOffDesk) -> list[Part]:
    """Whether it is the same in all languages."""
    parts: list[Part] = [Word("the same in all", strong=True)]
    if desk.comparing:
        return [*parts, Word(f"being run: {len(desk.found)} of {COMPARED}"),
                Token("stop", theme.INK, name="stop comparing", quiet=True,
                      action=desk.stop_comparing)]
    if desk.found_is_old:
        parts.append(Word("before the last edit"))
    elif desk.found:
        takes = next(iter(desk.found.values())).takes
        parts.append(Word(f"{takes} take{'s' * (takes != 1)} + random"))
    again = "again" if desk.found else "compare now"
    parts.append(
        Token(
            again,
            theme.WOAD,
            name="compare",
            quiet=bool(desk.found) and not desk.found_is_old,
            action=desk.compare,
            tip="Builds every language and runs all kept takes and random input in it",
        )
    )
    return parts


def wire_sentence(wire: WireDesk) -> list[Part]:
    """The live wire: on or off, where, and with which key."""
    parts: list[Part] = [Word("Live wire", strong=True)]
    on = wire.on
    parts.append(Token("on" if on else "off", theme.WOAD if on else theme.MADDER, name="wire",
                       filled=on,
                       action=lambda: wire.switch(not on),
                       tip="Games on this machine can speak to the desk while it is on"
                       if not on else
                       "Disconnect all games and stop listening"))
    shown = wire.address or wire.settings.wire
    parts += [Word("at"), Token(shown, theme.INK, name="wire address", field=Field(
        wire.settings.wire, wire.listen_at, check=address_problem,
        hint="an address and a port; other machines can reach all but 127.0.0.1"))]
    if reaches_others(wire.address):
        parts.append(Word("other machines can reach it", color=theme.MADDER))
    if on:
        parts.append(Token("key for the game…", theme.WELD, name="wire key", quiet=True,
                           field=many_field(
            lambda: [(f"{wire.key}  · copy it", "copy"), ("make another key", "new")],
            lambda picked: wire.change_key() if picked == "new" else copy_key(wire.key),
            "games on this machine read it by themselves"), tip="What a game says to be let in"))
    parts += [Word(each, color=theme.MADDER) for each in (wire.trouble, wire.refused) if each]
    return parts


def game_sentence(wire: WireDesk) -> list[Part]:
    """What can be done with the games."""
    if not wire.address:
        # Parts, so that they flow where there is little room.
        return [Word("The desk shows a running game,"), Word("or runs the puppet for it")]
    parts: list[Part] = []
    row = wire.row(wire.watched)
    if row is not None:
        parts.append(Token(f"keep {row.name}'s last minute as a take", theme.MADDER,
                           name="keep last minute",
                           quiet=True, action=lambda: wire.keep(row.number),
                           tip="It runs again after every edit like any other take"))
        parts.append(Token("stop watching it", theme.INK, name="unwatch", quiet=True,
                           action=lambda: wire.watch(0)))
    modes = [("the desk runs Pell for it: edits arrive at once", "drive"),
             ("it runs its own code, and is compared", "follow")]
    modes += (
        [("Pell on a canvas, in the browser: edits arrive at once", "page")]
        if wire.has_page
        else []
    )
    parts.append(Token("start the stand-in game…", theme.WOAD, name="stand-in", quiet=True,
                       field=many_field(
        lambda: modes, lambda mode: wire.start_page()
        if mode == "page" else wire.start_stand_in(mode),
        "a small game that ships, in a window of its own")))
    return parts


def copy_key(key: str) -> None:
    """Put the key where it can be pasted."""
    sure(QApplication.clipboard()).setText(key)


def address_problem(text: str) -> str | None:
    """What is wrong with an address."""
    host, port = split_address(text.strip())
    if not MACHINE.fullmatch(host) and not is_address(host):
        return "expected an address such as 127.0.0.1:47800"
    if not 1024 <= port <= 65526:
        return "expected a port from 1024 to 65526"
    return None


def is_address(host: str) -> bool:
    """Whether it is an address of IP, of either version."""
    try:
        ip_address(host)
    except ValueError:
        return False
    return True


def reaches_others(address: str) -> bool:
    """Whether other machines can reach an address."""
    return bool(address) and split_address(address)[0] not in LOOPBACK


def shortened(folder: str, most: int = 26) -> str:
    """The end of a path."""
    path = Path(folder)
    text = str(path)
    if len(text) <= most:
        return text
    short = f"…/{path.parent.name}/{path.name}"
    return short if len(short) <= most + 6 else f"…{text[-most:]}"


def ago(seconds: float) -> str:
    """How long ago something was."""
    if seconds < 2:
        return "just now"
    if seconds < 100:
        return f"{seconds:.0f} s ago"
    return f"{seconds / 60:.0f} min ago" if seconds < 6000 else f"{seconds / 3600:.0f} h ago"
