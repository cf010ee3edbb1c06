"""The sentences of a clip of bones: what it is of, the bone that is turned, how it is looked at."""

from __future__ import annotations

from collections.abc import Callable
from typing import get_args

from ....core.model.clips import Clip, PlaybackMode
from ....core.model.edits import clips as clip_edits
from ....core.model.edits import motions as edits
from ....core.model.edits.naming import places_of
from ....core.model.kinds.gestures import GESTURES
from ....core.model.motions import Motion
from ....core.model.puppet import Puppet, find
from ....core.pose.bones.mirroring import mirrored_turns
from ...pictures.bones import Bones
from ...pictures.mesh.choice import MeshChoice
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field, name_field, number_field
from ..clip_desk import MOST_GHOSTS, ClipDesk
from .editing import HandledPose
from .keys import SIDES
from .seams import seam_words
from .view import AXES, AXIS_COLORS

Does = Callable[[str], None]


def motion_sentence(
    document: Document, desk: ClipDesk, bones: Bones, clip: Clip, motion: Motion, does: Does
) -> list[Part]:
    """A clip of bones, whole: of which file, from where to where, how fast, how it plays."""
    puppet = document.puppet

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: clip_edits.clip_changed(now, clip.id, **values))

    def cut(start: float, end: float | None) -> None:
        document.edit("trim clip", lambda now: edits.trimmed(now, clip.id, start, end))

    places = places_of(puppet, "clips", clip.name)
    file = find(puppet.bone_files, motion.bones)
    end = motion.whole if motion.end is None else motion.end
    keyed = len({key.bone for key in motion.bone_keys})
    ours = (f"with keys of ours on {keyed} bone{'s' * (keyed != 1)}" if keyed
            else "as the file has it")
    parts: list[Part] = [
        Token(clip.name, theme.INK, name="clip name",
              field=name_field(clip.name, lambda text: change("rename clip", name=text),
                               f"seen in {', '.join(places)}"
                               if places else "a name; nothing plays it yet")),
        Word("from"), _file_clip(document, bones, clip, motion),
        Word("of"), Token(file.name if file is not None else motion.bones, theme.WOAD, quiet=True,
                          name="bone file", tip="Its unit and axes, and which bone is which",
                          action=lambda: desk.look_at_file(motion.bones)),
        Word(f"{ours} ·"),
        Token(f"{motion.start:g} ms", theme.INDIGO, name="trim start", tip="Where it begins in the "
              "file's clip; keys, moments and windows stay at their poses",
              field=number_field(motion.start, lambda value: cut(value, motion.end), 0,
                                 max(0.0, end - edits.LEAST_LENGTH), 10)),
        Word("to"),
        Token(f"{end:g} ms", theme.INDIGO, name="trim end", tip="Where it ends in the file's clip",
              field=number_field(end, lambda value: cut(motion.start, value),
                                 motion.start + edits.LEAST_LENGTH, max(motion.whole, end), 10)),
        Token(f"{motion.speed:g}×", theme.INDIGO, name="clip speed",
              tip="How many times as fast as in the file",
              field=number_field(motion.speed, lambda value: document.edit(
                  "speed of clip", lambda now: edits.sped(now, clip.id, value)), 0.01, 100, 0.1)),
        Word("· plays"),
        Token(clip.mode, theme.INDIGO, name="mode",
              field=choice_field(clip.mode, [(mode, mode) for mode in get_args(PlaybackMode)],
                                 lambda mode: change("change mode", mode=mode))),
        Token("a clip from it", theme.WOAD, quiet=True, name="clip from",
              tip="A new clip of the same motion, to lay keys over", action=lambda: does("from")),
        Token("arms over a state…", theme.PLUM, quiet=True, name="arms over",
              tip="A layer that shows this clip on some bones while an intent or sense holds",
              field=choice_field("", _holds(document), lambda when: does(f"arms {when}"))),
        Token("remove", theme.MADDER, quiet=True, name="remove clip",
              action=lambda: document.edit(
                  "remove clip", lambda now: clip_edits.clip_removed(now, clip.id))),
    ]
    return parts


def _holds(document: Document) -> list[tuple[str, str]]:
    """What a layer of arms can be shown by: intents that are held, senses that are true or not."""
    puppet = document.puppet
    return [(each.name, each.id) for each in puppet.intents
            if GESTURES[each.gesture].is_level] + [
        (each.name, each.id) for each in puppet.senses if each.type == "bool"]


def _file_clip(document: Document, bones: Bones, clip: Clip, motion: Motion) -> Token:
    """The clip of the file, which can be another one."""
    art = bones.art_of(motion.bones)
    names = [each.name for each in art.clips] if art is not None else []
    gone = art is not None and motion.clip not in names

    def choose(name: str) -> None:
        found = next((each for each in art.clips if each.name == name), None) if art else None
        if found is not None:
            document.edit("clip of file", lambda now: edits.other_motion(
                now, clip.id, motion.bones, name, found.seconds * 1000))

    return Token(motion.clip + (" (gone)" if gone else ""), theme.WELD if gone else theme.INDIGO,
                 name="file clip", tip="The file does not hold it any more: choose another"
                 if gone else "The clip of the file that it is",
                 field=choice_field(motion.clip, [(name, name) for name in names], choose))


def bone_sentence(
    document: Document, desk: ClipDesk, bones: Bones, view: HandledPose
) -> list[Part]:
    """The chosen bone, how our keys turn it at the head, and its keys."""
    clip, poses = desk.clip, bones.poses
    motion = clip.motion if clip is not None else None
    if clip is None or motion is None or poses is None:
        return []
    bone = desk.bone
    names = [(name, name) for name in poses.skeleton.names]
    chooser = Token(bone if bone and poses.bone(bone) is not None else "choose a bone…",
                    theme.PLUM, name="bone", tip="Or click it on the figure",
                    field=choice_field(bone or "", names, desk.choose_bone))
    if bone is None or poses.bone(bone) is None:
        return [Word("bone"), chooser, Word("· a click on the figure chooses one, its rings turn "
                                            "it"), *_copying(document, desk, bones, clip)]
    turn = poses.own_turn(motion, bone, desk.time / 1000)
    keys = sorted(key.at for key in motion.bone_keys if key.bone == bone)

    def turned(axis: int, value: float) -> None:
        numbers = list(turn or (0.0, 0.0, 0.0))
        numbers[axis] = value
        view.put_key(clip.id, bone, (numbers[0], numbers[1], numbers[2]))

    parts: list[Part] = [Word("bone"), chooser, Word("turned by")]
    for axis, name in enumerate(AXES):
        value = (turn or (0.0, 0.0, 0.0))[axis]
        parts += [Token(f"{name} {value:.4g}°", AXIS_COLORS[axis], name=f"turn {name}",
                        filled=axis == desk.axis,
                        tip=f"About the bone's own {name} axis, on top of the file's pose",
                        field=number_field(value, _partial(turned, axis), -360, 360, 5))]
    said = "no key of ours yet" if not keys else (
        f"one key at {keys[0]:g} ms, which holds" if len(keys) == 1 else f"{len(keys)} keys")
    parts.append(Word(f"· {said} ·"))
    if keys:
        parts += [
            Token(f"key at {desk.time:.0f} ms", theme.PLUM, quiet=True, name="key here",
                  tip="K: a key at the head", action=view.key_here),
            Token("without keys", theme.MADDER, quiet=True, name="no keys",
                  action=lambda: document.edit(
                      f"remove keys of {bone}",
                      lambda now: edits.bone_keys_removed(now, clip.id, bone))),
        ]
    return [*parts, *_copying(document, desk, bones, clip)]


def _partial(does: Callable[[int, float], None], axis: int) -> Callable[[float], None]:
    return lambda value: does(axis, value)


def _copying(document: Document, desk: ClipDesk, bones: Bones, clip: Clip) -> list[Part]:
    """Copies the turns of ours at the head; pastes them here, as they are or mirrored."""
    poses, motion = bones.poses, clip.motion
    if poses is None or motion is None:
        return []
    keyed = list(dict.fromkeys(key.bone for key in motion.bone_keys))

    def copy() -> None:
        found = {}
        for bone in keyed:
            turn = poses.own_turn(motion, bone, desk.time / 1000)
            if turn is not None:
                found[bone] = turn
        desk.set(copied_pose=found)

    def paste(mirrored: bool) -> None:
        turns = {bone: turn for bone, turn in desk.copied_pose.items()
                 if poses.bone(bone) is not None}
        if mirrored:
            turns = mirrored_turns(poses.skeleton, turns)

        def put(now: Puppet) -> Puppet:
            for bone, turn in turns.items():
                now = edits.bone_turned(now, clip.id, bone, _at(clip, bone, desk.time), turn)
            return now

        document.edit("paste mirrored pose" if mirrored else "paste pose", put)

    made: list[Part] = []
    if keyed:
        made.append(Token("copy pose", theme.WOAD, quiet=True, name="copy pose",
                          tip="The turns of ours at the head", action=copy))
    if desk.copied_pose:
        made += [Token("paste", theme.WOAD, quiet=True, name="paste pose",
                       action=lambda: paste(False)),
                 Token("paste mirrored", theme.WOAD, quiet=True, name="paste mirrored",
                       tip="Left for right, by the names of the bones",
                       action=lambda: paste(True))]
    return made


def _at(clip: Clip, bone: str, time: float) -> float:
    """Where a pasted turn is keyed: at the head, or where the bone has no key at the start."""
    motion = clip.motion
    return time if motion and any(key.bone == bone for key in motion.bone_keys) else 0.0


SEAM_COLORS = {"smooth": theme.WOAD, "a small jump": theme.WELD, "a jump": theme.MADDER}


def pose_view_tokens(desk: ClipDesk, view: HandledPose) -> list[Part]:
    """Each token is the switch itself; a filled one is on."""
    clip = desk.clip
    if clip is None or clip.motion is None:
        return []
    parts: list[Part] = [
        Token(f"ghosts {desk.ghosts}", theme.INDIGO, name="ghosts", filled=desk.ghosts > 0,
              tip="How many poses before (blue) and after (red), a tenth of a second apart",
              field=choice_field(
                  str(desk.ghosts), [(str(count), str(count)) for count in range(MOST_GHOSTS + 1)],
                  lambda value: desk.set(ghosts=int(value)))),
        Token("names", theme.INDIGO, name="names", filled=desk.names,
              action=lambda: desk.set(names=not desk.names)),
        Token("joints", theme.INDIGO, name="joints", filled=desk.joints,
              action=lambda: desk.set(joints=not desk.joints)),
        mesh_token(view.bones.meshes),
        Token("night" if desk.night else "paper", theme.INDIGO, name="ground",
              action=lambda: desk.set(night=not desk.night)),
    ]
    sides = {"front": "F", "side": "S", "top": "T"}
    now = next((words for words, key in sides.items()
                if view.flat and (view.yaw, view.pitch) == SIDES[key]), "around")

    def look(words: str) -> None:
        if words in sides:
            view.look_from(*SIDES[sides[words]])
        else:
            view.look_around()

    parts.append(Token(
        f"from {'the ' * (now != 'around')}{now}", theme.INDIGO, name="seen from",
        tip="F, S, T: from the front, the side, the top; R: around. A drag on the ground goes "
            "round it, the wheel zooms", field=choice_field(
                now, [("around", "around"), *[(f"the {words}", words) for words in sides]], look)))
    return parts


def mesh_token(meshes: MeshChoice) -> Token:
    """Whether it is drawn as its mesh."""
    if meshes.impossible:
        return Token("no OpenGL", theme.WELD, name="mesh", tip="Meshes are drawn by OpenGL "
                     "3.3, which this machine does not have", action=lambda: meshes.want(False))
    return Token("mesh", theme.INDIGO, name="mesh", filled=meshes.wanted,
                 tip="M: the mesh of the file, or limbs; in the booth too",
                 action=lambda: meshes.want(not meshes.wanted))


def seam_sentence(desk: ClipDesk, view: HandledPose) -> list[Part]:
    """How far apart the ends of a loop are, in centimetres and degrees, and at which bones."""
    clip = desk.clip
    if clip is None or clip.mode != "loop":
        return []
    words, verdict = seam_words(view.bones, clip)
    if not words:
        return []
    return [Word("seam"), Token(
        f"{verdict}: {words}", SEAM_COLORS[verdict], name="seam",
        tip="How far the furthest bone is from the last pose to the first, and how far the one "
            "that turns most turns; a click shows the two in turns", filled=desk.flicker,
        action=desk.toggle_flicker)]
