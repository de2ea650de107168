"""Everything at another size while the program runs.

Qt takes a scale for all it draws when it starts (``QT_SCALE_FACTOR``) and has no public way to change it later.
The function it takes that scale with is exported by its library; it is called here while no window of ours is on
the screen, as its authors ask. A library that lacks it leaves the size as it is until the next start.
"""

from __future__ import annotations

import ctypes
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

LIBRARY, SETTER = "libQt6Gui.so", "_ZN15QHighDpiScaling15setGlobalFactorEd"


def _setter() -> Callable[[float], None] | None:
    """Qt's own function, from the very library in use; None where it has none."""
    try:
        lines = Path("/proc/self/maps").read_text(encoding="utf-8", errors="replace").splitlines()
        library = ctypes.CDLL(next(line.split(maxsplit=5)[5] for line in lines if LIBRARY in line))
        found = getattr(library, SETTER)
    except (OSError, StopIteration, AttributeError):
        return None
    found.argtypes, found.restype = (ctypes.c_double,), None
    return lambda factor: found(factor)


def set_scale(factor: float) -> bool:
    """Show every window at so many times its size, and what is shown from now on; False where that cannot be."""
    put = _setter()
    if put is None:
        return False
    shown = [w for w in QApplication.topLevelWidgets() if w.isVisible()]
    focus = QApplication.focusWidget()
    quits = QGuiApplication.quitOnLastWindowClosed()
    QGuiApplication.setQuitOnLastWindowClosed(False)
    for widget in shown:
        widget.hide()
    for window in QGuiApplication.allWindows():
        window.destroy()
    before = qInstallMessageHandler(_quiet)  # the windows are there, but not on the screen
    try:
        put(factor)
    finally:
        qInstallMessageHandler(before)
    for widget in shown:
        _fit(widget)
        widget.show()
    if focus is not None:
        focus.setFocus()
    QGuiApplication.setQuitOnLastWindowClosed(quits)
    return True


def _fit(widget: object) -> None:
    """No larger than the screen is now."""
    from PyQt6.QtWidgets import QWidget

    screen = QGuiApplication.primaryScreen()
    if screen is not None and isinstance(widget, QWidget):
        widget.resize(widget.size().boundedTo(screen.availableGeometry().size()))


def _quiet(_kind: QtMsgType, _context: object, _message: str | None) -> None:
    """Say nothing."""
