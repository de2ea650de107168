"""Commands that change what is looked at, and settings, help and leaving."""

from __future__ import annotations

from cordwainer.core.language import tr
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.kit.passing import run


def undo(shell: Shell) -> None:
    """Take back the last edit."""
    shell.desk.document.undo.undo()


def redo(shell: Shell) -> None:
    """Do it again."""
    shell.desk.document.undo.redo()


def ask(shell: Shell) -> None:
    """The line where small questions are asked."""
    shell.ask()


def swap_unit(shell: Shell) -> None:
    """Inches or millimeters."""
    selection = shell.desk.selection
    selection.set_unit("mm" if selection.unit == "in" else "in")


def previous_operation(shell: Shell) -> None:
    """The step before; in the crib, the place before."""
    _along(shell, -1)


def next_operation(shell: Shell) -> None:
    """The step after; in the crib, the place after."""
    _along(shell, 1)


def _along(shell: Shell, step: int) -> None:
    if shell.stage == "crib":
        shell.crib_acts().walk(step)
    else:
        shell.desk.plans.select_operation(shell.desk.selection.operation_index + step)


def previous_hole(shell: Shell) -> None:
    """The hole before; in the crib, the drawer above."""
    _across(shell, -1)


def next_hole(shell: Shell) -> None:
    """The hole after; in the crib, the drawer below."""
    _across(shell, 1)


def _across(shell: Shell, step: int) -> None:
    if shell.stage == "crib":
        shell.crib_acts().other_drawer(step)
    else:
        shell.desk.selection.select_hole(shell.desk.selection.hole_index + step)


def show_working(shell: Shell) -> None:
    """The working of the step in hand."""
    plans = shell.desk.plans
    operation, route = plans.operation, plans.route
    if operation is not None and route is not None and operation.workings:
        from cordwainer.ui.dialogs.pages import WorkingDialog

        run(WorkingDialog(route, shell.desk.selection.operation_index, shell.parent_widget))


def show_model(shell: Shell) -> None:
    """What the forward model is, its sources, and where not to trust it."""
    from cordwainer.ui.dialogs.pages import PageDialog

    run(PageDialog(tr("How the chances are worked out"), "model.md", shell.parent_widget))


def show_guide(shell: Shell) -> None:
    """A short guide, drawn from the real screens."""
    from cordwainer.ui.dialogs.guide import Guide

    run(Guide(shell.parent_widget))


def show_about(shell: Shell) -> None:
    """Who it is for, licenses, sources, the standing caution."""
    from cordwainer.ui.dialogs.guide import About

    run(About(shell.parent_widget))


def show_settings(shell: Shell) -> None:
    """What is settled once."""
    from cordwainer.ui.commands.crib import new_shop
    from cordwainer.ui.commands.strip import choose_shop
    from cordwainer.ui.dialogs.settings import SettingsDialog

    desk = shell.desk
    dialog = SettingsDialog(desk.document, desk.selection, desk.settings, shell.parent_widget)
    dialog.text_size_asked.connect(shell.set_text_size)
    dialog.colors_asked.connect(lambda: shell.say(tr("The colors are taken at the next start.")))
    dialog.language_asked.connect(lambda: shell.say(tr("The language is taken at the next start.")))
    dialog.shop_asked.connect(lambda: choose_shop(shell))
    dialog.new_shop_asked.connect(lambda: new_shop(shell))
    dialog.practice_asked.connect(lambda: shell.go("practice"))
    dialog.benches_asked.connect(lambda: show_benches(shell))
    run(dialog)


def show_benches(shell: Shell) -> None:
    """Several benches, one shop."""
    from cordwainer.ui.dialogs.benches import BenchesDialog

    dialog = BenchesDialog(shell.desk.shared, shell.parent_widget)
    run(dialog)


def full_screen(shell: Shell) -> None:
    """The whole screen, or back."""
    from PyQt6.QtCore import Qt

    window = shell.parent_widget.window()
    if window is not None:
        window.setWindowState(window.windowState() ^ Qt.WindowState.WindowFullScreen)


def larger_text(shell: Shell) -> None:
    """The next larger size of everything."""
    _text_size(shell, up=True)


def smaller_text(shell: Shell) -> None:
    """The next smaller size of everything."""
    _text_size(shell, up=False)


def _text_size(shell: Shell, *, up: bool) -> None:
    from cordwainer.ui.desk.text_size import next_size, size_of

    current = size_of(shell.desk.settings)
    wanted = next_size(current, up)
    if wanted == current:
        shell.say(
            tr(
                "Text is at {current} %, the {largest} there is.",
                current=current,
                largest=tr("largest") if up else tr("smallest"),
            )
        )
    else:
        shell.set_text_size(wanted)


def leave(shell: Shell) -> None:
    """Close the window."""
    shell.close_window()
