"""The mover's numbers as sentences. Heights are in tiles, times as hands count them; the model
keeps plain numbers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from ....core.booth import meaning
from ....core.model.edits import wiring as edits
from ....core.model.edits.movers import art_fitted, as_drawn, standing_clip
from ....core.model.mover import Mover
from ....core.model.puppet import Puppet
from ....core.model.wiring import Intent
from ....core.model.world import World
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, Word, choice_field, number_field

FASTEST = 1e6
"""Pixels a second."""


class _Tokens:
    """Makes the tokens of one puppet's mover."""

    def __init__(self, document: Document, tile: int) -> None:
        self.document, self.tile = document, tile
        self.mover, self.rate = document.puppet.mover, document.puppet.rate

    def change(self, name: str, made: Callable[[Mover], Mover]) -> None:
        """Edit the mover."""
        self.document.edit(f"change {name}", lambda now: replace(now, mover=made(now.mover)))

    def number(
        self,
        name: str,
        text: str,
        value: float,
        put: Callable[[Mover, float], Mover],
        low: float,
        high: float,
        step: float,
        tip: str = "",
    ) -> Token:
        """A token for one number."""
        return Token(text, theme.INDIGO, name=name, tip=tip, field=number_field(
            round(value, 4), lambda given: self.change(name, lambda mover: put(mover, given)), low,
            high, step))

    def plain(
        self, field: str, unit: str, high: float, step: float, tip: str = "", low: float = 0.0
    ) -> Token:
        """A token for a number that is stored as it is said."""
        value = getattr(self.mover, field)
        return self.number(field.replace("_", " "), f"{value:g}{unit}", value,
                           lambda mover, given: replace(mover, **{field: given}), low, high, step,
                           tip)


    def speed(self, field: str, step: float, tip: str = "") -> Token:
        """A token for a speed, which may also be given in tiles or in body heights a second."""
        value, name = getattr(self.mover, field), field.replace("_", " ")
        units = {"px": 1.0, "tiles": float(self.tile), "heights": self.mover.height}

        def read(text: str) -> float:
            number, _, unit = text.strip().replace(",", ".").partition(" ")
            unit = unit.strip().removesuffix("/s").strip() or "px"
            return float(number) * units[unit if unit in units else f"{unit}s"]

        def check(text: str) -> str | None:
            try:
                speed = read(text)
            except (ValueError, KeyError):
                return "expected a number, with px, tiles or heights after it"
            return None if 0 <= speed <= FASTEST else f"expected 0 to {FASTEST:g} px a second"

        said = (f"{value / self.tile:.3g} tiles, {value / self.mover.height:.3g} body heights a "
                "second")
        return Token(f"{value:g} px/s", theme.INDIGO, name=name,
                     tip=f"{tip}{'; ' if tip else ''}{said}", field=Field(
                         f"{round(value, 4):g}",
                         lambda text: self.change(name, lambda mover: replace(
                             mover, **{field: read(text)})),
                         check=check, step=step,
                         hint=f"px a second, or as “5 tiles”, “2 heights”; now {said}"))


def mover_sentences(document: Document, world: World) -> list[list[Part]]:
    """One sentence a line: those that count in a world seen as this one is."""
    tokens = _Tokens(document, world.tile_size)
    if world.from_above:
        return [_walks(tokens, above=True), _goes(tokens), _body(tokens)]
    return [_walks(tokens, above=False), _jumps(tokens, world.tile_size), _forgives(tokens),
            [*_climbs(tokens), *_body(tokens)],
            _hangs(tokens)]


def _walks(tokens: _Tokens, above: bool) -> list[Part]:
    mover = tokens.mover
    faster, slower = meaning.seconds_to_full_speed(mover), meaning.seconds_to_stop(mover)
    parts: list[Part] = [
        Word("Walks", strong=True), tokens.speed("walk_speed", 5),
    ]
    if mover.goes == "freely" or not above:
        parts += [
            Word("full speed in"), tokens.number(
                "full speed in", f"{faster:.2f} s" if faster else "never", faster,
                lambda now, given: replace(now, acceleration=_rate(now, given)), 0, 10, 0.01,
                "0 is at once"),
            Word("stops in"), tokens.number(
                "stops in", f"{slower:.2f} s" if slower else "never", slower,
                lambda now, given: replace(now, deceleration=_rate(now, given)), 0, 10, 0.01,
                "0 is at once"),
        ]
    if not above:
        parts += [
            Word("in the air"), tokens.number(
                "air control", f"{mover.air_control:.0%}", mover.air_control * 100,
                lambda now, given: replace(now, air_control=given / 100), 0, 1000, 5,
                "How much of that it has in the air; 0 keeps its speed"),
            Word("up slopes to"), tokens.plain(
                "steepest", "°", 90, 1, "Steeper ones are slid down"),
        ]
    return parts


def _rate(mover: Mover, seconds: float) -> float:
    return mover.walk_speed / seconds if seconds > 0 else 1e8


def _jumps(tokens: _Tokens, tile: int) -> list[Part]:
    mover = tokens.mover
    up, carried = meaning.jump_height(mover) / tile, meaning.carried_height(mover) / tile
    return [
        Word("Jumps", strong=True), tokens.number(
            "jump height", f"{up:.1f} tiles", up,
            lambda now, given: meaning.with_jump_height(now, given * tile), 0, 100, 0.1),
        Word("up; holding the button carries it to"), tokens.number(
            "carried height", f"{carried:.1f} tiles", carried,
            lambda now, given: meaning.with_carried_height(now, given * tile), 0, 200, 0.1,
            "No lower than a tapped jump"),
        Word("falls at most"), tokens.speed("fall_speed", 10),
        Word("gravity"), tokens.plain("gravity", " px/s²", 1_000_000, 50),
    ]


def _forgives(tokens: _Tokens) -> list[Part]:
    mover, rate = tokens.mover, tokens.rate
    parts: list[Part] = [
        Word("Forgives", strong=True), tokens.number(
            "grace", f"{round(mover.grace * rate)} ticks", round(mover.grace * rate),
            lambda now, given: replace(now, grace=given / rate), 0, 600, 1,
            "How long after an edge it may still jump: the sense footing says so"),
        Word("after an edge,"),
    ]
    presses = jump_presses(tokens.document.puppet)
    if presses:
        ticks = round(presses[0].buffer * rate)
        parts += [
            Word("a jump pressed"), Token(f"{ticks} ticks", theme.MADDER, name="jump buffer",
                                          field=number_field(
                ticks, lambda given: tokens.document.edit(
                    "change jump buffer", lambda now: _buffered(now, given / rate)), 0, 600, 1),
                tip=f"How long {presses[0].name} stays armed: the same as in Wiring"),
            Word("before landing,"),
        ]
    parts += [Word("a corner of"),
              tokens.plain("corner", " px", 2048, 1,
                           "It slips round a corner that holds it so far")]
    return parts


def jump_presses(puppet: Puppet) -> list[Intent]:
    """The intents that a press of the mover's jump arms."""
    return [intent for intent in puppet.intents
            if intent.action == puppet.mover.jump and intent.gesture == "press"]


def _buffered(puppet: Puppet, seconds: float) -> Puppet:
    for press in jump_presses(puppet):
        puppet = edits.entry_changed(puppet, "intents", press.id, buffer=seconds)
    return puppet


def _climbs(tokens: _Tokens) -> list[Part]:
    return [
        Word("Climbs", strong=True), tokens.speed("climb_speed", 5),
        Word("Swims", strong=True), tokens.speed("swim_speed", 5),
        Word("Shimmies", strong=True), tokens.speed("shimmy_speed", 5),
    ]


def _hangs(tokens: _Tokens) -> list[Part]:
    return [
        Word("Hangs", strong=True), Word("by hands"),
        tokens.plain("hands_x", " px", 32_000, 1, "Before the middle"),
        Word("ahead,"), tokens.plain("hands_y", " px", 32_000, 1), Word("above the feet, reach"),
        tokens.plain("reach", " px", 2048, 1, "How near a ledge must be to be felt"),
    ]


def _goes(tokens: _Tokens) -> list[Part]:
    mover = tokens.mover
    options = [("freely in eight directions", "freely"), ("from cell to cell", "by cells")]
    names = {value: label for label, value in options}

    def goes(value: str) -> None:
        tokens.change("way of going",
                      lambda now: replace(now, goes=value))

    parts: list[Part] = [
        Word("Goes", strong=True), Token(names[mover.goes], theme.MOSS, name="goes",
                                         field=choice_field(mover.goes, options, goes)),
        Word("and is drawn"),
        tokens.plain("art_up", " px", 2048, 1, "Half a cell is half a tile", -2048),
        Word("higher"),
    ]
    if mover.goes == "freely":
        parts += [Word("· slips round corners of"), tokens.plain("corner", " px", 2048, 1)]
    return parts


def _body(tokens: _Tokens) -> list[Part]:
    health = tokens.mover.health
    parts: list[Part] = [
        Word("Is", strong=True), tokens.plain("width", "", 32_000, 1, low=1.0), Word("×"),
        tokens.plain("height", " px", 32_000, 1, low=1.0), Word("drawn"),
        tokens.number("art scale", f"× {tokens.mover.art_scale:g}", tokens.mover.art_scale,
                      lambda mover, given: replace(mover, art_scale=given), 1 / 256, 256, 0.25,
                      "How many pixels of the booth a pixel of its art is"),
        Token(f"{health} health" if health else "health…", theme.INDIGO, name="puppet health",
              quiet=not health,
              field=number_field(health, lambda given: tokens.change(
                  "health", lambda now: replace(now, health=round(given))), 0, 100000, 1,
                  "0 is not counted")),
    ]
    if standing_clip(tokens.document.puppet) is not None:
        parts.append(Token("as drawn", theme.MOSS, quiet=True, name="as drawn",
                           tip="Body, hands and step as the body box of the clip that stands",
                           action=lambda: tokens.document.edit("take the body as drawn",
                                                               as_drawn)))
        parts.append(Token("to fit", theme.MOSS, quiet=True, name="to fit",
                           tip="The art at the scale at which its body box is as high as this",
                           action=lambda: tokens.document.edit("draw it to fit", art_fitted)))
    return parts


def said(value: Any) -> str:
    """A sense's value in a token."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"{value:.0f}" if isinstance(value, float) else str(value) or "none"
