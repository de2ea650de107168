"""What is asked of the user in a window of its own: files, names, yes or no. Tests put another in its place."""

from __future__ import annotations

import os
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from cordwainer.core.language import tr
from cordwainer.files.shown import lines, shown
from cordwainer.files.writing import with_ending
from cordwainer.ui.kit.passing import run
from cordwainer.ui.kit.plain import on_menu

SAVE, DROP, STAY = "save", "drop", "stay"


class Questions:
    """Asks over one window."""

    def __init__(self, parent: QWidget) -> None:
        self.parent = parent

    def file_to_open(self, title: str, kinds: str) -> Path | None:
        """A file that is there; None where none was chosen."""
        name, _ = QFileDialog.getOpenFileName(self.parent, title, "", kinds)
        return Path(name) if name else None

    def file_to_write(
        self, title: str, start: str, kinds: str, *endings: str, own: Path | None = None
    ) -> Path | None:
        """Where a file goes, by the first of `endings` where it has none of them; None where it goes nowhere.

        A file that is there is written over only when that is said; one's `own` needs no saying.
        """
        path = self.choose_file(title, start, kinds)
        if path is None:
            return None
        path = with_ending(path, *endings) if endings else path
        mine = own is not None and os.path.realpath(path) == os.path.realpath(own)
        if os.path.lexists(path) and not mine:
            words = tr("{path} is there already. What is in it would be lost.", path=shown(path.name, 60))
            if not self.yes(tr("Write over it?"), words, tr("Write over it")):
                return None
        return path

    def choose_file(self, title: str, start: str, kinds: str) -> Path | None:
        """A name for a file to be written; whether it is there is asked afterwards, once its ending is known."""
        no_asking = QFileDialog.Option.DontConfirmOverwrite
        name, _ = QFileDialog.getSaveFileName(self.parent, title, start, kinds, options=no_asking)
        return Path(name) if name else None

    def folder(self, title: str) -> Path | None:
        """A folder that is there; None where none was chosen."""
        name = QFileDialog.getExistingDirectory(self.parent, title)
        return Path(name) if name else None

    def text(self, title: str, words: str, start: str) -> str | None:
        """A line of text; None where it was left."""
        text, said = QInputDialog.getText(self.parent, title, words, text=start)
        return text if said else None

    def yes(self, title: str, text: str, yes: str) -> bool:
        """A question with one way on and one way back."""
        box = QMessageBox(self.parent)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(lines(text, 600))
        go = box.addButton(on_menu(yes), QMessageBox.ButtonRole.AcceptRole)
        box.addButton(tr("Not now"), QMessageBox.ButtonRole.RejectRole)
        run(box)
        return box.clickedButton() is go

    def one_of(self, title: str, text: str, ways: tuple[str, ...]) -> int | None:
        """A question with several ways on; None for the way back."""
        box = QMessageBox(self.parent)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(lines(text, 900))
        buttons = [box.addButton(on_menu(way), QMessageBox.ButtonRole.AcceptRole) for way in ways]
        box.addButton(tr("Not now"), QMessageBox.ButtonRole.RejectRole)
        run(box)
        return next((k for k, button in enumerate(buttons) if box.clickedButton() is button), None)

    def leave(self) -> str:
        """What becomes of work that is not saved: `SAVE`, `DROP` or `STAY`."""
        box = QMessageBox(self.parent)
        box.setWindowTitle(tr("Not saved"))
        box.setText(tr("Save the changes to this job first?"))
        save = box.addButton(tr("Save"), QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton(tr("Let them go"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(tr("Stay here"), QMessageBox.ButtonRole.RejectRole)
        run(box)
        if box.clickedButton() is save:
            return SAVE
        return DROP if box.clickedButton() is drop else STAY
