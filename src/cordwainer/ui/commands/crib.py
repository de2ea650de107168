"""Commands that speak of the crib: finding, noting, importing and exporting tools."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.shown import shown
from cordwainer.ui.commands.command import Shell, beside
from cordwainer.ui.kit.passing import run

if TYPE_CHECKING:
    from cordwainer.core.shop.tool import Tool

LIST_FILES = tr("Lists (*.csv *.txt *.tsv);;All files (*)")
PARTS = {
    "shop.json": tr("tools, machines and gauges"),
    "crib.json": tr("notes on the crib"),
    "logbook.sqlite": tr("its logbook"),
}
KINDS_OUT = tr("List (*.csv);;Shop file (*.shop.json)")


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
        raise InputError("", tr("only a drill's point is checked here"))
    shell.go("point")
    shell.point_acts().show_drill(tool)


def import_tools(shell: Shell) -> None:
    """Ask for a list of tools, show what can be taken, and take it."""
    path = shell.questions.file_to_open(tr("Import tools"), LIST_FILES)
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
        words = tr("Reading {path}", path=shown(path.name, 60))
        read = beside(shell, words, lambda: tool_csv.read_file(path, all_tools(stock.shop)))
    except InputError as bad:
        shell.say(tr("{path} was not read. {bad}", path=path.name, bad=bad))
        return
    good = [f"{entry['diameter']}  {tr(entry['kind'].replace('_', ' '))}" for entry in read.new]
    good += [tr("{tool}, here already: what the list says is noted", tool=tool.name) for tool, _ in read.matched]
    extra = (
        tr("Columns not known and left out: {unknown}.", unknown=", ".join(read.unknown)) if read.unknown else ""
    )
    refused = refused_text(read.head, read.refused)
    preview = Preview(tr("Tools from {path}", path=path.name), "tools", good, read.refused, refused, extra)
    if run(PreviewDialog(preview, shell.parent_widget)):
        stock.crib.edit(
            tr("Import {good} tools", good=read.good), lambda data: take_rows(data, read.new, read.matched)
        )
        words = tr(
            "{good} tools taken from {path}. Undo takes them all out again.", good=read.good, path=path.name
        )
        shell.say(words + (tr(" {count} rows were not read.", count=len(read.refused)) if read.refused else ""))


def export_tools(shell: Shell) -> None:
    """Write the crib as a list, or as a shop file."""
    found = shell.questions.file_to_write(tr("Export the crib"), "crib.csv", KINDS_OUT, ".csv", ".shop.json")
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
    shell.say(tr("{count} tools written to {path}.", count=count, path=shown(path.name, 60)))


ARCHIVES = tr("Shops taken along (*.cordwainer);;All files (*)")


def take_along(shell: Shell) -> None:
    """The shop with all that belongs to it, into one file asked for."""
    path = shell.questions.file_to_write(tr("Take the shop along"), "shop.cordwainer", ARCHIVES, ".cordwainer")
    if path is not None:
        take_along_to(shell, path)


def take_along_to(shell: Shell, path: Path) -> None:
    """Write the shop in use with its logbook, jobs and settings into one file. Raises `InputError`."""
    from cordwainer.logbook import archive

    desk = shell.desk
    name, settings, book = desk.document.shop_name, desk.document.settings, desk.log.path
    words = tr("Packing the shop")
    found = beside(shell, words, lambda: archive.export(path, name, settings, book, over=True), may_stop=False)
    shell.say(
        tr(
            "{path} holds {found}: {count} parts, {jobs} jobs.",
            path=found.path.name,
            found=found.name,
            count=len(found.parts),
            jobs=found.jobs,
        )
    )


def bring_in(shell: Shell) -> None:
    """A shop taken along elsewhere, looked at and brought in beside what is here."""
    path = shell.questions.file_to_open(tr("Bring a shop in"), ARCHIVES)
    if path is not None:
        bring_in_from(shell, path)


def bring_in_from(shell: Shell, path: Path) -> None:
    """Say what is in it and ask how it shall come in; undoable in one step. Raises `InputError`."""
    from cordwainer.files.crib_merge import more_of
    from cordwainer.logbook import archive
    from cordwainer.ui.desk.brought import BESIDE, INTO, OVER, BroughtIn, ways

    desk = shell.desk
    looking, bringing = (
        tr("Looking into {path}", path=shown(path.name, 60)),
        tr("Bringing in {path}", path=shown(path.name, 60)),
    )
    found = beside(shell, looking, lambda: archive.look(path))
    parts = [words for name, words in PARTS.items() if found.part(name)]
    parts += [tr("{jobs} jobs", jobs=found.jobs)] if found.jobs else []
    open_ways = ways(desk.stock)
    said = [
        tr(
            "{found}, taken along on {made}: {parts}.",
            found=found.name,
            made=found.made[:10],
            parts=", ".join(parts),
        )
    ]
    said.append(tr("Beside what is here: a shop of its own, worked in from now on."))
    if INTO in open_ways:
        theirs = beside(shell, looking, lambda: archive.shop_in(path))
        said.append(tr("Into this shop: {words} more.", words=more_of(theirs, desk.stock.shop).words))
    if OVER in open_ways:
        said.append(tr("In place of this shop: its tools, machines and gauges give way; a copy of them is kept."))
    said.append(tr("The logbook only grows, jobs that are here already are left."))
    picked = shell.questions.one_of(tr("Bring a shop in"), "\n".join(said), tuple(open_ways.values()))
    if picked is None:
        return
    way = list(open_ways)[picked]
    command = BroughtIn(
        desk.stock, desk.log, path, way, lambda work: beside(shell, bringing, work, may_stop=False)
    )
    desk.document.undo.push(command)
    brought, more = command.brought, command.more
    holes = tr("1 hole") if brought.holes == 1 else tr("{holes} holes", holes=brought.holes)
    came = {
        BESIDE: tr("{found} is here", found=found.name),
        OVER: tr("{found} is here, a copy of what was is kept", found=found.name),
    }
    first = tr("{more} more", more=more.words) if more is not None else came[way]
    own = tr(" of this bench alone (cordwainer server move to carries them on)") if shell.desk.log.shared else ""
    shell.say(
        tr(
            "{first}; {holes} new to the logbook{own}, {count} jobs in {parent}.",
            first=first,
            holes=holes,
            own=own,
            count=len(brought.jobs),
            parent=path.parent.name,
        )
    )
