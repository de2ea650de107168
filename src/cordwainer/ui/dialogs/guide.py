"""The guide with pictures of the real screens, and what the program is made of."""

from __future__ import annotations

from importlib import metadata
from typing import Any

from PyQt6.QtCore import QByteArray, Qt, QUrl
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QDialog, QPushButton, QTextBrowser, QWidget

from cordwainer import __version__
from cordwainer.core.language import tr
from cordwainer.core.tables import by_key, packaged, page
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.layout import down

PICTURES = ("print", "plan", "cut", "measure", "explain", "crib")
LIBRARIES = ("PyQt6", "numpy", "pydantic", "platformdirs", "click", "ezdxf", "pyserial", "reportlab")
SOURCES = (
    tr("ISO 286-1 and -2, ISO 2768-1, ISO 965-1, ISO 866, ISO 2540, ISO 2541, ISO 14253-1, ISO 1"),
    tr("DIN 1420; ASME B1.1, ASME B94.11M"),
    tr("Machinery's Handbook: drilling speeds, thrust, torque and power, oversize of drilled holes"),
    tr("common practice, from memory, or assumed, where the working of a figure says so"),
)


class Pictured(QTextBrowser):
    """A page whose pictures ship with the program."""

    def loadResource(self, kind: int, name: QUrl) -> Any:
        """A picture by its name; nothing from anywhere else."""
        wanted = name.toString()
        if wanted in PICTURES:
            picture = QImage()
            picture.loadFromData(QByteArray(packaged(f"help/{wanted}.jpg")))
            return picture
        return None


class Guide(QDialog):
    """From the print to the next hole, in a few screens."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Guide"))
        self.resize(880, 740)
        self.page = _page(self, Pictured())
        self.page.setMarkdown(page("guide.md"))


class About(QDialog):
    """Version, what it is for, licenses, sources, the standing caution."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("About Cordwainer"))
        self.resize(760, 640)
        self.page = _page(self, QTextBrowser())
        self.page.setMarkdown(about_text())


def _page(dialog: QDialog, page: QTextBrowser) -> QTextBrowser:
    """A page that fills a dialog over its button."""
    outer = down(dialog, (28, 20, 20, 18))
    page.setFrameShape(QTextBrowser.Shape.NoFrame)
    page.setStyleSheet(f"QTextBrowser {{ background: {theme.PLATE.name()}; color: {theme.INK.name()}; }}")
    page.setFont(theme.font(15))
    page.setOpenLinks(False)
    outer.addWidget(page, 1)
    close = QPushButton(tr("Close"))
    close.clicked.connect(dialog.accept)
    outer.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
    return page


def about_text() -> str:
    """What the program is made of, as Markdown."""
    standing = by_key("cautions", "id")["standing"].words("text")
    lines = [
        f"# Cordwainer {__version__}",
        tr("Plan, cut, measure and explain a hole."),
        f"**{standing}**",
        tr("## License"),
        "Free software under the GNU General Public License, version 3 or later. "
        "The typeface B612 is under the SIL Open Font License 1.1; icons and pictures are the program's own.",
        tr("## Made with"),
        *(f"- {name} {_version(name)}, {_license(name)}" for name in LIBRARIES),
        tr("## Where its figures come from"),
        *(f"- {source}" for source in SOURCES),
    ]
    return "\n\n".join(lines).replace("\n\n- ", "\n- ")


def _version(name: str) -> str:
    try:
        return metadata.version(name)
    except metadata.PackageNotFoundError:
        return ""


def _license(name: str) -> str:
    """A library's license as it states it, in a few words."""
    try:
        about: Any = metadata.metadata(name)
    except metadata.PackageNotFoundError:
        return tr("its own license")
    said = about.get("License-Expression") or ""
    if not said:
        kinds = [c.rpartition(":: ")[2] for c in about.get_all("Classifier") or () if c.startswith("License")]
        said = ", ".join(kinds) or (about.get("License") or tr("its own license")).splitlines()[0]
    return said
