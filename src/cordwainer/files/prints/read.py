"""A drawing of any kind read: its sheets, its callouts, its circles."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from cordwainer.core.errors import InputError, StoppedError
from cordwainer.core.language import tr
from cordwainer.core.prints.callouts import Found
from cordwainer.core.prints.sections import with_depths
from cordwainer.core.prints.sheets import Circle, Read, read_sheets
from cordwainer.core.prints.ties import tied
from cordwainer.core.shop.material import materials
from cordwainer.files.drawing import IN_MM
from cordwainer.files.prints.dxf import Drawn, read_dxf
from cordwainer.files.prints.pdf import PdfFile

KINDS = (".pdf", ".dxf")
GIVE_WAY_S = 0.002
Told = Callable[[int, int], bool]


@dataclass(frozen=True)
class Print:
    """A drawing file read; `drawn` holds a DXF's lines and circles, None for a PDF."""

    path: Path
    read: Read
    drawn: Drawn | None = None


def read_print(path: Path, unit: str, told: Told = lambda done, of: False) -> Print:
    """A drawing read, in the unit it names, else in `unit`.

    `told(done, of)` hears how far it is and says whether to stop. Raises `InputError` for what cannot be read and
    `StoppedError`.
    """
    kind = path.suffix.lower()
    if kind == ".pdf":
        return Print(path, _pdf(path, unit, told))
    if kind == ".dxf":
        return _dxf(path, unit, told)
    raise InputError("", tr("{path}: drawings are read as {kinds}", path=path.name, kinds=tr(" and ").join(KINDS)))


def _dxf(path: Path, unit: str, told: Told) -> Print:
    drawn = read_dxf(path, told)
    own = drawn.drawing.unit
    read = read_sheets(drawn.sheets, own if own in ("mm", "in") else unit, list(materials()), told)
    unit_mm = float(IN_MM[own or read.unit])
    found, free, words = list[Found](), list[Circle](), list[str]()
    for sheet, lines, leaders, circles, depths in zip(
        drawn.sheets, drawn.lines, drawn.leaders, drawn.circles, drawn.depths, strict=True
    ):
        own_found = with_depths([f for f in read.found if f.sheet == sheet.number], depths, read.unit)
        ties = tied(own_found, circles, leaders, lines, unit_mm)
        found += ties.found
        free += ties.free
        words += [ties.words] if circles else []
    said = words or list(read.said)  # circles say enough where there is no text
    if drawn.damaged:
        said = [*said, tr("{damaged} of its parts cannot be read", damaged=drawn.damaged)]
    return Print(path, replace(read, found=tuple(found), free=tuple(free), said=tuple(said)), drawn)


def first_sheet(path: Path, unit: str) -> Print | None:
    """The first sheet of a set, to be looked at while the others are read; None where there is one only.

    Raises `InputError`.
    """
    if path.suffix.lower() != ".pdf":
        return None
    with PdfFile(path) as file:
        if file.pages < 2:
            return None
        sheet = file.sheet(0)
    return Print(path, read_sheets([sheet], unit, list(materials())))


def _pdf(path: Path, unit: str, told: Told) -> Read:
    with PdfFile(path) as file:
        sheets = []
        for page in range(file.pages):
            if told(page, file.pages):
                raise StoppedError("stopped")
            time.sleep(GIVE_WAY_S)  # whoever waits to look at a page goes first
            sheets.append(file.sheet(page, partial(told, page, file.pages)))
    return read_sheets(sheets, unit, list(materials()), told)
