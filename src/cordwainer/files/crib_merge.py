"""What another shop has and this one has not, put into this one's crib."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from cordwainer.core.shop.shop import Shop
from cordwainer.files.crib import add_own, add_tools, all_tools
from cordwainer.files.shop import GaugeFile, MachineFile, ToolFile
from cordwainer.files.shop_out import gauge_data, machine_data, tool_data


@dataclass(frozen=True)
class More:
    """What is new here, as a crib keeps it: tools, machines, gauges."""

    tools: tuple[dict[str, Any], ...]
    machines: tuple[dict[str, Any], ...]
    gauges: tuple[dict[str, Any], ...]

    @property
    def words(self) -> str:
        """How much that is.

        >>> More(({},), (), ({}, {})).words
        '1 tool, no machine, 2 gauges'
        """
        counted = (("tool", self.tools), ("machine", self.machines), ("gauge", self.gauges))
        return ", ".join(f"{len(of) or 'no'} {name}{'s' if len(of) > 1 else ''}" for name, of in counted)

    def put(self, data: dict[str, Any]) -> None:
        """Into a crib's document; what is here already stays as it is."""
        add_tools(data, self.tools, {})
        for machine in self.machines:
            add_own(data, "machines", machine)
        for gauge in self.gauges:
            add_own(data, "gauges", gauge)


def more_of(coming: Shop, here: Shop) -> More:
    """What a shop has that is not here: tools by their id, machines and gauges by what they are called."""
    tools = {tool.id for tool in all_tools(here)}
    machines = {machine.name.casefold() for machine in here.machines}
    gauges = {(gauge.kind, gauge.name.casefold(), gauge.low_mm, gauge.high_mm) for gauge in here.gauges}
    return More(
        tuple(_said(tool_data(tool), ToolFile) for tool in all_tools(coming) if tool.id not in tools),
        tuple(_said(machine_data(m), MachineFile) for m in coming.machines if m.name.casefold() not in machines),
        tuple(
            _said(gauge_data(g), GaugeFile)
            for g in coming.gauges
            if (g.kind, g.name.casefold(), g.low_mm, g.high_mm) not in gauges
        ),
    )


def _said(data: dict[str, Any], model: type[BaseModel]) -> dict[str, Any]:
    """The fields a shop file has, without those that say nothing."""
    return {key: value for key, value in data.items() if key in model.model_fields and value not in (None, "")}
