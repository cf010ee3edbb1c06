"""Draws one pose of Pell, the lamplighter: a knitted puppet with a tall hat, a red scarf and a
lighting pole."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass

from PIL import Image

from .strokes import Canvas, Place, bent, toward

WIDTH, HEIGHT = 96, 64
PIVOT = (44.0, 60.0)
POLE_AHEAD, POLE_BEHIND = 28.0, 11.0
"""How far the pole reaches beyond the hand that leads it, and behind it."""

COAT, COAT_LIGHT, COAT_DARK = (52, 76, 140, 255), (70, 98, 168, 255), (36, 52, 100, 255)
TROUSERS, TROUSERS_FAR = (43, 58, 108, 255), (31, 42, 80, 255)
BOOT, BOOT_FAR = (98, 62, 44, 255), (70, 45, 36, 255)
SKIN, CHEEK, EYE = (226, 176, 132, 255), (206, 124, 104, 255), (40, 30, 44, 255)
SCARF, SCARF_DARK = (182, 52, 60, 255), (134, 34, 44, 255)
HAT, HAT_BAND, HAT_LIGHT = (34, 42, 84, 255), (182, 52, 60, 255), (54, 66, 118, 255)
HAIR = (150, 84, 46, 255)
POLE, POLE_LIGHT, BRASS = (140, 92, 56, 255), (180, 128, 80, 255), (222, 176, 74, 255)
FLAME, GLOW = (255, 240, 190, 255), (255, 196, 92, 255)
CANOPY, CANOPY_DARK = (43, 122, 120, 255), (28, 88, 90, 255)
WOOL = (226, 216, 198, 130)

Colour = tuple[int, int, int, int]
TAMSIN: dict[str, Colour] = {
    "COAT": (96, 112, 58, 255), "COAT_LIGHT": (126, 144, 78, 255), "COAT_DARK": (64, 78, 40, 255),
    "TROUSERS": (92, 74, 62, 255), "TROUSERS_FAR": (66, 53, 46, 255),
    "BOOT": (58, 52, 60, 255), "BOOT_FAR": (42, 38, 46, 255),
    "SKIN": (176, 118, 82, 255), "CHEEK": (160, 88, 70, 255), "HAIR": (46, 36, 40, 255),
    "SCARF": (224, 172, 74, 255), "SCARF_DARK": (176, 124, 44, 255),
    "HAT": (88, 62, 50, 255), "HAT_BAND": (224, 172, 74, 255), "HAT_LIGHT": (120, 88, 70, 255),
    "POLE": (96, 84, 82, 255), "POLE_LIGHT": (140, 128, 124, 255),
    "FLAME": (226, 250, 255, 255), "GLOW": (122, 204, 226, 255),
    "CANOPY": (150, 58, 74, 255), "CANOPY_DARK": (110, 38, 54, 255),
}
"""Tamsin, who lights the lamps of the canal side, in the same wool."""


@contextmanager
def in_colours(colours: Mapping[str, Colour]) -> Iterator[None]:
    """Another's colours stand in the place of Pell's while something is drawn."""
    before = {name: globals()[name] for name in colours}
    globals().update(colours)
    try:
        yield
    finally:
        globals().update(before)


@dataclass(frozen=True)
class Pose:
    """Where Pell's parts are, from the place between the feet: x forward, y up, angles in degrees
    from forward.

    `lean` tips the body forward, `squash` shortens it. `smear` is the arc the flame has just drawn:
    the angles it ran from and to around the leading hand. `part` is the whole of Pell, or what a
    layer of its own shows: the "umbrella arm", or the "lantern" light, which `nod` makes larger.
    """

    hip: Place = (0, 19)
    lean: float = 4
    nod: float = 0
    squash: float = 0
    near_foot: Place = (4, 0)
    far_foot: Place = (-4, 0)
    near_toe: float = 0
    far_toe: float = 0
    hand: Place = (9, 26)
    pole: float = 84
    grip: float = 0.0
    far_hand: Place | None = None
    scarf: tuple[float, float] = (205, 235)
    smear: tuple[float, float] | None = None
    umbrella: float | None = None
    blink: bool = False
    part: str = "whole"


def pole_tip(pose: Pose) -> Place:
    """Where the flame is, in pixels of the cell."""
    hand = (pose.hand[0], -pose.hand[1])
    x, y = toward(hand, pose.pole, POLE_AHEAD + pose.grip)
    return round(x + PIVOT[0], 1), round(y + PIVOT[1], 1)


def shoulder_of(pose: Pose) -> Place:
    """Where the shoulder is, in pixels of the cell."""
    x, y = toward((pose.hip[0], -pose.hip[1]), 90 - pose.lean, 14 - pose.squash)
    return round(x + PIVOT[0], 1), round(y + PIVOT[1], 1)


def draw_part(pose: Pose) -> Image.Image:
    """What a layer of its own shows, in a cell as large as Pell's."""
    whole = Canvas(WIDTH, HEIGHT, PIVOT)
    if pose.part == "lantern":
        for size, color in ((15 + pose.nod, (*GLOW[:3], 150)), (8 + pose.nod / 2, GLOW),
                            (3, FLAME)):
            whole.glow((0, -30), size, color)
        return whole.finished()
    shoulder = toward((pose.hip[0], -pose.hip[1]), 90 - pose.lean, 14 - pose.squash)
    hand = (pose.hand[0], -pose.hand[1])
    _umbrella(whole, hand, pose.pole, pose.umbrella or 0.0)
    arm = whole.fresh()
    _arm(arm, toward(shoulder, -60, 1.6), hand, COAT_LIGHT)
    arm.knit()
    arm.fuzz((20, 24, 44, 120))
    whole.blend(arm)
    return whole.finished()


def draw_pell(pose: Pose) -> Image.Image:
    """One cell of 96×64 pixels; Pell looks to the right and stands on (44, 60)."""
    if pose.part != "whole":
        return draw_part(pose)
    hip = (pose.hip[0], -pose.hip[1])
    shoulder = toward(hip, 90 - pose.lean, 14 - pose.squash)
    head = toward(shoulder, 88 - pose.lean - pose.nod, 8.2)
    hand = (pose.hand[0], -pose.hand[1])

    body = Canvas(WIDTH, HEIGHT, PIVOT)
    _leg(body, hip, pose.far_foot, pose.far_toe, TROUSERS_FAR, BOOT_FAR)
    if pose.far_hand is not None:
        far = (pose.far_hand[0], -pose.far_hand[1])
        _arm(body, shoulder, far, COAT_DARK)
    _scarf_tail(body, shoulder, pose.scarf)
    _leg(body, hip, pose.near_foot, pose.near_toe, TROUSERS, BOOT)
    _coat(body, hip, shoulder, pose.lean)
    _head(body, head, 90 - pose.lean - pose.nod, pose.blink)
    body.limb(
        [toward(shoulder, 170 - pose.lean, 4.6), toward(shoulder, 78 - pose.lean, 1.2),
         toward(shoulder, -6 - pose.lean, 5)], [4.4, 4.8, 4.2], SCARF,
    )
    body.knit()
    body.fuzz(WOOL)

    whole = Canvas(WIDTH, HEIGHT, PIVOT)
    if pose.smear is not None:
        _smear(whole, hand, pose)
    whole.blend(body)
    if pose.umbrella is not None:
        _umbrella(whole, hand, pose.pole, pose.umbrella)
    else:
        _pole(whole, hand, pose.pole, pose.grip)
    arm = whole.fresh()
    _arm(arm, toward(shoulder, -60, 1.6), hand, COAT_LIGHT)
    arm.knit()
    arm.fuzz((20, 24, 44, 120))
    whole.blend(arm)
    if pose.umbrella is None:
        _flame(whole, toward(hand, pose.pole, POLE_AHEAD + pose.grip))
    return whole.finished()


def _leg(
    canvas: Canvas,
    hip: Place,
    foot: Place,
    toe: float,
    cloth: tuple[int, ...],
    boot: tuple[int, ...],
) -> None:
    ankle = (foot[0] - 0.6, -foot[1] - 3.0)
    knee = bent(hip, ankle, 8.4, 8.4, -1)
    canvas.limb([hip, knee, ankle], [7.2, 6.0, 4.8], cloth)
    heel = (ankle[0] - 0.4, ankle[1] + 1.1)
    canvas.taper(heel, toward(heel, -toe, 4.6), 4.4, 3.2, boot)
    canvas.taper((ankle[0], ankle[1] - 1.4), ankle, 4.9, 4.6, boot)


def _arm(canvas: Canvas, shoulder: Place, hand: Place, cloth: tuple[int, ...]) -> None:
    elbow = bent(shoulder, hand, 8.0, 8.0, 1)
    canvas.limb([shoulder, elbow, hand], [6.0, 5.0, 4.2], cloth)
    canvas.dot(hand, 2.5, SKIN)


def _coat(canvas: Canvas, hip: Place, shoulder: Place, lean: float) -> None:
    canvas.limb([shoulder, hip], [10.6, 12.0], COAT)
    hem = 90 - lean
    canvas.shape(
        [toward(hip, hem + 88, 6.0), toward(hip, hem - 88, 6.0), toward(hip, hem - 146, 8.4),
         toward(hip, hem + 180, 4.6), toward(hip, hem + 146, 9.4)], COAT,
    )
    canvas.limb([toward(shoulder, 180 - lean, 3.2), toward(hip, 180 - lean, 3.6)], [3.0, 3.6],
                COAT_DARK)
    for share in (0.3, 0.62, 0.94):
        x = shoulder[0] + (hip[0] - shoulder[0]) * share
        y = shoulder[1] + (hip[1] - shoulder[1]) * share
        canvas.dot(toward((x, y), -lean, 3.2), 0.8, BRASS)


def _head(canvas: Canvas, head: Place, up: float, blink: bool) -> None:
    canvas.dot(toward(head, up + 120, 2.2), 6.0, HAIR)
    canvas.dot(head, 6.8, SKIN)
    canvas.dot(toward(head, up - 98, 6.8), 1.7, SKIN)
    canvas.dot(toward(head, up - 122, 4.3), 1.5, CHEEK)
    canvas.limb([toward(head, up + 60, 5.6), toward(head, up + 112, 6.0)], [3.0, 3.4], HAIR)
    eye = toward(head, up - 78, 3.6)
    if blink:
        canvas.limb([toward(eye, up - 90, 1.2), toward(eye, up + 90, 1.0)], [0.8, 0.8], EYE)
    else:
        canvas.taper(toward(eye, up, 0.7), toward(eye, up, -0.7), 2.0, 2.0, EYE)
    brim = toward(head, up, 4.2)
    canvas.limb([toward(brim, up + 92, 9.4), toward(brim, up - 92, 9.6)], [2.6, 2.6], HAT)
    crown = toward(brim, up, 9.4)
    canvas.shape(
        [toward(brim, up + 90, 5.6), toward(crown, up + 90, 6.6), toward(crown, up - 90, 6.6),
         toward(brim, up - 90, 5.6)], HAT,
    )
    canvas.limb([toward(crown, up + 90, 5.8), toward(crown, up - 90, 5.8)], [2.0, 2.0], HAT)
    canvas.limb([toward(toward(brim, up, 2.2), up + 90, 4.8),
                 toward(toward(brim, up, 2.2), up - 90, 4.8)],
                [2.4, 2.4], HAT_BAND)
    canvas.limb([toward(toward(crown, up, -1), up - 90, 4.2),
                 toward(toward(brim, up, 5), up - 90, 3.8)],
                [1.4, 1.2], HAT_LIGHT)


def _scarf_tail(canvas: Canvas, shoulder: Place, angles: tuple[float, float]) -> None:
    root = toward(shoulder, 170, 4)
    middle = toward(root, angles[0], 6.4)
    end = toward(middle, angles[1], 5.6)
    canvas.limb([root, middle, end], [3.8, 3.8, 4.4], SCARF_DARK)
    for spread in (-28, 0, 28):
        canvas.taper(end, toward(end, angles[1] + spread, 3.2), 1.2, 0.8, SCARF)


def _pole(canvas: Canvas, hand: Place, angle: float, grip: float) -> None:
    tip = toward(hand, angle, POLE_AHEAD + grip)
    end = toward(hand, angle + 180, POLE_BEHIND - grip)
    canvas.taper(end, tip, 2.4, 1.9, POLE)
    canvas.taper(toward(end, angle + 90, 0.4), toward(tip, angle + 90, 0.4), 0.6, 0.5, POLE_LIGHT)
    canvas.dot(end, 1.5, BRASS)
    # The hook that lifts the lamp's lid.
    knee = toward(toward(tip, angle, -3), angle - 90, 3.2)
    canvas.limb([toward(tip, angle, -4.5), knee, toward(knee, angle, 2.4)], [1.4, 1.3, 1.0], BRASS)


def _flame(canvas: Canvas, tip: Place) -> None:
    canvas.glow(tip, 9, GLOW)
    canvas.dot(tip, 2.3, BRASS)
    canvas.dot((tip[0], tip[1] - 0.6), 1.7, FLAME)


def _smear(canvas: Canvas, hand: Place, pose: Pose) -> None:
    assert pose.smear is not None
    start, end = pose.smear
    reach = POLE_AHEAD + pose.grip
    steps = 22
    for step in range(steps):
        share = step / steps
        angle = start + (end - start) * share
        color = (*GLOW[:3], round(14 + 150 * share**1.6))
        thin = 0.6 + 3.6 * share
        arc = canvas.fresh()
        arc.taper(toward(hand, angle, reach - thin),
                  toward(hand, angle + (end - start) / steps, reach - thin),
                  thin * 1.6, thin * 1.6, color)
        canvas.blend(arc)


def _umbrella(canvas: Canvas, hand: Place, angle: float, open_by: float) -> None:
    """The umbrella held in the pole's place; `open_by` from 0, furled, to 1."""
    top = toward(hand, angle, 18)
    canvas.taper(toward(hand, angle + 180, 8), top, 2.2, 1.8, POLE)
    spread = 4 + 15 * open_by
    rim = toward(top, angle, -4 - 7 * open_by)
    left, right = toward(rim, angle + 90, spread), toward(rim, angle - 90, spread)
    ribs = 9
    dome = []
    for number in range(ribs + 1):
        share = number / ribs
        base = (right[0] + (left[0] - right[0]) * share, right[1] + (left[1] - right[1]) * share)
        dome.append(toward(base, angle, (1 - (2 * share - 1) ** 2) ** 0.5 * (4 + 7 * open_by)))
    cover = canvas.fresh()
    cover.shape(dome, CANOPY)
    for number in (2, 4, 5, 7):
        cover.limb([dome[number], toward(rim, angle, 2)], [0.8, 0.8], CANOPY_DARK)
    cover.limb([left, right], [2.0, 2.0], CANOPY_DARK)
    cover.knit(18)
    cover.fuzz(WOOL)
    canvas.blend(cover)
    canvas.dot(toward(top, angle, 1.6), 1.2, BRASS)
