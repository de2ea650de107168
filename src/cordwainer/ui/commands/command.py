"""A command is a value: its words, its keys, when it can be done, and the function that does it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol, TypeVar

from cordwainer.core.language import tr

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QMenu, QWidget

    from cordwainer.core.shop.tool import Tool
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit.questions import Questions


Done = TypeVar("Done")


class PrintActs(Protocol):
    """What commands do on the Print stage."""

    def next_trouble(self) -> None:
        """To the next thing on the print that does not add up."""

    def to_kinds(self) -> None:
        """To the kinds of hole."""

    def to_mouths(self) -> None:
        """To what may be at the mouth."""

    def to_line(self) -> None:
        """To the line where the hole is typed."""


class PlanActs(Protocol):
    """What commands do on the Plan stage."""

    def open_sizes_of_selected(self) -> None:
        """The crib's other tools for the step in hand, to choose from."""


class ToolActs(Protocol):
    """What commands do to the tool chosen in the crib."""

    def out_or_back(self) -> None:
        """The tool chosen goes out, or back to its place."""

    def to_get(self) -> None:
        """The tool chosen is to get, or here after all."""

    def one_more(self) -> None:
        """One more of the tool chosen."""

    def next_edge(self) -> None:
        """The edge of the tool chosen, one condition on."""

    def to_field(self, name: str) -> None:
        """To a note of the tool chosen."""


class CribActs(Protocol):
    """What commands do on the Crib stage; `card` is the tool chosen."""

    chosen: Tool | None

    @property
    def card(self) -> ToolActs:
        """What is done to the tool chosen."""

    def to_finder(self) -> None:
        """To the field that finds tools."""

    def to_machine(self, machine_id: str) -> None:
        """To what is known of a machine."""

    def to_new_shop(self) -> None:
        """To a shop of one's own, to be begun."""

    def to_page(self, page: str) -> None:
        """To filling the crib, or to stock-taking."""

    def walk(self, step: int) -> None:
        """To another place of the drawer."""

    def other_drawer(self, step: int) -> None:
        """To another drawer."""


class PointActs(Protocol):
    """What commands do on the page of a drill's point."""

    def show_drill(self, drill: Tool) -> None:
        """Look at another drill."""


class Shell(Protocol):
    """The window as commands see it."""

    desk: Desk
    questions: Questions

    @property
    def stage(self) -> str:
        """The stage shown."""

    @property
    def parent_widget(self) -> QWidget:
        """What dialogs stand over."""

    def go(self, stage: str) -> None:
        """Go to a stage."""

    def say(self, words: str) -> None:
        """A line at the top of the stage, or nothing."""

    def popup(self, menu: QMenu, under: str) -> None:
        """A menu under a part of the strip."""

    def print_acts(self) -> PrintActs:
        """The Print stage."""

    def plan_acts(self) -> PlanActs:
        """The Plan stage."""

    def crib_acts(self) -> CribActs:
        """The Crib stage."""

    def point_acts(self) -> PointActs:
        """The page of a drill's point."""

    def ask(self) -> None:
        """Show the line where small questions are asked."""

    def set_text_size(self, percent: int) -> None:
        """Another size of everything."""

    def close_window(self) -> None:
        """Leave."""


def beside(shell: Shell, words: str, work: Callable[[], Done], *, may_stop: bool = True) -> Done:
    """What `work` gives, done beside the window and said while it takes long; it touches nothing of Qt."""
    from cordwainer.ui.dialogs.waiting import waited

    return waited(words, work, shell.parent_widget, inline=shell.desk.background.inline, may_stop=may_stop)


def always(shell: Shell) -> str:
    """Nothing stands in the way."""
    return ""


def has_hole(shell: Shell) -> str:
    """A hole is needed."""
    return tr("no hole yet; say on Print what the drawing asks for") if shell.desk.document.empty else ""


def has_line(shell: Shell) -> str:
    """A hole that can be typed over is needed."""
    return tr("no hole yet; type one on the first screen") if shell.desk.document.empty else ""


def has_route(shell: Shell) -> str:
    """A sequence is needed."""
    desk = shell.desk
    missing = desk.document.empty or desk.plans.route is None
    return tr("no sequence yet; say on Print what the hole asks for") if missing else ""


def has_tool(shell: Shell) -> str:
    """A tool chosen in the crib is needed."""
    chosen = shell.stage == "crib" and shell.crib_acts().chosen is not None
    return "" if chosen else tr("no tool is chosen; choose one in the crib")


@dataclass(frozen=True)
class Command:
    """One command; `plain` keys rest while typing.

    `group` is the heading it stands under in the sheet of shortcuts; `also` are other keys that do it; `when`
    says in words why it cannot be done now, empty where it can.
    """

    name: str
    text: str
    do: Callable[[Shell], object]
    keys: str = ""
    plain: bool = False
    menu: bool = True
    group: str = "File"
    also: str = ""
    when: Callable[[Shell], str] = always
