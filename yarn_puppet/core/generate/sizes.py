"""What C knows of a puppet as numbers: how much room its structs need, how many there are of each,
what it has."""

from __future__ import annotations

from .features import events, flags, lasting
from .flat import Flat


def rooms(made: Flat) -> dict[str, int]:
    """The room that the header's structs have, by its name there."""
    program, sizes = made.program, made.sizes
    return {
        "LAYERS": len(program.layers), "ACTIONS": len(program.actions),
        "INTENTS": len(program.intents),
        "SENSES": len(program.senses), "MEMOS": len(program.memos),
        "THRESHOLDS": len(program.thresholds),
        "MEMORIES": len(program.remembering),
        "SEQUENCES": sum(bool(intent.steps) for intent in program.intents),
        "STEPS": sizes.steps, "WAITING": sizes.waiting, "OPEN_WORDS": sizes.open_words,
        "SHARES": sizes.shares,
        "TAKEN": 9 * len(program.layers), "USED": 9 * len(program.layers) * sizes.used,
        "FIRED": sizes.moments,
        "OPEN": sizes.windows, "RULES": sizes.bringing + sizes.shares,
        "SKINS": 1 + len(program.skins), "RULE_CONDITIONS": len(program.rule_conditions),
        "PICKED": program.picked_count,
    }


def numbers(made: Flat) -> dict[str, int]:
    """What the code knows by name; what ends in SPACE, and what is named in ROOM, is the room of
    arrays."""
    program, sizes = made.program, made.sizes
    room = {"ACTION": len(program.actions), "INTENT": len(program.intents),
            "MEMO": len(program.memos),
            "SENSE": len(program.senses)}
    return {
        "RATE": program.rate, "LAYER_COUNT": len(program.layers),
        "ACTION_COUNT": len(program.actions),
        "INTENT_COUNT": len(program.intents), "SENSE_COUNT": len(program.senses),
        "MEMO_COUNT": len(program.memos),
        "THRESHOLD_COUNT": len(program.thresholds), "MEMORY_COUNT": len(program.remembering),
        "SEQUENCE_COUNT": sum(bool(intent.steps) for intent in program.intents),
        "RULE_COUNT": len(made.rules), "CLIP_COUNT": len(made.clips),
        "RULE_CONDITION_COUNT": len(program.rule_conditions),
        "PICKED_COUNT": program.picked_count,
        **{f"{key}_SPACE": max(1, value) for key, value in room.items()},
        "SHARE_SPACE": sizes.shares, "BRING_SPACE": max(1, sizes.bringing),
        "WAIT_SPACE": sizes.waiting,
        "USED_SPACE": sizes.used, "MOST_STEPS": sizes.steps, "MOST_DEEP": sizes.deep,
        "OPEN_WORDS": sizes.open_words,
        "MOST_MOMENTS": sizes.moments, "MOST_USED": 9 * len(program.layers) * sizes.used,
        "MOST_OLD": 4,
        **{name: int(has) for name, has in flags(made).items()},
        "EVENT_COUNT": len(events(program)), "LASTING_COUNT": len(lasting(program)),
        "FACING_SENSE": program.facing_sense, "FACING_UP": program.facing_up,
        "FACING_START": made.texts.index(program.facing_start),
        "FACING_KIND": ("mirror", "four", "eight").index(program.facing_kind),
    }


ROOM = ("MOST_STEPS", "MOST_DEEP", "OPEN_WORDS", "MOST_OLD")
"""Beside those in SPACE: what arrays are as long as."""
