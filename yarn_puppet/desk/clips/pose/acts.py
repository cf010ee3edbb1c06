"""What can be done with a clip of bones, by name."""

from __future__ import annotations

from ....core.model.edits import motions as edits
from ...session.document import Document
from ..clip_desk import ClipDesk

ARMS = ("spine 2", "spine2", "spine.002", "chest", "spine 1", "spine")
"""The bones from which a layer of arms is taken to begin, the first that there is."""
SOFT = 2


def act_on_motion(document: Document, desk: ClipDesk, name: str) -> None:
    """Make a clip "from" the one on the desk, or lay it as "arms …" over states while what is named
    holds."""
    clip = desk.clip
    if clip is None or clip.motion is None:
        return
    if name == "from":
        puppet, id = edits.clip_from(document.puppet, clip.id, clip.name)
        document.edit("clip from another", puppet)
        desk.show_clip(id)
        return
    when = name.removeprefix("arms ")
    keyed = tuple(dict.fromkeys(key.bone for key in clip.motion.bone_keys))
    puppet, made = edits.arms_over(document.puppet, clip.id, keyed or ARMS[:1], when,
                                   0 if keyed else SOFT)
    if made is not None:
        document.edit(f"arms of {clip.name}", puppet)
