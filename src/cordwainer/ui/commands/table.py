"""Everything the window can be told to do, declared once: menu, keys, tooltips, the sheet and tests read this."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from cordwainer.core.language import tr
from cordwainer.ui.commands import crib, holes, leaving, paper, sequence, strip, view
from cordwainer.ui.commands.command import Command, Shell, always, has_hole, has_line, has_route, has_tool
from cordwainer.ui.kit.passing import run


def to(stage: str) -> Callable[[Shell], None]:
    """The way to a stage."""

    def go(shell: Shell) -> None:
        shell.go(stage)

    return go


def has_part(shell: Shell) -> str:
    """A hole that can stand on a part is needed."""
    empty = shell.desk.document.empty
    return tr("no hole yet; type one on the first screen, or take a drawing") if empty else ""


def keyed() -> dict[str, list[tuple[str, str]]]:
    """Keys and words of the commands that have keys, by the heading they stand under."""
    found: dict[str, list[tuple[str, str]]] = {}
    for command in BY_NAME.values():
        if command.keys:
            found.setdefault(command.group, []).append((command.keys, command.text.rstrip("…")))
    return found


def show_shortcuts(shell: Shell) -> None:
    """All keys on one sheet."""
    from cordwainer.ui.dialogs.shortcuts import ShortcutSheet

    run(ShortcutSheet(keyed(), shell.parent_widget))


_edit = partial(Command, group="Edit")
_go = partial(Command, group="Go to", plain=True)
_crib = partial(Command, group="Crib")
_tool = partial(Command, group="Crib", plain=True, when=has_tool)
_step = partial(Command, group="Sequence", plain=True, when=has_route)
_view = partial(Command, group="View")
_help = partial(Command, group="Help")
_shop = partial(Command, group="Shop")

COMMANDS: tuple[Command | None, ...] = (
    Command("new_job", tr("New job"), leaving.new_job, "Ctrl+N"),
    Command("open_job", tr("Open a job file…"), leaving.open_job, "Ctrl+O"),
    Command("save_job", tr("Save"), leaving.save_job, "Ctrl+S"),
    Command("save_job_as", tr("Save as…"), leaving.save_job_as, "Ctrl+Shift+S"),
    Command("recover", tr("Take up work left behind…"), leaving.recover),
    Command("demo_drawing", tr("Read the demo drawing"), leaving.read_demo_drawing),
    Command("choose_demo", tr("Open a demo job…"), leaving.choose_demo, "Ctrl+D"),
    Command("print_sheet", tr("Print the shop sheet…"), paper.print_sheet, "Ctrl+P"),
    Command("export_sheet", tr("Shop sheet as PDF…"), paper.export_sheet, "Ctrl+Shift+P"),
    Command("export_section", tr("Section as SVG…"), paper.export_section),
    None,
    _edit("undo", tr("Undo"), view.undo, "Ctrl+Z"),
    _edit("redo", tr("Redo"), view.redo, "Ctrl+Shift+Z", also="Ctrl+Y"),
    None,
    _edit("add_hole", tr("Add a hole"), holes.add_hole, "Ctrl+H"),
    _edit("import_holes", tr("Import holes from a list…"), holes.import_holes, "Ctrl+I"),
    _edit("open_part", tr("The part from above"), to("part"), "A", plain=True, when=has_part),
    _edit("import_drawing", tr("Holes from a drawing…"), holes.import_drawing, "Ctrl+Shift+I"),
    _edit("open_sheet", tr("The drawing under review"), holes.open_sheet, "Ctrl+Shift+D"),
    _edit("export_table", tr("Hole table out…"), holes.export_table, "Ctrl+Shift+E"),
    _edit("export_drawing", tr("Drawing of the job out (DXF, SVG)…"), holes.export_drawing, when=has_hole),
    _edit("export_balloons", tr("Balloons on the drawing (PDF)…"), holes.export_balloons, when=has_hole),
    _edit("remove_hole", tr("Remove this hole"), holes.remove_hole, "Ctrl+Delete"),
    _edit("next_trouble", tr("Next thing that does not add up"), holes.next_trouble, "F8", when=has_line),
    _edit("choose_kind", tr("Kind of hole"), holes.choose_kind, "Shift+K", plain=True, menu=False, when=has_line),
    _edit(
        "choose_mouth", tr("At the mouth"), holes.choose_mouth, "Shift+M", plain=True, menu=False, when=has_line
    ),
    _edit("type_hole", tr("Type the hole as printed"), holes.type_hole, "Ctrl+L", when=has_line),
    None,
    _go("go_print", tr("Print"), to("print"), "1", also="Alt+1"),
    _go("go_plan", tr("Plan"), to("plan"), "2", also="Alt+2"),
    _go("go_cut", tr("Cut, at the machine"), to("cut"), "3", also="Alt+3"),
    _go("go_measure", tr("Measure"), to("measure"), "4", also="Alt+4"),
    _go("go_explain", tr("Explain"), to("explain"), "5", also="Alt+5"),
    _go("go_crib", tr("Crib, and what is this drill?"), to("crib"), "C"),
    _go("go_train", tr("Train: judge holes without scrap"), to("train"), "Ctrl+Alt+T"),
    _go("go_logbook", tr("Logbook, what each tool has cut"), to("logbook"), "L"),
    _crib("new_shop", tr("New shop…"), crib.new_shop, "Ctrl+Shift+N"),
    _crib("fill_crib", tr("Fill the crib…"), crib.fill_crib),
    _crib("take_stock", tr("Stock-taking…"), crib.take_stock),
    _crib("find_tool", tr("Find a tool"), crib.find_tool, "Ctrl+F"),
    _tool("tool_out", tr("This tool is out, or back"), crib.tool_out, "O"),
    _tool("tool_to_get", tr("This tool is to get, or here"), crib.tool_to_get, "G"),
    _tool("one_more_tool", tr("One more of this tool"), crib.one_more_tool, "D"),
    _tool("tool_edge", tr("This tool's edge: good, worn, chipped, blunt"), crib.next_edge, "E", menu=False),
    _tool("tool_drawer", tr("This tool's drawer"), crib.to_field("drawer"), "H", menu=False),
    _tool("tool_count", tr("How many of this tool"), crib.to_field("quantity"), "Q", menu=False),
    _tool("tool_price", tr("This tool's price"), crib.to_field("price"), "M", menu=False),
    _tool("tool_coating", tr("This tool's coating"), crib.to_field("coating"), "T", menu=False),
    _tool("tool_note", tr("A note on this tool"), crib.to_field("note"), "N", menu=False),
    _tool("check_point", tr("Check this drill's point"), crib.check_point, "P"),
    _crib("import_tools", tr("Import tools from a list…"), crib.import_tools),
    _crib("export_tools", tr("Export the crib…"), crib.export_tools),
    _crib("take_along", tr("Take the shop along…"), crib.take_along),
    _crib("bring_in", tr("Bring a shop in…"), crib.bring_in),
    _go("previous_operation", tr("Previous operation"), view.previous_operation, tr("Left"), menu=False),
    _go("next_operation", tr("Next operation"), view.next_operation, tr("Right"), menu=False),
    _go("previous_hole", tr("Previous hole"), view.previous_hole, tr("Up"), menu=False),
    _go("next_hole", tr("Next hole"), view.next_hole, tr("Down"), menu=False),
    None,
    _step(
        "copy_sequence",
        tr("Copy the sequence as text"),
        paper.copy_sequence,
        "Ctrl+Shift+Y",
        when=always,
        plain=False,
    ),
    _step("next_route", tr("Next route"), sequence.next_route, "R", when=always),
    _step("other_size", tr("Other size for this step"), sequence.other_size, "S"),
    _step("larger_tool", tr("Next larger size"), sequence.larger_tool, "+", menu=False),
    _step("smaller_tool", tr("Next smaller size"), sequence.smaller_tool, "-", menu=False),
    _step("keep_step", tr("Keep this tool, or let it go"), sequence.keep_step, "K"),
    _step("faster", tr("Next faster step of the machine"), sequence.faster, "PgUp", menu=False),
    _step("slower", tr("Next slower step of the machine"), sequence.slower, "PgDown", menu=False),
    _step("add_step", tr("Add a step before this drill"), sequence.add_step, tr("Insert")),
    _step("remove_step", tr("Remove this step"), sequence.remove_step, tr("Delete")),
    _step(
        "step_earlier", tr("Move this step earlier"), sequence.step_earlier, "Alt+Left", menu=False, plain=False
    ),
    _step("step_later", tr("Move this step later"), sequence.step_later, "Alt+Right", menu=False, plain=False),
    _step("what_if", tr("What would happen if"), to("what_if"), "I"),
    _step("open_practice", tr("Your practice, and others’"), to("practice"), "Y", when=has_hole),
    _step("plan_freely", tr("Plan it freely"), sequence.plan_freely, "Ctrl+R", plain=False),
    _step("open_batch", tr("The batch: order, minutes, cost"), to("batch"), "B", when=has_hole),
    None,
    _view("ask", tr("Ask a small question"), view.ask, "/", also="Ctrl+Space", plain=True),
    _view("swap_unit", tr("Inches or millimeters"), view.swap_unit, "U", plain=True),
    _view("show_working", tr("Show the working"), view.show_working, "W", plain=True),
    _view("full_screen", tr("Full screen"), view.full_screen, "F11"),
    _view("larger_text", tr("Larger text"), view.larger_text, "Ctrl++"),
    _view("smaller_text", tr("Smaller text"), view.smaller_text, "Ctrl+-"),
    None,
    _edit("rename_job", tr("Name the job…"), strip.rename_job, "F2"),
    _shop("edit_machine", tr("My machine…"), crib.edit_machine, "Ctrl+M"),
    _shop("choose_machine", tr("Choose the machine…"), strip.choose_machine, "Ctrl+Shift+M"),
    _shop("choose_material", tr("Choose the material…"), strip.choose_material, "Ctrl+Shift+T"),
    _shop("choose_shop", tr("Choose the shop…"), strip.choose_shop, "Ctrl+Shift+C"),
    None,
    _view("show_settings", tr("Settings…"), view.show_settings, "Ctrl+,"),
    _view("show_benches", tr("Several benches, one shop…"), view.show_benches, ""),
    _help("show_guide", tr("Guide"), view.show_guide, "Shift+F1"),
    _help("show_model", tr("How the chances are worked out"), view.show_model),
    _help("show_shortcuts", tr("Shortcuts"), show_shortcuts, "F1"),
    _help("show_about", tr("About, licenses and cautions"), view.show_about),
    Command("quit", tr("Quit"), view.leave, "Ctrl+Q", also="Ctrl+W"),
)


BY_NAME: dict[str, Command] = {c.name: c for c in COMMANDS if c is not None}


def with_keys(words: str, name: str) -> str:
    """Words for a tooltip with the keys of a command after them."""
    keys = BY_NAME[name].keys
    return f"{words}  {keys}" if keys else words
