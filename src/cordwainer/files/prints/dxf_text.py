"""Words of a DXF drawing: of texts, notes and dimensions, with formatting codes read and left out."""

from __future__ import annotations

import math
import re
from typing import Any

from cordwainer.core.prints.signs import of_font, plain
from cordwainer.core.prints.words import Run

WIDE, LINE_PITCH, MOST_TEXT = 0.72, 1.66, 4000
DEFAULT_HEIGHT = 2.5
LINEAR, ALIGNED, DIAMETER, RADIUS, ORDINATE = 0, 1, 3, 4, 6
ALONG_X = 64  # set in the kind of an ordinate along x
_STACK = re.compile(r"\\S([^;^#/\\]*)([\^#/])\s*([^;\\]*);")
_UNICODE = re.compile(r"\\U\+([0-9A-Fa-f]{4})")


def width_of(text: str, height: float, factor: float = 1.0) -> float:
    """About how wide a text is: drawing fonts are two thirds as wide as high."""
    return WIDE * height * factor * len(text)


def font_of(entity: Any) -> str:
    """The font file of an entity's text style, empty where it has none."""
    document = entity.doc
    try:
        style = document.styles.get(entity.dxf.get("style", "Standard"))
        return f"{style.dxf.get('font', '')} {style.dxf.get('bigfont', '')}"
    except Exception:  # a style that is not there, or not whole, is no font of signs
        return ""


def said(text: str, font: str) -> str:
    """A plain text with its codes read: ``%%c``, ``\\U+2205``, letters of a symbol font."""
    text = _UNICODE.sub(lambda m: chr(int(m[1], 16)), text[:MOST_TEXT])
    return plain("".join(of_font(c, font) for c in text))


def note_lines(text: str, font: str = "") -> list[str]:
    """The lines of a formatted note.

    >>> note_lines(r"{\\Fgdt|c0;n}8.5 \\S+0.02^-0.01; THRU\\P3X \\H0.7x;M6")
    ['Ø8.5 +0.02/-0.01 THRU', '3X M6']
    """
    from ezdxf.tools.text import MTextParser, TokenType

    text = _UNICODE.sub(lambda m: chr(int(m[1], 16)), text[: MOST_TEXT * 2])
    text = _STACK.sub(lambda m: f"\\S{m[1]}{m[2]} {m[3]};", text)
    lines = [""]
    for token in MTextParser(text):
        own = f"{token.ctx.font_face.family} {token.ctx.font_face.filename}" if token.ctx is not None else ""
        if token.type == TokenType.WORD:
            lines[-1] += "".join(of_font(c, own if own.strip(" ") != "sans-serif" else font) for c in token.data)
        elif token.type == TokenType.STACK:
            lines[-1] = _with_stack(lines[-1], *(part.strip() for part in token.data))
        elif token.type in (TokenType.NEW_PARAGRAPH, TokenType.NEW_COLUMN, TokenType.WRAP_AT_DIMLINE):
            lines.append("")
        else:
            lines[-1] += " "
    return [plain(line) for line in lines]


def _with_stack(line: str, upper: str, lower: str, kind: str) -> str:
    """A line with one figure over another said in it: deviations, limits, a fraction."""
    if re.fullmatch(r"[0-9]+", upper) and re.fullmatch(r"[0-9]+", lower) and kind in "/#":
        return f"{line}{'-' if re.search(r'[0-9]$', line) else ''}{upper}/{lower}"
    space = "" if not line or line.endswith((" ", "Ø")) else " "
    if not lower:
        return f"{line}{space}{upper}"
    if upper[:1] in "+-" or lower[:1] in "+-":
        first = upper if upper[:1] in "+-" else f"+{upper}"
        return f"{line}{space}{first}/{lower}"
    try:
        low, high = sorted((upper, lower), key=lambda t: float(t.lstrip("Ø").replace(",", ".")))
    except ValueError:
        return f"{line}{space}{upper}/{lower}"
    return f"{line}{space}{low}/{high}"


def text_run(entity: Any) -> Run | None:
    """A single line of text where it stands."""
    words = said(entity.dxf.text, font_of(entity)).strip()
    if not words:
        return None
    height = abs(float(entity.dxf.get("height", DEFAULT_HEIGHT))) or DEFAULT_HEIGHT
    wide = width_of(words, height, float(entity.dxf.get("width", 1.0)) or 1.0)
    angle = float(entity.dxf.get("rotation", 0.0))
    align, first, second = entity.get_placement()
    name, at = align.name, first
    back = 0.0
    if name in ("ALIGNED", "FIT") and second is not None:
        angle, wide = math.degrees(math.atan2(second.y - first.y, second.x - first.x)), first.distance(second)
    elif "CENTER" in name or name == "MIDDLE":
        back = wide / 2
    elif "RIGHT" in name:
        back = wide
    down = height / 2 if "MIDDLE" in name else (height if "TOP" in name else 0.0)
    return _placed(words, at.x, at.y, back, down, wide, height, angle)


def _placed(
    words: str, x: float, y: float, back: float, down: float, wide: float, height: float, angle: float
) -> Run | None:
    c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    found = Run(words, x - back * c + down * s, y - back * s - down * c, wide, height, angle)
    return found if all(math.isfinite(v) and abs(v) < 1e9 for v in (found.x, found.y, wide, height)) else None


def note_runs(lines: list[str], x: float, y: float, height: float, angle: float, attached: int) -> list[Run]:
    """The lines of a note about its point of attachment, 1 to 9 as a note's own."""
    lines = [line.strip() for line in lines]
    if not any(lines):
        return []
    across = max(width_of(line, height) for line in lines)
    down, along = divmod(min(max(attached, 1), 9) - 1, 3)
    whole = height * (1 + LINE_PITCH * (len(lines) - 1))
    top = {0: 0.0, 1: whole / 2, 2: whole}[down]
    runs = []
    for number, line in enumerate(lines):
        wide = width_of(line, height)
        back = {0: 0.0, 1: wide / 2, 2: wide}[along]
        level = top - height - number * LINE_PITCH * height
        run = _placed(line, x, y, back, -level, wide, height, angle) if line else None
        runs += [run] if run is not None else []
    return runs if across > 0 else []


# -- dimensions ---------------------------------------------------------------------------------------------


def dimension_lines(entity: Any) -> list[str]:
    """What a dimension says, with its style's sign, places and tolerance; empty for angles and suppressed text."""
    kind = entity.dimtype
    own = str(entity.dxf.get("text", "") or "")
    if kind not in (LINEAR, ALIGNED, DIAMETER, RADIUS, ORDINATE) or own == " ":
        return []
    style = _Style(entity)
    sign = {DIAMETER: "Ø", RADIUS: "R"}.get(kind, "")
    measured = style.measured(sign)
    if own in ("", "<>"):
        return [plain(measured)]
    return note_lines(own.replace("<>", measured))


def measured(entity: Any) -> float:
    """What a dimension measures, by its style's factor."""
    return _Style(entity).length


class _Style:
    """A dimension's style with what is set otherwise on the dimension itself."""

    def __init__(self, entity: Any) -> None:
        self.entity = entity
        self.own = entity.override()

    def get(self, name: str, default: Any) -> Any:
        found = self.own.get(name, default)
        return default if found is None else found

    def measured(self, sign: str) -> str:
        value = self.length
        figure = self._figure(value, int(self.get("dimdec", 4 if self._inch() else 2)))
        post = str(self.get("dimpost", "") or "")
        text = post.replace("<>", figure) if "<>" in post else figure + post
        if sign and sign not in plain(text):
            text = sign + text
        plus, minus = float(self.get("dimtp", 0.0)), float(self.get("dimtm", 0.0))
        places = int(self.get("dimtdec", 4 if self._inch() else 2))
        if int(self.get("dimlim", 0)):
            low, high = (self._figure(value + off, places) for off in (-minus, plus))
            return f"{sign}{low}/{high}"
        if int(self.get("dimtol", 0)) and (plus or minus):
            if abs(plus - minus) < 1e-12:
                return f"{text} %%p{self._figure(plus, places)}"
            return f"{text} {plus:+.{places}f}/{-minus:+.{places}f}"
        return text

    @property
    def length(self) -> float:
        """What it measures by the style's factor."""
        return self._length() * float(self.get("dimlfac", 1.0) or 1.0)

    def _length(self) -> float:
        """What it measures in the drawing's units; of an ordinate, along its own axis from its zero."""
        if self.entity.dimtype != ORDINATE:
            return float(self.entity.get_measurement())
        zero, at = self.entity.dxf.defpoint, self.entity.dxf.defpoint2
        return abs(float(at.x - zero.x if self.entity.dxf.dimtype & ALONG_X else at.y - zero.y))

    def _inch(self) -> bool:
        return int(self.entity.doc.header.get("$MEASUREMENT", 1)) == 0

    def _figure(self, value: float, places: int) -> str:
        """A figure as the style writes it: its places, noughts before and behind kept or not."""
        text = f"{value:.{min(max(places, 0), 8)}f}"
        zeros = int(self.get("dimzin", 8))
        if zeros & 8 and "." in text:
            text = text.rstrip("0").rstrip(".")
        if zeros & 4:
            text = re.sub(r"^(-?)0\.", r"\1.", text)
        return text
