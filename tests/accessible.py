"""What a screen reader is told of a widget: Qt's own tree of accessible things, walked as a reader
does.

PyQt has no names for it, so that the library is called as C++ calls it. That is done on x86-64
only, where it is known how; functions of an interface are at fixed places of its table in all of Qt
6.
"""

from __future__ import annotations

import ctypes
import platform
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import PyQt6
from PyQt6 import sip
from PyQt6.QtCore import QObject, QRect

KNOWN = platform.machine() == "x86_64"
NAME, DESCRIPTION = 0, 1
CHILD, CHILD_COUNT, TEXT, RECT, ROLE, STATE = 9, 10, 12, 14, 15, 16
"""Places in the table of an interface, counted from its first destructor."""
ROLES = {0x00: "nothing", 0x03: "scroll bar", 0x09: "window", 0x0A: "client", 0x10: "pane",
         0x12: "dialog",
         0x14: "group", 0x18: "table", 0x21: "list", 0x22: "list item", 0x28: "picture",
         0x29: "text", 0x2A: "edit",
         0x2B: "button", 0x2C: "check box", 0x2E: "combo box", 0x3E: "splitter",
         0x80: "layered pane"}
SELECTED, INVISIBLE = 1 << 1, 1 << 17


class Accessible(NamedTuple):
    """One thing: what it is, what it is called, what is said of it, where it is, and how it
    stands."""

    role: str
    name: str
    description: str
    rect: QRect
    invisible: bool
    selected: bool
    depth: int


class _Rect(ctypes.Structure):
    _fields_ = [(name, ctypes.c_int) for name in ("left", "top", "right", "bottom")]


class _String(ctypes.Structure):
    _fields_ = [("held", ctypes.c_void_p), ("text", ctypes.c_void_p), ("size", ctypes.c_longlong)]


def _library() -> ctypes.CDLL:
    return ctypes.CDLL(str(Path(PyQt6.__file__).parent / "Qt6" / "lib" / "libQt6Gui.so.6"))


def _call(
    interface: int,
    place: int,
    result: type | None,
    *arguments: object,
    before: tuple[object, ...] = (),
):  # type: ignore[no-untyped-def]
    table = ctypes.cast(interface, ctypes.POINTER(ctypes.c_void_p))[0]
    function = ctypes.cast(table, ctypes.POINTER(ctypes.c_void_p))[place]
    kinds = [ctypes.c_void_p] * (len(before) + 1) + [ctypes.c_int] * len(arguments)
    return ctypes.CFUNCTYPE(result, *kinds)(function)(*before, interface, *arguments)


def _text(interface: int, which: int) -> str:
    made = _String()
    _call(interface, TEXT, None, which, before=(ctypes.addressof(made),))
    return ctypes.string_at(made.text, made.size * 2).decode("utf-16-le") if made.size else ""


def _walked(interface: int, depth: int) -> Iterator[Accessible]:
    role = _call(interface, ROLE, ctypes.c_int)
    rect = _call(interface, RECT, _Rect)
    state = _call(interface, STATE, ctypes.c_ulonglong)
    yield Accessible(ROLES.get(role, str(role)), _text(interface, NAME),
                     _text(interface, DESCRIPTION),
                     QRect(rect.left, rect.top, rect.right - rect.left + 1,
                           rect.bottom - rect.top + 1),
                     bool(state & INVISIBLE), bool(state & SELECTED), depth)
    if state & INVISIBLE:
        # What is in something that is not shown is not shown either.
        return
    for number in range(_call(interface, CHILD_COUNT, ctypes.c_int)):
        child = _call(interface, CHILD, ctypes.c_void_p, number)
        if child:
            yield from _walked(child, depth + 1)


def tree(thing: QObject) -> list[Accessible]:
    """A widget and all in it, each before what it holds."""
    query = _library()._ZN11QAccessible24queryAccessibleInterfaceEP7QObject
    query.restype, query.argtypes = ctypes.c_void_p, [ctypes.c_void_p]
    return list(_walked(query(sip.unwrapinstance(thing)), 0))
