"""Commands that speak of the holes as printed: adding and removing, lists and drawings in, the table out."""

from __future__ import annotations

from pathlib import Path

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.shown import shown
from cordwainer.files.writing import write_bytes, write_text
from cordwainer.ui.commands.command import Shell, beside

LIST_FILES = tr("Lists (*.csv *.txt *.tsv);;All files (*)")
FRESH = {"mm": {"diameter": "8 mm", "depth": "20 mm"}, "in": {"diameter": "5/16 in", "depth": "3/4 in"}}


def add_hole(shell: Shell) -> None:
    """Another hole, like the one in hand in material and machine."""
    from cordwainer.files.hole_csv import free_id

    desk = shell.desk
    fresh = free_id({hole.id for hole in desk.document.job.holes})
    entry = {"id": fresh, "kind": "plain", "through": True} | FRESH[desk.selection.unit]
    desk.document.edit(tr("Add a hole"), lambda data: data["holes"].append(entry))
    desk.selection.select_hole(len(desk.document.job.holes) - 1)
    shell.go("print")


def remove_hole(shell: Shell) -> None:
    """Remove the hole in hand; undo brings it back."""
    index, hole = shell.desk.selection.hole_index, shell.desk.selection.hole
    if hole is not None:
        shell.desk.document.edit(tr("Remove {hole}", hole=hole.id), lambda data: data["holes"].pop(index))


def next_trouble(shell: Shell) -> None:
    """The next thing on the print that does not add up."""
    shell.go("print")
    shell.print_acts().next_trouble()


def choose_kind(shell: Shell) -> None:
    """To the kinds of hole; arrows and Space choose."""
    shell.go("print")
    shell.print_acts().to_kinds()


def choose_mouth(shell: Shell) -> None:
    """To what may be at the mouth; arrows and Space choose."""
    shell.go("print")
    shell.print_acts().to_mouths()


def type_hole(shell: Shell) -> None:
    """To the line where the hole is typed as printed."""
    shell.go("print")
    shell.print_acts().to_line()


def import_holes(shell: Shell) -> None:
    """Ask for a list of holes, each written as printed."""
    path = shell.questions.file_to_open(tr("Import holes"), LIST_FILES)
    if path is not None:
        import_holes_from(shell, path)


def import_holes_from(shell: Shell, path: Path) -> None:
    """Show which lines are read as holes and which are not, and why, to be gone through and taken."""
    from cordwainer.files import hole_csv
    from cordwainer.files.prints.review import of_list

    desk = shell.desk
    job = desk.document.job
    present, unit = [hole.id for hole in job.holes], desk.selection.unit
    try:
        general = job.file.general_tolerance
        words = tr("Reading {path}", path=shown(path.name, 60))
        read = beside(shell, words, lambda: hole_csv.read_file(path, unit, present, general))
    except InputError as bad:
        shell.say(tr("{path} was not read. {bad}", path=path.name, bad=bad))
        return
    desk.prints.show(of_list(path, read, unit))
    shell.go("sheet")


def import_drawing(shell: Shell) -> None:
    """Ask for a drawing whose callouts become holes."""
    path = shell.questions.file_to_open(tr("Holes from a drawing"), tr("Drawings (*.pdf *.dxf);;All files (*)"))
    if path is not None:
        import_drawing_from(shell, path)


def import_drawing_from(shell: Shell, path: Path) -> None:
    """Read a drawing beside the window, then go through it."""
    shell.desk.prints.open(path, lambda: shell.go("sheet"))


def open_sheet(shell: Shell) -> None:
    """Back to the drawing under review; without one it is asked for."""
    if shell.desk.prints.review is None:
        import_drawing(shell)
    else:
        shell.go("sheet")


def export_drawing(shell: Shell) -> None:
    """Ask where the job's own drawing goes: table and sections."""
    found = shell.questions.file_to_write(
        tr("Drawing of the job"), "job.dxf", tr("Drawings (*.dxf *.svg)"), ".dxf"
    )
    if found is not None:
        export_drawing_to(shell, found)


def export_drawing_to(shell: Shell, path: Path) -> None:
    """Write the part from above, the hole table and every section, as DXF layers or SVG."""
    from cordwainer.files.prints.job_drawing import as_dxf, as_svg, job_drawing

    desk = shell.desk
    plans = [plan for hole in desk.document.job.holes if (plan := desk.plans.of(hole.id)) is not None]

    def made() -> str:
        drawn = job_drawing(desk.document.job, plans)
        svg = path.suffix.lower() == ".svg"
        return as_svg(drawn, desk.document.job.file.name or path.stem) if svg else as_dxf(drawn)

    write_text(path, beside(shell, tr("Drawing the job"), made))
    shell.say(tr("The drawing stands in {path}.", path=shown(path.name, 60)))


def export_balloons(shell: Shell) -> None:
    """Ask where the user's own drawing with balloons goes."""
    found = shell.questions.file_to_write(tr("Drawing with balloons"), "balloons.pdf", tr("PDF (*.pdf)"), ".pdf")
    if found is not None:
        export_balloons_to(shell, found)


def export_balloons_to(shell: Shell, path: Path) -> None:
    """Write the PDF the holes were read from with a balloon at each; the drawing itself stays as it is."""
    from cordwainer.files.prints.balloons import ballooned, balloons_of

    drawing, balloons = balloons_of(shell.desk.document.job)
    if drawing.resolve() == path.resolve():
        raise InputError("", tr("{path} is the drawing itself; name another file", path=shown(path.name, 60)))
    write_bytes(path, beside(shell, tr("Putting balloons on the drawing"), lambda: ballooned(drawing, balloons)))
    shell.say(tr("{count} balloons on {path}.", count=len(balloons), path=shown(path.name, 60)))


def export_table(shell: Shell) -> None:
    """Ask where the hole table goes."""
    found = shell.questions.file_to_write(tr("Hole table"), "holes.csv", tr("List (*.csv)"), ".csv")
    if found is not None:
        export_table_to(shell, found)


def export_table_to(shell: Shell, path: Path) -> None:
    """Write every hole with its coordinates, a line a place. Raises `InputError` where it cannot be written."""
    from cordwainer.files.hole_csv import table_of

    document = shell.desk.document
    unit = shell.desk.selection.unit
    write_text(path, table_of(document.data["holes"], document.job.file.general_tolerance, unit))
    shell.say(tr("The hole table stands in {path}.", path=shown(path.name, 60)))
