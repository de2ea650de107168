"""Drawings kept as pictures: painted again when something changed, and not for less."""

from __future__ import annotations

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from cordwainer.ui.kit.layered import layered
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.plan.ladder import Ladder
from cordwainer.ui.stages.plan.section import SectionView


@layered
class Dot(QWidget):
    """A drawing that counts."""

    drawn = 0
    words = "1"

    def draw(self, painter: QPainter) -> None:
        """Its words."""
        self.drawn += 1
        painter.drawText(10, 20, self.words)


def test_a_drawing_is_painted_once_for_each_change(qtbot: QtBot) -> None:
    dot = Dot()
    qtbot.addWidget(dot)
    dot.resize(60, 40)
    dot.show()
    first = dot.grab().toImage()
    for _ in range(3):
        dot.grab()
    assert dot.drawn == 1
    dot.words = "2"
    dot.update()
    assert dot.grab().toImage() != first and dot.drawn == 2
    dot.resize(70, 40)
    dot.grab()
    dot.setEnabled(False)
    dot.grab()
    assert dot.drawn == 4


def test_a_hover_over_the_section_paints_nothing_anew(demo: Window, qtbot: QtBot) -> None:
    demo.go("plan")
    views = [view for kind in (SectionView, Ladder) if (view := demo.findChild(kind)) is not None]
    demo.grab()
    kept = [view.layer for view in views]
    QTest.mouseMove(demo, QPoint(30, 30))
    demo.grab()
    assert len(kept) == 2 and all(view.layer is layer for view, layer in zip(views, kept, strict=True))
