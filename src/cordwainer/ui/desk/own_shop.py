"""A shop of one's own: begun, and filled by sets, by typed lines, with machines and gauges; each step undoable."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from cordwainer.core.language import tr
from cordwainer.core.shop.tool import Tool
from cordwainer.files import crib
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import BUILT_IN, Stock

if TYPE_CHECKING:
    from cordwainer.core.shop.sets import ToolSet
    from cordwainer.core.shop.typed import Read

SAID = ("condition", "drawer", "note", "price", "coating", "material")


class OwnShop:
    """What fills the crib of the shop in use."""

    def __init__(self, selection: Selection, stock: Stock) -> None:
        self.selection, self.stock = selection, stock
        self.document = stock.document

    @property
    def is_own(self) -> bool:
        """Whether the shop in use is one of the user's, not one that ships with the program."""
        return self.document.shop_name not in BUILT_IN

    def begin(self, name: str, unit: str, machine_kind: str) -> None:
        """Begin a shop and work in it from now on. Raises `InputError`."""
        from cordwainer.files.new_shop import begin

        path = begin(name, machine_kind)
        self.selection.set_unit(unit)
        self.stock.use_shop(str(path))

    # -- tools ---------------------------------------------------------------------------------

    def here(self) -> dict[str, Tool]:
        """Every tool of the crib by its id."""
        return {tool.id: tool for tool in crib.all_tools(self.stock.shop)}

    def add_set(self, of: ToolSet) -> int:
        """Put in what is not here yet of a set, each tool in the set's drawer; how many that were."""
        present = self.here()
        entries = [
            crib.sold_entry(tool, tool.designation, drawer=part.drawer)
            for part in of.parts
            for _, tool in part.tools()
            if tool.id not in present
        ]
        self.stock.crib.edit(tr("Add {of}", of=of.words), lambda data: _add_set(data, of.id, entries))
        return len(entries)

    def has_set(self, of: ToolSet) -> bool:
        """Whether a set was put in, whatever was struck out of it since."""
        return of.id in self.stock.crib.data.get("sets", ())

    def take_set(self, of: ToolSet) -> int:
        """Take a whole set out again; how many tools that were."""
        present = self.here()
        names = [tool.id for part in of.parts for _, tool in part.tools() if tool.id in present]
        self.stock.crib.edit(tr("Take out {of}", of=of.words), lambda data: _take_set(data, of.id, names))
        return len(names)

    def strike(self, tool: Tool, drawer: str) -> None:
        """Strike one tool of a set out, or put it in."""
        present = self.here()
        if tool.id in present:
            self.stock.crib.edit(
                tr("Strike out {tool}", tool=tool.name), lambda data: crib.take_out(data, [tool.id])
            )
            return
        entry = crib.sold_entry(tool, tool.designation, drawer=drawer)
        self.stock.crib.edit(tr("Add {tool}", tool=tool.name), lambda data: _add(data, [entry], {}))

    def add_read(self, found: Iterable[Read]) -> int:
        """Put in what was understood of a typed line; how many tools, pieces counted."""
        entries = [_entry(tool) for read in found for tool in read.tools]
        present = self.here()
        if entries:
            words = tr("Add a tool") if len(entries) == 1 else tr("Add {count} tools", count=len(entries))
            self.stock.crib.edit(words, lambda data: _add(data, entries, present))
        return sum(int(entry.get("quantity", 1)) for entry in entries)

    # -- machines and gauges -------------------------------------------------------------------

    def add_machine(self, entry: dict[str, Any]) -> str:
        """A machine more, of a kind; its id."""
        given: list[str] = []
        self.stock.crib.edit(
            tr("Add {name}", name=entry["name"]), lambda data: given.append(crib.add_own(data, "machines", entry))
        )
        return given[-1]

    def copy_machine(self, machine_id: str) -> str:
        """A second one like a machine, with all that is known of it; its id."""
        from cordwainer.files.shop import MachineFile
        from cordwainer.files.shop_out import machine_data

        machine = next(m for m in self.stock.shop.machines if m.id == machine_id)
        data = machine_data(replace(machine, name=f"{machine.name} 2"))
        return self.add_machine({k: v for k, v in data.items() if k in MachineFile.model_fields and v is not None})

    def remove_machine(self, machine_id: str) -> str:
        """Take a machine away; why not, where it is the only one."""
        machines = self.stock.shop.machines
        if len(machines) == 1:
            return tr("It is the only machine of this shop; add another one first.")
        name = next(m.name for m in machines if m.id == machine_id)
        self.stock.crib.edit(
            tr("Take away {name}", name=name), lambda data: crib.remove_own(data, "machines", machine_id)
        )
        return ""

    def add_gauge(self, entry: dict[str, Any]) -> str:
        """A gauge more, of a kind; its id."""
        given: list[str] = []
        self.stock.crib.edit(tr("Add a gauge"), lambda data: given.append(crib.add_own(data, "gauges", entry)))
        return given[-1]

    def remove_gauge(self, gauge_id: str) -> None:
        """Take a gauge away."""
        self.stock.crib.edit(tr("Take away a gauge"), lambda data: crib.remove_own(data, "gauges", gauge_id))


def _add_set(data: dict[str, Any], name: str, entries: list[dict[str, Any]]) -> None:
    data["sets"] = [*(own for own in data["sets"] if own != name), name]
    crib.add_tools(data, entries, {})


def _take_set(data: dict[str, Any], name: str, tools: list[str]) -> None:
    data["sets"] = [own for own in data["sets"] if own != name]
    crib.take_out(data, tools)


def _add(data: dict[str, Any], entries: list[dict[str, Any]], present: dict[str, Tool]) -> None:
    crib.add_tools(data, entries, present)


def _entry(tool: Tool) -> dict[str, Any]:
    """A tool read from a line, as the crib keeps it."""
    said = {key: getattr(tool, key) for key in SAID}
    if tool.material == "hss":
        said.pop("material")
    if tool.condition == "good":
        said.pop("condition")
    return crib.sold_entry(tool, tool.designation, quantity=tool.quantity, **said)
