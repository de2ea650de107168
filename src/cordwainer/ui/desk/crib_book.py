"""What the shop's people changed in the crib in use: kept beside it, undone with everything else."""

from __future__ import annotations

import os
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files import crib
from cordwainer.files.copies import daily_copies, keep_for_the_day
from cordwainer.files.documents import read_document
from cordwainer.files.places import aside, crib_path
from cordwainer.files.writing import write_json

if TYPE_CHECKING:
    from cordwainer.core.shop.shop import Shop
    from cordwainer.core.shop.tool import Tool


class CribEdit(QUndoCommand):
    """One change of the crib, in words."""

    def __init__(self, book: CribBook, before: dict[str, Any], after: dict[str, Any], words: str) -> None:
        super().__init__(words)
        self.book, self.before, self.after = book, before, after
        self.shop = book.shop_name

    def redo(self) -> None:
        """Apply it, in the crib it was made in."""
        self._turn(self.before, self.after)

    def undo(self) -> None:
        """Take it back."""
        self._turn(self.after, self.before)

    def _turn(self, one: dict[str, Any], other: dict[str, Any]) -> None:
        """From one set of notes to the other; what another bench has noted since stays."""
        if self.book.shop_name != self.shop:
            return
        if self.book.share is None or self.book.data == one:
            self.book.take(other)
            return
        from cordwainer.files.crib_changes import changes, put

        notes, refused = put(self.book.data, changes(one, other))
        self.book.take(notes)
        if refused:
            self.book.said.emit(tr("Something of this was changed at another bench since; that stays."))


class CribBook(QObject):
    """The changes of the crib in use. `keeps` says whether they are written down; the demo's are not."""

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, undo: QUndoStack) -> None:
        super().__init__()
        self.undo = undo
        self.shop_name = ""
        self.keeps = False
        self.data = crib.blank("")
        self.generation = 0
        self.edits = 0
        self._made: dict[str, tuple[Any, Tool]] = {}
        # Where a crib is shared: told of every change, with the shop and the notes before and after.
        self.share: Callable[[str, dict[str, Any], dict[str, Any]], None] | None = None

    def use(self, shop_name: str, keeps: bool) -> None:
        """Turn to a shop's changes; an unreadable file is said, set aside, and replaced by none."""
        if shop_name == self.shop_name and keeps == self.keeps:
            return
        self.shop_name, self.keeps = shop_name, keeps
        self.data = crib.blank(shop_name)
        self.generation += 1
        self.edits += 1
        path = self.path
        if not keeps or not os.path.lexists(path):
            return
        try:
            self.data = self._read(path)
            keep_for_the_day(path, date.today())
        except InputError as bad:
            self.said.emit(f"{aside(path, tr('The file of notes on this crib'))} {bad}")
            self.keeps = not os.path.lexists(path)
            self._mend(path)

    def _read(self, path: Path) -> dict[str, Any]:
        data = crib.checked(read_document(path, crib.FORMAT))
        crib.make_added(data, self._made)
        return data

    def _mend(self, path: Path) -> None:
        """The newest whole copy takes the place of a file that could not be read."""
        for copy in daily_copies(path):
            try:
                self.data = self._read(copy)
            except InputError:
                continue
            self.said.emit(tr("The copy of {copy} took its place.", copy=copy.name[-10:]))
            return

    def read_again(self) -> None:
        """Its file was changed from elsewhere."""
        name, self.shop_name = self.shop_name, ""
        self.use(name, self.keeps)

    @property
    def path(self) -> Path:
        """Where this shop's changes are kept."""
        return crib_path(self.shop_name)

    @property
    def untouched(self) -> bool:
        """Nothing changed."""
        return not any(value for value in self.data.values() if isinstance(value, dict | list))

    def applied(self, base: Shop) -> Shop:
        """The shop with its changes."""
        if self.untouched:
            return base
        try:
            return crib.with_changes(base, self.data, self._made)
        except InputError as bad:
            self.said.emit(tr("Some notes on this crib do not fit and are left out. {bad}", bad=bad))
            return crib.with_changes(base, self.data | {"machines": {}, "gauges": {}})

    def edit(self, words: str, change: Callable[[dict[str, Any]], None]) -> None:
        """Change the crib as one undoable step; an `InputError` leaves everything as it was."""
        after = crib.edited(self.data, change)
        if after != self.data:
            self.undo.push(CribEdit(self, self.data, after, words))

    def change_tool(self, words: str, tool: Tool, **fields: Any) -> None:
        """Change fields of one tool."""
        self.edit(words, lambda data: crib.change_tool(data, tool, **fields))

    def take_shared(self, data: dict[str, Any]) -> None:
        """The notes as another bench has left them; no step of this window's undo. Raises `InputError`."""
        if data != self.data:
            crib.make_added(data, self._made)
            self._take(data)

    def take(self, data: dict[str, Any]) -> None:
        """Make a checked document the current one, write it down, and tell whom it is shared with."""
        before = self.data
        self._take(data)
        if self.share is not None and self.keeps:
            self.share(self.shop_name, before, data)

    def _take(self, data: dict[str, Any]) -> None:
        if crib.for_plans(data) != crib.for_plans(self.data):
            self.generation += 1
        self.edits += 1
        self.data = data
        if self.keeps:
            try:
                keep_for_the_day(self.path, date.today())
                write_json(self.path, data, own=True)
            except InputError as bad:
                self.said.emit(tr("The change is in use but not written down: {bad}.", bad=bad))
        self.changed.emit()
