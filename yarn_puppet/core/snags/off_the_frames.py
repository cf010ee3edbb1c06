"""Events that lie on no frame: windows without length, and what lies past a clip's end. Edits at
the desk make none."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def events_off_the_frames(puppet: Puppet, program: Program) -> list[Snag]:
    """Windows that never open, and moments that come only at the end."""
    found = []
    for clip in puppet.clips:
        length = clip.length
        for window in clip.windows:
            where = f"{clip.name}, {window.name}"
            if window.end <= window.start:
                found.append(
                    Snag(
                        "warning",
                        "clip",
                        clip.id,
                        where,
                        f"the {window.kind} window has no length ({window.start:g} to "
                        f"{window.end:g} ms), and never opens",
                        "draw one of its ends to where it should be, or take it out",
                    )
                )
            elif window.start >= length:
                found.append(
                    Snag(
                        "warning",
                        "clip",
                        clip.id,
                        where,
                        f"the {window.kind} window starts at {window.start:g} ms, past the clip's "
                        "end, and never opens",
                        "move it onto the frames, or take it out",
                    )
                )
        found += [
            Snag(
                "warning",
                "clip",
                clip.id,
                f"{clip.name}, {moment.name}",
                f"the {moment.kind} is at {moment.at:g} ms, past the end of the clip, and comes at "
                "its end",
                "move it onto the frame it belongs to",
            )
            for moment in clip.moments
            if moment.at > length and clip.plays
        ]
    return found
