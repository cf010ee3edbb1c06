"""What stands of every frame of a puppet's clips, read off their pixels once."""

from __future__ import annotations

from ...core.art.feet import Feet, feet_in
from ...core.model.puppet import Puppet
from .art import Art


class FeetOfClips:
    """Kept while a clip is the same; `forget` when its art is another."""

    def __init__(self, art: Art) -> None:
        self.art = art
        self._known: dict[str, tuple[object, list[Feet | None]]] = {}

    def of(self, puppet: Puppet, only: set[str] | None = None) -> dict[str, list[Feet | None]]:
        """The feet of each frame, by clip: of all clips, or only of those of these ids."""
        found = {}
        for clip in puppet.clips:
            if only is not None and clip.id not in only:
                continue
            known = self._known.get(clip.id)
            if known is None or known[0] is not clip:
                feet = [feet_in(self.art.frame_pixels(frame)[:, :, 3], clip.pivot_of(number).x,
                                clip.faces == "left")
                        for number, frame in enumerate(clip.frames)]
                known = self._known[clip.id] = (clip, feet)
            found[clip.id] = known[1]
        return found

    def forget(self) -> None:
        """Look at all of it again."""
        self._known.clear()
