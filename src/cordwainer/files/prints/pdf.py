"""Text with its places from a PDF drawing, and its pages as pictures.

Only the text and the look of a page are taken. Scripts, forms, links and files within a PDF are never followed:
the library is asked for none of them.
"""

from __future__ import annotations

import ctypes
import math
import threading
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from types import TracebackType
from typing import Any, TypeVar

from cordwainer.core.errors import InputError, StoppedError
from cordwainer.core.language import tr
from cordwainer.core.prints.sheets import MOST_RUNS, Sheet
from cordwainer.core.prints.signs import of_font
from cordwainer.core.prints.words import Run
from cordwainer.files.shown import shown
from cordwainer.files.writing import why_unread

MOST_BYTES, MOST_PAGES, MOST_CHARACTERS = 100_000_000, 200, 200_000
LARGEST_PT, SMALLEST_PT, MOST_PIXELS = 20_000.0, 1.0, 24_000_000
SAME_LEVEL, RUN_GAP, SPACE_GAP, SLANTED_GAP, BACK = 0.22, 0.9, 0.18, 0.5, 0.6
TURNED_DEG, WIDE = 1.0, 0.55
LOOK_EVERY, MOST_LOOKED = 2000, 300_000_000
UNKNOWN = "\ufffd"  # a shape the file does not say the meaning of: whoever reads it has to be told

Found = TypeVar("Found")
ONE_AT_A_TIME = threading.RLock()  # the library behind it works for one thread only


class PdfFile:
    """A PDF drawing, open until it is closed; safe from several threads, one at a time."""

    def __init__(self, path: Path) -> None:
        try:
            size = path.stat().st_size
            if size > MOST_BYTES:
                most = MOST_BYTES // 1_000_000
                raise InputError(
                    "",
                    tr(
                        "{path} has {size:.0f} MB; drawings to {most} MB are read",
                        path=path.name,
                        size=size / 1000000.0,
                        most=most,
                    ),
                )
            data = path.read_bytes()
        except OSError as bad:
            raise InputError(
                "", tr("{path} could not be read: {why_unread}", path=path.name, why_unread=why_unread(bad))
            ) from None
        import pypdfium2

        self.name = shown(path.name, 60)
        with ONE_AT_A_TIME:
            try:
                self.file: Any = pypdfium2.PdfDocument(data)
                self.pages = len(self.file)
            except pypdfium2.PdfiumError as bad:
                locked = "password" in str(bad).lower()
                problem = tr("is locked with a password") if locked else tr("is no PDF that can be read")
                raise InputError("", f"{self.name} {problem}") from None
        if not 0 < self.pages <= MOST_PAGES:
            raise InputError(
                "",
                tr(
                    "{name} has {pages} pages; drawings of 1 to {most_pages} are read",
                    name=self.name,
                    pages=self.pages,
                    most_pages=MOST_PAGES,
                ),
            )

    def __enter__(self) -> PdfFile:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """Let the file go."""
        with ONE_AT_A_TIME:
            self.file.close()

    def size(self, page: int) -> tuple[float, float]:
        """Width and height of a page as it is looked at, in points. Raises `InputError` for a damaged one."""
        with ONE_AT_A_TIME:
            width, height = self._sound(page, lambda: self.file.get_page_size(page))
            return float(width), float(height)

    def sheet(self, page: int, stop: Callable[[], bool] = lambda: False) -> Sheet:
        """A page's text as runs, in points, y up. Raises `InputError` for a damaged page, `StoppedError`."""
        with ONE_AT_A_TIME:
            return self._sound(page, lambda: self._sheet(page, stop))

    def picture(self, page: int, scale: float) -> tuple[int, int, bytes]:
        """A page as width, height and gray pixels, at `scale` pixels a point or as many as are safe."""
        with ONE_AT_A_TIME:
            return self._sound(page, lambda: self._picture(page, scale))

    def _sound(self, page: int, read: Callable[[], Found]) -> Found:
        import pypdfium2

        try:
            return read()
        except (pypdfium2.PdfiumError, ctypes.ArgumentError, ValueError, OverflowError):
            raise InputError("", tr("page {page} of {name} is damaged", page=page + 1, name=self.name)) from None

    def _checked(self, page: int) -> Any:
        found = self.file[page]
        width, height = found.get_size()
        if not all(SMALLEST_PT <= side <= LARGEST_PT for side in (width, height)):
            found.close()
            raise InputError(
                "",
                tr(
                    "page {page} of {name} is {width:.0f} by {height:.0f} points",
                    page=page + 1,
                    name=self.name,
                    width=width,
                    height=height,
                ),
            )
        return found

    def _sheet(self, page: int, stop: Callable[[], bool]) -> Sheet:
        found = self._checked(page)
        try:
            width, height = found.get_size()
            text = found.get_textpage()
            try:
                runs, cut = _runs(text, _upright(found), {}, stop)
                if any(_slanted(run.angle_deg) for run in runs):
                    runs, cut = self._with_lost(found, text, runs, cut, stop)
            finally:
                text.close()
        finally:
            found.close()
        return Sheet(page, width, height, tuple(runs[:MOST_RUNS]), cut=cut + max(len(runs) - MOST_RUNS, 0))

    def _with_lost(
        self, page: Any, text: Any, runs: list[Run], cut: int, stop: Callable[[], bool]
    ) -> tuple[list[Run], int]:
        """The runs with what slanted lines have lost; where that takes too long they are left in doubt."""
        import pypdfium2.raw as pdfium

        if pdfium.FPDFPage_CountObjects(page) * text.count_chars() <= MOST_LOOKED:
            return _runs(text, _upright(page), _lost(page, text), stop)
        return [replace(r, text=r.text + UNKNOWN) if _slanted(r.angle_deg) else r for r in runs], cut

    def _picture(self, page: int, scale: float) -> tuple[int, int, bytes]:
        found = self._checked(page)
        try:
            width, height = found.get_size()
            most = math.sqrt(MOST_PIXELS / (width * height))
            bitmap = found.render(scale=min(scale, most), grayscale=True, may_draw_forms=False, draw_annots=True)
            try:
                wide, high, stride = bitmap.width, bitmap.height, bitmap.stride
                raw = bytes(bitmap.buffer)
            finally:
                bitmap.close()
        finally:
            found.close()
        return wide, high, b"".join(raw[row * stride : row * stride + wide] for row in range(high))


Turn = Callable[[float, float], tuple[float, float]]


def _upright(page: Any) -> tuple[Turn, float]:
    """How a point of a page lies once the page is turned as it is looked at, and by how many degrees."""
    left, low, right, top = page.get_mediabox()
    crop = page.get_cropbox(fallback_ok=True)
    if crop is not None:
        left, low, right, top = max(left, crop[0]), max(low, crop[1]), min(right, crop[2]), min(top, crop[3])
    turns: dict[int, tuple[Turn, float]] = {
        0: (lambda x, y: (x - left, y - low), 0.0),
        90: (lambda x, y: (y - low, right - x), -90.0),
        180: (lambda x, y: (right - x, top - y), 180.0),
        270: (lambda x, y: (top - y, x - left), 90.0),
    }
    return turns[int(page.get_rotation()) % 360]


Origin = tuple[float, float]


def _key(x: float, y: float) -> Origin:
    return round(x, 1), round(y, 1)


def _lost(page: Any, text: Any) -> dict[Origin, list[Origin]]:
    """Where characters stand that the library takes for doubles of the one before and drops: the second 1 of 11.

    It does so where every character is set on its own and the line is slanted. Given by where the character before
    them stands, as which they are read; drawn over one another for boldness they are doubles indeed.
    """
    import pypdfium2.raw as pdfium

    found: dict[Origin, list[Origin]] = {}
    matrix, buffer = pdfium.FS_MATRIX(), (ctypes.c_ushort * 8)()
    box = [ctypes.c_float() for _ in range(4)]
    first: Origin | None = None
    last, size = (0.0, 0.0), (0.0, 0.0)
    for index in range(min(pdfium.FPDFPage_CountObjects(page), MOST_CHARACTERS)):
        one = pdfium.FPDFPage_GetObject(page, index)
        if pdfium.FPDFPageObj_GetType(one) != pdfium.FPDF_PAGEOBJ_TEXT:
            continue
        length = pdfium.FPDFTextObj_GetText(one, text, buffer, ctypes.sizeof(buffer)) // 2 - 1
        pdfium.FPDFPageObj_GetMatrix(one, matrix)
        pdfium.FPDFPageObj_GetBounds(one, *box)
        left, low, right, top = (each.value for each in box)
        at, own = (matrix.e, matrix.f), (right - left, top - low)
        if length > 0:
            single = length == 1 or (length == 2 and chr(buffer[1]).isspace())
            first, last, size = (_key(*at) if single else None), at, own
            continue
        same = math.dist(own, size) <= 0.05 * max(*size, 0.1) and min(own) > 0
        apart = math.dist(at, last) > 0.25 * max(own)
        if first is not None and same and apart:
            found.setdefault(first, []).append(at)
            last = at
    return found


def _runs(
    text: Any, upright: tuple[Turn, float], lost: dict[Origin, list[Origin]], stop: Callable[[], bool]
) -> tuple[list[Run], int]:
    """Characters gathered to runs as they follow one another; and how many were left out as too many."""
    count = text.count_chars()
    runs, open_ = list[Run](), list[Run]()
    for index, glyph in enumerate(_glyphs(text, min(count, MOST_CHARACTERS), upright, lost)):
        if index % LOOK_EVERY == 0 and stop():
            raise StoppedError("stopped")
        if open_ and (joined := _joined(open_[-1], glyph)) is not None:
            open_[-1] = joined
            continue
        runs += open_
        open_ = [glyph]
    return [run for run in (*runs, *open_) if run.text.strip()], max(count - MOST_CHARACTERS, 0)


def _glyphs(text: Any, count: int, upright: tuple[Turn, float], lost: dict[Origin, list[Origin]]) -> Iterator[Run]:
    """Characters one by one, each a run."""
    import pypdfium2.raw as pdfium

    matrix, box, flags = pdfium.FS_MATRIX(), pdfium.FS_RECTF(), ctypes.c_int()
    x, y, name = ctypes.c_double(), ctypes.c_double(), ctypes.create_string_buffer(128)
    turn, turned_deg = upright
    fonts: dict[bytes, str] = {}
    for index in range(count):
        code = pdfium.FPDFText_GetUnicode(text, index)
        if code > 0x10FFFF or chr(code) in "\r\n" or 0xD800 <= code < 0xE000:
            continue
        unmapped = code in (0, 0xFFFE, 0xFFFF) or pdfium.FPDFText_HasUnicodeMapError(text, index) == 1
        if pdfium.FPDFText_IsGenerated(text, index) == 1 or not pdfium.FPDFText_GetMatrix(text, index, matrix):
            continue
        pdfium.FPDFText_GetCharOrigin(text, index, x, y)
        height = pdfium.FPDFText_GetFontSize(text, index) * math.hypot(matrix.c, matrix.d)
        if not (math.isfinite(height) and 0.1 < height < LARGEST_PT and math.isfinite(x.value + y.value)):
            continue
        pdfium.FPDFText_GetFontInfo(text, index, name, 128, flags)
        raw = name.value
        font = fonts.get(raw)
        if font is None:
            font = fonts[raw] = raw.decode("latin-1")
        character = UNKNOWN if unmapped else of_font(chr(code), font)
        angle = math.atan2(matrix.b, matrix.a)
        pdfium.FPDFText_GetLooseCharBox(text, index, box)
        wide = _advance(box.right - box.left, box.top - box.bottom, height, angle)
        after = lost.get(_key(x.value, y.value), ()) if lost else ()
        for px, py in ((x.value, y.value), *after):
            yield Run(character, *turn(px, py), wide, 0.72 * height, math.degrees(angle) + turned_deg)


def _advance(wide: float, high: float, height: float, angle: float) -> float:
    """How far a character goes along its line, of the upright box around it; near a slant by its height."""
    along, across = abs(math.cos(angle)), abs(math.sin(angle))
    if along > 0.99:
        return max(wide, 0.0)
    if across > 0.99:
        return max(high, 0.0)
    return WIDE * height


def _slanted(angle_deg: float) -> bool:
    return min(angle_deg % 90, -angle_deg % 90) >= TURNED_DEG


def _joined(run: Run, glyph: Run) -> Run | None:
    """A run with the next character, or None where that begins another."""
    if abs((run.angle_deg - glyph.angle_deg + 180) % 360 - 180) > TURNED_DEG:
        return None
    if abs(run.height - glyph.height) > 0.06 * run.height:
        return None
    c, s = math.cos(math.radians(run.angle_deg)), math.sin(math.radians(run.angle_deg))
    dx, dy = glyph.x - run.x, glyph.y - run.y
    along, off = dx * c + dy * s, dy * c - dx * s
    gap = along - run.width
    if abs(off) > SAME_LEVEL * run.height or not -BACK * run.height <= gap <= RUN_GAP * run.height:
        return None
    # Along a slant the widths of characters are only roughly known.
    room = (SLANTED_GAP if _slanted(run.angle_deg) else SPACE_GAP) * run.height
    space = " " if gap > room and not run.text.endswith(" ") and glyph.text != " " else ""
    width = max(along + glyph.width, run.width)
    return Run(run.text + space + glyph.text, run.x, run.y, width, run.height, run.angle_deg)
