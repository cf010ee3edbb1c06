"""What Qt says may be missing, and never is where it is asked for."""

from __future__ import annotations

from typing import TypeVar

Thing = TypeVar("Thing")


def sure(thing: Thing | None) -> Thing:
    """The thing itself; a fault of ours where there is none, as with the layout of a panel that has
    one."""
    assert thing is not None
    return thing
