"""JUnit XML, as build servers read it: one suite a take, one case a promise."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import NamedTuple
from xml.etree import ElementTree

from .writing import write_safely


class Case(NamedTuple):
    """One thing that was checked: of which suite, what, and why it failed; empty where it did not."""

    suite: str
    name: str
    failure: str


def junit_bytes(cases: Iterable[Case]) -> bytes:
    """The cases as a document."""
    listed = list(cases)
    root = ElementTree.Element("testsuites", tests=str(len(listed)),
                               failures=str(sum(bool(case.failure) for case in listed)))
    for suite in dict.fromkeys(case.suite for case in listed):
        own = [case for case in listed if case.suite == suite]
        element = ElementTree.SubElement(root, "testsuite", name=_clean(suite), tests=str(len(own)),
                                         failures=str(sum(bool(case.failure) for case in own)))
        for case in own:
            made = ElementTree.SubElement(element, "testcase", classname=_clean(suite), name=_clean(case.name))
            if case.failure:
                ElementTree.SubElement(made, "failure", message=_clean(case.failure)).text = _clean(case.failure)
    ElementTree.indent(root)
    written: bytes = ElementTree.tostring(root, encoding="utf-8", xml_declaration=True)
    return written + b"\n"


def _clean(text: str) -> str:
    """Without the control characters that XML 1.0 does not have."""
    return "".join(each if each >= " " or each in "\t\n" else "\ufffd" for each in text)


def save_junit(cases: Iterable[Case], path: Path) -> None:
    """Write the document safely. Raises FileProblem."""
    write_safely(path, junit_bytes(cases))
