"""A drawing as read: its sheets with text and circles, and every callout on them with what it was taken for."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from cordwainer.core.errors import StoppedError
from cordwainer.core.prints.callouts import DOUBT, SURE, Found, callouts_of
from cordwainer.core.prints.lines import Line, lines_of
from cordwainer.core.prints.notes import Notes, notes_of, with_places
from cordwainer.core.prints.words import Run

MOST_RUNS = 40_000


@dataclass(frozen=True)
class Circle:
    """A circle of a drawing, in the sheet's units."""

    x: float
    y: float
    diameter: float
    layer: str = ""


@dataclass(frozen=True)
class Sheet:
    """One sheet: its size, its text; y up. `picture` is its number in the file; `cut` how much was left unread."""

    number: int
    width: float
    height: float
    runs: tuple[Run, ...]
    left: float = 0.0
    low: float = 0.0
    cut: int = 0

    @property
    def scanned(self) -> bool:
        """Whether there is nothing on it to be read as text."""
        return not any(run.text.strip() for run in self.runs)


@dataclass(frozen=True)
class Read:
    """What was read of a drawing; `free` are circles no callout speaks of."""

    sheets: tuple[Sheet, ...]
    found: tuple[Found, ...]
    notes: Notes = field(default_factory=Notes)
    unit: str = "mm"
    free: tuple[Circle, ...] = ()
    said: tuple[str, ...] = ()

    def of(self, state: str) -> tuple[Found, ...]:
        """The callouts of one state."""
        return tuple(f for f in self.found if f.state == state)


def read_sheets(
    sheets: Sequence[Sheet],
    unit: str,
    materials: Sequence[str] = (),
    told: Callable[[int, int], bool] = lambda done, of: False,
) -> Read:
    """Every callout of the sheets, in the unit the drawing names, else in `unit`.

    `told(done, of)` hears how many sheets are read and says whether to stop: `StoppedError` then.
    """
    lines: list[list[Line]] = []
    for done, sheet in enumerate(sheets):
        if told(done, len(sheets)):
            raise StoppedError("stopped")
        lines.append(lines_of(sheet.runs[:MOST_RUNS]))
    notes = notes_of([line.text for each in lines for line in each], materials)
    own = notes.unit or unit
    found = [
        with_places(f, notes, own)
        for sheet, each in zip(sheets, lines, strict=True)
        for f in callouts_of(each, own, sheet.number)
    ]
    said = tuple(_said(sheets, found))
    return Read(tuple(sheets), tuple(_doubles(found)), notes, own, said=said)


def _said(sheets: Sequence[Sheet], found: Sequence[Found]) -> Iterator[str]:
    blank = [sheet.number + 1 for sheet in sheets if sheet.scanned]
    if blank and len(blank) == len(sheets):
        yield "there is no text on it to be read: a scan or a picture; type the callouts beside it"
    elif blank:
        yield "no text on sheet " + ", ".join(map(str, blank))
    if any(sheet.cut for sheet in sheets):
        yield "some text was left unread: a sheet holds too much of it"


def _doubles(found: Sequence[Found]) -> list[Found]:
    """Callouts with the same words a second time put in doubt: the same holes in another view, or more of them."""
    seen: dict[str, int] = {}
    out: list[Found] = []
    for each in found:
        key = " ".join((each.line or each.text).upper().split())
        if each.callout is not None and key in seen and each.state == SURE:
            why = "written twice: the same holes in another view, or as many more?"
            each = replace(each, state=DOUBT, why=why)
        seen.setdefault(key, len(out))
        out.append(each)
    return out
