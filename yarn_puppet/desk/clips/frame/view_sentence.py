"""How the frame is looked at: playing, ghosts, mirror, ground, zoom, and the seam of the loop."""

from __future__ import annotations

from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field
from ..clip_desk import MOST_GHOSTS, SPEEDS, ClipDesk
from .measuring import Measures
from .view import FrameView

SEAM_COLORS = {"smooth": theme.WOAD, "a small jump": theme.WELD, "a jump": theme.MADDER}


def play_tokens(desk: ClipDesk) -> list[Part]:
    """Playing the clip here: on or held, how fast, and which way. A filled token is on."""
    if desk.clip is None or not desk.clip.plays:
        return []
    return [
        Token("hold" if desk.playing else "play", theme.INK, filled=desk.playing, name="play",
              tip="Space",
              action=desk.toggle_playing),
        Token(f"{desk.speed:g}×", theme.INDIGO, name="speed", field=choice_field(
            f"{desk.speed:g}", [(f"{speed:g}×", f"{speed:g}") for speed in SPEEDS],
            lambda value: desk.set(speed=float(value)))),
        Token("to and fro" if desk.to_and_fro else "round", theme.INDIGO, name="way",
              tip="Play this clip round, or back and forth",
              action=lambda: desk.set(to_and_fro=not desk.to_and_fro)),
    ]


def view_sentence(desk: ClipDesk, view: FrameView, measures: Measures) -> list[Part]:
    """Each token is the switch itself; a filled one is on."""
    clip, frame = desk.clip, desk.frame
    if clip is None or frame is None:
        return []
    zooms = [("fit", "fit"), *((f"{zoom}×", str(zoom)) for zoom in (1, 2, 3, 4, 6, 8, 12, 16))]
    parts: list[Part] = [
        Token(f"ghosts {desk.ghosts}", theme.INDIGO, name="ghosts", filled=desk.ghosts > 0,
              tip="How many frames before (blue) and after (red) are drawn over it",
              field=choice_field(
                  str(desk.ghosts), [(str(count), str(count)) for count in range(MOST_GHOSTS + 1)],
                  lambda value: desk.set(ghosts=int(value)))),
        Token("mirror", theme.INDIGO, name="mirror", filled=desk.mirrored,
              tip="See it as it faces the other way",
              action=lambda: desk.set(mirrored=not desk.mirrored)),
        Token("night" if desk.night else "paper", theme.INDIGO, name="ground",
              tip="What lies behind the frame",
              action=lambda: desk.set(night=not desk.night)),
        Token("fit" if view.zoom is None else f"{view.zoom}×", theme.INDIGO, name="zoom",
              tip="The wheel zooms, the middle or right button pans", field=choice_field(
                  "fit" if view.zoom is None else str(view.zoom), zooms,
                  lambda value: view.zoom_to(None if value == "fit" else int(value)))),
    ]
    seam = measures.seam(clip) if clip.mode == "loop" else None
    if seam is not None:
        parts += [
            Word("seam"),
            Token(
                f"{seam.verdict}: {seam.pixels} px for {seam.usual:g}, feet {seam.feet:g}",
                SEAM_COLORS[seam.verdict],
                name="seam",
                filled=desk.flicker,
                action=desk.toggle_flicker,
                tip=f"{seam.pixels} pixels change from the last frame to the first; {seam.usual:g} "
                    f"between others. The feet move {seam.feet:g} px further than at any other "
                    "step. Click to alternate the two frames",
            ),
        ]
    return parts
