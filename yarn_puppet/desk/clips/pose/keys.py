"""What keys do on the big pose: they look from a side, walk over bones, turn them and key them."""

from __future__ import annotations

from ....core.model.edits import motions as edits
from ....core.model.motions import Vector
from ....core.pose.bones.clip_poses import turned_further
from ...widgets.key_table import KeyLine
from .view import PoseView

STEP, SMALL_STEP = 5.0, 1.0
"""Degrees by key."""
SIDES = {"F": (270.0, 0.0), "S": (0.0, 0.0), "T": (0.0, 90.0)}
"""From the front, the side and the top: the camera's yaw and pitch."""


class KeyedPose(PoseView):
    """The big pose under the keyboard."""

    _held = ("", "", 0.0)
    """The clip, the bone and the time that were pressed: whatever is on show later, they are what
    is edited."""
    _started = False

    def key_lines(self) -> tuple[KeyLine, ...]:
        desk = self.desk

        def has_clip() -> bool:
            return desk.clip is not None

        def has_bone() -> bool:
            return self.chosen is not None and desk.clip is not None

        return (
            KeyLine(tuple(SIDES), "see it from the front, the side, the top",
                    lambda key: self.look_from(*SIDES[key]), has_clip),
            KeyLine(("R",), "see it from around again", lambda key: self.look_around(), has_clip),
            KeyLine(("Left", "Right"), "a tick back or on",
                    lambda key: desk.step(-1 if key == "Left" else 1), has_clip),
            KeyLine(("Up", "Down"), "the bone above, or the first below it", self._walk, has_clip),
            KeyLine(("X", "Y", "Z"), "the axis that keys turn about",
                    lambda key: desk.set(axis="XYZ".index(key)), has_bone),
            KeyLine(("Alt+Left", "Alt+Right"), "turn the bone by 5°", self._nudged, has_bone),
            KeyLine(("Alt+Shift+Left", "Alt+Shift+Right"), "turn the bone by 1°", self._nudged,
                    has_bone),
            KeyLine(("K",), "key the bone at the head, as it is turned there",
                    lambda key: self.key_here(), has_bone),
            KeyLine(("Del",), "take our keys off the bone", lambda key: self._unkeyed(), has_bone),
            KeyLine(("Esc",), "no bone", lambda key: desk.choose_bone(None), has_bone),
            KeyLine(("M",), "its mesh, or limbs",
                    lambda key: self.bones.meshes.want(not self.bones.meshes.wanted), has_clip),
            KeyLine(("Space",), "play the clip, or hold it", lambda key: desk.toggle_playing(),
                    has_clip),
        )

    def _walk(self, key: str) -> None:
        poses = self.bones.poses
        if poses is None:
            return
        skeleton, at = poses.skeleton, self.chosen
        if at is None:
            self.desk.choose_bone(skeleton.names[0])
        elif key == "Up":
            parent = skeleton.parents[at]
            self.desk.choose_bone(skeleton.names[parent if parent >= 0 else at])
        else:
            below = [number for number, parent in enumerate(skeleton.parents) if parent == at]
            self.desk.choose_bone(skeleton.names[below[0] if below else at])

    def _nudged(self, key: str) -> None:
        by = (SMALL_STEP if "Shift" in key else STEP) * (-1 if key.endswith("Left") else 1)
        clip, bone, poses = self.desk.clip, self.desk.bone, self.bones.poses
        if clip is None or clip.motion is None or bone is None or poses is None:
            return
        self._held, self._started = (clip.id, bone, self.desk.time), False
        known = poses.own_turn(clip.motion, bone, self.desk.time / 1000) or (0.0, 0.0, 0.0)
        turn, time = turned_further(known, self.desk.axis, by), self._key_time(self.desk.time)
        self.document.edit(f"turn {bone}",
                           lambda now: edits.bone_turned(now, clip.id, bone, time, turn),
                           merge=True)

    def put_key(self, clip: str, bone: str, turn: Vector) -> None:
        """Turn a bone by our keys, as a drag on its rings does."""
        self._held, self._started = (clip, bone, self.desk.time), False
        time = self._key_time(self.desk.time)
        self.document.edit(f"turn {bone}",
                           lambda now: edits.bone_turned(now, clip, bone, time, turn))

    def key_here(self) -> None:
        """A key at the head, with the turn that the bone has there."""
        clip, bone, poses = self.desk.clip, self.desk.bone, self.bones.poses
        if clip is None or clip.motion is None or bone is None or poses is None:
            return
        turn = poses.own_turn(clip.motion, bone, self.desk.time / 1000) or (0.0, 0.0, 0.0)
        self.document.edit(f"key {bone}", lambda now: edits.bone_turned(
            now, clip.id, bone, self.desk.time, turn))

    def _unkeyed(self) -> None:
        clip, bone, key = self.desk.clip, self.desk.bone, self.desk.key
        if clip is not None and bone is not None:
            self.document.edit(f"remove keys of {bone}", lambda now: edits.bone_keys_removed(
                now, clip.id, bone, None if key is None else (key,)))
            self.desk.choose_bone(bone)

    def _key_time(self, time: float) -> float:
        """Where a turn is keyed: the first key of a bone at the start, which holds all through; as
        long as that is the only one it is the one that turns; then at the head."""
        clip, bone, _ = self._held
        found = self.document.puppet.clip(clip)
        keys = [key for key in found.motion.bone_keys
                if key.bone == bone] if found is not None and found.motion is not None else []
        return time if len(keys) > 1 else keys[0].at if keys else 0.0
