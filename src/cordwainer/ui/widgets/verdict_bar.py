"""The verdict on a hole, with what would settle it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout

from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.measuring.verdict import Finding
from cordwainer.core.shop.gauge import WORDS
from cordwainer.ui import theme
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import BoxButton, Column, Mark, Pane, text_label
from cordwainer.ui.wording import VERDICT_WORDS, fixed

NO_SIZE = ("pin", "plug", "cmm")


class Verdict(Pane):
    """The decision, on ink, with what would settle it."""

    def __init__(self) -> None:
        super().__init__(theme.INK)
        row = QHBoxLayout(self)
        row.setContentsMargins(28, 14, 20, 14)
        row.setSpacing(22)
        self.mark = Mark("none", 32, theme.SCRIBE, theme.INK)
        row.addWidget(self.mark)
        words = Column((0, 0, 0, 0), 2)
        words.box.addStretch(1)
        self.head = text_label("", 36, True, theme.SCRIBE)
        self.why = text_label("", 15, color=theme.LO, wrap=True)
        words.add(self.head)
        words.add(self.why)
        words.box.addStretch(1)
        row.addWidget(words, 1)
        self.settle = Column((0, 0, 0, 0), 6)
        self.settle.setFixedWidth(240)
        row.addWidget(self.settle)

    def show_finding(self, finding: Finding | None, session: Session) -> None:
        """Show a verdict, or that nothing is measured."""
        self.settle.clear()
        unit = session.unit
        if finding is None:
            self.mark.status = "none"
            self.head.setText("Nothing measured yet")
            self.why.setText(
                "Three depths, two directions. Deburr first; let the part cool, or say how warm it is."
            )
        else:
            self.mark.status = finding.verdict
            self.head.setText(VERDICT_WORDS[finding.verdict])
            self.why.setText(finding.why[0].upper() + finding.why[1:] + ".")
        self.mark.update()
        if finding is None or finding.verdict != "cannot_tell":
            return
        if finding.settle_with:
            self.settle.add(text_label("To settle it", 15, color=theme.LO))
            for index, kind in enumerate([k for k in finding.settle_with if k not in NO_SIZE][:2]):
                known = [g for g in session.shop.gauges if g.kind == kind]
                off = f"±{fixed(gauge_expanded_mm(known[0]), unit)}" if known else ""
                button = SettleButton(WORDS[kind][0].upper() + WORDS[kind][1:], off, index == 0)
                button.clicked.connect(lambda _=False, k=kind: session.put_measured("Gauge", gauge=k, readings=[]))
                button.setToolTip("Take the readings again with this gauge")
                self.settle.add(button)
        elif not finding.flags:
            self.settle.add(
                text_label(
                    "No gauge of the shop is sure enough. Borrow a finer one, or ask the drawing's owner.",
                    14,
                    color=theme.LO,
                    wrap=True,
                )
            )
        self.settle.box.addStretch(1)


class SettleButton(BoxButton):
    """A gauge offered, with what it could be off by."""

    def __init__(self, words: str, off: str, brass: bool) -> None:
        super().__init__(f"Measure again with the {words}", words)
        self.off, self.brass = off, brass
        self.setCheckable(False)
        self.setFixedHeight(46 if brass else 36)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Brass when it can settle it first."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.BRASS if self.brass else theme.HI)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        painter.drawText(self.rect().adjusted(12, 0, -70, 0), Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.setFont(theme.font(15))
        painter.drawText(
            self.rect().adjusted(0, 0, -10, 0),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            self.off,
        )
        if self.ring:
            painter.setPen(QPen(theme.SCRIBE, 3))
            painter.drawRect(self.rect().adjusted(2, 2, -3, -3))
