"""A stranger's words where Qt would read something into them: rich text, mnemonics, placeholders."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from cordwainer.files.shown import lines, shown


def escape(text: str) -> str:
    """Text that stands in rich text as it is."""
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


class Label(QLabel):
    """A label that shows words as they are; only what the program itself wrote may be rich."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setText(text)

    def setText(self, text: str | None) -> None:
        """Plain words."""
        self.setTextFormat(Qt.TextFormat.PlainText)
        super().setText(lines(text or ""))

    def set_rich(self, html: str) -> None:
        """Rich text of the program's own; whatever a stranger wrote in it is escaped."""
        self.setTextFormat(Qt.TextFormat.RichText)
        super().setText(html)


def rich_label(html: str) -> Label:
    """A label of the program's own rich text."""
    label = Label()
    label.set_rich(html)
    return label


def on_menu(text: str) -> str:
    """Words on a menu or a button: an ampersand is no mnemonic.

    >>> on_menu("Reamers & taps")
    'Reamers && taps'
    """
    return shown(text).replace("&", "&&")


def on_tip(text: str) -> str:
    """Words in a tooltip: what looks like markup stands as it is.

    >>> on_tip("5 < 6")
    '<span>5 &lt; 6</span>'
    """
    words = lines(text)
    return f"<span>{escape(words)}</span>" if "<" in words else words


def in_title(text: str) -> str:
    """Words in a window's title: none of them is Qt's mark for a changed file."""
    return shown(text, 80).replace("[*]", "[* ]")
