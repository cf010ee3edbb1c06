"""The seams of loops of bones, measured once for each clip."""

from __future__ import annotations

from collections import OrderedDict

from ....core.model.clips import Clip
from ....core.pose.bones.jumps import Gap, seam_of
from ...pictures.bones import Bones

SMOOTH, SMALL_JUMP = (1.0, 2.0), (4.0, 8.0)
"""Centimetres and degrees up to which a seam is smooth, or jumps a little."""
MOST_KEPT = 512
_kept: OrderedDict[int, tuple[Clip, object, Gap]] = OrderedDict()
"""By the identity of the clip, which is held with it: rows and sentences are made far more often
than clips change."""


def seam_words(bones: Bones, clip: Clip, short: bool = False) -> tuple[str, str]:
    """How far apart the ends of a loop are, and whether that is "smooth", "a small jump" or "a
    jump". In short only the larger of the two."""
    poses = bones.poses
    if poses is None or clip.motion is None:
        return "", ""
    known, art = _kept.get(id(clip)), poses.arts.get(clip.motion.bones)
    if known is None or known[0] is not clip or known[1] is not art:
        known = _kept[id(clip)] = (clip, art, seam_of(poses, clip))
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    gap = known[2]
    verdict = ("smooth" if gap.centimetres <= SMOOTH[0] and gap.degrees <= SMOOTH[1]
               else "a small jump"
               if gap.centimetres <= SMALL_JUMP[0] and gap.degrees <= SMALL_JUMP[1] else "a jump")
    if short:
        far = gap.centimetres / SMALL_JUMP[0] > gap.degrees / SMALL_JUMP[1]
        return (f"seam {gap.centimetres:.1f} cm" if far else f"seam {gap.degrees:.1f}°"), verdict
    words = f"{gap.centimetres:.1f} cm"
    if gap.centimetres >= 0.05:
        words += f" ({gap.bone})"
    words += f", {gap.degrees:.1f}°"
    if gap.degrees >= 0.05:
        words += f" ({gap.turned})"
    return words, verdict
