"""What bones are, by their names and their place in the tree: sides, and kinds such as thigh or
forearm. Programs name them in many ways; that a shoulder, elbow and wrist are the upper arm, the
forearm and the hand is told by the order in which they hang on each other. docs/poses.md 10."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from functools import lru_cache

from ...model.bones import Skeleton

Kind = tuple[str, str]
"""A side, "left", "right" or "", and a kind."""

SIDES = {"l": "left", "left": "left", "lft": "left", "lf": "left",
         "r": "right", "right": "right", "rgt": "right", "rt": "right"}
_WORDS = re.compile(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+|[0-9]+")
_PASSED_OVER = re.compile(r"twist|roll|helper|pole|target|(?<![a-z])ik(?![a-z])|nub|end\b|_end")

CHAINS: dict[str, tuple[tuple[str, tuple[str, ...]], ...]] = {
    "leg": (
        ("thigh", ("thigh", "upleg", "upperleg", "legupper", "femur", "hip", "buttock", "leg")),
        ("shin", ("shin", "calf", "lowerleg", "lowleg", "leglower", "knee", "tibia", "leg")),
        ("foot", ("foot", "ankle")),
        ("toes", ("toe", "toes", "toebase", "ball")),
    ),
    "arm": (
        ("collar", ("collar", "clavicle", "scapula", "shoulder")),
        ("upper arm", ("upperarm", "uparm", "armupper", "shldr", "humerus", "arm", "shoulder")),
        ("forearm", ("forearm", "lowerarm", "lowarm", "armlower", "elbow", "radius", "arm")),
        ("hand", ("hand", "wrist")),
    ),
}
"""Of each limb what its bones are called, from the body outwards. A word of several kinds is the
one that fits between its neighbours."""
FINGERS = {"thumb": "thumb", "index": "index", "pointer": "index", "middle": "middle",
           "mid": "middle", "ring": "ring", "pinky": "pinky", "pinkie": "pinky", "little": "pinky"}
MIDDLE = {"hips": "hips", "pelvis": "hips", "hip": "hips", "neck": "neck", "head": "head",
          "spine": "spine", "chest": "spine", "torso": "spine", "abdomen": "spine",
          "waist": "spine", "back": "spine", "thorax": "spine", "belly": "spine",
          "upperchest": "spine", "ribs": "spine", "jaw": "jaw", "tail": "tail"}
_KNOWN = frozenset((*FINGERS, *MIDDLE, *(word for kinds in CHAINS.values()
                                         for _, called in kinds for word in called)))
_SKIPPED = 3
"""What it costs to pass a kind between two that are there, beside a word that is not the first that
a kind has."""


def bones_by_kind(skeleton: Skeleton) -> dict[Kind, tuple[int, ...]]:
    """By side and kind the bones that are of it, from the body outwards; of most kinds one."""
    return _by_kind(skeleton.names, skeleton.parents)


@lru_cache(maxsize=32)
def _by_kind(names: tuple[str, ...], parents: tuple[int, ...]) -> dict[Kind, tuple[int, ...]]:
    common = _common(names)
    found: dict[Kind, list[int]] = {}
    chains: dict[tuple[str, str], list[tuple[int, str]]] = {}
    for bone, name in enumerate(names):
        if _PASSED_OVER.search(name.casefold()):
            continue
        side, words = side_and_words(name, common)
        if finger := next((FINGERS[word] for word in words if word in FINGERS), ""):
            if side and "toe" not in words:
                found.setdefault((side, finger), []).append(bone)
            continue
        joined = "".join(word for word in words if not word.isdigit())
        if side:
            for limb, kinds in CHAINS.items():
                if any(joined in called for _, called in kinds):
                    chains.setdefault((side, limb), []).append((bone, joined))
        elif joined in MIDDLE:
            found.setdefault(("", MIDDLE[joined]), []).append(bone)
    for (side, limb), bones in chains.items():
        for kind, bone in _fitted(bones, CHAINS[limb], parents).items():
            found[side, kind] = [bone]
    if ("", "hips") not in found and (top := _fork(found, parents)) is not None:
        found = {kind: [bone for bone in bones if bone != top] for kind, bones in found.items()}
        found["", "hips"] = [top]
    return {kind: tuple(bones) for kind, bones in found.items() if bones}


def side_and_words(name: str, common: frozenset[str] = frozenset()) -> tuple[str, list[str]]:
    """A name's side, "" for none, and its other words in small letters, without `common` ones."""
    # A small l or r before a capital is a side: lThigh.
    parted = re.sub(r"(?:(?<=^)|(?<=[^A-Za-z]))([lrLR])(?=[A-Z][a-z])", r"\1 ", name)
    words = [word.casefold() for word in _WORDS.findall(parted)]
    words = [part for word in words for part in _side_parted(word)]
    sides = [SIDES[word] for word in words if word in SIDES]
    rest = [word for word in words if word not in SIDES and word not in common]
    return (sides[0] if len(set(sides)) == 1 else ""), rest


def _side_parted(word: str) -> Sequence[str]:
    """leftarm as left and arm."""
    for side in ("left", "right"):
        if word.startswith(side) and word != side:
            return side, word[len(side):]
        if word.endswith(side) and word != side:
            return side, word[: -len(side)]
    return (word,)


def _common(names: Sequence[str]) -> frozenset[str]:
    """Words that nearly all names have: of the rig, not of the bone."""
    words = Counter(word for name in names for word in set(side_and_words(name)[1]))
    return frozenset(word for word, count in words.items()
                     if len(names) > 2 and count > 0.6 * len(names) and word not in _KNOWN)


def _fitted(
    bones: Sequence[tuple[int, str]], kinds: Sequence[tuple[str, tuple[str, ...]]],
    parents: Sequence[int],
) -> dict[str, int]:
    """Which kind each bone of a limb is: kinds follow each other as bones do, most bones are one,
    and none between is passed over where that can be."""
    best: tuple[float, dict[str, int]] = (0.0, {})
    # For each kind that a bone may be the best that ends so.
    ends: dict[tuple[int, int], tuple[float, dict[str, int]]] = {}
    for bone, word in bones:
        for place, (kind, called) in enumerate(kinds):
            if word not in called:
                continue
            own = (10.0 - called.index(word) * 0.1, {kind: bone})
            for (before, last), (score, given) in list(ends.items()):
                if last < place and _under(bone, before, parents):
                    more = score + 10 - called.index(word) * 0.1 - _SKIPPED * (place - last - 1)
                    if more > own[0]:
                        own = more, {**given, kind: bone}
            if own[0] > ends.get((bone, place), (0.0, {}))[0]:
                ends[bone, place] = own
            best = max(best, own, key=lambda each: each[0])
    return best[1]


def _under(bone: int, above: int, parents: Sequence[int]) -> bool:
    bone = parents[bone]
    while bone >= 0 and bone != above:
        bone = parents[bone]
    return bone == above


def _fork(found: dict[Kind, list[int]], parents: Sequence[int]) -> int | None:
    """Where legs hang: the last bone that all of them have above them."""
    lines = []
    for side in ("left", "right"):
        for bone in found.get((side, "thigh"), ())[:1]:
            line = []
            while (bone := parents[bone]) >= 0:
                line.append(bone)
            lines.append(line[::-1])
    shared = [same[0] for same in zip(*lines, strict=False) if len(set(same)) == 1]
    return shared[-1] if shared else None
