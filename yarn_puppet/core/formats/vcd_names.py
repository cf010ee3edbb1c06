"""Names as a value change dump may have them: identifiers of IEEE 1364-2005, clauses 3.7 and 3.7.1.

A simple identifier is of letters, digits, `_` and `$`, begins with a letter or `_`, and is no word
of the language. Anything else is an escaped identifier: a backslash, then any printable characters
of ASCII up to the next blank.
"""

from __future__ import annotations

from re import ASCII, compile

SIMPLE = compile(r"[A-Za-z_][A-Za-z0-9_$]*", ASCII)
LONGEST = 1000
"""Characters; the standard has readers take at least 1024."""
_WORDS = """
always and assign automatic begin buf bufif0 bufif1 case casex casez cell cmos config deassign
default defparam design disable edge else end endcase endconfig endfunction endgenerate endmodule
endprimitive endspecify endtable endtask event for force forever fork function generate genvar
highz0 highz1 if ifnone incdir include initial inout input instance integer join large liblist
library localparam macromodule medium module nand negedge nmos nor noshowcancelled not notif0 notif1
or output parameter pmos posedge primitive pull0 pull1 pulldown pullup pulsestyle_ondetect
pulsestyle_onevent rcmos real realtime reg release repeat rnmos rpmos rtran rtranif0 rtranif1
scalared showcancelled signed small specify specparam strong0 strong1 supply0 supply1 table task
time tran tranif0 tranif1 tri tri0 tri1 triand trior trireg unsigned use uwire vectored wait wand
weak0 weak1 while wire wor xnor xor
"""
KEYWORDS = frozenset(_WORDS.split())
"""The words of the language, annex B."""


class VcdIdentifiers:
    """Gives each name of one scope an identifier that no other of it has."""

    def __init__(self) -> None:
        self._given: set[str] = set()

    def of(self, name: str) -> str:
        """An identifier for one more name. Blanks become `_`; a letter that is not of ASCII is told
        by its code."""
        plain = "".join(each if "!" <= each <= "~" else "_"
                        if each.isspace() else f"u{ord(each):04X}"
                        for each in name)[:LONGEST] or "_"
        number, unlike = 1, plain
        while unlike in self._given:
            number += 1
            unlike = f"{plain}_{number}"
        self._given.add(unlike)
        return unlike if SIMPLE.fullmatch(unlike) and unlike not in KEYWORDS else f"\\{unlike}"
