"""The user's own PDF drawing with a balloon at every hole that was taken: annotations, the drawing untouched."""

from __future__ import annotations

import ctypes
import io
import math
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.prints.words import Box, Point
from cordwainer.files.job import Job
from cordwainer.files.prints.pdf import ONE_AT_A_TIME, PdfFile

RADIUS, GAP, INK = 9.0, 3.0, (43, 31, 128)
CIRCLE = 0.5523  # of the radius: where the handles of a quarter stand


@dataclass(frozen=True)
class Balloon:
    """A tag beside a callout on a sheet (from 0); `words` are told by viewers that show notes."""

    sheet: int
    box: Box
    tag: str
    words: str


def ballooned(path: Path, balloons: Sequence[Balloon]) -> bytes:
    """The drawing with the balloons as stamps on a layer of their own. Raises `InputError`."""
    if not balloons:
        raise InputError("", tr("no hole was read from {path}", path=path.name))
    with PdfFile(path) as file, ONE_AT_A_TIME:
        for balloon in balloons:
            if not 0 <= balloon.sheet < file.pages:
                raise InputError("", tr("{path} has no sheet {sheet}", path=path.name, sheet=balloon.sheet + 1))
            _stamp(file.file, balloon)
        out = io.BytesIO()
        file.file.save(out)
    return out.getvalue()


def _stamp(document: Any, balloon: Balloon) -> None:
    """One balloon: a ring filled white with its tag, upright as the page is looked at."""
    import pypdfium2.raw as pdfium

    page = document[balloon.sheet]
    try:
        left, _, _, top = balloon.box.bounds
        at = max(left - RADIUS - GAP, RADIUS + 1), top
        (x, y), turn = _on_page(page, at)
        note = pdfium.FPDFPage_CreateAnnot(page, pdfium.FPDF_ANNOT_STAMP)
        reach = RADIUS + 1
        pdfium.FPDFAnnot_SetRect(note, pdfium.FS_RECTF(x - reach, y + reach, x + reach, y - reach))
        pdfium.FPDFAnnot_AppendObject(note, _ring(x, y))
        pdfium.FPDFAnnot_AppendObject(note, _tag(document, balloon.tag, x, y, turn))
        pdfium.FPDFAnnot_SetStringValue(note, b"Contents", _wide(balloon.words))
        pdfium.FPDFAnnot_SetFlags(note, pdfium.FPDF_ANNOT_FLAG_PRINT)
        pdfium.FPDFPage_CloseAnnot(note)
    finally:
        page.close()


def _on_page(page: Any, at: Point) -> tuple[Point, float]:
    """Where a point of the page as looked at lies on the page as it is kept, and how words on it are turned."""
    left, low, right, top = page.get_cropbox()
    x, y = at
    turned = int(page.get_rotation()) % 360
    kept = {0: (left + x, low + y), 90: (right - y, low + x), 180: (right - x, top - y), 270: (left + y, top - x)}[
        turned
    ]
    return kept, float(turned)


def _ring(x: float, y: float) -> Any:
    import pypdfium2.raw as pdfium

    r, k = RADIUS, CIRCLE * RADIUS
    ring = pdfium.FPDFPageObj_CreateNewPath(x + r, y)
    for points in (
        (x + r, y + k, x + k, y + r, x, y + r),
        (x - k, y + r, x - r, y + k, x - r, y),
        (x - r, y - k, x - k, y - r, x, y - r),
        (x + k, y - r, x + r, y - k, x + r, y),
    ):
        pdfium.FPDFPath_BezierTo(ring, *points)
    pdfium.FPDFPath_Close(ring)
    pdfium.FPDFPageObj_SetFillColor(ring, 255, 255, 255, 255)
    pdfium.FPDFPageObj_SetStrokeColor(ring, *INK, 255)
    pdfium.FPDFPageObj_SetStrokeWidth(ring, 1.2)
    pdfium.FPDFPath_SetDrawMode(ring, pdfium.FPDF_FILLMODE_WINDING, True)
    return ring


def _tag(document: Any, tag: str, x: float, y: float, turned: float) -> Any:
    import pypdfium2.raw as pdfium

    size = 10.0 if len(tag) < 3 else 18.0 / len(tag) + 1
    words = pdfium.FPDFPageObj_NewTextObj(document, b"Helvetica-Bold", size)
    pdfium.FPDFText_SetText(words, _wide(tag))
    pdfium.FPDFPageObj_SetFillColor(words, *INK, 255)
    c, s = math.cos(math.radians(turned)), math.sin(math.radians(turned))
    back, down = 0.33 * size * len(tag), 0.35 * size
    pdfium.FPDFPageObj_Transform(words, c, s, -s, c, x - back * c + down * s, y - back * s - down * c)
    return words


def _wide(text: str) -> Any:
    data = (text + "\0").encode("utf-16-le")
    return (ctypes.c_ushort * (len(data) // 2)).from_buffer_copy(data)


def balloons_of(job: Job, drawing: Path | None = None) -> tuple[Path, list[Balloon]]:
    """The PDF a job's holes were read from, and a balloon for each; `drawing` is where it stands now.

    Of several drawings the one most holes are from. Raises `InputError` where no hole is from a PDF.
    """
    by_file: dict[str, list[Balloon]] = {}
    for hole, entry in zip(job.holes, job.file.raw["holes"], strict=True):
        told = entry.get("print") or {}
        file, box = str(told.get("file", "")), told.get("box") or ()
        if file.lower().endswith(".pdf") and len(box) == 5:
            words, sheet = f"{hole.id}: {told.get('text', '')}", int(told.get("sheet", 1)) - 1
            by_file.setdefault(file, []).append(Balloon(sheet, Box(*box), hole.id, words))
    if not by_file:
        raise InputError("", tr("no hole of this job was read from a PDF drawing"))
    name = max(by_file, key=lambda file: len(by_file[file]))
    return drawing or Path(name), by_file[name]
