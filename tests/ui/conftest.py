"""Shared: a window on the first screen, and one on the demo."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.ui.shell.window import Window
from tests.ui.windows import opened, shut


@pytest.fixture
def window(qtbot: QtBot, qapp: QApplication) -> Iterator[Window]:
    """A window on the first screen, shown."""
    found = opened(qtbot)
    yield found
    shut(found)


@pytest.fixture
def demo(qtbot: QtBot, qapp: QApplication) -> Iterator[Window]:
    """A window on the demo, planned."""
    found = opened(qtbot, demo=True)
    yield found
    shut(found)
