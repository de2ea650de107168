"""Drawers of drills in order of true size: shut ones as a row of bars, the open one with the drills tip up."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, tr, trn
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.canvas import tools
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus
from cordwainer.ui.kit.layout import CENTER, RIGHT, smooth, write

PLACES = 22
SHUT, OPEN = 44, 240
SIDE_BY_SIDE = {1: 2.15, 2: 1.35, 3: 1.2}
ARROWS = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down)


@dataclass(frozen=True)
class DrawerPlace:
    """Tools of one size and series that stand together: the first of them, how many, how many of those out."""

    tool: Tool
    count: int
    out: int
    ids: tuple[str, ...]

    @property
    def state(self) -> str:
        """Why the place is empty: to get, or out; empty while something stands in it."""
        if self.count == 0:
            return tr("to get")
        return tr("out") if self.out >= self.count else ""

    @property
    def here(self) -> int:
        """How many stand in it."""
        return max(self.count - self.out, 0)


def in_places(found: Sequence[Tool]) -> list[DrawerPlace]:
    """Tools of one size and series together with their count, by true size."""
    places: dict[tuple[float, str], DrawerPlace] = {}
    for tool in sorted(found, key=lambda t: (t.diameter_mm, t.series, t.quantity == 0)):
        key = (round(tool.diameter_mm, 5), tool.series)
        place = places.get(key)
        if place is None:
            places[key] = DrawerPlace(tool, tool.quantity, tool.out, (tool.id,))
        else:
            both = (*place.ids, tool.id)
            places[key] = replace(place, count=place.count + tool.quantity, out=place.out + tool.out, ids=both)
    return list(places.values())


@dataclass(frozen=True)
class Drawer:
    """One drawer as shown: what is written on its front, and its places by size."""

    label: str
    places: tuple[DrawerPlace, ...]

    @property
    def span_mm(self) -> tuple[float, float]:
        """Its smallest and largest size."""
        return self.places[0].tool.diameter_mm, self.places[-1].tool.diameter_mm


def in_drawers(drills: Sequence[Tool], wanted: Sequence[Tool] = ()) -> list[Drawer]:
    """Drills by the drawer they are noted in, by size; those noted nowhere are laid out by size alone.

    `wanted` are to get: each is a gap in the drawer its size belongs to, unless that size is here. A drawer with
    more places than fit side by side is shown in parts.
    """
    noted: dict[str, list[Tool]] = {}
    for tool in drills:
        noted.setdefault(tool.drawer, []).append(tool)
    here = {round(tool.diameter_mm, 5) for tool in drills}
    for tool in {round(t.diameter_mm, 5): t for t in wanted if round(t.diameter_mm, 5) not in here}.values():
        label = min(noted, key=lambda name: _away(noted[name], tool.diameter_mm), default="")
        noted.setdefault(label, []).append(replace(tool, quantity=0, out=0))
    found, loose = [], len(noted) > 1
    for label, held in sorted(noted.items(), key=lambda item: _order(item[0])):
        places = in_places(held)
        parts = [places[i : i + PLACES] for i in range(0, len(places), PLACES)]
        for number, part in enumerate(parts):
            if label:
                name = label if len(parts) == 1 else f"{label}{chr(97 + number % 26)}"
            else:
                name = tr("loose {number}", number=number + 1) if loose else str(number + 1)
            found.append(Drawer(name, tuple(part)))
    return found


def _order(label: str) -> tuple[bool, list[tuple[int, str]]]:
    """Drawers in the order of their labels, figures as figures; what is noted nowhere comes last."""
    return not label, [(int(part), "") if part.isdigit() else (-1, part) for part in re.split(r"(\d+)", label)]


def _away(held: Sequence[Tool], size_mm: float) -> tuple[float, float]:
    """How far a size lies outside what a drawer holds, then how wide that is."""
    low, high = min(t.diameter_mm for t in held), max(t.diameter_mm for t in held)
    return max(low - size_mm, size_mm - high, 0.0), high - low


def stamped(tool: Tool) -> str:
    """A size as stamped on the shank."""
    return localized(tool.designation.removesuffix(" mm").removesuffix(" in").replace("letter ", ""))


def span_words(places: Sequence[DrawerPlace], unit: str) -> str:
    """From the smallest to the largest of a drawer."""
    first, last = places[0].tool.diameter_mm, places[-1].tool.diameter_mm
    return tr("{first} to {last} {unit}", first=fixed(first, unit, 1, 3), last=fixed(last, unit, 1, 3), unit=unit)


def tally(places: Sequence[DrawerPlace], *, whole: bool) -> str:
    """What a drawer's front says: gaps where there are any, else its sizes; all of it for the open one."""
    sizes = tr("{count} sizes", count=len(places)) if len(places) > 1 else tr("1 size")
    out, gaps = sum(p.state == tr("out") for p in places), sum(p.state == tr("to get") for p in places)
    doubled = sum(p.count > 1 for p in places)
    if not whole:
        return trn("{out} gap", "{out} gaps", out + gaps, out=out + gaps) if out + gaps else sizes
    parts = [sizes]
    for number, word in ((out, tr("out")), (gaps, tr("to get")), (doubled, tr("doubled"))):
        if number:
            parts.append(f"{number} {word}")
    return ", ".join(parts)


class ShutDrawer(Pressable):
    """A drawer shut: its span, and a bar for each place as wide as the drill; outlined where it is a gap."""

    def __init__(self, drawer: Drawer, unit: str) -> None:
        self.label, self.places, self.unit = drawer.label, drawer.places, unit
        words = tr(
            "Drawer {label}, {span_words}, {tally}, open it",
            label=self.label,
            span_words=span_words(self.places, unit),
            tally=tally(self.places, whole=True),
        )
        super().__init__(words)
        self.setFixedHeight(SHUT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A front with bars and a pull."""
        painter = smooth(self)
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.HI if self.hovered else theme.LO)
        painter.setPen(QPen(theme.INK2, 1))
        painter.drawRect(QRectF(0.5, 0.5, w - 1, h - 1))
        write(painter, QPointF(14, 28), self.label, 16, True, color=theme.INK)
        after = 14 + max(32, painter.fontMetrics().horizontalAdvance(self.label) + 12)
        write(painter, QPointF(after, 28), span_words(self.places, self.unit), 15)
        left, right = 200.0, w - 150.0
        pitch = (right - left) / PLACES
        for index, place in enumerate(self.places):
            wide = min(max(0.55 * place.tool.diameter_mm, 1.5), 0.7 * pitch)
            x = left + (index + 0.5) * pitch
            if place.state:
                painter.setPen(QPen(theme.INK, 1))
                painter.drawRect(QRectF(x - max(wide, 3) / 2, 10, max(wide, 3), h - 20))
                continue
            for k in range(min(place.here, 2)):
                painter.fillRect(QRectF(x - wide / 2 + k * (wide + 1.5), 10, wide, h - 20), theme.FLUTE)
        painter.setFont(theme.font(14))
        painter.setPen(theme.INK2)
        box = QRectF(w - 144, 0, 88, h)
        flags = RIGHT
        painter.drawText(box, flags, tally(self.places, whole=False))
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawRect(QRectF(w - 46, h / 2 - 7, 30, 14))
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class PlaceButton(Pressable):
    """One place of the open drawer: the drills tip up, their name; a dashed outline where it is empty."""

    def __init__(self, place: DrawerPlace, parent: QWidget) -> None:
        super().__init__(f"{place.tool.name}, {place.state or tr('{here} here', here=place.here)}", parent)
        self.place, self.tool = place, place.tool
        self.one_of_several()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows are the drawer's."""
        if event is not None and event.key() in ARROWS:
            event.ignore()
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The drills in their slot; brass behind them when chosen or likely."""
        painter = smooth(self)
        w, h = self.width(), self.height()
        if self.isChecked():
            painter.fillRect(self.rect(), theme.BRASS)
        elif self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        rail = h - 66.0
        high = min(rail - 8, 70 + 4.5 * self.tool.diameter_mm)
        abreast = min(max(self.place.here, 1), 3)
        scale = min(
            SIDE_BY_SIDE[abreast], 0.62 * w / (self.tool.diameter_mm * (1 if abreast == 1 else 1.1 * abreast))
        )
        shape = tools.outline(self.tool, "drill", high / scale, small=True)
        pitch = self.tool.diameter_mm * scale + 2
        for k in range(abreast):
            painter.save()
            painter.translate(w / 2 + (k - (abreast - 1) / 2) * pitch, rail - high)
            painter.rotate(90)
            if self.place.state:
                tools.paint_missing(painter, shape, QPointF(0, 0), scale, theme.INK)
            else:
                tools.paint(painter, shape, QPointF(0, 0), scale, theme.STEEL, theme.FLUTE)
            painter.restore()
        painter.fillRect(QRectF(0, rail, w, 4), theme.INK2)
        painter.setPen(theme.INK)
        self._name(painter, rail + 6, w)
        note = self.place.state or (
            f"×{self.place.count}" if self.place.count > 1 else ("stub" if self.tool.is_stub else "")
        )
        if note:
            write(
                painter,
                QRectF(-6, h - 20, w + 12, 18),
                note,
                12,
                self.place.count > 1 or bool(self.place.state),
                flags=CENTER,
            )
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))

    def _name(self, painter: QPainter, top: float, w: float) -> None:
        """Fractions stacked, as stamped; anything else on one line."""
        text = stamped(self.tool)
        bold = self.isChecked()
        if "/" not in text:
            write(painter, QRectF(-6, top + 6, w + 12, 22), text, 14, bold, flags=CENTER)
            return
        over, _, under = text.partition("/")
        write(painter, QRectF(-6, top, w + 12, 18), over, 13, bold, flags=CENTER)
        painter.setPen(QPen(theme.INK, 1.2))
        painter.drawLine(QPointF(w / 2 - 9, top + 19), QPointF(w / 2 + 9, top + 19))
        painter.drawText(QRectF(-6, top + 20, w + 12, 18), CENTER, under)


class OpenDrawer(QWidget):
    """A drawer open: its head, and a place for every size."""

    chosen = pyqtSignal(object)

    def __init__(self, drawer: Drawer, unit: str) -> None:
        super().__init__()
        self.label, self.places, self.unit = drawer.label, drawer.places, unit
        self.setFixedHeight(OPEN)
        self.setAccessibleName(
            tr("Drawer {label}, {span_words}, open", label=self.label, span_words=span_words(self.places, unit))
        )
        self.buttons = [PlaceButton(place, self) for place in self.places]
        for button in self.buttons:
            button.clicked.connect(lambda _=False, b=button: self._choose(b))

    def _choose(self, button: PlaceButton) -> None:
        self.mark({button.tool.id})
        self.chosen.emit(button.tool)

    def mark(self, ids: set[str]) -> None:
        """Put brass behind some places."""
        for button in self.buttons:
            button.setChecked(not ids.isdisjoint(button.place.ids))

    def walk(self, step: int) -> bool:
        """Choose the place beside the one with the focus or chosen; False at the drawer's end."""
        marked = [i for i, b in enumerate(self.buttons) if b.hasFocus()] or [
            i for i, b in enumerate(self.buttons) if b.isChecked()
        ]
        wanted = marked[0] + step if marked else (0 if step > 0 else len(self.buttons) - 1)
        if not 0 <= wanted < len(self.buttons):
            return False
        self.buttons[wanted].setFocus()
        self._choose(self.buttons[wanted])
        return True

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Share the width."""
        pitch = (self.width() - 4) / PLACES
        for index, button in enumerate(self.buttons):
            left, right = round(2 + index * pitch), round(2 + (index + 1) * pitch)
            button.setGeometry(left, 38, right - left, OPEN - 40)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """An ink head over a lit tray."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.HI)
        painter.fillRect(QRectF(0, 0, self.width(), 38), theme.INK)
        painter.setPen(theme.HI)
        painter.setFont(theme.font(16, True))
        other = "in" if self.unit == "mm" else "mm"
        painter.drawText(QPointF(14, 25), f"{self.label}   {span_words(self.places, self.unit)}")
        write(painter, QPointF(240, 25), span_words(self.places, other), 14)
        box = QRectF(0, 0, self.width() - 14, 38)
        flags = RIGHT
        painter.drawText(box, flags, tally(self.places, whole=True))
        painter.setPen(QPen(theme.INK, 2))
        painter.drawRect(QRectF(1, 1, self.width() - 2, self.height() - 2))
