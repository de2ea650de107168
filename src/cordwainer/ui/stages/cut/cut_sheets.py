"""What is asked at the machine, over the numbers: cautions, what was felt, what was really used, why stopped."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QLineEdit, QScrollArea, QWidget

from cordwainer.core.language import tr
from cordwainer.core.planning.words.felt import felt_list
from cordwainer.core.planning.words.operation import Caution
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, put_in_scroll
from cordwainer.ui.kit.layout import CENTER, MIDDLE, down, write
from cordwainer.ui.kit.shade import LIGHT, Shade
from cordwainer.ui.stages.cut.cut_parts import CautionTick, FeltTile, Shaded


class ChoiceTile(Shaded, Pressable):
    """A choice in words."""

    def __init__(self, words: str, name: str = "", small: bool = False) -> None:
        super().__init__(name or words)
        self.to_tab(self)
        self.words, self.now, self.small = words, False, small
        self.setMinimumHeight(36 if small else 72)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Box and words; ink where it is so now."""
        painter = QPainter(self)
        shade = self.shade
        painter.fillRect(self.rect(), shade.ink if self.now else shade.hi)
        ink = shade.on_ink if self.now else shade.ink
        painter.setPen(QPen(ink, 2))
        painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        short = len(self.words) < 14 and not self.small
        painter.setFont(theme.font(25 if short else (20 if self.small else 21), not self.small or self.now))
        wraps = Qt.TextFlag.TextSingleLine if self.small else Qt.TextFlag.TextWordWrap
        edge = 2 if self.small else 8
        box = QRectF(self.rect()).adjusted(edge, 2, -edge, -2)
        painter.drawText(box, int(CENTER | wraps), self.words)
        self.draw_ring(self, painter)


class ToldLines(QWidget):
    """Lines in two columns under rules."""

    def __init__(self, lines: Sequence[tuple[str, str]], shade: Shade, *, wraps: bool = False) -> None:
        super().__init__()
        self.lines, self.shade, self.wraps = lines, shade, wraps
        self.setAccessibleName(". ".join(" ".join(line) for line in lines))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """As large as they all fit."""
        painter = QPainter(self)
        high = min(72.0 if self.wraps else 56.0, self.height() / max(len(self.lines), 1))
        size = max(min(26.0, high * 0.55), 20.0)
        for number, (left, right) in enumerate(self.lines):
            box = QRectF(0, number * high, self.width() - 4, high)
            painter.setPen(QPen(self.shade.rule, 1))
            painter.drawLine(box.topLeft(), box.topRight())
            if self.wraps:
                painter.setFont(theme.font(max(size * 0.9, 20.0)))
                painter.setPen(self.shade.ink)
                painter.drawText(box, int(MIDDLE | Qt.TextFlag.TextWordWrap), left)
                continue
            write(painter, box, left, size, True, color=self.shade.ink)
            painter.setFont(theme.font(size))
            side = MIDDLE | Qt.AlignmentFlag.AlignRight
            painter.drawText(box, int(side), right)


class CutSheet(QWidget):
    """One question over the numbers: a heading, tiles, perhaps a line to write on."""

    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.shade: Shade = LIGHT
        self.kind = ""
        self.heading = ""
        self.box = down(self, (36, 84, 28, 16), 12)
        self.line: QLineEdit | None = None
        self.hide()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The ground and the heading."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.shade.plate)
        write(painter, QRectF(36, 16, self.width() - 60, 60), self.heading, 34, True, color=self.shade.ink)

    def begin(self, kind: str, heading: str, shade: Shade) -> None:
        """Empty it for another question."""
        self.kind, self.heading, self.shade, self.line = kind, heading, shade, None
        self.setAccessibleName(heading)
        while (item := self.box.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.show()
        self.raise_()
        self.update()

    def away(self) -> None:
        """Nothing is asked."""
        if not self.isHidden():
            self.kind = ""
            self.hide()
            self.closed.emit()

    def ask_ticks(self, cautions: Sequence[Caution], shade: Shade, done: Callable[[str], None]) -> None:
        """Stop cautions, each to be ticked before the numbers show."""
        self.begin("ticks", tr("Before this step"), shade)
        for number, caution in enumerate(cautions, 1):
            tick = CautionTick(number, caution)
            tick.shade = shade
            tick.ticked.connect(done)
            self.box.addWidget(tick)
        self.box.addStretch(1)

    def ask_setup(self, checks: Sequence[str], shade: Shade, done: Callable[[], None]) -> None:
        """What is looked over on the set-up before the first cut, and one press for all of it."""
        self.begin("ticks", tr("The set-up, before the first cut"), shade)
        self.box.addWidget(ToldLines([(check, "") for check in checks], shade, wraps=True), 1)
        self._last(tr("1  All of it seen to"), done)

    def ask_felt(
        self,
        known: dict[str, str],
        shade: Shade,
        done: Callable[[str, str | None], None],
        back: Callable[[], None],
    ) -> None:
        """What was seen, heard or felt; pressed again it is taken back."""
        self.begin("felt", tr("Seen, heard or felt"), shade)
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(10)
        for place, felt in enumerate(felt_list()):
            tile = FeltTile(felt.key, felt.words)
            tile.shade = shade
            tile.setMinimumHeight(84)
            tile.setChecked(known.get(felt.question) == felt.answer)
            tile.clicked.connect(lambda on, f=felt: done(f.question, f.answer if on else None))
            grid.addWidget(tile, place // 3, place % 3)
        self.box.addWidget(holder, 1)
        self._last(tr("Back to the numbers"), back)

    def ask_one(
        self,
        kind: str,
        heading: str,
        choices: Sequence[tuple[str, str]],
        now: str,
        shade: Shade,
        done: Callable[[str], None],
        *,
        write: str = "",
        columns: int = 3,
        leave: str = tr("Leave it as it is"),
    ) -> None:
        """One of some choices, as value and words; `write` is what may be written instead, `leave` the way out."""
        self.begin(kind, heading, shade)
        if write:
            line = self.line = QLineEdit()
            line.setAccessibleName(write)
            line.setPlaceholderText(write)
            line.setFont(theme.font(34, True))
            line.setMinimumHeight(72)
            line.setStyleSheet(
                f"background: {shade.hi.name()}; color: {shade.ink.name()}; border: 3px solid {shade.ink.name()};"
                "padding: 4px 14px;"
            )
            line.returnPressed.connect(lambda: done(line.text()))
            self.box.addWidget(line)
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 0, 6, 0)
        grid.setSpacing(10)
        for place, (value, words) in enumerate(choices):
            tile = ChoiceTile(words)
            tile.shade, tile.now = shade, value == now
            tile.clicked.connect(lambda _=False, v=value: done(v))
            tile.setMinimumHeight(72 if len(choices) > 6 else 96)
            grid.addWidget(tile, place // columns, place % columns)
        grid.setRowStretch(len(choices) // columns + 1, 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        put_in_scroll(area, holder)
        self.box.addWidget(area, 1)
        if leave:
            self._last(leave, self.away)
        if self.line is not None:
            self.line.setFocus()

    def tell(self, kind: str, heading: str, lines: Sequence[tuple[str, str]], shade: Shade) -> None:
        """Lines of two parts, the second at the right; nothing is asked."""
        self.begin(kind, heading, shade)
        self.box.addWidget(ToldLines(lines, shade), 1)

    def _last(self, words: str, back: Callable[[], None]) -> None:
        tile = ChoiceTile(words)
        tile.shade = self.shade
        tile.setFixedHeight(72)
        tile.clicked.connect(lambda: back())
        self.box.addWidget(tile)

    def sizeHint(self) -> QSize:
        """As the numbers."""
        return QSize(796, 560)
