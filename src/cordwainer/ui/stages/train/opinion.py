"""An opinion held as lengths: shares over causes that are a hundred in all."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.posterior import UNEXPLAINED
from cordwainer.core.language import tr
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.keys import keeps
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import RIGHT, write

ROW_HEIGHT = 54
OWN_KEYS = frozenset({Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_L})
FULL = 55.0  # a full length is that many in a hundred, so that usual shares can be seen apart


def cause_words(name: str) -> str:
    """A cause by its name; nothing wrong counts as nothing on the list."""
    return tr("Nothing wrong, or not on this list") if name == UNEXPLAINED else causes()[name].name


@layered
class OpinionBar(QWidget):
    """One cause: its words, its share as a length with a grip, where it stood before, the truth once open."""

    moved = pyqtSignal(str, float)
    lock_asked = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setFixedHeight(ROW_HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.name = name
        self.share, self.before, self.full = 0.0, 0.0, FULL
        self.locked = False
        self.true: float | None = None
        self._held = False

    def show_share(self, share: float, before: float, full: float, locked: bool, true: float | None) -> None:
        """Show a share of a hundred and the one before; `true` is what it should have been."""
        self.share, self.before, self.full, self.locked, self.true = share, before, full, locked, true
        told = tr(", it is {true:.0f}", true=true) if true is not None else ""
        self.setAccessibleName(
            tr(
                "{cause_words}: {share:.0f} in 100{kept}{told}",
                cause_words=cause_words(self.name),
                share=share,
                kept=tr(", kept") if locked else "",
                told=told,
            )
        )
        self.update()

    def _x(self, share: float) -> float:
        return 2 + min(share / self.full, 1.0) * (self.width() - 70)

    def draw(self, painter: QPainter) -> None:
        """Words, groove, length, grip."""
        width = self.width()
        bold = self.hasFocus() or bool(self.true)
        painter.setFont(theme.font(15, bold))
        words = painter.fontMetrics().elidedText(cause_words(self.name), Qt.TextElideMode.ElideRight, width - 60)
        write(painter, QRectF(2, 0, width - 56, 24), words, 15, bold, theme.INK)
        groove = QRectF(2, 27, width - 70, 16)
        painter.fillRect(groove, theme.LO)
        x = self._x(self.share)
        painter.fillRect(QRectF(2, 27, x - 2, 16), theme.INK)
        if self.true is not None and self.true > 0:
            painter.setPen(QPen(theme.BRASS, 4))
            at = self._x(self.true)
            painter.drawLine(QPointF(at, 23), QPointF(at, 47))
        pen = QPen(theme.BRASSINK, 2, Qt.PenStyle.DotLine)
        painter.setPen(pen)
        before = self._x(self.before)
        painter.drawLine(QPointF(before, 25), QPointF(before, 45))
        if self.true is None:
            grip = QRectF(x - 6, 23, 13, 24)
            painter.setPen(QPen(theme.INK, 2))
            painter.setBrush(theme.BRASS if self.hasFocus() else theme.HI)
            painter.drawRect(grip)
            if self.locked:
                painter.drawLine(grip.bottomLeft(), grip.topRight())
            else:
                for dx in (-2, 2):
                    painter.drawLine(QPointF(x + 0.5 + dx, 30), QPointF(x + 0.5 + dx, 40))
        write(painter, QRectF(width - 62, 20, 58, 30), f"{self.share:.0f}", 22, bold, theme.INK, RIGHT)
        if self.hasFocus():
            painter.setPen(QPen(theme.BRASS, 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, 0.5, width - 2, self.height() - 3))

    def _to(self, x: float) -> None:
        share = max((x - 2) / max(self.width() - 70, 1), 0.0) * self.full
        self.moved.emit(self.name, round(min(share, 100.0)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the end."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton and self.true is None:
            self.setFocus()
            self._held = True
            self._to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is not None and self._held:
            self._to(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go."""
        self._held = False

    def event(self, event: QEvent | None) -> bool:
        """Its own keys before the window's."""
        return keeps(event, OWN_KEYS) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right 1, with Shift 5; L keeps it."""
        if event is None or self.true is not None:
            return
        step = 5 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.moved.emit(self.name, self.share + (step if event.key() == Qt.Key.Key_Right else -step))
        elif event.key() == Qt.Key.Key_L:
            self.lock_asked.emit(self.name)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Down)
        else:
            super().keyPressEvent(event)
