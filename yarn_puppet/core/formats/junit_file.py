"""JUnit XML, as build servers read it: one suite a take, one case a promise."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path
from typing import NamedTuple
from xml.etree import ElementTree

from .replacing import write_safely

NO_XML = re.compile("[^\t\n\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""What is no character of XML 1.0: controls, halves of pairs (as a file's name may hold), and two
more."""


class Case(NamedTuple):
    """One thing that was checked: of which suite, what, and why it failed; empty where it did not.
    An `error` is one that could not be checked at all."""

    suite: str
    name: str
    failure: str
    error: bool = False


def junit_bytes(cases: Iterable[Case]) -> bytes:
    """The cases as a document."""
    listed = list(cases)
    root = ElementTree.Element("testsuites", _counts(listed))
    for suite in dict.fromkeys(case.suite for case in listed):
        own = [case for case in listed if case.suite == suite]
        element = ElementTree.SubElement(root, "testsuite", {"name": _clean(suite), **_counts(own)})
        for case in own:
            made = ElementTree.SubElement(element, "testcase", classname=_clean(suite),
                                          name=_clean(case.name))
            if case.failure:
                kind = "error" if case.error else "failure"
                ElementTree.SubElement(made, kind, message=_clean(case.failure)).text = _clean(
                    case.failure)
    ElementTree.indent(root)
    written: bytes = ElementTree.tostring(root, encoding="utf-8", xml_declaration=True)
    return written + b"\n"


def _counts(cases: list[Case]) -> dict[str, str]:
    failed = [case for case in cases if case.failure]
    return {"tests": str(len(cases)), "failures": str(sum(not case.error for case in failed)),
            "errors": str(sum(case.error for case in failed))}


def _clean(text: str) -> str:
    return NO_XML.sub("\ufffd", text)


def save_junit(cases: Iterable[Case], path: Path) -> None:
    """Write the document safely. Raises FileProblem."""
    write_safely(path, junit_bytes(cases))
