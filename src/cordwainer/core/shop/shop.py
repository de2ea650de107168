"""A shop: its machines, its tools, its gauges."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.stock import Drawers
from cordwainer.core.shop.tool import Tool


@dataclass(frozen=True)
class Shop:
    """What there is to work with, and the way of working where it is not the usual one."""

    name: str
    machines: tuple[Machine, ...]
    tools: Sequence[Tool]
    gauges: tuple[Gauge, ...]
    practice: Mapping[str, str] = field(default_factory=dict)

    def machine(self, identifier: str) -> Machine:
        """The machine of that id, or an `InputError` that lists them."""
        for machine in self.machines:
            if machine.id == identifier:
                return machine
        known = ", ".join(f"'{m.id}'" for m in self.machines)
        raise InputError(
            "",
            tr(
                "'{identifier}' is not a machine of shop '{name}'; write one of {known}",
                identifier=identifier,
                name=self.name,
                known=known,
            ),
        )

    @cached_property
    def _by_kind(self) -> dict[str, tuple[Tool, ...]]:
        return {}

    @cached_property
    def worked_out(self) -> dict[str, Any]:
        """What others have worked out of its tools, to be had again."""
        return {}

    def has(self, tool: Tool) -> bool:
        """Whether it holds that very tool."""
        return tool.id in self._ids(tool.kind)

    def _ids(self, kind: str) -> frozenset[str]:
        """The ids of one kind of tool where they are made by kind, else of all."""
        drawers = isinstance(self.tools, Drawers)
        key = tr("ids of {kind}", kind=kind) if drawers else "ids"
        if key not in self.worked_out:
            pool = self.tools.of_kind(kind) if isinstance(self.tools, Drawers) else self.tools
            self.worked_out[key] = frozenset(tool.id for tool in pool)
        found: frozenset[str] = self.worked_out[key]
        return found

    def of_kind(self, kind: str) -> tuple[Tool, ...]:
        """Usable tools of one kind, smallest first: not chipped, blunt, all gone or all out."""
        if kind not in self._by_kind:
            pool = self.tools.of_kind(kind) if isinstance(self.tools, Drawers) else self.tools
            found = [t for t in pool if t.kind == kind and t.quantity > t.out and t.usable]
            found.sort(key=lambda t: (t.diameter_mm, t.series, t.designation))
            self._by_kind[kind] = tuple(found)
        return self._by_kind[kind]
