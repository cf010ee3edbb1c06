"""What one should know of the files of bones: what is gone, and bones that are none of ours, each
with what can be done about it."""

from __future__ import annotations

from collections.abc import Callable, Collection
from functools import partial

from ....core.model.edits import motions as edits
from ....core.model.puppet import find
from ....core.pose.bones.lost import lost_parts, unmatched
from ...pictures.bones import Bones
from ...session.art.bone_sources import BoneSources
from ...session.document import Document
from ...widgets import theme
from ...widgets.certain import sure
from ...widgets.parts import Field, Part, Suggestion, Token, Word
from ..incoming.missing import missing_parts

MOST = 4
"""Bones, and things that are gone, that are told one by one."""
LEFT_OUT = "leave it out"


def bone_news(
    document: Document, bones: Bones, sources: BoneSources, find_file: Callable[[str], None],
    bring: Callable[[str, Collection[str]], None],
) -> list[Part]:
    """The news; nothing where there are none."""
    missing = sources.missing
    parts = missing_parts(missing, find_file)
    gone = {document.folder / file.path for file in missing}
    parts += [Word(problem, color=theme.MADDER) for path, problem in bones.problems.items()
              if path not in gone][:MOST]
    for id, names in sources.fresh.items():
        some = ", ".join(names[:MOST]) + f" and {len(names) - MOST} more" * (len(names) > MOST)
        parts += [Word(f"new in {sure(find(document.puppet.bone_files, id)).name}: {some}"),
                  Token("bring in", theme.WOAD, name=f"bring {id}",
                        action=partial(bring, id, names)),
                  Token("fine", theme.WOAD, quiet=True, name=f"fine {id}",
                        action=partial(sources.dismiss, id))]
    poses = bones.poses
    if poses is None or poses.puppet is not document.puppet:
        return parts
    for id, names in unmatched(poses).items():
        file = find(document.puppet.bone_files, id)
        match = poses.source(id).match
        said = f"{file.name if file is not None else id}: {len(match.ours)} bones are ours"
        if match.prefix:
            said += f", without “{match.prefix}”"
        parts.append(Word(f"{said}; {len(names)} {'is' if len(names) == 1 else 'are'} not:"))
        for name in names[:MOST]:
            parts.append(Token(name, theme.WELD, name=f"bone {name}",
                               tip="Which bone of ours it is, or that it is left out",
                               field=_which(document, id, name, poses.skeleton.names)))
        if len(names) > MOST:
            parts.append(Word(f"and {len(names) - MOST} more ·"))
        parts.append(Token("leave these out", theme.WOAD, quiet=True, name="leave bones out",
                           action=_leave_out(document, id, names)))
    lost = lost_parts(poses)
    if lost:
        more = f"; and {len(lost) - MOST} more" * (len(lost) > MOST)
        parts.append(Word("gone: " + "; ".join(each.words for each in lost[:MOST]) + more,
                          color=theme.WELD))
    return parts


def _which(document: Document, bones: str, theirs: str, ours: tuple[str, ...]) -> Field:
    def choose(name: str) -> None:
        document.edit("match a bone", lambda now: edits.paired(
            now, bones, theirs, None if name == LEFT_OUT else name))

    return Field("", choose, free=False,
                 suggestions=(Suggestion(LEFT_OUT, LEFT_OUT),
                              *[Suggestion(name, name) for name in ours]))


def _leave_out(document: Document, bones: str, names: tuple[str, ...]) -> Callable[[], None]:
    def act() -> None:
        puppet = document.puppet
        for name in names:
            puppet = edits.paired(puppet, bones, name, None)
        document.edit("leave bones out", puppet)

    return act
