"""`yarn-puppet pose` of a puppet: a clip of it, or a take."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ..core.formats.bones.gltf_writing import save_gltf
from ..core.formats.bones.puppet_bones import bones_of
from ..core.formats.errors import FileProblem
from ..core.formats.take_file import load_take
from ..core.pose.bones.baking import clip_as_art, take_as_art, take_poses
from ..core.pose.bones.clip_poses import ClipPoses
from ..core.takes.run import replay, set_up
from .bones import read_puppet
from .exit_codes import OK
from .outputs import may_write
from .pose_rows import HEAD, rows_of, write_rows
from .worlds import world_for

if TYPE_CHECKING:
    from ..core.engine.state import Report
    from ..core.model.clips import Clip
    from ..core.model.puppet import Puppet


def pose_puppet(
    file: Path, clip: str | None, take: Path | None, milliseconds: float, out: Path | None
) -> int:
    """Write the bones of a puppet at a time of a clip or in every tick of a take: as CSV, or all of
    it as glTF. Gives the exit code. Raises FileProblem."""
    puppet = read_puppet(file)
    if not puppet.is_of_bones:
        raise FileProblem(file, "", "is a puppet of sprites: expected one of bones")
    if out is not None:
        kind = "glb" if out.suffix.lower() == ".glb" else "pose"
        may_write(out, kind, *[file.parent / each.path for each in puppet.bone_files])
    poses = ClipPoses(puppet, bones_of(puppet, file.parent))
    if take is not None:
        reports = _reports(puppet, file, take)
        if out is not None and out.suffix.lower() == ".glb":
            save_gltf(take_as_art(poses, take.name.partition(".")[0], reports), out)
        else:
            write_rows(_rows_of_take(poses, reports), out)
        return OK
    found = _clip(puppet, file, clip or "")
    if out is not None and out.suffix.lower() == ".glb":
        save_gltf(clip_as_art(poses, found), out)
        return OK
    posed = poses.at(found, np.array([milliseconds / 1000]))
    write_rows([HEAD, *rows_of(poses.skeleton, posed, [milliseconds])], out)
    return OK


def _clip(puppet: Puppet, file: Path, name: str) -> Clip:
    found = next((each for each in puppet.clips if name in (each.name, each.id)), None)
    if found is None:
        known = ", ".join(each.name for each in puppet.clips[:12]) or "none: it has no clips"
        raise FileProblem(file, "--clip", f"there is no clip {name[:60]!r}; expected one of {known}"
                                          f"{', …' * (len(puppet.clips) > 12)}")
    return found


def _reports(puppet: Puppet, file: Path, path: Path) -> Iterator[Report]:
    take = load_take(path, puppet)
    world = world_for(take.booth, path.parent, file.parent)
    return (record.report for record in replay(set_up(puppet, world), take))


def _rows_of_take(poses: ClipPoses, reports: Iterable[Report]) -> Iterator[tuple[object, ...]]:
    yield HEAD
    tick, rate = 0, poses.puppet.rate
    for pose in take_poses(poses, reports):
        count = len(pose.places)
        yield from rows_of(poses.skeleton, pose,
                           [(tick + number) * 1000 / rate for number in range(count)])
        tick += count
