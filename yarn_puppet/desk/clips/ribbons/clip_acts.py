"""What can be done with the clips and frames that are selected, by name."""

from __future__ import annotations

from collections.abc import Callable

from ....core.model.edits import clips as edits
from ....core.model.edits import joining
from ....core.model.edits.frames import frames as frame_edits
from ....core.model.puppet import Puppet
from ...session.document import Document
from ..clip_desk import ClipDesk

Copy = Callable[[Puppet, str], tuple[Puppet, str]]


def act_on_clips(document: Document, desk: ClipDesk, name: str) -> None:
    """Do one of `ACTS` with what is selected, as one edit. Raises KeyError for a name that is none
    of them."""
    if desk.clip is not None:
        ACTS[name](document, desk)


def _copied(name: str, copy: Copy) -> Callable[[Document, ClipDesk], None]:
    """Of each selected clip a copy of some kind; the last one is then worked on, at the same
    frame."""

    def act(document: Document, desk: ClipDesk) -> None:
        puppet, last, index = document.puppet, "", desk.index
        for id in desk.chosen_clips:
            puppet, last = copy(puppet, id)
        document.edit(name, puppet)
        desk.show_clip(last, index)

    return act


def _merge(document: Document, desk: ClipDesk) -> None:
    ids = desk.chosen_clips
    document.edit("merge clips", lambda now: joining.clips_merged(now, ids))
    desk.show_clip(ids[0])


def _remove(document: Document, desk: ClipDesk) -> None:
    puppet, ids = document.puppet, desk.chosen_clips
    for id in ids:
        puppet = edits.clip_removed(puppet, id)
    document.edit("remove clips" if len(ids) > 1 else "remove clip", puppet)


def _reverse(document: Document, desk: ClipDesk) -> None:
    id = desk.clip_id or ""
    document.edit("reverse clip", lambda now: frame_edits.frames_reversed(now, id))


def _split(document: Document, desk: ClipDesk) -> None:
    puppet, id = joining.clip_split(document.puppet, desk.clip_id or "", desk.index)
    document.edit("split clip", puppet)
    desk.show_clip(id)


def _copy_frames(document: Document, desk: ClipDesk) -> None:
    id, chosen = desk.clip_id or "", desk.chosen_frames
    document.edit("copy frames", lambda now: frame_edits.frames_copied(now, id, chosen))
    desk.set(frames=frozenset())


def _remove_frames(document: Document, desk: ClipDesk) -> None:
    id, chosen = desk.clip_id or "", desk.chosen_frames
    document.edit("remove frames", lambda now: frame_edits.frames_removed(now, id, chosen))
    desk.set(frames=frozenset())


def _clip_of_frames(document: Document, desk: ClipDesk) -> None:
    """A clip of the chosen frames alone."""
    clip = desk.clip
    assert clip is not None
    puppet, id = edits.clip_of_some(document.puppet, clip.id, desk.chosen_frames,
                                    f"{clip.name} part")
    document.edit("make clip of frames", puppet)
    desk.show_clip(id)


ACTS: dict[str, Callable[[Document, ClipDesk], None]] = {
    "merge": _merge,
    "mirror": _copied("make mirrored copy", edits.mirrored_copy),
    "duplicate": _copied("copy clip", edits.clip_duplicated),
    "remove": _remove,
    "reverse": _reverse,
    "split": _split,
    "copy frames": _copy_frames,
    "remove frames": _remove_frames,
    "still": _clip_of_frames,
}
