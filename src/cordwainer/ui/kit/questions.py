"""What is asked of the user in a window of its own: files, names, yes or no. Tests put another in its place."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

SAVE, DROP, STAY = "save", "drop", "stay"


class Questions:
    """Asks over one window."""

    def __init__(self, parent: QWidget) -> None:
        self.parent = parent

    def file_to_open(self, title: str, kinds: str) -> Path | None:
        """A file that is there; None where none was chosen."""
        name, _ = QFileDialog.getOpenFileName(self.parent, title, "", kinds)
        return Path(name) if name else None

    def file_to_write(self, title: str, start: str, kinds: str) -> tuple[Path, str] | None:
        """Where a file goes, and the kind chosen; None where none was."""
        name, kind = QFileDialog.getSaveFileName(self.parent, title, start, kinds)
        return (Path(name), kind) if name else None

    def text(self, title: str, words: str, start: str) -> str | None:
        """A line of text; None where it was left."""
        text, said = QInputDialog.getText(self.parent, title, words, text=start)
        return text if said else None

    def yes(self, title: str, text: str, yes: str) -> bool:
        """A question with one way on and one way back."""
        box = QMessageBox(self.parent)
        box.setWindowTitle(title)
        box.setText(text)
        go = box.addButton(yes, QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Not now", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return box.clickedButton() is go

    def leave(self) -> str:
        """What becomes of work that is not saved: `SAVE`, `DROP` or `STAY`."""
        box = QMessageBox(self.parent)
        box.setWindowTitle("Not saved")
        box.setText("Save the changes to this job first?")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton("Let them go", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            return SAVE
        return DROP if box.clickedButton() is drop else STAY
