"""Commands that speak of the holes as printed: adding and removing, lists and drawings in, the table out."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.files.shown import shown
from cordwainer.files.writing import write_text
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.desk.background import FIRST, Answer, Turn
from cordwainer.ui.kit.passing import run

if TYPE_CHECKING:
    from cordwainer.files.drawing import Drawing

LIST_FILES = "Lists (*.csv *.txt *.tsv);;All files (*)"
FRESH = {"mm": {"diameter": "8 mm", "depth": "20 mm"}, "in": {"diameter": "5/16 in", "depth": "3/4 in"}}


def add_hole(shell: Shell) -> None:
    """Another hole, like the one in hand in material and machine."""
    from cordwainer.files.hole_csv import free_id

    desk = shell.desk
    fresh = free_id({hole.id for hole in desk.document.job.holes})
    entry = {"id": fresh, "kind": "plain", "through": True} | FRESH[desk.selection.unit]
    desk.document.edit("Add a hole", lambda data: data["holes"].append(entry))
    desk.selection.select_hole(len(desk.document.job.holes) - 1)
    shell.go("print")


def remove_hole(shell: Shell) -> None:
    """Remove the hole in hand; undo brings it back."""
    index, hole = shell.desk.selection.hole_index, shell.desk.selection.hole
    if hole is not None:
        shell.desk.document.edit(f"Remove {hole.id}", lambda data: data["holes"].pop(index))


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
    path = shell.questions.file_to_open("Import holes", LIST_FILES)
    if path is not None:
        import_holes_from(shell, path)


def import_holes_from(shell: Shell, path: Path) -> None:
    """Show which lines are read as holes and which are not, and why; add them when told to."""
    from cordwainer.files import hole_csv
    from cordwainer.files.lists import refused_text
    from cordwainer.ui.dialogs.preview import Preview, PreviewDialog

    document = shell.desk.document
    job = document.job
    present = [hole.id for hole in job.holes]
    try:
        read = hole_csv.read_file(path, shell.desk.selection.unit, present, job.file.general_tolerance)
    except InputError as bad:
        shell.say(f"{path.name} was not read. {bad}")
        return
    good = [f"{entry['id']}  {line}" for entry, line in zip(read.entries, read.lines, strict=True)]
    preview = Preview(
        f"Holes from {path.name}", "holes", good, read.refused, refused_text(read.head, read.refused)
    )
    if run(PreviewDialog(preview, shell.parent_widget)):
        document.edit(f"Import {len(good)} holes", lambda data: data["holes"].extend(read.entries))
        shell.go("print")
        shell.say(f"{len(good)} holes taken from {path.name}. Undo takes them all out again.")


def import_drawing(shell: Shell) -> None:
    """Ask for a drawing whose circles become holes."""
    path = shell.questions.file_to_open("Holes from a drawing", "Drawings (*.dxf);;All files (*)")
    if path is not None:
        import_drawing_from(shell, path)


def import_drawing_from(shell: Shell, path: Path) -> None:
    """Read a drawing beside the window, then show what it holds."""
    words = f"Reading {shown(path.name, 60)}"

    def work(_path: Path, turn: Turn) -> Drawing:
        from cordwainer.files import drawing

        def told(done: int, of: int) -> bool:
            turn.words = f"{words}, {100 * done // max(of, 1)} %"
            return turn.stopped()

        return drawing.read(path, told)

    def then(answer: Answer) -> None:
        if answer.error is not None:
            shell.say(f"{words}: {answer.why}")
        else:
            _choose_from(shell, path, answer.value)

    shell.desk.background.ask(("drawing", path), path, work, then, urgency=FIRST, words=words)


def _choose_from(shell: Shell, path: Path, read: Drawing) -> None:
    """Show the circles by layer and diameter, ask what the drawing does not say; take them when told."""
    from cordwainer.ui.dialogs.drawing_in import DrawingDialog

    document, selection = shell.desk.document, shell.desk.selection
    if not read.circles:
        shell.say(f"{shown(path.name, 60)} has no circle that could be a hole.")
        return
    dialog = DrawingDialog(path.name, read, document, selection, shell.parent_widget)
    if run(dialog) and dialog.found:
        entries = [hole.entry for hole in dialog.found]
        words = f"{len(entries)} holes from {path.name}"
        document.edit(words, lambda data: data["holes"].extend(entries))
        selection.select_hole(len(document.job.holes) - len(entries))
        shell.go("part")
        shell.say(f"{words}. Undo takes them all out again.")


def export_table(shell: Shell) -> None:
    """Ask where the hole table goes."""
    found = shell.questions.file_to_write("Hole table", "holes.csv", "List (*.csv)", ".csv")
    if found is not None:
        export_table_to(shell, found)


def export_table_to(shell: Shell, path: Path) -> None:
    """Write every hole with its coordinates, a line a place. Raises `InputError` where it cannot be written."""
    from cordwainer.files.hole_csv import table_of

    document = shell.desk.document
    unit = shell.desk.selection.unit
    write_text(path, table_of(document.data["holes"], document.job.file.general_tolerance, unit))
    shell.say(f"The hole table stands in {shown(path.name, 60)}.")
