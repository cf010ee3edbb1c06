"""Names of intents, senses and memos that conditions cannot use, or would read as something
else."""

from __future__ import annotations

from collections import Counter

from ..engine.program import Program
from ..model.basics.words import is_word, word_from
from ..model.kinds.windows import WINDOW_WORDS
from ..model.puppet import Puppet
from .snag import Snag


def misleading_names(puppet: Puppet, program: Program) -> list[Snag]:
    """Names that are no words, are words of the language, or stand for two things; windows named as
    another kind."""
    names = Counter(value.name for value in puppet.named_values)
    found = []
    for kind, entries in (("intent", puppet.intents), ("sense", puppet.senses),
                          ("memo", puppet.memos)):
        for entry in entries:
            if not is_word(entry.name):
                found.append(Snag(
                    "error", kind, entry.id, entry.name, "conditions cannot use its name",
                    f"call it {word_from(entry.name, names)}",
                ))
            elif names[entry.name] > 1:
                found.append(Snag(
                    "error", kind, entry.id, entry.name,
                    "another intent, sense or memo has the same name",
                    f"call it {word_from(entry.name, names)}",
                ))
    for clip in puppet.clips:
        found += [
            Snag(
                "warning",
                "clip",
                clip.id,
                f"{clip.name}, {window.name}",
                f"the {window.kind} window has the name of another kind, so that conditions take "
                "it for one",
                "give it another name",
            )
            for window in clip.windows
            if window.name in WINDOW_WORDS and window.name != window.kind
        ]
    return found
