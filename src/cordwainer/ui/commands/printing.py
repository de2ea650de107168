"""A sheet to a printer as it is, so that its text stays text: the pages asked for, on the paper there."""

from __future__ import annotations

import io
import shutil
import subprocess
from pathlib import Path
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr, trn
from cordwainer.files.shown import shown
from cordwainer.files.writing import write_bytes

if TYPE_CHECKING:
    from PyQt6.QtPrintSupport import QPrinter

PRINT_DPI, WAIT_S = 300, 60
SPOOLER = "lp"


def pages_of(content: bytes, first: int, last: int) -> bytes:
    """Some pages of a PDF, from 1; all of it where `first` is 0. Raises `InputError` for pages it has not."""
    import pypdfium2

    if not first:
        return content
    whole = pypdfium2.PdfDocument(content)
    count = len(whole)
    if not 1 <= first <= last <= count:
        raise InputError(
            "",
            trn(
                "the sheet has {count} page; none was printed",
                "the sheet has {count} pages; none was printed",
                count,
                count=count,
            ),
        )
    part, out = pypdfium2.PdfDocument.new(), io.BytesIO()
    part.import_pages(whole, list(range(first - 1, last)))
    part.save(out)
    for document in (part, whole):
        document.close()
    return out.getvalue()


def paper_of(printer: QPrinter) -> str:
    """The paper that lies in a printer, of those a sheet is made for."""
    return "letter" if printer.pageLayout().pageSize().name().lower().startswith("letter") else "a4"


def send(printer: QPrinter, content: bytes) -> str:
    """A PDF to a file or a printer; gives what is to be said. Raises `InputError` where it cannot be."""
    content = pages_of(content, printer.fromPage(), printer.toPage())
    target = printer.outputFileName()
    if target:
        write_bytes(Path(target), content)
        return tr("The sheet is in {name}.", name=shown(Path(target).name, 60))
    if shutil.which(SPOOLER) is None:
        painted(printer, content)
        return tr("Sent to {printername} as pictures of its pages.", printername=shown(printer.printerName(), 60))
    name = printer.printerName()
    media = tr("Letter") if paper_of(printer) == "letter" else "A4"
    wanted = ["-t", shown(printer.docName(), 80), "-n", str(max(printer.copyCount(), 1)), "-o", f"media={media}"]
    command = [SPOOLER, *(["-d", name] if name else []), *wanted]
    try:
        done = subprocess.run(command, input=content, capture_output=True, timeout=WAIT_S, check=False)
    except (OSError, subprocess.TimeoutExpired) as bad:
        raise InputError(
            "", tr("the printer's queue did not answer ({name}); nothing was printed", name=type(bad).__name__)
        ) from None
    if done.returncode:
        why = " ".join(done.stderr.decode("utf-8", "replace").split())[:200]
        raise InputError("", tr("the printer's queue refused it: {why}; nothing was printed", why=shown(why, 200)))
    return tr("Sent to {name}.", name=shown(name or tr("the usual printer"), 60))


def painted(printer: QPrinter, content: bytes) -> int:
    """The pages of a PDF painted on a printer that takes no PDF; how many there were."""
    from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRect, QSize, Qt
    from PyQt6.QtGui import QPainter
    from PyQt6.QtPdf import QPdfDocument

    buffer = QBuffer()
    buffer.setData(QByteArray(content))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    painter = QPainter(printer)
    for page in range(document.pageCount()):
        if page:
            printer.newPage()
        points = document.pagePointSize(page)
        size = QSize(round(points.width() / 72 * PRINT_DPI), round(points.height() / 72 * PRINT_DPI))
        picture = document.render(page, size)
        room = painter.viewport()
        fitted = size.scaled(room.size(), Qt.AspectRatioMode.KeepAspectRatio)
        painter.drawImage(QRect(room.topLeft(), fitted), picture)
    painter.end()
    return document.pageCount()
