"""The keyboard and the mouse that Qt has for tests."""

from __future__ import annotations

from typing import Any

from PyQt6.QtTest import QTest

KEYBOARD: Any = QTest
"""Its stub takes functions of the class for methods, so that no call of them would pass."""
