"""Small parts of the Print stage: its choices, their tiles, and the count of what does not add up."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout

from cordwainer.core.language import tr, trn
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus, mark
from cordwainer.ui.kit.layout import CENTER, MIDDLE, across, smooth
from cordwainer.ui.kit.tiles import Tile
from cordwainer.ui.stages.print_.pictures import paint_kind

ENTRIES = (
    ("faced", tr("faced")),
    ("pip", tr("pip left")),
    ("sawn", tr("sawn")),
    ("cast", tr("cast")),
    ("sloped", tr("sloped")),
    ("curved", tr("round")),
)


KINDS = (
    ("plain", tr("Plain")),
    ("sized", tr("Sized")),
    ("tapped", tr("Tapped")),
    ("flat_bottom", tr("Flat bottom")),
    ("taper_pin", tr("Taper pin")),
    ("center_hole", tr("Center")),
)
MOUTHS = (
    ("chamfer", tr("Chamfer")),
    ("register", tr("Register")),
    ("countersink", tr("Countersink")),
    ("spotface", tr("Spotface")),
)
EXITS = (
    ("free", tr("open air")),
    ("stack", tr("second part")),
    ("cross_hole", tr("cross hole")),
    ("sloped", tr("sloped off")),
)
SHOWN_AS = {"counterbored": "plain", "countersunk": "plain", "spotfaced": "plain"}


def tile_grid(
    column: QVBoxLayout, kinds: tuple[tuple[str, str], ...], name: str, chosen: Callable[[str], None]
) -> dict[str, Tile]:
    """Tiles two in a row, each with its picture."""
    found = {}
    for index, (key, word) in enumerate(kinds):
        if index % 2 == 0:
            line = across(gap=2)
            column.addLayout(line)
        tile = Tile(f"{name}: {word}", word, paint_kind(key), QSize(84, 46))
        tile.clicked.connect(lambda _=False, k=key: chosen(k))
        found[key] = tile
        line.addWidget(tile)
    return found


class SumUp(Pressable):
    """How many things do not add up; pressed, it goes to the next."""

    def __init__(self) -> None:
        super().__init__(tr("What does not add up"))
        self.words = ""
        self.setFixedHeight(60)

    def show_count(self, count: int) -> None:
        """Say how many, or hide."""
        self.words = trn("{count} thing does not add up", "{count} things do not add up", count, count=count)
        self.setVisible(count > 0)
        self.setAccessibleName(self.words)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A caution-like box with its key."""
        painter = smooth(self)
        box = QRectF(self.rect()).adjusted(12, 4, -12, -8)
        painter.fillRect(box, theme.LO)
        painter.setPen(QPen(theme.INK, 2 if self.hovered else 1))
        painter.drawRect(box)
        mark(painter, "reject", QPointF(box.left() + 22, box.center().y()), 9, theme.INK, theme.LO)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(16, True))
        painter.drawText(box.adjusted(46, 0, 0, 0), MIDDLE, self.words)
        painter.setFont(theme.font(13))
        key = QRectF(box.right() - 40, box.center().y() - 13, 30, 26)
        painter.drawRect(key)
        painter.drawText(key, CENTER, "F8")
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))
