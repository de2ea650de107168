"""Carrying the plan elsewhere: paper, pictures, the clipboard."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.shown import shown
from cordwainer.files.writing import plain_name, write_bytes, write_text
from cordwainer.ui.commands.command import Shell, beside
from cordwainer.ui.kit.passing import run

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import HolePlan


def paper(shell: Shell) -> str:
    """The paper settled, A4 where nothing is."""
    from cordwainer.files.sheet import PAPERS

    found = str(shell.desk.settings.get("paper", "a4"))
    return found if found in PAPERS else "a4"


def _planned(shell: Shell) -> list[HolePlan]:
    """The job's plans as chosen, one a hole. Raises `InputError` where there is nothing to put on paper."""
    from cordwainer.core.planning.words.operation import HolePlan

    plans = shell.desk.plans
    found = []
    for index, hole in enumerate(shell.desk.document.job.holes):
        plan, route = plans.of(hole.id), plans.route_of(index)
        if plan is None:
            raise InputError("", tr("the plans are not all worked out yet; try again in a moment"))
        found.append(HolePlan(hole, (route, *plan.routes) if route is not None else (), plan.why_not))
    if not found:
        raise InputError("", tr("there is no hole to put on a sheet"))
    return found


def sheet_bytes(shell: Shell, on: str = "") -> bytes:
    """The shop sheet of the job as it stands, on the paper settled or another."""
    from cordwainer.files.order_page import batch_for
    from cordwainer.files.sheet import sheet_pdf

    desk, plans = shell.desk, _planned(shell)
    job, machine = desk.document.job, desk.stock.machine
    known = desk.batch.batch if not desk.batch.working else None
    batch = known if known is not None else batch_for(job, plans, machine)
    return sheet_pdf(job, plans, machine, on or paper(shell), desk.selection.unit, batch)


def export_sheet(shell: Shell) -> None:
    """The shop sheet into a PDF file asked for."""
    name = plain_name(shell.desk.document.job.file.name, "sheet")
    found = shell.questions.file_to_write(tr("Shop sheet"), f"{name}.pdf", tr("PDF (*.pdf)"), ".pdf")
    if found is not None:
        export_sheet_to(shell, found)


def export_sheet_to(shell: Shell, path: Path) -> None:
    """The shop sheet into a file. Raises `InputError` where it cannot be written."""
    content = beside(shell, tr("Making the shop sheet"), lambda: sheet_bytes(shell))
    write_bytes(path, content)
    shell.say(tr("The sheet is in {path}.", path=shown(path.name, 60)))


def _selected(shell: Shell) -> HolePlan:
    plans = shell.desk.plans
    if plans.plan is None or plans.route is None:
        raise InputError("", tr("the selected hole has no plan"))
    return plans.plan


def export_section(shell: Shell) -> None:
    """The hole in hand in section into an SVG file asked for."""
    hole = shell.desk.selection.hole
    name = f"{plain_name(hole.id, 'hole')} section.svg" if hole is not None else "section.svg"
    found = shell.questions.file_to_write(tr("Section"), name, tr("SVG (*.svg)"), ".svg")
    if found is not None:
        export_section_to(shell, found)


def export_section_to(shell: Shell, path: Path) -> None:
    """The hole in hand in section into a file. Raises `InputError` where it cannot be written."""
    from cordwainer.files.sheet import section_svg

    plan, desk = _selected(shell), shell.desk
    write_text(path, section_svg(plan, desk.plans.route, desk.selection.unit))
    shell.say(tr("The section is in {path}.", path=shown(path.name, 60)))


def print_sheet(shell: Shell) -> None:
    """The shop sheet to a printer, laid out for the paper that lies there."""
    from PyQt6.QtGui import QPageSize
    from PyQt6.QtPrintSupport import QPrintDialog, QPrinter

    from cordwainer.ui.commands.printing import paper_of, send

    words = tr("Making the shop sheet")
    content = beside(shell, words, lambda: sheet_bytes(shell))
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setDocName(shell.desk.document.job.file.name or tr("Shop sheet"))
    settled = QPageSize.PageSizeId.Letter if paper(shell) == "letter" else QPageSize.PageSizeId.A4
    printer.setPageSize(QPageSize(settled))
    if run(QPrintDialog(printer, shell.parent_widget)) == QPrintDialog.DialogCode.Accepted:
        other = paper_of(printer)
        if other != paper(shell):
            content = beside(shell, words, lambda: sheet_bytes(shell, other))
        shell.say(send(printer, content))


def copy_sequence(shell: Shell) -> None:
    """The sequence of the hole in hand onto the clipboard, a line a step."""
    from PyQt6.QtGui import QGuiApplication

    from cordwainer.files.sheet import sequence_text

    plan, desk = _selected(shell), shell.desk
    route, clipboard = desk.plans.route, QGuiApplication.clipboard()
    if clipboard is not None and route is not None:
        clipboard.setText(sequence_text(plan, route, desk.stock.machine, desk.selection.unit))
        shell.say(tr("The sequence is on the clipboard."))
