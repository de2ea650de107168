"""Commands that speak of the crib: finding, noting, importing and exporting tools."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.files.shown import shown
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.kit.passing import run

if TYPE_CHECKING:
    from cordwainer.core.shop.tool import Tool

LIST_FILES = "Lists (*.csv *.txt *.tsv);;All files (*)"
PARTS = {
    "shop.json": "tools, machines and gauges",
    "crib.json": "notes on the crib",
    "logbook.sqlite": "its logbook",
}
KINDS_OUT = "List (*.csv);;Shop file (*.shop.json)"


def edit_machine(shell: Shell) -> None:
    """To what is known of the job's machine."""
    shell.go("crib")
    shell.crib_acts().to_machine(shell.desk.stock.machine.id)


def new_shop(shell: Shell) -> None:
    """To a shop of one's own, to be begun."""
    shell.go("crib")
    shell.crib_acts().to_new_shop()


def fill_crib(shell: Shell) -> None:
    """To filling the crib by sets and typed lines."""
    shell.go("crib")
    shell.crib_acts().to_page("fill")


def take_stock(shell: Shell) -> None:
    """To counting what is in the drawers."""
    shell.go("crib")
    shell.crib_acts().to_page("count")


def find_tool(shell: Shell) -> None:
    """To the crib's field that finds tools."""
    shell.go("crib")
    shell.crib_acts().to_finder()


def tool_out(shell: Shell) -> None:
    """The tool chosen goes out, or back to its place."""
    shell.crib_acts().card.out_or_back()


def tool_to_get(shell: Shell) -> None:
    """The tool chosen is to get, or here after all."""
    shell.crib_acts().card.to_get()


def one_more_tool(shell: Shell) -> None:
    """One more of the tool chosen."""
    shell.crib_acts().card.one_more()


def next_edge(shell: Shell) -> None:
    """Good, worn, chipped, blunt, and good again: the edge of the tool chosen."""
    shell.crib_acts().card.next_edge()


def to_field(name: str) -> Callable[[Shell], None]:
    """The way to a note of the tool chosen."""

    def go(shell: Shell) -> None:
        shell.crib_acts().card.to_field(name)

    return go


def check_point(shell: Shell) -> None:
    """Check the point of the drill chosen."""
    tool = shell.crib_acts().chosen
    if tool is not None:
        check_point_of(shell, tool)


def check_point_of(shell: Shell, tool: Tool) -> None:
    """Check a drill's point."""
    if tool.kind != "drill":
        raise InputError("", "only a drill's point is checked here")
    shell.go("point")
    shell.point_acts().show_drill(tool)


def import_tools(shell: Shell) -> None:
    """Ask for a list of tools, show what can be taken, and take it."""
    path = shell.questions.file_to_open("Import tools", LIST_FILES)
    if path is not None:
        import_tools_from(shell, path)


def import_tools_from(shell: Shell, path: Path) -> None:
    """Show which rows of a list can be taken and which cannot, and why; take them when told to."""
    from cordwainer.files import tool_csv
    from cordwainer.files.crib import all_tools, take_rows
    from cordwainer.files.lists import refused_text
    from cordwainer.ui.dialogs.preview import Preview, PreviewDialog

    stock = shell.desk.stock
    try:
        read = tool_csv.read_file(path, all_tools(stock.shop))
    except InputError as bad:
        shell.say(f"{path.name} was not read. {bad}")
        return
    good = [f"{entry['diameter']}  {entry['kind'].replace('_', ' ')}" for entry in read.new]
    good += [f"{tool.name}, here already: what the list says is noted" for tool, _ in read.matched]
    extra = f"Columns not known and left out: {', '.join(read.unknown)}." if read.unknown else ""
    refused = refused_text(read.head, read.refused)
    preview = Preview(f"Tools from {path.name}", "tools", good, read.refused, refused, extra)
    if run(PreviewDialog(preview, shell.parent_widget)):
        stock.crib.edit(f"Import {read.good} tools", lambda data: take_rows(data, read.new, read.matched))
        words = f"{read.good} tools taken from {path.name}. Undo takes them all out again."
        shell.say(words + (f" {len(read.refused)} rows were not read." if read.refused else ""))


def export_tools(shell: Shell) -> None:
    """Write the crib as a list, or as a shop file."""
    found = shell.questions.file_to_write("Export the crib", "crib.csv", KINDS_OUT, ".csv", ".shop.json")
    if found is not None:
        export_tools_to(shell, found, shop=found.name.endswith(".shop.json"))


def export_tools_to(shell: Shell, path: Path, *, shop: bool = False) -> None:
    """Write every tool of the crib as CSV, or the whole shop as a shop file. Raises `InputError`."""
    from cordwainer.files import tool_csv
    from cordwainer.files.crib import all_tools
    from cordwainer.files.shop_out import shop_data
    from cordwainer.files.writing import write_json

    stock = shell.desk.stock
    if shop:
        data = shop_data(stock.shop)
        write_json(path, data)
        count = len(data["tools"])
    else:
        tools = all_tools(stock.shop)
        tool_csv.write_file(path, tools)
        count = len(tools)
    shell.say(f"{count} tools written to {shown(path.name, 60)}.")


ARCHIVES = "Shops taken along (*.cordwainer);;All files (*)"


def take_along(shell: Shell) -> None:
    """The shop with all that belongs to it, into one file asked for."""
    path = shell.questions.file_to_write("Take the shop along", "shop.cordwainer", ARCHIVES, ".cordwainer")
    if path is not None:
        take_along_to(shell, path)


def take_along_to(shell: Shell, path: Path) -> None:
    """Write the shop in use with its logbook, jobs and settings into one file. Raises `InputError`."""
    from cordwainer.logbook import archive

    desk = shell.desk
    found = archive.export(path, desk.document.shop_name, desk.document.settings, desk.log.path, over=True)
    shell.say(f"{found.path.name} holds {found.name}: {len(found.parts)} parts, {found.jobs} jobs.")


def bring_in(shell: Shell) -> None:
    """A shop taken along elsewhere, looked at and brought in beside what is here."""
    path = shell.questions.file_to_open("Bring a shop in", ARCHIVES)
    if path is not None:
        bring_in_from(shell, path)


def bring_in_from(shell: Shell, path: Path) -> None:
    """Say what is in it and ask how it shall come in; undoable in one step. Raises `InputError`."""
    from cordwainer.files.crib_merge import more_of
    from cordwainer.logbook import archive
    from cordwainer.ui.desk.brought import BESIDE, INTO, OVER, BroughtIn, ways

    desk = shell.desk
    found = archive.look(path)
    parts = [words for name, words in PARTS.items() if found.part(name)]
    parts += [f"{found.jobs} jobs"] if found.jobs else []
    open_ways = ways(desk.stock)
    said = [f"{found.name}, taken along on {found.made[:10]}: {', '.join(parts)}."]
    said.append("Beside what is here: a shop of its own, worked in from now on.")
    if INTO in open_ways:
        said.append(f"Into this shop: {more_of(archive.shop_in(path), desk.stock.shop).words} more.")
    if OVER in open_ways:
        said.append("In place of this shop: its tools, machines and gauges give way; a copy of them is kept.")
    said.append("The logbook only grows, jobs that are here already are left.")
    picked = shell.questions.one_of("Bring a shop in", "\n".join(said), tuple(open_ways.values()))
    if picked is None:
        return
    way = list(open_ways)[picked]
    command = BroughtIn(desk.stock, desk.log, path, way)
    desk.document.undo.push(command)
    brought, more = command.brought, command.more
    holes = "1 hole" if brought.holes == 1 else f"{brought.holes} holes"
    came = {BESIDE: f"{found.name} is here", OVER: f"{found.name} is here, a copy of what was is kept"}
    first = f"{more.words} more" if more is not None else came[way]
    own = " of this bench alone (cordwainer server move to carries them on)" if shell.desk.log.shared else ""
    shell.say(f"{first}; {holes} new to the logbook{own}, {len(brought.jobs)} jobs in {path.parent.name}.")
