"""A shop brought in from an archive: beside what is here, into the shop in use, or in its place; one undo."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QUndoCommand

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import tr
from cordwainer.files import crib
from cordwainer.files.new_shop import shops_folder
from cordwainer.logbook import archive

if TYPE_CHECKING:
    from cordwainer.files.crib_merge import More
    from cordwainer.ui.desk.log import Log
    from cordwainer.ui.desk.stock import Stock

Beside = Callable[[Callable[[], archive.Brought]], archive.Brought]
BESIDE, INTO, OVER = "beside", "into", "over"


def now() -> datetime:
    """The time as the shop's clock has it."""
    return datetime.now().astimezone()


class BroughtIn(QUndoCommand):
    """An archive brought in, one of three ways. Made with what it does done already."""

    def __init__(self, stock: Stock, log: Log, path: Path, way: str, beside: Beside) -> None:
        """Bring it in, what touches files beside the window. Raises `InputError`; then nothing has changed."""
        super().__init__(tr("Bring a shop in"))
        self.stock, self.log, self.path, self.way, self.beside = stock, log, path, way, beside
        self.shop_before = stock.document.shop_name
        self.brought = archive.Brought()
        self.crib_before: dict[str, Any] = {}
        self.more: More | None = None
        self._gone = False
        self._bring()
        self._done = True

    def _in_shop_before(self) -> None:
        """Back in the shop that was in use then, its crib at hand."""
        if self.stock.document.shop_name != self.shop_before:
            self.stock.use_shop(self.shop_before)
        _ = self.stock.shop  # the crib turns as it is read

    def _bring(self) -> None:
        stock, over = self.stock, None
        self._in_shop_before()
        after: dict[str, Any] = {}
        if self.way == INTO:
            from cordwainer.files.crib_merge import more_of

            self.more = more_of(archive.shop_in(self.path), stock.shop)
            self.crib_before = stock.crib.data
            after = crib.edited(stock.crib.data, self.more.put)
            crib.make_added(after, {})
        if self.way == OVER:
            over = Path(self.shop_before)
        path, settings, book, with_shop = self.path, stock.document.settings, self.log.own_path, self.way != INTO
        brought = self.brought = self.beside(
            lambda: archive.bring_in(path, settings, book, path.parent, now, over, with_shop=with_shop)
        )
        if self.way == INTO:
            stock.crib.take(after)
        elif brought.shop is not None:
            stock.crib.read_again()
            stock.use_shop(str(brought.shop))
        self.log.learn()

    def redo(self) -> None:
        """Bring it in again, where the archive is still there."""
        if self._done:
            self._done = False
            return
        try:
            self._bring()
        except CordwainerError as bad:
            self.brought, self._gone = archive.Brought(), True
            self.stock.said.emit(tr("Not brought in again. {bad}", bad=bad))

    def undo(self) -> None:
        """Everything the archive brought goes; what was worked on since stays, and is said."""
        if self._gone:
            self._gone = False
            return
        try:
            left = archive.take_back(self.brought, self.stock.document.settings, self.log.own_path)
        except CordwainerError as bad:
            self._done = True
            self.stock.said.emit(tr("Not taken back. {bad}", bad=bad))
            return
        if self.way == INTO:
            self._in_shop_before()
            self.stock.crib.take(self.crib_before)
        else:
            self.stock.crib.read_again()
            self.stock.use_shop(self.shop_before)
        self.log.learn()
        if left:
            names = ", ".join(own.name for own in left)
            self.stock.said.emit(tr("Taken back but for what was worked on since: {names}.", names=names))


def ways(stock: Stock) -> dict[str, str]:
    """The ways a shop can come in here, by what is said of each."""
    found = {BESIDE: tr("Beside what is here")}
    if stock.crib.keeps:
        found[INTO] = tr("Into this shop")
    if Path(stock.document.shop_name).parent == shops_folder():
        found[OVER] = tr("In place of this shop")
    return found
