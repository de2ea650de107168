"""Drawings with their holes known, to try the reading of prints on: PDF by three ways, DXF of all versions.

Every drawing is made of a seed. Three hands write them: ``bench`` and ``other``, which the reading was tuned on,
and ``aside``, which writes in ways of its own and was only looked at afterwards. Sizes and parts are invented.
"""

from __future__ import annotations

import argparse
import json
import math
import os
import random
import sys
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
UNC = {"#8-32": 0.164, "#10-24": 0.19, "1/4-20": 0.25, "5/16-18": 0.3125, "3/8-16": 0.375, "1/2-13": 0.5}
METRIC = {"M4": 0.7, "M5": 0.8, "M6": 1.0, "M8": 1.25, "M10": 1.5, "M12": 1.75, "M16": 2.0}
FRACTIONS = ("3/16", "7/32", "1/4", "9/32", "5/16", "11/32", "13/32", "7/16", "9/16", "5/8", "11/16", "1-1/8")


@dataclass
class Hole:
    """What one callout asks for; lengths in mm, None where it does not say."""

    kind: str = "plain"
    count: int = 1
    diameter: float | None = None
    limits: tuple[float, float] | None = None
    tolerance: str | None = None
    depth: float | None = None
    through: bool = False
    thread: str | None = None
    thread_depth: float | None = None
    counterbore: float | None = None
    counterbore_depth: float | None = None
    countersink: float | None = None
    at: tuple[float, float] = (0.0, 0.0)


@dataclass
class Text:
    """Words on a drawing: lines from the top, each of pieces; a pair is one figure over another."""

    lines: list[list[str | tuple[str, str]]]
    x: float
    y: float
    size: float = 9.0
    angle: float = 0.0
    hole: Hole | None = None


@dataclass
class Plot:
    """A drawing before it is drawn: its texts, lines and circles, y up, in points."""

    width: float
    height: float
    texts: list[Text] = field(default_factory=list)
    lines: list[tuple[float, float, float, float]] = field(default_factory=list)
    circles: list[tuple[float, float, float]] = field(default_factory=list)
    unit: str = "mm"


class Hand:
    """One way of writing callouts."""

    def __init__(self, dice: random.Random, inch: bool, other: bool) -> None:
        self.dice, self.inch, self.other = dice, inch, other
        self.dia = dice.choice(("Ø", "⌀") if not other else ("⌀", "%dia", "Ø "))
        self.lower = other and dice.random() < 0.5
        self.deep = dice.choice(("↧", "DEEP") if not other else ("↧ ", "DP", "x"))
        self.bore = dice.choice(("⌴", "C'BORE") if not other else ("⌴ ", "CBORE", "COUNTERBORE"))
        self.sink = dice.choice(("⌵", "CSK") if not other else ("⌵ ", "C'SINK", "CSK"))
        self.thru = dice.choice(("THRU", "THRU ALL") if not other else ("THROUGH", "THRU"))
        self.counts = dice.choice(("{n}X ", "{n}x ") if not other else ("{n} X ", "({n}) ", "{n}- "))
        self.stacks = dice.random() < (0.6 if not other else 0.8)

    def size(self, least: float, most: float) -> tuple[str, float]:
        """A size as written, and in mm."""
        if self.inch:
            if self.dice.random() < 0.3:
                text = self.dice.choice(FRACTIONS)
                whole, _, part = text.rpartition("-")
                top, bottom = part.split("/")
                return text, 25.4 * ((int(whole) if whole else 0) + int(top) / int(bottom))
            value = round(self.dice.uniform(least, most) / 25.4, 3)
            return f"{value:.3f}".lstrip("0"), 25.4 * value
        value = self.dice.choice((round(self.dice.uniform(least, most)), round(self.dice.uniform(least, most), 1)))
        return f"{value:g}", float(value)

    def length(self, least: float, most: float) -> tuple[str, float]:
        """A depth as written, and in mm."""
        if self.inch:
            value = round(self.dice.uniform(least, most) / 25.4, 2)
            return f"{value:.2f}".lstrip("0"), 25.4 * value
        value = round(self.dice.uniform(least, most))
        return f"{value:g}", float(value)

    def said(self, diameter: str) -> str:
        """A diameter with its sign."""
        return f"{diameter} DIA" if self.dia == "%dia" else self.dia + diameter

    def begin(self, hole: Hole, line: list[Any]) -> list[Any]:
        """The count before a line, where there are several."""
        hole.count = self.dice.choice((1, 1, 2, 3, 4, 6, 8))
        return [self.counts.format(n=hole.count), *line] if hole.count > 1 else line

    def after(self, hole: Hole, most: float = 40.0) -> str:
        """Through, or how deep."""
        if self.dice.random() < 0.6:
            hole.through = True
            return f" {self.thru}"
        text, mm = self.length(6, most)
        hole.depth = mm
        return f" {self._deep(text)}"

    def _deep(self, text: str) -> str:
        if self.deep in ("DEEP", "DP"):
            return f"{text} {self.deep}"
        return f"x {text} DEEP" if self.deep == "x" else f"{self.deep}{text}"

    def tolerance(self, hole: Hole, text: str) -> list[Any]:
        """A size with what it may be out by, in one of the usual ways."""
        size = hole.diameter or 0.0
        hole.kind = "sized"
        how = self.dice.choice(
            ("code", "stack", "both", "limits") if not self.inch else ("stack", "both", "limits")
        )
        unit = 25.4 if self.inch else 1.0
        step = 0.0005 if self.inch else 0.01
        if how == "code" and size >= 3:
            hole.tolerance = self.dice.choice(("H7", "H8", "H9", "F7", "P7"))
            return [f"{self.said(text)} {hole.tolerance}"]
        if "/" in text:
            how = "both"
        if how == "both":
            half = step * self.dice.choice((1, 2, 5))
            hole.limits = (size - half * unit, size + half * unit)
            return [f"{self.said(text)} ±{self._figure(half)}"]
        up, down = step * self.dice.choice((1, 2, 3)), step * self.dice.choice((0, 0, 1))
        hole.limits = (size - down * unit, size + up * unit)
        if how == "limits":
            places = 4 if self.inch else 3
            low, high = (f"{z / unit:.{places}f}" for z in hole.limits)
            if self.inch:
                low, high = low.lstrip("0"), high.lstrip("0")
            hole.limits = (float(low) * unit, float(high) * unit)
            hole.diameter = hole.limits[0]
            sign = "" if self.dia == "%dia" else self.dia
            tail = " DIA" if self.dia == "%dia" else ""
            return [sign, (high, low), tail] if self.stacks else [f"{sign}{low}-{high}{tail}"]
        high, low = f"+{self._figure(up)}", f"-{self._figure(down)}" if down else "0"
        return [self.said(text), (high, low)] if self.stacks else [f"{self.said(text)} {high}/{low}"]

    def _figure(self, value: float) -> str:
        return f"{value:.4f}".lstrip("0") if self.inch else f"{value:g}"

    def thread(self, hole: Hole) -> str:
        """A thread with its class."""
        hole.kind = "tapped"
        if self.inch:
            name = self.dice.choice([*UNC])
            hole.thread = f"{name} UNC"
            return f"{name} UNC-2B" if not self.other else f"{name}UNC - 2B"
        name = self.dice.choice([*METRIC])
        hole.thread = f"{name}x{METRIC[name]:g}"
        pitch = f"x{METRIC[name]:g}" if self.dice.random() < 0.5 else ""
        return f"{name}{pitch}-6H" if not self.other else f"{name}{pitch} - 6H"

    def callout(self) -> tuple[list[list[Any]], Hole]:
        """One callout's lines, and what they ask for."""
        hole, kind = (
            Hole(),
            self.dice.choice(("plain", "plain", "sized", "sized", "tapped", "tapped", "bore", "sink")),
        )
        if kind == "tapped":
            thread = self.thread(hole)
            if self.dice.random() < 0.4:
                hole.through = True
                return [self.begin(hole, [f"{thread} {self.thru}"])], hole
            text, hole.thread_depth = self.length(8, 24)
            if self.dice.random() < 0.5 or hole.thread is None:
                return [self.begin(hole, [f"{thread} {self._deep(text)}"])], hole
            deeper = f"{(hole.thread_depth + 6) / (25.4 if self.inch else 1):.{2 if self.inch else 0}f}"
            deeper = deeper.lstrip("0") if self.inch else deeper
            hole.depth = float(deeper) * (25.4 if self.inch else 1)
            name = thread.split("x")[0].split("-6H")[0].split(" -")[0].strip()
            core = 0.8 * UNC[hole.thread.removesuffix(" UNC")] if self.inch else float(name[1:]) - METRIC[name]
            drill = f"{core:.3f}".lstrip("0") if self.inch else f"{core:.1f}"
            first = [f"{self.said(drill)} {self._deep(deeper)}"]
            return [self.begin(hole, first), [f"{thread} {self._deep(text)}"]], hole
        text, hole.diameter = self.size(3.5, 24)
        if kind == "sized":
            line = [*self.tolerance(hole, text), self.after(hole)]
            return [self.begin(hole, line)], hole
        if kind == "plain":
            return [self.begin(hole, [self.said(text) + self.after(hole)])], hole
        hole.through = True
        wide = (hole.diameter or 0.0) * self.dice.uniform(1.5, 1.9)
        scale, places = (25.4, 3) if self.inch else (1.0, 1)
        across = f"{wide / scale:.{places}f}"
        across = across.lstrip("0") if self.inch else f"{float(across):g}"
        first = [f"{self.said(text)} {self.thru}"]
        if kind == "bore":
            hole.kind, hole.counterbore = "counterbored", float(across) * scale
            deep, hole.counterbore_depth = self.length(4, 10)
            second = [f"{self.bore} {self.said(across)} {self._deep(deep)}"]
        else:
            hole.kind, hole.countersink = "countersunk", float(across) * scale
            second = [f"{self.sink} {self.said(across)} X {82 if self.inch else 90}°"]
        one_line = self.dice.random() < 0.3
        return [self.begin(hole, [*first, " ", *second])] if one_line else [self.begin(hole, first), second], hole


class AsideHand(Hand):
    """A third way, never tuned on: words of older prints, figures over one another, frames of position."""

    def callout(self) -> tuple[list[list[Any]], Hole]:
        """One callout's lines, and what they ask for."""
        hole = Hole()
        return getattr(self, "_" + self.dice.choice(WAYS_ASIDE))(hole), hole

    def _many(self, hole: Hole) -> str:
        hole.count = self.dice.choice((1, 2, 3, 4, 6))
        if hole.count == 1:
            return ""
        return self.dice.choice(
            (" {n} HOLES", ", {n} PLACES", " ({n}X)", ", {n} PLCS", " - {n} HOLES EQ SP")
        ).format(n=hole.count)

    def _through_or(self, hole: Hole) -> str:
        if self.dice.random() < 0.5:
            hole.through = True
            return self.dice.choice((" THRU", " THRU ALL", " THROUGH"))
        text, hole.depth = self.length(6, 30)
        return self.dice.choice((f" x {text} DEEP", f" {text} DP", f" ↧ {text}"))

    def _drilled(self, hole: Hole) -> list[list[Any]]:
        text, hole.diameter = self.size(3.5, 20)
        words = self.dice.choice((f"DRILL {self.said(text)}", f"{self.said(text)} DRILL"))
        return [[words + self._through_or(hole) + self._many(hole)]]

    def _stacked_fraction(self, hole: Hole) -> list[list[Any]]:
        text = self.dice.choice(FRACTIONS)
        whole, _, part = text.rpartition("-")
        top, bottom = part.split("/")
        hole.diameter = 25.4 * ((int(whole) if whole else 0) + int(top) / int(bottom))
        return [[self.dia.replace("%dia", "Ø") + whole, (top, bottom), self._through_or(hole) + self._many(hole)]]

    def _bored(self, hole: Hole) -> list[list[Any]]:
        text, hole.diameter = self.size(6, 20)
        hole.kind, hole.through = "counterbored", True
        scale, places = (25.4, 3) if self.inch else (1.0, 1)
        wide = f"{hole.diameter * 1.7 / scale:.{places}f}".lstrip("0")
        deep, hole.counterbore_depth = self.length(4, 9)
        hole.counterbore = float(wide) * scale
        dia = self.dia.replace("%dia", "Ø")
        lines: list[list[Any]] = [[f"{dia}{text} THRU"], [f"{self.bore} {dia}{wide} ↧ {deep}"]]
        many = self._many(hole)
        return [*lines, [many.strip(" ,-")]] if many else lines

    def _reamed(self, hole: Hole) -> list[list[Any]]:
        text, hole.diameter = self.size(4, 20)
        while "/" in text:
            text, hole.diameter = self.size(4, 20)
        line = self.tolerance(hole, text)
        after = self._through_or(hole)
        frame: list[list[Any]] = (
            [["⌖ Ø.005 A B" if self.inch else "⌖ Ø0.1 A B C"]] if self.dice.random() < 0.3 else []
        )
        return [["REAM ", *line, after + self._many(hole)], *frame]

    def _tapped(self, hole: Hole) -> list[list[Any]]:
        thread = self.thread(hole)
        if self.dice.random() < 0.5:
            hole.through = True
            return [[f"DRILL & TAP {thread} THRU" + self._many(hole)]]
        text, hole.thread_depth = self.length(8, 24)
        return [[f"TAP {thread}"], [f"{text} DEEP" + self._many(hole)]]

    def _two_lines(self, hole: Hole) -> list[list[Any]]:
        text, hole.diameter = self.size(4, 20)
        hole.count = self.dice.choice((2, 3, 4, 6))
        dia = self.dia.replace("%dia", "Ø")
        return [[f"{hole.count}X"], [dia + text + self._through_or(hole)]]


WAYS_ASIDE = ("drilled", "stacked_fraction", "bored", "reamed", "reamed", "tapped", "tapped", "two_lines")
HANDS: dict[str, type[Hand]] = {"bench": Hand, "other": Hand, "aside": AsideHand}


def plot_of(seed: int, hand_name: str) -> Plot:
    """A drawing of a seed, by the one hand or the other."""
    dice, other = random.Random(f"{hand_name} {seed}"), hand_name != "bench"
    inch = dice.random() < 0.45
    plot = Plot(842, 595, unit="in" if inch else "mm")
    hand = HANDS[hand_name](dice, inch, other)
    cells = [(70 + 320 * column, 110 + 44 * row) for column in range(2) for row in range(10)]
    dice.shuffle(cells)
    # Turned words have a strip of their own at the right.
    turned = (
        [(90, 722, 120), (90, 766, 120), (90, 800, 300)]
        if not other
        else [(270, 730, 330), (30, 700, 380), (-45, 690, 300)]
    )
    for x, y in cells[: dice.randint(3, 9)]:
        lines, hole = hand.callout()
        angle = 0
        if turned and dice.random() < 0.3:
            angle, x, y = turned.pop(0)
        plot.texts.append(Text(lines, x, y, dice.choice((7, 8, 9)), angle, hole))
        plot.circles.append((x - 30, y - 6, 5))
        plot.lines.append((x - 26, y - 4, x - 3, y + 2))
    for x, y in cells[9:15]:  # what is no hole
        text = dice.choice(
            (
                "R5",
                "2X 45°",
                "127.5",
                "Ø40 h6",
                "(Ø22)",
                "M8x25 SCREW",
                "Ø60 B.C.",
                "64",
                "A",
                "R.25",
                "1.250",
                "Ø30 g6",
            )
        )
        plot.texts.append(Text([[text]], x, y, dice.choice((7, 8, 9)), 0))
    unit_note = "INCHES" if inch else "MILLIMETERS"
    general = ["UNLESS OTHERWISE SPECIFIED:", f"DIMENSIONS ARE IN {unit_note}"]
    if not inch:
        general.append("GENERAL TOLERANCES ISO 2768-mK")
    general.append("BREAK ALL SHARP EDGES 0.2 MAX")
    plot.texts.append(Text([[line] for line in general], 40, 70, 6))
    plot.texts.append(
        Text([["MATERIAL: " + dice.choice(("1018 STEEL", "4140", "6061-T6 ALUMINUM", "C45"))]], 560, 60, 7)
    )
    plot.texts.append(Text([["LEATHER SKIVER ARM"], ["DWG 4471  REV B  SCALE 1:1"]], 560, 44, 7))
    plot.lines += [(30, 30, 812, 30), (812, 30, 812, 565), (812, 565, 30, 565), (30, 565, 30, 30)]
    for text in plot.texts:
        if text.hole is not None:
            text.hole.at = (text.x, text.y)
    return plot


Measure = Callable[[str, float], float]
Draw = Callable[[str, float, float, float], None]


def set_text(text: Text, wide: Measure, draw: Draw, pitch: float = 1.35, small: float = 0.6) -> None:
    """Lay a text out piece by piece along its own line; `draw` gets words, place along and up, and size."""
    for number, line in enumerate(text.lines):
        along, level = 0.0, -number * pitch * text.size
        for piece in line:
            if isinstance(piece, tuple):
                signed = any(part[:1] in "+-" for part in piece)
                size = text.size * (small if signed else 0.9)
                up, down = (0.5, -0.18) if signed else (0.62, -0.55)
                for part, at in zip(piece, (up, down), strict=True):
                    draw(part, along + 0.1 * text.size, level + at * text.size, size)
                along += max(wide(part, size) for part in piece) + 0.25 * text.size
            elif piece:
                draw(piece, along, level, text.size)
                along += wide(piece, text.size)


# -- PDF -----------------------------------------------------------------------------------------------------


def by_reportlab(plot: Plot, path: Path, dice: random.Random) -> None:
    """With the document library: a standard font or an embedded one, turned pages, odd boxes."""
    import reportlab
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.pdfgen.canvas import Canvas

    font = dice.choice(("Helvetica", "Courier", "Times-Roman", "Embedded", "Embedded"))
    signs = any(c in str(t.lines) for t in plot.texts for c in "⌀↧⌴⌵")
    if signs:
        font = "Embedded"
    if font == "Embedded":
        pdfmetrics.registerFont(TTFont("Embedded", str(_font_with_signs())))
    assert reportlab.Version
    canvas = Canvas(str(path), pagesize=(plot.width, plot.height), pageCompression=dice.randint(0, 1))
    turned = dice.choice((0, 0, 0, 90, 270))
    canvas.setLineWidth(0.5)
    for line in plot.lines:
        canvas.line(*line)
    for x, y, r in plot.circles:
        canvas.circle(x, y, r)

    def wide(words: str, size: float) -> float:
        return float(canvas.stringWidth(words, font, size))

    for text in plot.texts:
        canvas.saveState()
        canvas.translate(text.x, text.y)
        canvas.rotate(text.angle)

        def draw(words: str, along: float, up: float, size: float) -> None:
            canvas.setFont(font, size)
            canvas.drawString(along, up, words)

        set_text(text, wide, draw)
        canvas.restoreState()
    canvas.save()
    if turned:
        import pypdfium2

        document = pypdfium2.PdfDocument(path.read_bytes())
        document[0].set_rotation(turned)
        document.save(str(path))
        for text in plot.texts:
            if text.hole is not None:
                x, y = text.hole.at
                text.hole.at = (y, plot.width - x) if turned == 90 else (plot.height - y, x)


def _draw_signs(font: Any) -> None:
    """Counterbore and position as they are drawn, for fonts that have neither."""
    from fontTools.pens.ttGlyphPen import TTGlyphPen

    def bars(*areas: tuple[int, int, int, int]) -> Any:
        pen = TTGlyphPen(None)
        for left, low, right, top in areas:
            pen.moveTo((left, low))
            for point in ((left, top), (right, top), (right, low)):
                pen.lineTo(point)
            pen.closePath()
        return pen.glyph()

    shapes = {
        "⌴": bars((150, 0, 290, 900), (150, 0, 1150, 140), (1010, 0, 1150, 900)),
        "⌖": bars((600, 100, 700, 1300), (50, 650, 1250, 750), (300, 400, 1000, 480), (300, 920, 1000, 1000),
                  (300, 400, 380, 1000), (920, 400, 1000, 1000)),
    }  # fmt: skip
    for sign, glyph in shapes.items():
        name = f"own{ord(sign)}"
        font["glyf"].glyphs[name] = glyph
        font["hmtx"].metrics[name] = (1320, 50)
        for table in font["cmap"].tables:
            if table.isUnicode():
                table.cmap[ord(sign)] = name


@cache
def _font_with_signs() -> Path:
    """A font that has every sign: the plotting library's, with shapes of its own for those it lacks."""
    import tempfile

    import matplotlib
    from fontTools.ttLib import TTFont

    font = TTFont(Path(matplotlib.get_data_path()) / "fonts" / "ttf" / "DejaVuSans.ttf")
    known = font.getBestCmap()
    for table in font["cmap"].tables:
        if table.isUnicode():
            for sign, like in (("⌴", "U"), ("⌵", "V"), ("↧", "T"), ("⌀", "Ø")):
                table.cmap.setdefault(ord(sign), f"own{ord(sign)}")
                if f"own{ord(sign)}" not in font["glyf"].glyphs:
                    font["glyf"].glyphs[f"own{ord(sign)}"] = font["glyf"][known[ord(like)]]
                    font["hmtx"].metrics[f"own{ord(sign)}"] = font["hmtx"].metrics[known[ord(like)]]
    _draw_signs(font)
    font.setGlyphOrder([*dict.fromkeys([*font.getGlyphOrder(), *font["glyf"].glyphs])])
    for record in font["name"].names:
        if record.nameID in (1, 4, 6, 16):
            record.string = "Drafting"
    path = Path(tempfile.mkdtemp()) / "drafting.ttf"
    font.save(path)
    return path


def by_toolkit(plot: Plot, path: Path, dice: random.Random) -> None:
    """Printed by the window's toolkit: fonts in parts, its own codes."""
    from PyQt6.QtCore import QMarginsF, QPointF, QSizeF
    from PyQt6.QtGui import QFont, QFontDatabase, QFontMetricsF, QPageSize, QPainter, QPdfWriter
    from PyQt6.QtWidgets import QApplication

    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    global _application
    _application = QApplication.instance() or QApplication([])
    QFontDatabase.addApplicationFont(str(_font_with_signs()))
    writer = QPdfWriter(str(path))
    writer.setPageSize(QPageSize(QSizeF(plot.width, plot.height), QPageSize.Unit.Point))
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    writer.setResolution(720)
    painter = QPainter(writer)
    painter.scale(10, 10)
    family = "Drafting"

    def font_of(size: float) -> QFont:
        font = QFont(family)
        font.setPixelSize(round(size * 10))
        return font

    def wide(words: str, size: float) -> float:
        return QFontMetricsF(font_of(size)).horizontalAdvance(words) / 10

    for x0, y0, x1, y1 in plot.lines:
        painter.drawLine(QPointF(x0, plot.height - y0), QPointF(x1, plot.height - y1))
    for x, y, r in plot.circles:
        painter.drawEllipse(QPointF(x, plot.height - y), r, r)
    for text in plot.texts:
        painter.save()
        painter.translate(text.x, plot.height - text.y)
        painter.rotate(-text.angle)
        painter.scale(0.1, 0.1)

        def draw(words: str, along: float, up: float, size: float) -> None:
            painter.setFont(font_of(size))
            painter.drawText(QPointF(along * 10, -up * 10), words)

        set_text(text, wide, draw)
        painter.restore()
    painter.end()


_application: Any = None


def by_matplotlib(plot: Plot, path: Path, dice: random.Random) -> None:
    """By the plotting library: text as shapes of a font, word for word."""
    import matplotlib as mpl

    mpl.use("pdf")
    mpl.rcParams["pdf.fonttype"] = dice.choice((3, 42))
    from matplotlib.figure import Figure
    from matplotlib.font_manager import FontProperties
    from matplotlib.patches import Circle
    from matplotlib.textpath import TextPath

    figure = Figure(figsize=(plot.width / 72, plot.height / 72))
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_xlim(0, plot.width)
    axes.set_ylim(0, plot.height)
    axes.axis("off")
    known = FontProperties(fname=str(_font_with_signs()))
    for x0, y0, x1, y1 in plot.lines:
        axes.plot([x0, x1], [y0, y1], color="k", lw=0.4)
    for x, y, r in plot.circles:
        axes.add_patch(Circle((x, y), r, fill=False, lw=0.5))

    def wide(words: str, size: float) -> float:
        if not words.strip():
            return 0.32 * size * len(words)
        box = TextPath((0, 0), words.rstrip() + ".", size=size, prop=known).get_extents()
        return float(box.x1) + 0.32 * size * (len(words) - len(words.rstrip()))

    for text in plot.texts:
        c, s = math.cos(math.radians(text.angle)), math.sin(math.radians(text.angle))

        def draw(
            words: str, along: float, up: float, size: float, text: Text = text, c: float = c, s: float = s
        ) -> None:
            known.set_size(size)
            x, y = text.x + along * c - up * s, text.y + along * s + up * c
            axes.text(
                x, y, words, rotation=text.angle, rotation_mode="anchor",
                va="baseline", ha="left", fontproperties=known.copy(),
            )  # fmt: skip

        set_text(text, wide, draw)
    figure.savefig(path)


PDF_WAYS = (by_reportlab, by_toolkit, by_matplotlib)


def make_pdf(folder: Path, count: int, hand: str) -> None:
    """Drawings as PDF and beside each what it asks for."""
    for seed in range(count):
        plot = plot_of(seed, hand)
        dice = random.Random(f"way {seed} {hand}")
        path = folder / f"{hand}_{seed:03}.pdf"
        PDF_WAYS[seed % 3](plot, path, dice)
        keep_truth(path, plot)


# -- DXF -----------------------------------------------------------------------------------------------------

VERSIONS = ("R12", "R2000", "R2004", "R2007", "R2010", "R2013", "R2018")


def coded(lines: list[list[Any]], dice: random.Random, note: bool) -> list[str]:
    """Lines as the file's own codes have them: the sign of a diameter, figures over one another."""
    sign = dice.choice(("%%c", "\\U+2205", "Ø", "{\\Fgdt|c0;n}") if note else ("%%c", "%%C", "Ø"))
    out = []
    for line in lines:
        text = ""
        for piece in line:
            if isinstance(piece, tuple):
                text += (
                    f" \\S{piece[0]}^{dice.choice((' ', ''))}{piece[1]};" if note else f" {piece[0]}/{piece[1]}"
                )
            else:
                text += piece
        for old in ("⌀", "Ø"):
            text = text.replace(old, sign)
        if note and dice.random() < 0.5:
            for old, letter in (("↧", "x"), ("⌴", "v"), ("⌵", "w")):
                text = text.replace(old, f"{{\\Fgdt;{letter}}}")
        text = text.replace("±", "%%p").replace("°", "%%d")
        out.append(f"{{\\H1.0x;{text}}}" if note and dice.random() < 0.3 else text)
    return out


def dxf_of(seed: int, hand_name: str, path: Path) -> None:
    """A drawing of a seed with circles, leaders and words, and beside it what it asks for."""
    import ezdxf

    dice = random.Random(f"dxf {seed} {hand_name}")
    inch = dice.random() < 0.4
    hand = HANDS[hand_name](dice, inch, hand_name != "bench")
    if hand.dia == "%dia":
        hand.dia = "Ø"
    version = VERSIONS[seed % len(VERSIONS)]
    document = ezdxf.new(version, setup=True)
    document.header["$INSUNITS"] = 1 if inch else 4
    scale = 25.4 if inch else 1.0
    space, height = document.modelspace(), 3.0 / scale
    plot = Plot(0, 0, unit="in" if inch else "mm")
    signs = version == "R12"
    cells = [(150 * column / scale, 60 * row / scale) for column in range(4) for row in range(5)]
    dice.shuffle(cells)
    sizes: set[float] = set()
    for number, (x, y) in enumerate(cells[: dice.randint(3, 10)]):
        for _ in range(30):
            lines, hole = hand.callout()
            size = hole.diameter or _major(hole)
            if all(abs(size - known) > 0.06 * size for known in sizes):
                break
        sizes |= {size, hole.counterbore or size, hole.countersink or size}
        if signs:
            lines = [
                [
                    p
                    if isinstance(p, tuple)
                    else p.replace("↧", "DEEP ").replace("⌴", "CBORE").replace("⌵", "CSK")
                    for p in line
                ]
                for line in lines
            ]
        for k in range(hole.count):
            at = (x + (k % 4) * 32 / scale, y - 20 / scale - (k // 4) * 14 / scale)
            space.add_circle(at, size / 2 / scale)
            if hole.counterbore or hole.countersink:
                space.add_circle(at, (hole.counterbore or hole.countersink or 0) / 2 / scale)
        tip = (x + size / 2 / scale * math.cos(2.2), y - 20 / scale + size / 2 / scale * math.sin(2.2))
        text_at = (x + 22 / scale, y + 8 / scale)
        ways = ("text", "text") if signs else ("text", "note", "note", "multileader", "block")
        _annotate(document, space, dice.choice(ways), lines, dice, text_at, tip, height, number)
        hole.at = text_at
        plot.texts.append(Text(lines, *text_at, hole=hole))
    if hand_name == "aside":
        for column in range(3):
            plot.texts.append(_dimensioned(space, dice, inch, (150 * column / scale, -160 / scale), version))
    space.add_circle((-60 / scale, -60 / scale), 9.77 / scale)  # one that no callout speaks of
    note = "INCHES" if inch else "MILLIMETERS"
    space.add_text(f"DIMENSIONS ARE IN {note}", height=height).set_placement((0, -80 / scale))
    space.add_text("R5", height=height).set_placement((-80 / scale, 10 / scale))
    document.saveas(path)
    keep_truth(path, plot)


def _dimensioned(space: Any, dice: random.Random, inch: bool, at: tuple[float, float], version: str) -> Text:
    """A hole told by a dimension of its diameter: by its style's tolerance or limits, or by words around it."""
    scale, places = (25.4, 3) if inch else (1.0, 2)
    size = round(dice.uniform(30, 44) / scale, places)
    how = dice.choice(("plain", "both", "two", "limits")) if version != "R12" else "plain"
    step = 0.001 if inch else 0.02
    own: dict[str, Any] = {
        "dimtxt": 3 / scale,
        "dimdec": places,
        "dimtdec": places,
        "dimzin": 4 if inch else 0,
        "dimtad": 1,
        "dimlfac": 1.0,
    }
    hole = Hole(count=dice.choice((1, 2)), diameter=size * scale, through=True)
    if how != "plain":
        up, down = step * dice.choice((1, 2)), step * dice.choice((1, 2))
        down = up if how == "both" else down
        hole.kind, hole.limits = "sized", ((size - down) * scale, (size + up) * scale)
        own |= {"dimtp": up, "dimtm": down, "dimlim" if how == "limits" else "dimtol": 1}
        if how == "limits":
            hole.diameter = hole.limits[0]
    for k in range(hole.count):
        space.add_circle((at[0] + 60 * k / scale, at[1]), size / 2)
    many = f"{hole.count}X " if hole.count > 1 else ""
    dimension = space.add_diameter_dim(
        center=at, radius=size / 2, angle=50, location=(at[0] + 30 / scale, at[1] + 40 / scale),
        text=f"{many}<> THRU", dimstyle="EZDXF", override=own,
    )  # fmt: skip
    dimension.render()
    middle = dimension.dimension.dxf.text_midpoint
    hole.at = (middle.x, middle.y)
    return Text([[]], *hole.at, hole=hole)


def _major(hole: Hole) -> float:
    name = (hole.thread or "").split(" ")[0].split("x")[0]
    return float(name[1:]) if name.startswith("M") else 25.4 * UNC[name]


def _annotate(
    document: Any, space: Any, way: str, lines: list[list[Any]], dice: random.Random,
    at: tuple[float, float], tip: tuple[float, float], height: float, number: int,
) -> None:  # fmt: skip
    """One callout with its leader, in one of the ways a file has them."""
    elbow = (at[0] - height, at[1] - height / 2)
    if way == "multileader":
        from ezdxf.math import Vec2
        from ezdxf.render.mleader import ConnectionSide

        builder = space.add_multileader_mtext("Standard")
        builder.set_content("\\P".join(coded(lines, dice, True)), char_height=height)
        builder.add_leader_line(ConnectionSide.left, [Vec2(tip)])
        builder.build(insert=Vec2(at[0], at[1]))
        return
    if way == "note":
        space.add_mtext(
            "\\P".join(coded(lines, dice, True)),
            dxfattribs={"insert": at, "char_height": height, "attachment_point": 1},
        )
        if dice.random() < 0.6:
            space.add_leader([tip, elbow])
        else:
            space.add_line(tip, elbow)
        return
    holder = space
    if way == "block":
        holder = document.blocks.new(f"NOTE{number}")
    for k, line in enumerate(coded(lines, dice, False)):
        place = (at[0], at[1] - height - k * 1.6 * height) if way != "block" else (0, -height - k * 1.6 * height)
        holder.add_text(line, height=height).set_placement(place)
    if way == "block":
        space.add_blockref(f"NOTE{number}", at)
    space.add_line(tip, elbow)


def keep_truth(path: Path, plot: Plot) -> None:
    """What a drawing asks for, beside it."""
    holes = [asdict(text.hole) for text in plot.texts if text.hole is not None]
    path.with_name(path.name + ".json").write_text(json.dumps({"unit": plot.unit, "holes": holes}, indent=1))


def main() -> int:
    """Make them."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--pdf", type=int, default=60)
    parser.add_argument("--dxf", type=int, default=40)
    parser.add_argument("--hand", choices=tuple(HANDS), default="bench")
    told = parser.parse_args()
    told.folder.mkdir(parents=True, exist_ok=True)
    make_pdf(told.folder, told.pdf, told.hand)
    for seed in range(told.dxf):
        dxf_of(seed, told.hand, told.folder / f"{told.hand}_{seed:03}.dxf")
    return 0


if __name__ == "__main__":
    sys.exit(main())
