"""The drawing or list under review: read beside the window, its sheets as pictures, what is taken of it."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage, qRgb

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length
from cordwainer.files.shown import shown
from cordwainer.ui.desk.background import FIRST, NEXT, PICTURES, PRINTS, Answer, Background, Turn
from cordwainer.ui.desk.document import REPLACED, Change, Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.kit import theme

if TYPE_CHECKING:
    from cordwainer.core.prints.words import Box
    from cordwainer.files.prints.dxf import Drawn
    from cordwainer.files.prints.read import Print
    from cordwainer.files.prints.review import Review

READ, PICTURE, SNIPPET = tr("read a drawing"), tr("picture of a sheet"), tr("picture of a callout")
MOST_PICTURES = 8
SNIPPET_SCALE, SNIPPET_AIR = 4.0, 0.3


def tinted(width: int, height: int, gray: bytes) -> QImage:
    """Gray pixels as ink on the window's paper."""
    image = QImage(gray, width, height, width, QImage.Format.Format_Indexed8).copy()
    ink, paper = theme.INK, theme.HI
    image.setColorTable(
        [
            qRgb(*(round(i + (p - i) * k / 255) for i, p in zip(_rgb(ink), _rgb(paper), strict=True)))
            for k in range(256)
        ]
    )
    return image


def _rgb(color: Any) -> tuple[int, int, int]:
    return color.red(), color.green(), color.blue()


class Prints(QObject):
    """One review at a time. `opened`: another is there; `changed`: something of it is; `pictured`: a sheet."""

    opened = pyqtSignal()
    changed = pyqtSignal()
    pictured = pyqtSignal(int)
    refused = pyqtSignal(str)
    snipped = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection, background: Background) -> None:
        super().__init__()
        self.document, self.selection, self.background = document, selection, background
        self.review: Review | None = None
        self.drawn: Drawn | None = None
        self.index = -1
        self._pictures: OrderedDict[tuple[Path, int, int], QImage] = OrderedDict()
        self._snippets: OrderedDict[str, QImage | None] = OrderedDict()
        document.edited.connect(self._follow)

    # -- opening -----------------------------------------------------------------------------------

    def open(self, path: Path, then_go: Callable[[], None] = lambda: None) -> None:
        """Read a drawing beside the window, then show it; what cannot be read is said."""
        words = tr("Reading {path}", path=shown(path.name, 60))
        unit = self.selection.unit

        def work(_path: Path, turn: Turn) -> Any:
            from cordwainer.files.prints.read import first_sheet, read_print

            def told(done: int, of: int) -> bool:
                turn.words = f"{words}, {100 * done // max(of, 1)} %"
                return turn.stopped()

            first = first_sheet(path, unit)
            if first is not None:
                turn.tell(first)
            return read_print(path, unit, told)

        begun: list[Review] = []

        def then(answer: Answer) -> None:
            if answer.error is not None or answer.value is None:
                self.refused.emit(f"{words}: {answer.why}")
            elif begun and self.review is begun[0]:
                begun[0].grow(answer.value)
                self.changed.emit()
            else:
                begun.append(self._begin(answer.value))
                then_go()

        self.background.ask((READ, path), path, work, then, lane=PRINTS, urgency=FIRST, words=words)

    def _begin(self, found: Print) -> Review:
        from cordwainer.files.prints.review import of_print

        review = of_print(found)
        self.show(review, found.drawn)
        return review

    def show(self, review: Review, drawn: Drawn | None = None) -> None:
        """Another review in hand; the part's thickness is that of the hole in hand, if it goes through."""
        hole = self.selection.hole
        self.review, self.drawn, self.index = review, drawn, -1
        if review.thickness is None and hole is not None and hole.through:
            review.thickness = hole.depth
        self.opened.emit()

    def _follow(self, change: Change) -> None:
        if self.review is not None:
            if change.kind == REPLACED:
                self.review.taken_stand(set())
            self.review.taken_stand({hole.id for hole in self.document.job.holes})
            self.changed.emit()

    # -- going through -----------------------------------------------------------------------------

    def choose(self, index: int) -> None:
        """One callout in hand, none for -1."""
        if index != self.index:
            self.index = index
            self.changed.emit()

    def set_thickness(self, thickness: Length | None) -> None:
        """How thick the part is."""
        if self.review is not None:
            self.review.thickness = thickness
            self.changed.emit()

    def change(self, act: Any) -> None:
        """Something said of the review; raises what that raises."""
        act()
        self.changed.emit()

    def add(self, text: str, box: Box, sheet: int) -> None:
        """A callout the reading passed over."""
        if self.review is not None:
            self.index = self.review.add(text, box, sheet)
            self.changed.emit()

    def take(self, which: list[int]) -> str:
        """Take several as holes by one undo; says what came of it."""
        review = self.review
        if review is None or not which:
            return ""
        before = list(review.items)
        present = [hole.id for hole in self.document.job.holes]
        entries, left = review.take(which, present)
        if entries:
            words = tr("{count} holes from {path}", count=len(entries), path=shown(review.path.name, 40))
            notes, empty = review.read.notes, self.document.empty

            def add(data: dict[str, Any]) -> None:
                data["holes"].extend(entries)
                if empty:
                    data["units"] = review.unit
                    if notes.general_tolerance:
                        data["general_tolerance"] = notes.general_tolerance
                    if notes.material_id:
                        data["material"] = notes.material_id
                    if not data.get("name"):
                        data["name"] = shown(review.path.stem, 80)

            try:
                self.document.edit(words, add)
            except CordwainerError:
                review.items = before
                raise
            self.selection.select_hole(len(self.document.job.holes) - len(entries))
        self.changed.emit()
        told = [tr("{count} taken. Undo takes them out again.", count=len(entries)) if entries else "", *left[:3]]
        return " ".join(filter(None, told))

    # -- pictures ----------------------------------------------------------------------------------

    def picture(self, sheet: int, scale: float) -> QImage | None:
        """A PDF's sheet at about so many pixels a point, asked for where there is a coarser one only."""
        review = self.review
        if review is None or self.drawn is not None or sheet >= len(review.read.sheets):
            return None
        path, step = review.path, max(1, round(scale * 2))
        key = (path, sheet, step)
        if key in self._pictures:
            self._pictures.move_to_end(key)
            return self._pictures[key]
        self._ask_picture(key)
        known = [k for k in self._pictures if k[:2] == (path, sheet)]
        return self._pictures[max(known, key=lambda k: k[2])] if known else None

    def _ask_picture(self, key: tuple[Path, int, int]) -> None:
        path, sheet, step = key

        def work(_key: Any, turn: Turn) -> QImage:
            from cordwainer.files.prints.pdf import PdfFile

            with PdfFile(path) as file:
                return tinted(*file.picture(sheet, step / 2))

        def then(answer: Answer) -> None:
            if answer.value is not None:
                self._pictures[key] = answer.value
                while len(self._pictures) > MOST_PICTURES:
                    self._pictures.popitem(last=False)
                self.pictured.emit(sheet)

        self.background.ask((PICTURE, sheet), key, work, then, lane=PICTURES, urgency=NEXT)

    def snippet(self, entry: dict[str, Any]) -> QImage | None:
        """The piece of its PDF a hole was read from, once it is there; `snipped` tells when."""
        told = entry.get("print") or {}
        name, box = str(told.get("file", "")), list(told.get("box") or [])
        if not name.lower().endswith(".pdf") or len(box) != 5:
            return None
        key = f"{name} {told.get('sheet')} {box}"
        if key in self._snippets:
            return self._snippets[key]
        self._snippets[key] = None
        while len(self._snippets) > MOST_PICTURES * 4:
            self._snippets.popitem(last=False)
        page = int(told.get("sheet", 1)) - 1

        def work(_key: Any, turn: Turn) -> QImage:
            return _cut_out(Path(name), page, [float(v) for v in box])

        def then(answer: Answer) -> None:
            if answer.value is not None:
                self._snippets[key] = answer.value
                self.snipped.emit(key)

        self.background.ask((SNIPPET, key), key, work, then, lane=PICTURES, urgency=NEXT)
        return self._snippets[key]


def _cut_out(path: Path, page: int, place: list[float]) -> QImage:
    """A callout's place on its page with some air around it. Raises `InputError` where the file is gone."""
    from PyQt6.QtCore import QRect

    from cordwainer.core.prints.words import Box
    from cordwainer.files.prints.pdf import PdfFile

    left, low, right, top = Box(*place).bounds
    with PdfFile(path) as file:
        if not 0 <= page < file.pages:
            raise InputError("", tr("{path} has no page {page}", path=path.name, page=page + 1))
        _, high = file.size(page)
        width, height, gray = file.picture(page, SNIPPET_SCALE)
    whole = tinted(width, height, gray)
    scale = height / high
    air = SNIPPET_AIR * min(right - left, top - low)
    area = QRect(
        round((left - air) * scale), round((high - top - air) * scale),
        round((right - left + 2 * air) * scale), round((top - low + 2 * air) * scale),
    )  # fmt: skip
    return whole.copy(area & whole.rect())
