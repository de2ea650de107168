"""Everything the window can be told to do, declared once: menu, shortcuts and tooltips read this."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """One command: the window's method, its words, its keys; `plain` keys rest while typing."""

    method: str
    text: str
    keys: str = ""
    plain: bool = False
    menu: bool = True


COMMANDS: tuple[Command | None, ...] = (
    Command("new_job", "New job", "Ctrl+N"),
    Command("open_job", "Open a job file…", "Ctrl+O"),
    Command("save_job", "Save", "Ctrl+S"),
    Command("save_job_as", "Save as…", "Ctrl+Shift+S"),
    Command("open_demo", "Open the demo"),
    None,
    Command("undo", "Undo", "Ctrl+Z"),
    Command("redo", "Redo", "Ctrl+Shift+Z"),
    None,
    Command("add_hole", "Add a hole", "Ctrl+H"),
    Command("remove_hole", "Remove this hole"),
    None,
    Command("go_print", "Print", "1", plain=True),
    Command("go_plan", "Plan", "2", plain=True),
    Command("go_measure", "Measure", "3", plain=True),
    Command("go_explain", "Explain", "4", plain=True),
    None,
    Command("swap_unit", "Inches or millimeters", "U", plain=True),
    Command("show_working", "Show the working", "W", plain=True),
    Command("next_route", "Next route", "R", plain=True),
    Command("previous_operation", "Previous operation", "Left", plain=True, menu=False),
    Command("next_operation", "Next operation", "Right", plain=True, menu=False),
    Command("previous_hole", "Previous hole", "Up", plain=True, menu=False),
    Command("next_hole", "Next hole", "Down", plain=True, menu=False),
    None,
    Command("edit_machine", "My machine…", "Ctrl+M"),
    Command("choose_shop", "Choose the shop…"),
    Command("show_about", "About and cautions"),
    Command("quit", "Quit", "Ctrl+Q"),
)
