"""Keys that a part of the window wants for itself before the window's commands take them."""

from __future__ import annotations

from collections.abc import Collection

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent

MODIFIED = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


def keeps(event: QEvent | None, own: Collection[int]) -> bool:
    """Whether an event asks for a key of a part's own, not with Ctrl or Alt; it is accepted then."""
    if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.ShortcutOverride:
        return False
    if event.key() not in own or event.modifiers() & MODIFIED:
        return False
    event.accept()
    return True
