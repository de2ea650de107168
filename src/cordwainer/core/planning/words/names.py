"""Sizes and operations by the names and in the forms they are shown on screen, on paper and by commands."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from typing import TYPE_CHECKING

from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.lengths import Length, in_unit, inch_text, mm_text
from cordwainer.core.planning.words.wishes import DRILLING, OTHER_END

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import Operation, Route

PASSES = ("guide", "part_way")


def plain(value_mm: float, unit: str, decimals_mm: int = 3) -> str:
    """A size without needless zeros in millimeters, four places in inches."""
    if unit == "in":
        return localized(inch_text(value_mm))
    text = mm_text(value_mm, decimals_mm)
    return localized(text.rstrip("0").rstrip(".")) if "." in text else text


def fixed(value_mm: float, unit: str, decimals_mm: int = 3, decimals_in: int = 4) -> str:
    """A size with its places kept."""
    return in_unit(value_mm, unit, decimals_mm, decimals_in)


def print_size(hole: Hole, unit: str) -> str:
    """The size as the print names it: a thread, pin or center by its name, else the nominal diameter."""
    feature = hole.feature
    if feature.thread is not None:
        return localized(feature.thread.name)
    if feature.pin is not None:
        return tr("Pin {pin}", pin=feature.pin.size)
    if feature.center is not None:
        return localized(f"{feature.center.type} {feature.center.size}")
    if unit == hole.own_unit:
        return localized(f"Ø{as_written(hole.diameter)}")
    return f"Ø{plain(hole.nominal_mm, unit)}"


def as_written(length: Length) -> str:
    """A length in its own notation without the unit; no leading zero in inches."""
    figure = str(length).removesuffix(" mm").removesuffix(" in")
    return figure.removeprefix("0") if length.unit == "in" and figure.startswith("0.") else figure


def limits_pair(hole: Hole, unit: str) -> tuple[str, str]:
    """Upper and lower deviation as the print shows them; empty for what is named."""
    if hole.feature.thread is not None or hole.feature.pin is not None or hole.feature.center is not None:
        return "", ""
    pair = []
    for limit in (hole.limits.upper_mm, hole.limits.lower_mm):
        off = limit - hole.nominal_mm
        if abs(off) < 1e-9:
            pair.append("0" if unit == "mm" else ".0000")
        else:
            pair.append(
                ("+" if off > 0 else "") + (plain(off, unit) if unit == "mm" else localized(inch_text(off)))
            )
    return pair[0], pair[1]


def role_name(route: Route, index: int) -> str:
    """What an operation is called in the strip and on its card."""
    if route.operations[index].end == OTHER_END:
        one = replace(route, operations=tuple(replace(o, end=1) for o in route.operations if o.end == OTHER_END))
        place = sum(o.end == OTHER_END for o in route.operations[:index])
        return tr("{role_name}, other end", role_name=role_name(one, place))
    if route.both_ends and route.operations[index].end == 1 and route.operations[index].kind in DRILLING:
        route = replace(route, operations=tuple(o for o in route.operations if o.end == 1))
    operation = route.operations[index]
    names = {
        "face": tr("Face"),
        "punch": tr("Punch"),
        "center_drill": tr("Center drill"),
        "spot_drill": tr("Spot drill"),
        "deburr": tr("Deburr"),
        "measure": tr("Measure"),
        "countersink": tr("Countersink"),
        "counterbore": tr("Counterbore"),
        "spotface": tr("Spotface"),
        "tap": tr("Tap"),
    }
    if operation.kind == "end_mill":
        return tr("Flat") if operation.role == "flat" else tr("Square floor")
    if operation.kind == "bore":
        return {"rough": tr("Rough bore"), "counterbore": tr("Counterbore")}.get(operation.role or "", tr("Bore"))
    if operation.kind == "tap" and operation.role == "first":
        return tr("First tap")
    if operation.role == "guide":
        return tr("Guide")
    if operation.role == "finish_pilot":
        return tr("Rest of pilot")
    if operation.role == "part_way":
        again = any(o.role == "finish_pilot" and o.tool == operation.tool for o in route.operations)
        return tr("Pilot half way") if again else tr("Open out")
    if operation.kind in names:
        return names[operation.kind]
    if operation.kind == "ream":
        zone = operation.tool.zone if operation.tool else ""
        return tr("Ream {zone}", zone=zone).strip()
    drills = [i for i, o in enumerate(route.operations) if o.kind in DRILLING and o.role not in PASSES]
    if index not in drills:
        return sentence(tr(operation.kind.replace("_", " ")))
    place = drills.index(index)
    if any(o.tool is not None and o.tool.kind == "taper_pin_reamer" for o in route.operations):
        return tr("Step") if place else tr("Through drill")
    follows = [o.kind for o in route.operations[index:]]
    if operation.kind in ("core_drill", "spade_drill"):
        return sentence(tr(operation.kind.replace("_", " ")))
    if place == len(drills) - 1:
        if "bore" in follows or "end_mill" in follows:
            return tr("Drill")
        if "ream" in follows:
            return tr("Undersize")
        return tr("Tap drill") if "tap" in follows else tr("Drill to size")
    return tr("Pilot") if place == 0 else tr("Step")


def size_shown(operation: Operation, unit: str) -> str:
    """The size on a station as stamped on the tool, with its unit where that is not the one shown."""
    tool = operation.tool
    if tool is None or operation.diameter_mm is None:
        return ""
    if operation.kind == "bore":
        return plain(operation.diameter_mm, unit)
    if operation.kind == "countersink" and operation.mouth_mm is not None:
        return plain(operation.mouth_mm, unit, 2)
    name = tool.designation.replace("letter ", "").removesuffix(" spotface")
    if operation.kind == "tap":
        return localized(name.split(" ")[0])
    if tool.diameter.unit == unit or name.startswith("#") or not name.endswith((" mm", " in")):
        return localized(name.removesuffix(" mm").removesuffix(" in"))
    return localized(name)


def size_said(size: str, unit: str) -> str:
    """A size as shown, with the unit where it is a plain figure: not after a number, a letter, a designation.

    >>> size_said("31/64", "in"), size_said("#7", "in"), size_said("8 mm", "in"), size_said("A 3.15", "mm")
    ('31/64 in', '#7', '8 mm', 'A 3.15')
    """
    plain_figure = size[:1].isdigit() or size.startswith(".")
    return f"{size} {unit}" if plain_figure and not size.endswith((" mm", " in")) else size


def peck_stops(stops: Sequence[float], unit: str) -> list[str]:
    """Readings to clear chips at, with as few places as still tell neighbors apart.

    >>> peck_stops((12.0, 20.0, 27.0), "mm"), peck_stops((1.0, 1.1, 1.2), "mm"), peck_stops((0.039, 0.043), "in")
    (['12', '20', '27'], ['1.0', '1.1', '1.2'], ['0.039', '0.043'])
    """
    least = min((abs(b - a) for a, b in pairwise(stops)), default=math.inf)
    places = 2 if unit == "in" else 0
    while places < 4 and least * 10**places < 0.99:
        places += 1
    return [localized(f"{stop:.{places}f}") for stop in stops]
