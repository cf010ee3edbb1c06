"""The skin on show as sentences: what came for it, what it has of its own, and what is the
puppet's again on a click."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from msgspec.structs import replace

from ...core.model.skin import OWN_PARTS, Skin, SkinClip
from ...core.skins.taking_back import part_taken_back
from ..session.document import Document
from ..widgets import theme
from ..widgets.parts import Part, Token, Word, name_field
from .incoming.skin_art import SkinArt

EDIT = "take from the puppet"
MOST_LISTED = 8


def listed(names: Sequence[str]) -> str:
    """Names in a row, of many the first ones."""
    shown = ", ".join(names[:MOST_LISTED])
    more = len(names) - MOST_LISTED
    return f"{shown} and {more} more" if more > 0 else shown


def skin_parts(document: Document, skin_art: SkinArt) -> list[Part]:
    """The strip over the clips while a skin is on show; empty for none."""
    skin, file = document.skin, document.wearing.shown
    if skin is None:
        return []
    clips = [clip for clip in document.bare_puppet.clips if clip.frames]
    own = [clip.name for clip in clips if (each := skin.clip(clip.id)) and each.frames]
    rest = [clip.name for clip in clips if clip.name not in own]
    parts: list[Part] = [
        Word("in the skin"),
        Token(skin.name, theme.MADDER, name="skin name", tip="The skin's name",
              field=name_field(skin.name, partial(renamed, document, file))),
        Word(f"· {len(own)} of {len(clips)} clips are drawn for it"),
    ]
    found = skin_art.matched
    if found is not None and found.skin.name == skin.name:
        ways = [(way, sum(each.by == way for each in found.found))
                for way in ("cells", "row", "name")]
        said = ", ".join(f"{count} by {way}" for way, count in ways if count)
        parts.append(Word(f"({said})" if said else "(none was found)"))
        if found.left:
            parts += [Word("· no clip for"), Word(listed(found.left), strong=True)]
    if rest:
        parts += [Word("· as the puppet has them:"), Word(listed(rest), strong=True)]
    parts.append(Token("more art…", theme.WOAD, quiet=True, name="more art for the skin",
                       action=skin_art.ask_more,
                       tip="Dropped files are for this skin too while it is on show"))
    if found is not None:
        parts.append(Token("done", theme.INK, filled=True, name="skin came in done",
                           action=skin_art.answered))
    return parts


def own_parts(document: Document, clip: str) -> list[Part]:
    """What the skin on show has of its own in a clip, each taken from the puppet again by a
    click."""
    skin = document.skin
    own = skin.clip(clip) if skin is not None else None
    if skin is None:
        return []
    if own is None:
        return [Word(f"· {skin.name} has nothing of its own here")]
    parts: list[Part] = [Word(f"· {skin.name}'s own:")]
    if own.frames:
        parts.append(_token(document, own, "cells"))
    parts += [_token(document, own, part) for part in OWN_PARTS if part in own.own]
    return parts


def _token(document: Document, own: SkinClip, part: str) -> Token:
    def take() -> None:
        skin, file = document.skin, document.wearing.shown
        if skin is not None:
            document.edit_skins(EDIT, {file: part_taken_back(skin, own.clip, part)})

    return Token(part, theme.MADDER, quiet=True, name=f"own {part}", action=take,
                 tip=f"Take the {part} from the puppet again")


def renamed(document: Document, file: str, name: str) -> None:
    """Give a skin another name; its file keeps its own."""
    skin: Skin | None = document.skins.get(file)
    if skin is not None and name.strip():
        document.edit_skins("rename skin", {file: replace(skin, name=name.strip())})
