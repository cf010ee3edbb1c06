"""Hit windows that cannot hit: no frame under them, or no bone, has a hit box of theirs."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def hitless_windows(puppet: Puppet, program: Program) -> list[Snag]:
    """Hit windows without a hit box of their name, or of no name, in any frame they are open in."""
    found = []
    for clip in puppet.clips:
        starts = clip.borders
        for window in clip.windows:
            if window.kind != "hit" or not window.start < min(window.end, clip.length):
                continue
            if clip.motion is not None:
                if not any(box.kind == "hit" and box.name in ("", window.name)
                           for box in puppet.bone_boxes):
                    found.append(
                        Snag("warning", "clip", clip.id, f"{clip.name}, {window.name}",
                             "the hit window opens, and no bone has a hit box of its name",
                             "choose a bone on the Clips page and give it a hit box"))
                continue
            under = [
                frame for number, frame in enumerate(clip.frames)
                if starts[number] < window.end and starts[number + 1] > window.start
            ]
            if not any(box.kind == "hit" and box.name in ("", window.name) for frame in under
                       for box in frame.boxes):
                found.append(
                    Snag("warning", "clip", clip.id, f"{clip.name}, {window.name}",
                         "the hit window opens over frames without a hit box",
                         "draw a hit box on a frame under the window")
                )
    return found
