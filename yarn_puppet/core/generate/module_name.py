"""What the code of a puppet is called: its files, and what they call it."""

from __future__ import annotations

import sys
from keyword import kwlist, softkwlist

from .names import Identifiers, RenamedForCode

WORDS = frozenset(
    [
        each
        for line in (
            "auto break case char const continue default do double else enum extern float for goto "
            "if inline int long",
            "register restrict return short signed sizeof static struct switch typedef union "
            "unsigned void volatile",
            "while bool true false asm class catch delete export friend mutable namespace new "
            "operator private",
            "protected public template this throw try typename using virtual explicit and or not "
            "xor bitand bitor compl",
            "not_eq and_eq or_eq xor_eq constexpr decltype noexcept nullptr thread_local alignas "
            "alignof static_assert",
            "wchar_t char16_t char32_t const_cast dynamic_cast reinterpret_cast static_cast typeid "
            "linux unix main",
        )
        for each in line.split()
    ]
)
"""Words of C and of C++."""
HEADERS = frozenset(
    [
        each
        for line in (
            "assert complex ctype errno fenv float inttypes iso646 limits locale math memory "
            "setjmp signal stdalign stdarg",
            "stdatomic stdbool stddef stdint stdio stdlib stdnoreturn string strings tgmath "
            "threads time uchar wchar wctype",
            "unistd poll netdb fcntl semaphore pthread features endian",
        )
        for each in line.split()
    ]
)
"""Headers of C and of its usual companions: where a compiler looks into the game's folder first, a
`math.h` there would stand in the place of its own. So would a module `random.py` in that of
Python's."""
OURS = frozenset(["yarn_wire"])
"""What is handed off beside the puppet."""
TAKEN = WORDS | HEADERS | OURS | sys.stdlib_module_names | {*kwlist, *softkwlist}


def module_name(name: str) -> tuple[str, tuple[RenamedForCode, ...]]:
    """What code and its files can be called by, and whether the name had to change for that."""
    identifiers = Identifiers(TAKEN)
    return identifiers.of("puppet", [name])[0], tuple(identifiers.renames)
