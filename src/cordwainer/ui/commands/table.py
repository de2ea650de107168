"""Everything the window can be told to do, declared once: menu, shortcuts and tooltips read this."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """One command: the window's method, its words, its keys; `plain` keys rest while typing.

    `group` is the heading it stands under in the sheet of shortcuts; `also` are other keys that do it.
    """

    method: str
    text: str
    keys: str = ""
    plain: bool = False
    menu: bool = True
    group: str = "File"
    also: str = ""


COMMANDS: tuple[Command | None, ...] = (
    Command("new_job", "New job", "Ctrl+N"),
    Command("open_job", "Open a job file…", "Ctrl+O"),
    Command("save_job", "Save", "Ctrl+S"),
    Command("save_job_as", "Save as…", "Ctrl+Shift+S"),
    Command("choose_demo", "Open a demo job…", "Ctrl+D"),
    Command("print_sheet", "Print the shop sheet…", "Ctrl+P"),
    Command("export_sheet", "Shop sheet as PDF…", "Ctrl+Shift+P"),
    Command("export_section", "Section as SVG…"),
    None,
    Command("undo", "Undo", "Ctrl+Z", group="Edit"),
    Command("redo", "Redo", "Ctrl+Shift+Z", group="Edit"),
    None,
    Command("add_hole", "Add a hole", "Ctrl+H", group="Edit"),
    Command("import_holes", "Import holes from a list…", "Ctrl+I", group="Edit"),
    Command("open_part", "The part from above", "A", plain=True, group="Edit"),
    Command("import_drawing", "Holes from a drawing (DXF)…", "Ctrl+Shift+I", group="Edit"),
    Command("export_table", "Hole table out…", "Ctrl+Shift+E", group="Edit"),
    Command("remove_hole", "Remove this hole", "Ctrl+Delete", group="Edit"),
    Command("next_trouble", "Next thing that does not add up", "F8", group="Edit"),
    Command("choose_kind", "Kind of hole", "Shift+K", plain=True, menu=False, group="Edit"),
    Command("choose_mouth", "At the mouth", "Shift+M", plain=True, menu=False, group="Edit"),
    Command("type_hole", "Type the hole as printed", "Ctrl+L", group="Edit"),
    None,
    Command("go_print", "Print", "1", plain=True, group="Go to", also="Alt+1"),
    Command("go_plan", "Plan", "2", plain=True, group="Go to", also="Alt+2"),
    Command("go_cut", "Cut, at the machine", "3", plain=True, group="Go to", also="F11"),
    Command("go_measure", "Measure", "4", plain=True, group="Go to", also="Alt+4"),
    Command("go_explain", "Explain", "5", plain=True, group="Go to", also="Alt+5"),
    Command("go_crib", "Crib, and what is this drill?", "C", plain=True, group="Go to"),
    Command("go_logbook", "Logbook, what each tool has cut", "L", plain=True, group="Go to"),
    Command("find_tool", "Find a tool", "Ctrl+F", group="Crib"),
    Command("tool_out", "This tool is out, or back", "O", plain=True, group="Crib"),
    Command("tool_to_get", "This tool is to get, or here", "G", plain=True, group="Crib"),
    Command("one_more_tool", "One more of this tool", "D", plain=True, group="Crib"),
    Command("check_point", "Check this drill's point", "P", plain=True, group="Crib"),
    Command("import_tools", "Import tools from a list…", group="Crib"),
    Command("export_tools", "Export the crib…", group="Crib"),
    Command("previous_operation", "Previous operation", "Left", plain=True, menu=False, group="Go to"),
    Command("next_operation", "Next operation", "Right", plain=True, menu=False, group="Go to"),
    Command("previous_hole", "Previous hole", "Up", plain=True, menu=False, group="Go to"),
    Command("next_hole", "Next hole", "Down", plain=True, menu=False, group="Go to"),
    None,
    Command("copy_sequence", "Copy the sequence as text", "Ctrl+Shift+Y", group="Sequence"),
    Command("next_route", "Next route", "R", plain=True, group="Sequence"),
    Command("other_size", "Other size for this step", "S", plain=True, group="Sequence"),
    Command("larger_tool", "Next larger size", "+", plain=True, menu=False, group="Sequence"),
    Command("smaller_tool", "Next smaller size", "-", plain=True, menu=False, group="Sequence"),
    Command("keep_step", "Keep this tool, or let it go", "K", plain=True, group="Sequence"),
    Command("faster", "Next faster step of the machine", "PgUp", plain=True, menu=False, group="Sequence"),
    Command("slower", "Next slower step of the machine", "PgDown", plain=True, menu=False, group="Sequence"),
    Command("add_step", "Add a step before this drill", "Insert", plain=True, group="Sequence"),
    Command("remove_step", "Remove this step", "Delete", plain=True, group="Sequence"),
    Command("step_earlier", "Move this step earlier", "Alt+Left", menu=False, group="Sequence"),
    Command("step_later", "Move this step later", "Alt+Right", menu=False, group="Sequence"),
    Command("what_if", "What would happen if", "I", plain=True, group="Sequence"),
    Command("open_practice", "Your practice, and others’", "Y", plain=True, group="Sequence"),
    Command("plan_freely", "Plan it freely", "Ctrl+R", group="Sequence"),
    Command("open_batch", "The batch: order, minutes, cost", "B", plain=True, group="Sequence"),
    None,
    Command("swap_unit", "Inches or millimeters", "U", plain=True, group="View"),
    Command("show_working", "Show the working", "W", plain=True, group="View"),
    Command("larger_text", "Larger text", "Ctrl++", group="View"),
    Command("smaller_text", "Smaller text", "Ctrl+-", group="View"),
    None,
    Command("rename_job", "Name the job…", "F2", group="Edit"),
    Command("edit_machine", "My machine…", "Ctrl+M", group="Shop"),
    Command("choose_machine", "Choose the machine…", "Ctrl+Shift+M", group="Shop"),
    Command("choose_material", "Choose the material…", "Ctrl+Shift+T", group="Shop"),
    Command("choose_shop", "Choose the shop…", "Ctrl+Shift+C", group="Shop"),
    None,
    Command("show_settings", "Settings…", "Ctrl+,", group="View"),
    Command("show_guide", "Guide", "Shift+F1", group="View"),
    Command("show_model", "How the chances are worked out", group="View"),
    Command("show_shortcuts", "Shortcuts", "F1", group="View"),
    Command("show_about", "About, licenses and cautions"),
    Command("quit", "Quit", "Ctrl+Q"),
)


def command(method: str) -> Command:
    """The command that calls a method."""
    return next(c for c in COMMANDS if c is not None and c.method == method)


def with_keys(words: str, method: str) -> str:
    """Words for a tooltip with the keys of a command after them."""
    keys = command(method).keys
    return f"{words}  {keys}" if keys else words
