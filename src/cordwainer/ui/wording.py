"""Sizes and operations in the words and forms shown on screen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cordwainer.core.lengths import Length, inch_text, mm_text

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.operation import Operation, Route

VERDICT_WORDS = {"accept": "Accept", "reject": "Reject", "cannot_tell": "Cannot tell yet"}
LABEL_WORDS = {"balanced": "Balanced", "quickest": "Quickest", "surest": "Surest", "to_get": "To get"}


def route_words(route: Route) -> str:
    """What a route is called: by its label, or by its number of drills."""
    return LABEL_WORDS.get(route.label) or route.label.replace("_", " ")


def plain(value_mm: float, unit: str, decimals_mm: int = 3) -> str:
    """A size without needless zeros in millimeters, four places in inches."""
    if unit == "in":
        return inch_text(value_mm)
    text = mm_text(value_mm, decimals_mm)
    return text.rstrip("0").rstrip(".") if "." in text else text


def fixed(value_mm: float, unit: str, decimals_mm: int = 3, decimals_in: int = 4) -> str:
    """A size with its places kept."""
    return inch_text(value_mm, decimals_in) if unit == "in" else mm_text(value_mm, decimals_mm)


def micro(value_mm: float, unit: str) -> tuple[str, str]:
    """A small difference: micrometers, or ten-thousandths of an inch as decimals, with its unit."""
    if unit == "in":
        return inch_text(value_mm, 5 if abs(value_mm) < 0.0025 else 4), "in"
    return mm_text(value_mm * 1000, 1 if abs(value_mm) < 0.1 else 0), "µm"


def print_size(hole: Hole, unit: str) -> str:
    """The nominal size as the print shows it."""
    if unit == hole.unit:
        return f"Ø{as_written(hole.diameter)}"
    return f"Ø{plain(hole.nominal_mm, unit)}"


def as_written(length: Length) -> str:
    """A length in its own notation without the unit; no leading zero in inches."""
    figure = str(length).removesuffix(" mm").removesuffix(" in")
    return figure.removeprefix("0") if length.unit == "in" and figure.startswith("0.") else figure


def limits_pair(hole: Hole, unit: str) -> tuple[str, str]:
    """Upper and lower deviation as the print shows them."""
    pair = []
    for limit in (hole.limits.upper_mm, hole.limits.lower_mm):
        off = limit - hole.nominal_mm
        if abs(off) < 1e-9:
            pair.append("0" if unit == "mm" else ".0000")
        else:
            pair.append(("+" if off > 0 else "") + (plain(off, unit) if unit == "mm" else inch_text(off)))
    return pair[0], pair[1]


def role_name(route: Route, index: int) -> str:
    """What an operation is called in the strip and on its card."""
    operation = route.operations[index]
    names = {
        "face": "Face",
        "punch": "Punch",
        "center_drill": "Center drill",
        "spot_drill": "Spot drill",
        "end_mill": "Flat",
        "deburr": "Deburr",
        "measure": "Measure",
    }
    if operation.kind in names:
        return names[operation.kind]
    if operation.kind == "ream":
        zone = operation.tool.zone if operation.tool else ""
        return f"Ream {zone}".strip()
    drills = [i for i, o in enumerate(route.operations) if o.kind == "drill"]
    place = drills.index(index)
    reamed = any(o.kind == "ream" for o in route.operations)
    if place == len(drills) - 1:
        return "Undersize" if reamed else "Drill to size"
    return "Pilot" if place == 0 else "Step"


def size_shown(operation: Operation, unit: str) -> str:
    """The size on a station as stamped on the tool, with its unit where that is not the one shown."""
    tool = operation.tool
    if tool is None or operation.diameter_mm is None:
        return ""
    name = tool.designation.replace("letter ", "")
    if tool.diameter.unit == unit or name.startswith("#") or not name.endswith((" mm", " in")):
        return name.removesuffix(" mm").removesuffix(" in")
    return name
