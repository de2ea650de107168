"""Holes of the logbook to choose, and two of them held against each other in words."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent

from cordwainer.core.lengths import in_unit
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus

if TYPE_CHECKING:
    from cordwainer.logbook.compare import Compared


def _asked(what: str) -> str:
    """A difference in words: a question as it is asked."""
    from cordwainer.core.diagnosis.knowledge import questions

    return questions()[what].text.rstrip("?") if what in questions() else what


class PickRow(Pressable):
    """A hole of the list, to be chosen."""

    def __init__(self, hole_id: str, name: str) -> None:
        super().__init__(f"Choose {name}")
        self.hole_id = hole_id
        self.setCheckable(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Brass at the left while chosen."""
        painter = QPainter(self)
        if self.isChecked():
            painter.fillRect(self.rect(), theme.HI)
            painter.fillRect(0, 0, 4, self.height(), theme.BRASS)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


def compared_words(found: Compared, unit: str) -> str:
    """What differs between two holes and in what came out, in a sentence or two."""
    by = ""
    if found.larger_mm is not None:
        word = "larger" if found.larger_mm >= 0 else "smaller"
        by = f"The second came out {in_unit(abs(found.larger_mm), unit, 3, 4)} {unit} {word}"
    things = "; ".join(f"{_asked(d.what)}: {d.first}, then {d.second}" for d in found.differ[:5])
    if not found.differ:
        rest = "nothing noted differs between them, so this is how far like holes lie apart."
    elif found.one_thing:
        rest = f"and one thing differs. {things}."
    else:
        rest = f"and {len(found.differ)} things differ, so none alone stands for it. {things}."
    words = f"{by}, {rest}" if by else rest[:1].upper() + rest[1:]
    if found.causes:
        words += f" That speaks for: {' or '.join(c[:1].lower() + c[1:] for c in found.causes)}."
    return words
