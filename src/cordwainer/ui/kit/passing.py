"""Dialogs and menus that go once they are done with: a parent would keep them as long as itself."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QMenu


def run(dialog: QDialog) -> int:
    """Show a dialog until it is answered; what is left of it may be read by the caller, and then goes."""
    try:
        return dialog.exec()
    finally:
        dialog.deleteLater()


def once(menu: QMenu) -> QMenu:
    """A menu that goes when it is closed, after what was chosen from it was done."""
    menu.aboutToHide.connect(menu.deleteLater)
    return menu
