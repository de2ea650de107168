"""Dialogs and menus that go once they are done with: a parent would keep them as long as itself."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QDialog, QMenu

FRAME = QSize(16, 40)  # what the desktop puts round a window, about


def run(dialog: QDialog) -> int:
    """Show a dialog until it is answered, no larger than its screen; the caller may read it, and then it goes."""
    screen = dialog.screen()
    if screen is not None:
        dialog.resize(dialog.size().boundedTo(screen.availableGeometry().size() - FRAME))
    try:
        return dialog.exec()
    finally:
        dialog.deleteLater()


def once(menu: QMenu) -> QMenu:
    """A menu that goes when it is closed, after what was chosen from it was done."""
    menu.aboutToHide.connect(menu.deleteLater)
    return menu
