"""The paths of art as seen from another folder."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from ....core.model.events import Moment
from ....core.model.puppet import Puppet
from ....core.model.skin import Skin


class Rebasing:
    """The paths of art as seen from another folder. What steps of a history share is done once, and
    stays shared."""

    def __init__(
        self, old: Path, new: Path, whole: bool = False, stored: Callable[[Path], str] | None = None
    ) -> None:
        """`whole` gives whole paths, `stored` those that it gives; otherwise they are as seen from
        `new`."""
        self.old, self.new, self.whole, self.stored = old, new, whole, stored
        self._paths: dict[str, str] = {}
        self._clips: dict[int, tuple[Any, Any]] = {}

    def path(self, path: str) -> str:
        """One path."""
        if path not in self._paths:
            found = (self.old / path).resolve()
            moved = not self.old.exists() or (self.new / path).exists()
            if not self.whole and self.stored is None and not found.exists() and moved:
                # The folder was renamed, or moved with all that is in it: it lies where the puppet
                # goes, or nowhere.
                found = (self.new / path).resolve()
            self._paths[path] = (self.stored(found) if self.stored is not None else str(found)
                                 if self.whole
                                 else _relative(found, self.new))
        return self._paths[path]

    def puppet(self, puppet: Puppet) -> Puppet:
        """A puppet with its paths; the same one where none differs."""
        sheets = tuple(replace(sheet, path=self.path(sheet.path)) for sheet in puppet.sheets)
        bones = tuple(replace(file, path=self.path(file.path)) for file in puppet.bone_files)
        clips = tuple(self._clip(clip) for clip in puppet.clips)
        states = tuple(self._ruled(state) for state in puppet.states)
        groups = tuple(self._ruled(group) for group in puppet.groups)
        made: dict[str, tuple[Any, ...]] = {"sheets": sheets, "bone_files": bones, "clips": clips,
                                            "states": states, "groups": groups}
        differing = {
            field: entries for field, entries in made.items()
            if any(one is not other and one != other
                   for one, other in zip(entries, getattr(puppet, field),
            strict=True))
        }
        return replace(puppet, **differing) if differing else puppet

    def _ruled(self, owner: Any) -> Any:
        """A state, group or window with the paths of the props that its while-rules hold."""
        if not any(rule.shows for rule in owner.rules):
            return owner
        return replace(owner, rules=tuple(
            replace(rule, shows=self.path(rule.shows)) if rule.shows else rule
            for rule in owner.rules))

    def skin(self, skin: Skin) -> Skin:
        """A skin with its paths; the same one where none differs."""
        made = replace(
            skin, clips=tuple(self._clip(each) for each in skin.clips),
            sheets=tuple(replace(sheet, path=self.path(sheet.path)) for sheet in skin.sheets))
        return skin if made == skin else made

    def _clip(self, clip: Any) -> Any:
        """A clip, of a puppet or a skin, with the paths of what it shows and plays."""
        known = self._clips.get(id(clip))
        if known is not None:
            return known[1]
        moments = tuple(self._moment(moment) if moment.files else moment
                        for moment in clip.moments)
        windows = tuple(self._ruled(window) for window in clip.windows)
        same = moments == clip.moments and windows == clip.windows
        made = clip if same else replace(clip, moments=moments, windows=windows)
        self._clips[id(clip)] = (clip, made)
        return made

    def _moment(self, moment: Moment) -> Moment:
        others = tuple(replace(each, file=self.path(each.file)) if each.file else each
                       for each in moment.heard.others)
        return replace(moment, file=self.path(moment.file) if moment.file else "",
                       heard=replace(moment.heard, others=others))


def _relative(path: Path, folder: Path) -> str:
    """A path as seen from a folder, with as many `..` as it takes."""
    path, folder = path.resolve(), folder.resolve()
    ups = 0
    base = folder
    while not path.is_relative_to(base):
        base = base.parent
        ups += 1
    return str(Path(*[".."] * ups, path.relative_to(base)).as_posix())
