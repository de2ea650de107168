"""Everything the window can be told to do, declared once: menu, keys, tooltips, the sheet and tests read this."""

from __future__ import annotations

from collections.abc import Callable

from cordwainer.ui.commands import crib, holes, leaving, paper, sequence, strip, view
from cordwainer.ui.commands.command import Command, Shell, has_hole, has_line, has_route, has_tool


def to(stage: str) -> Callable[[Shell], None]:
    """The way to a stage."""

    def go(shell: Shell) -> None:
        shell.go(stage)

    return go


def has_part(shell: Shell) -> str:
    """A hole that can stand on a part is needed."""
    empty = shell.desk.document.empty
    return "no hole yet; type one on the first screen, or take a drawing" if empty else ""


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

    ShortcutSheet(keyed(), shell.parent_widget).exec()


COMMANDS: tuple[Command | None, ...] = (
    Command("new_job", "New job", leaving.new_job, "Ctrl+N"),
    Command("open_job", "Open a job file…", leaving.open_job, "Ctrl+O"),
    Command("save_job", "Save", leaving.save_job, "Ctrl+S"),
    Command("save_job_as", "Save as…", leaving.save_job_as, "Ctrl+Shift+S"),
    Command("choose_demo", "Open a demo job…", leaving.choose_demo, "Ctrl+D"),
    Command("print_sheet", "Print the shop sheet…", paper.print_sheet, "Ctrl+P"),
    Command("export_sheet", "Shop sheet as PDF…", paper.export_sheet, "Ctrl+Shift+P"),
    Command("export_section", "Section as SVG…", paper.export_section),
    None,
    Command("undo", "Undo", view.undo, "Ctrl+Z", group="Edit"),
    Command("redo", "Redo", view.redo, "Ctrl+Shift+Z", group="Edit"),
    None,
    Command("add_hole", "Add a hole", holes.add_hole, "Ctrl+H", group="Edit"),
    Command("import_holes", "Import holes from a list…", holes.import_holes, "Ctrl+I", group="Edit"),
    Command("open_part", "The part from above", to("part"), "A", plain=True, group="Edit", when=has_part),
    Command("import_drawing", "Holes from a drawing (DXF)…", holes.import_drawing, "Ctrl+Shift+I", group="Edit"),
    Command("export_table", "Hole table out…", holes.export_table, "Ctrl+Shift+E", group="Edit"),
    Command("remove_hole", "Remove this hole", holes.remove_hole, "Ctrl+Delete", group="Edit"),
    Command(
        "next_trouble", "Next thing that does not add up", holes.next_trouble, "F8", group="Edit", when=has_line
    ),
    Command(
        "choose_kind",
        "Kind of hole",
        holes.choose_kind,
        "Shift+K",
        plain=True,
        menu=False,
        group="Edit",
        when=has_line,
    ),
    Command(
        "choose_mouth",
        "At the mouth",
        holes.choose_mouth,
        "Shift+M",
        plain=True,
        menu=False,
        group="Edit",
        when=has_line,
    ),
    Command("type_hole", "Type the hole as printed", holes.type_hole, "Ctrl+L", group="Edit", when=has_line),
    None,
    Command("go_print", "Print", to("print"), "1", plain=True, group="Go to", also="Alt+1"),
    Command("go_plan", "Plan", to("plan"), "2", plain=True, group="Go to", also="Alt+2"),
    Command("go_cut", "Cut, at the machine", to("cut"), "3", plain=True, group="Go to", also="F11"),
    Command("go_measure", "Measure", to("measure"), "4", plain=True, group="Go to", also="Alt+4"),
    Command("go_explain", "Explain", to("explain"), "5", plain=True, group="Go to", also="Alt+5"),
    Command("go_crib", "Crib, and what is this drill?", to("crib"), "C", plain=True, group="Go to"),
    Command("go_logbook", "Logbook, what each tool has cut", to("logbook"), "L", plain=True, group="Go to"),
    Command("find_tool", "Find a tool", crib.find_tool, "Ctrl+F", group="Crib"),
    Command("tool_out", "This tool is out, or back", crib.tool_out, "O", plain=True, group="Crib", when=has_tool),
    Command(
        "tool_to_get",
        "This tool is to get, or here",
        crib.tool_to_get,
        "G",
        plain=True,
        group="Crib",
        when=has_tool,
    ),
    Command(
        "one_more_tool", "One more of this tool", crib.one_more_tool, "D", plain=True, group="Crib", when=has_tool
    ),
    Command(
        "check_point", "Check this drill's point", crib.check_point, "P", plain=True, group="Crib", when=has_tool
    ),
    Command("import_tools", "Import tools from a list…", crib.import_tools, group="Crib"),
    Command("export_tools", "Export the crib…", crib.export_tools, group="Crib"),
    Command(
        "previous_operation",
        "Previous operation",
        view.previous_operation,
        "Left",
        plain=True,
        menu=False,
        group="Go to",
    ),
    Command(
        "next_operation", "Next operation", view.next_operation, "Right", plain=True, menu=False, group="Go to"
    ),
    Command("previous_hole", "Previous hole", view.previous_hole, "Up", plain=True, menu=False, group="Go to"),
    Command("next_hole", "Next hole", view.next_hole, "Down", plain=True, menu=False, group="Go to"),
    None,
    Command("copy_sequence", "Copy the sequence as text", paper.copy_sequence, "Ctrl+Shift+Y", group="Sequence"),
    Command("next_route", "Next route", sequence.next_route, "R", plain=True, group="Sequence"),
    Command(
        "other_size",
        "Other size for this step",
        sequence.other_size,
        "S",
        plain=True,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "larger_tool",
        "Next larger size",
        sequence.larger_tool,
        "+",
        plain=True,
        menu=False,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "smaller_tool",
        "Next smaller size",
        sequence.smaller_tool,
        "-",
        plain=True,
        menu=False,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "keep_step",
        "Keep this tool, or let it go",
        sequence.keep_step,
        "K",
        plain=True,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "faster",
        "Next faster step of the machine",
        sequence.faster,
        "PgUp",
        plain=True,
        menu=False,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "slower",
        "Next slower step of the machine",
        sequence.slower,
        "PgDown",
        plain=True,
        menu=False,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "add_step",
        "Add a step before this drill",
        sequence.add_step,
        "Insert",
        plain=True,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "remove_step",
        "Remove this step",
        sequence.remove_step,
        "Delete",
        plain=True,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "step_earlier",
        "Move this step earlier",
        sequence.step_earlier,
        "Alt+Left",
        menu=False,
        group="Sequence",
        when=has_route,
    ),
    Command(
        "step_later",
        "Move this step later",
        sequence.step_later,
        "Alt+Right",
        menu=False,
        group="Sequence",
        when=has_route,
    ),
    Command("what_if", "What would happen if", to("what_if"), "I", plain=True, group="Sequence", when=has_route),
    Command(
        "open_practice",
        "Your practice, and others’",
        to("practice"),
        "Y",
        plain=True,
        group="Sequence",
        when=has_hole,
    ),
    Command("plan_freely", "Plan it freely", sequence.plan_freely, "Ctrl+R", group="Sequence", when=has_route),
    Command(
        "open_batch",
        "The batch: order, minutes, cost",
        to("batch"),
        "B",
        plain=True,
        group="Sequence",
        when=has_hole,
    ),
    None,
    Command("swap_unit", "Inches or millimeters", view.swap_unit, "U", plain=True, group="View"),
    Command("show_working", "Show the working", view.show_working, "W", plain=True, group="View"),
    Command("larger_text", "Larger text", view.larger_text, "Ctrl++", group="View"),
    Command("smaller_text", "Smaller text", view.smaller_text, "Ctrl+-", group="View"),
    None,
    Command("rename_job", "Name the job…", strip.rename_job, "F2", group="Edit"),
    Command("edit_machine", "My machine…", crib.edit_machine, "Ctrl+M", group="Shop"),
    Command("choose_machine", "Choose the machine…", strip.choose_machine, "Ctrl+Shift+M", group="Shop"),
    Command("choose_material", "Choose the material…", strip.choose_material, "Ctrl+Shift+T", group="Shop"),
    Command("choose_shop", "Choose the shop…", strip.choose_shop, "Ctrl+Shift+C", group="Shop"),
    None,
    Command("show_settings", "Settings…", view.show_settings, "Ctrl+,", group="View"),
    Command("show_guide", "Guide", view.show_guide, "Shift+F1", group="View"),
    Command("show_model", "How the chances are worked out", view.show_model, group="View"),
    Command("show_shortcuts", "Shortcuts", show_shortcuts, "F1", group="View"),
    Command("show_about", "About, licenses and cautions", view.show_about),
    Command("quit", "Quit", view.leave, "Ctrl+Q"),
)


BY_NAME: dict[str, Command] = {c.name: c for c in COMMANDS if c is not None}


def with_keys(words: str, name: str) -> str:
    """Words for a tooltip with the keys of a command after them."""
    keys = BY_NAME[name].keys
    return f"{words}  {keys}" if keys else words
