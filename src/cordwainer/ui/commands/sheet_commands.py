"""Commands of the window that carry its work elsewhere: paper, clipboard, files dropped on it, settings, help."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QPainter
from PyQt6.QtWidgets import QDialog, QFileDialog

from cordwainer.core.errors import InputError
from cordwainer.core.planning.words.operation import HolePlan
from cordwainer.ui.commands.crib_commands import CribCommands

DROPPED = {".json": "open_path", ".dxf": "import_drawing_from", ".csv": "import_holes_from"}
PRINT_DPI = 300


class SheetCommands(CribCommands):
    """Shop sheet, copies, drops, settings, the guide."""

    # -- paper ---------------------------------------------------------------------------------

    @property
    def paper(self) -> str:
        """The paper settled, A4 where nothing is."""
        from cordwainer.files.sheet import PAPERS

        found = str(self.session.settings.get("paper", "a4"))
        return found if found in PAPERS else "a4"

    def _planned(self) -> list[HolePlan]:
        """The job's plans as chosen, one a hole. Raises `InputError` where there is nothing to put on paper."""
        session = self.session
        found = []
        for index, hole in enumerate(session.job.holes):
            plan, route = session.plan_of(hole.id), session.route_of(index)
            if plan is None:
                raise InputError("", "the plans are not all worked out yet; try again in a moment")
            found.append(HolePlan(hole, (route, *plan.routes) if route is not None else (), plan.why_not))
        if not found:
            raise InputError("", "there is no hole to put on a sheet")
        return found

    def sheet_bytes(self) -> bytes:
        """The shop sheet of the job as it stands."""
        from cordwainer.files.order_page import batch_for
        from cordwainer.files.sheet import sheet_pdf

        session, plans = self.session, self._planned()
        keeper = session.batch
        known = keeper.batch if not keeper.working else None
        batch = known if known is not None else batch_for(session.job, plans, session.machine)
        return sheet_pdf(session.job, plans, session.machine, self.paper, session.unit, batch)

    def export_sheet(self) -> None:
        """The shop sheet into a PDF file asked for."""
        name = (self.session.job.file.name or "sheet").replace("/", " ")
        path, _ = QFileDialog.getSaveFileName(self, "Shop sheet", f"{name}.pdf", "PDF (*.pdf)")
        if path:
            self.export_sheet_to(Path(path))

    def export_sheet_to(self, path: Path) -> None:
        """The shop sheet into a file."""
        from cordwainer.files.documents import write_bytes

        content = self.sheet_bytes()
        try:
            write_bytes(path.with_suffix(".pdf"), content)
        except OSError as bad:
            raise InputError("", f"{path.name} could not be written: {bad.strerror}") from None
        self.notice.say(f"The sheet is in {path.with_suffix('.pdf').name}.")

    def export_section(self) -> None:
        """The selected hole in section into an SVG file asked for."""
        hole = self.session.hole
        name = f"{hole.id} section.svg" if hole is not None else "section.svg"
        path, _ = QFileDialog.getSaveFileName(self, "Section", name, "SVG (*.svg)")
        if path:
            self.export_section_to(Path(path))

    def export_section_to(self, path: Path) -> None:
        """The selected hole in section into a file."""
        from cordwainer.files.documents import write_text
        from cordwainer.files.sheet import section_svg

        plan = self._selected()
        try:
            write_text(path.with_suffix(".svg"), section_svg(plan, self.session.route, self.session.unit))
        except OSError as bad:
            raise InputError("", f"{path.name} could not be written: {bad.strerror}") from None

    def _selected(self) -> HolePlan:
        plan = self.session.plan
        if plan is None or self.session.route is None:
            raise InputError("", "the selected hole has no plan")
        return plan

    def print_sheet(self) -> None:
        """The shop sheet to a printer."""
        from PyQt6.QtPrintSupport import QPrintDialog, QPrinter

        content = self.sheet_bytes()
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setDocName(self.session.job.file.name or "Shop sheet")
        if QPrintDialog(printer, self).exec() == QDialog.DialogCode.Accepted:
            self.print_to(printer, content)

    def print_to(self, printer: object, content: bytes) -> int:
        """The pages of a PDF on a printer; how many were painted."""
        from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
        from PyQt6.QtPdf import QPdfDocument
        from PyQt6.QtPrintSupport import QPrinter

        assert isinstance(printer, QPrinter)
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

    def copy_sequence(self) -> None:
        """The selected hole's sequence onto the clipboard, a line a step."""
        from cordwainer.files.sheet import sequence_text

        plan, session = self._selected(), self.session
        assert session.route is not None
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(sequence_text(plan, session.route, session.machine, session.unit))
        self.notice.say("The sequence is on the clipboard.")

    # -- files dropped ---------------------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Job files, drawings and lists may be let go here."""
        if event is not None and _dropped(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """A file let go on the window is opened, a drawing or list taken in."""
        path = _dropped(event.mimeData()) if event is not None else None
        if event is None or path is None:
            return
        event.acceptProposedAction()
        try:
            getattr(self, DROPPED[path.suffix.lower()])(path)
        except InputError as bad:
            self.notice.say(str(bad))

    # -- settings and help -------------------------------------------------------------------------

    def show_settings(self) -> None:
        """What is settled once."""
        from cordwainer.ui.dialogs.settings import SettingsDialog

        dialog = SettingsDialog(self.session, self)
        dialog.text_size_asked.connect(self.set_text_size)
        dialog.shop_asked.connect(self.choose_shop)
        dialog.practice_asked.connect(self.open_practice)
        dialog.exec()

    def set_text_size(self, percent: int) -> None:
        """Another size of everything."""
        raise NotImplementedError

    def show_guide(self) -> None:
        """A short guide, drawn from the real screens."""
        from cordwainer.ui.dialogs.guide import Guide

        Guide(self).exec()

    def show_about(self) -> None:
        """Who it is for, licenses, sources, the standing caution."""
        from cordwainer.ui.dialogs.guide import About

        About(self).exec()


def _dropped(data: object) -> Path | None:
    """The one local file of a drop that can be taken, or None."""
    urls = data.urls() if data is not None and hasattr(data, "urls") else []
    paths = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    found = [path for path in paths if path.suffix.lower() in DROPPED]
    return found[0] if len(found) == 1 and len(paths) == 1 else None
