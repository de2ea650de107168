"""A shop: its machines, its tools, its gauges."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from cordwainer.core.errors import InputError
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.tool import Tool


@dataclass(frozen=True)
class Shop:
    """What there is to work with."""

    name: str
    machines: tuple[Machine, ...]
    tools: tuple[Tool, ...]
    gauges: tuple[Gauge, ...]

    def machine(self, identifier: str) -> Machine:
        """The machine of that id, or an `InputError` that lists them."""
        for machine in self.machines:
            if machine.id == identifier:
                return machine
        known = ", ".join(f"'{m.id}'" for m in self.machines)
        raise InputError("", f"'{identifier}' is not a machine of shop '{self.name}'; write one of {known}")

    @cached_property
    def usable(self) -> dict[str, tuple[Tool, ...]]:
        """Tools by kind, smallest first, without those that are chipped, blunt or all gone."""
        found: dict[str, list[Tool]] = {}
        for tool in self.tools:
            if tool.quantity > 0 and tool.condition in ("good", "worn"):
                found.setdefault(tool.kind, []).append(tool)
        return {
            kind: tuple(sorted(tools, key=lambda t: (t.diameter_mm, t.series, t.designation)))
            for kind, tools in found.items()
        }

    @cached_property
    def tool_ids(self) -> frozenset[str]:
        """The ids of all its tools."""
        return frozenset(tool.id for tool in self.tools)

    def of_kind(self, kind: str) -> tuple[Tool, ...]:
        """Usable tools of one kind, smallest first."""
        return self.usable.get(kind, ())
