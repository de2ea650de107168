"""Holes of the logbook to choose, and two of them held against each other in words."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent

from cordwainer.core.language import inner, sentence, tr
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
        super().__init__(tr("Choose {name}", name=name))
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
        word = tr("larger") if found.larger_mm >= 0 else tr("smaller")
        by = tr(
            "The second came out {larger_mm} {unit} {word}",
            larger_mm=in_unit(abs(found.larger_mm), unit, 3, 4),
            unit=unit,
            word=word,
        )
    things = "; ".join(
        tr("{asked}: {first}, then {second}", asked=_asked(d.what), first=d.first, second=d.second)
        for d in found.differ[:5]
    )
    if not found.differ:
        rest = tr("nothing noted differs between them, so this is how far like holes lie apart.")
    elif found.one_thing:
        rest = tr("and one thing differs. {things}.", things=things)
    else:
        rest = tr(
            "and {count} things differ, so none alone stands for it. {things}.",
            count=len(found.differ),
            things=things,
        )
    words = f"{by}, {rest}" if by else sentence(rest)
    if found.causes:
        words += tr(" That speaks for: {c}.", c=tr(" or ").join(inner(c[:1]) + c[1:] for c in found.causes))
    return words
