"""A hole drilled in scrap and measured before the job: a reading of the very drill, kept like any other hole."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import uuid4

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.learning.oversize import HoleCut, share
from cordwainer.core.shop.tool import Tool
from cordwainer.files.shown import shown

NAME = tr("scrap hole")


def scrap_hole(
    tool: Tool, left_mm: float, previous_mm: float, material: str, machine: str, at: datetime
) -> dict[str, list[dict[str, Any]]]:
    """Rows of the logbook for a hole of `left_mm` that a drill left in scrap over one of `previous_mm`.

    Raises `InputError` for a size that drill cannot have left.
    """
    cut = HoleCut(left_mm - tool.diameter_mm, previous_mm, material)
    if share(tool, cut) is None:
        raise InputError(
            "", tr("that is no hole of {tool}: another drill, or another unit?", tool=tool.designation)
        )
    name, moment = uuid4().hex, at.isoformat(timespec="seconds")
    hole = {
        "id": name, "job": "", "name": NAME, "material": material, "machine": machine,
        "nominal_mm": tool.diameter_mm, "begun": moment, "ended": moment, "state": "finished", "snapshot": {},
    }  # fmt: skip
    operation = {
        "hole_id": name, "place": 0, "kind": tool.kind, "tool_id": tool.id, "tool": shown(tool.designation, 120),
        "diameter_mm": tool.diameter_mm, "previous_mm": previous_mm, "state": "done", "left_mm": left_mm,
    }  # fmt: skip
    return {"hole": [hole], "operation": [operation]}
