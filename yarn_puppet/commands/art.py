"""`yarn-puppet art` and `pose`: what an art file holds, and where its bones are."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from math import isfinite
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ..core.formats.errors import FileProblem
from ..core.formats.file_names import printable
from .exit_codes import OK
from .outputs import may_write
from .pose_rows import HEAD, rows_of, write_rows

if TYPE_CHECKING:
    from ..core.formats.pictures.pages import Page
    from ..core.model.bones import BoneArt, BoneClip


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Their arguments."""
    saying = commands.add_parser(
        "art", help="what an art file holds: pages of pictures; bones, clips and meshes")
    saying.add_argument("file", type=Path, metavar="FILE",
                        help="a picture, a folder of numbered pictures, a .glb, .gltf or .bvh file")
    saying.add_argument("--json", action="store_true", help="as JSON")
    saying.set_defaults(command=say)
    posing = commands.add_parser(
        "pose", help="where every bone is at a time of a clip, or in every tick of a take, as CSV: "
                     "metres and quaternions; or the clip or take as glTF")
    posing.add_argument("file", type=Path, metavar="FILE",
                        help="a .puppet.json, .glb, .gltf or .bvh file")
    shown = posing.add_mutually_exclusive_group(required=True)
    shown.add_argument("--clip", metavar="NAME", help="a clip of the file")
    shown.add_argument("--take", type=Path, metavar="TAKE",
                       help="a .take.json file of this puppet")
    posing.add_argument("--at", type=float, metavar="MS",
                        help="milliseconds into the clip (default: 0)")
    posing.add_argument("--out", type=Path, metavar="NAME",
                        help="a .csv file to write (default: standard output), or a .glb file, "
                             "which gets all of the clip or take, with its mesh")
    posing.set_defaults(command=pose)


def say(options: argparse.Namespace) -> int:
    """Say what a file holds; gives the exit code."""
    from ..core.formats.bones.reading import holds_bones, load_bones

    left_out: list[str] = []
    if holds_bones(options.file):
        art = load_bones(options.file)
        lines, found = _lines_of_bones(options.file, art), _bones(art)
    else:
        pages = _pages(options.file, left_out)
        lines = _lines_of_pages(options.file, pages, left_out)
        found = _found(pages=[{"width": page.width, "height": page.height,
                               "milliseconds": page.duration} for page in pages],
                       left_out=left_out)
    if options.json:
        import msgspec

        sys.stdout.write(msgspec.json.format(msgspec.json.encode(found), indent=2).decode() + "\n")
    else:
        sys.stdout.writelines(f"{printable(line)}\n" for line in lines)
    return OK


def _found(
    pages: list[dict[str, Any]] | None = None, bones: list[dict[str, Any]] | None = None,
    clips: list[dict[str, Any]] | None = None, left_out: list[str] | None = None,
) -> dict[str, Any]:
    return {"pages": pages or [], "bones": bones or [], "clips": clips or [],
            "left_out": left_out or []}


def _pages(path: Path, left_out: list[str]) -> tuple[Page, ...]:
    from ..core.formats.pictures.apart.reading_apart import PICTURES
    from ..core.formats.pictures.pages import PictureProblem

    try:
        return PICTURES.read(path, left_out=left_out)
    except PictureProblem as problem:
        raise FileProblem(path, "", problem.what) from None


def _lines_of_pages(path: Path, pages: tuple[Page, ...], left_out: list[str]) -> Iterator[str]:
    yield f"{path.name}: {_counted(len(pages), 'page')}"
    for number, page in enumerate(pages, 1):
        shown = f" · {page.duration:g} ms" if page.duration is not None else ""
        yield f"  page {number} · {page.width} × {page.height}{shown}"
    yield from _lines_left_out(left_out)


def _bones(art: BoneArt) -> dict[str, Any]:
    names = art.skeleton.names
    return _found(
        bones=[{"name": name, "parent": names[parent] if parent >= 0 else None}
               for name, parent in zip(names, art.skeleton.parents, strict=True)],
        clips=[{"name": clip.name, "seconds": clip.seconds} for clip in art.clips],
        left_out=list(art.left_out))


def _lines_of_bones(path: Path, art: BoneArt) -> Iterator[str]:
    names, parents = art.skeleton.names, art.skeleton.parents
    yield (f"{path.name}: {_counted(len(names), 'bone')}, {_counted(len(art.clips), 'clip')}, "
           f"{len(art.meshes)} mesh{'es' * (len(art.meshes) != 1)} · lengths in {art.unit}")
    yield "bones"
    depths: list[int] = []
    for name, parent in zip(names, parents, strict=True):
        depths.append(depths[parent] + 1 if parent >= 0 else 1)
        yield f"{'  ' * min(depths[-1], 40)}{name}"
    if art.clips:
        yield "clips"
    for clip in art.clips:
        moved = len({channel.bone for channel in clip.channels})
        yield (f"  {clip.name} · {clip.seconds:g} s · {_counted(len(clip.channels), 'channel')} of "
               f"{_counted(moved, 'bone')}")
    if art.meshes:
        yield "meshes"
    for mesh in art.meshes:
        follows = (_counted(len(mesh.bones), "bone") if mesh.bones
                   else names[mesh.bone] if mesh.bone >= 0 else "no bone")
        yield (f"  {mesh.name} · {len(mesh.places)} vertices, {len(mesh.triangles)} triangles · "
               f"follows {follows}{' · textured' * (mesh.texture is not None)}")
    yield from _lines_left_out(art.left_out)


def _counted(count: int, noun: str) -> str:
    return f"{count} {noun}{'s' * (count != 1)}"


def _lines_left_out(left_out: tuple[str, ...] | list[str]) -> Iterator[str]:
    if left_out:
        yield "left out"
    for each in left_out:
        yield f"  {each}"


def pose(options: argparse.Namespace) -> int:
    """Write where the bones are; gives the exit code."""
    from ..core.formats.bones.reading import holds_bones

    at, out = options.at, options.out
    if at is not None and (options.take is not None or _is_art(out)):
        raise FileProblem("pose", "--at", "expected none with a take or a .glb file: all of it "
                                           "is written")
    if at is not None and not (isfinite(at) and at >= 0):
        raise FileProblem("pose", "--at", f"expected milliseconds of 0 or more, found {at}")
    if out is not None:
        inputs = [each for each in (options.file, options.take) if each is not None]
        may_write(out, "glb" if _is_art(out) else "pose", *inputs)
    if options.file.name.endswith(".json"):
        from .posing import pose_puppet

        return pose_puppet(options.file, options.clip, options.take, at or 0.0, out)
    if options.take is not None:
        raise FileProblem(options.file, "--take", "expected a .puppet.json file with a take")
    if not holds_bones(options.file):
        raise FileProblem(options.file, "", "has no bones: expected a .puppet.json, .glb, .gltf or "
                                            ".bvh file")
    return _pose_art(options.file, options.clip, at or 0.0, out)


def _is_art(out: Path | None) -> bool:
    return out is not None and out.suffix.lower() == ".glb"


def _pose_art(file: Path, name: str, at: float, out: Path | None) -> int:
    import numpy as np

    from ..core.formats.bones.reading import load_bones
    from ..core.pose.bones.sampling import ClipSampler

    art = load_bones(file)
    clip = clip_of(file, art, name)
    if out is not None and _is_art(out):
        from ..core.formats.bones.gltf_writing import save_gltf

        save_gltf(art._replace(clips=(clip,)), out)
        return OK
    posed = ClipSampler(art.skeleton, clip).at(np.array([at / 1000]))
    write_rows([HEAD, *rows_of(art.skeleton, posed, [at])], out)
    return OK


def clip_of(path: Path, art: BoneArt, name: str) -> BoneClip:
    """The clip of this name. Raises FileProblem, which names some that there are."""
    found = next((clip for clip in art.clips if clip.name == name), None)
    if found is None:
        known = ", ".join(clip.name for clip in art.clips[:12]) or "none: it has no clips"
        raise FileProblem(path, "--clip", f"there is no clip {name[:60]!r}; expected one of "
                                          f"{known}{', …' * (len(art.clips) > 12)}")
    return found
