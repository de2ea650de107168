"""Drilling for a taper pin: through at the small end, then in steps, the reamer taking little everywhere."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant


@dataclass(frozen=True)
class PinStep:
    """One drill for a taper: how deep it may go from the large end, what it leaves, what the reamer takes.

    `depth_mm` is None for the first, which goes through; `most_mm` is the most the reamer takes on diameter above
    the next step.
    """

    tool: Tool
    depth_mm: float | None
    expected_mm: float
    most_mm: float


def pin_steps(
    hole: Hole, drills: Sequence[Tool], most: int = 4, spare_mm: float | None = None
) -> tuple[PinStep, ...]:
    """Drills from the small end up, so that the reamer nowhere takes more than it should on diameter.

    `spare_mm` is the least the reamer is to find, the usual when None.

    The first is the largest whose expected hole is under the small end by the least stock; each further one the
    largest whose hole stays under the taper by as much at a depth worth the change. Source: common practice.
    """
    pin = hole.feature.pin
    if pin is None:
        raise InputError("kind", tr("only a taper pin hole is drilled in steps for its taper"))
    large, small = (float(end) for end in pin.ends(hole.depth.exact_mm))
    spare, slope = spare_mm or constant("pin_stock_mm"), float(pin.slope)
    smaller = [t for t in drills if t.diameter_mm < large]
    own = [t for t in smaller if t.diameter.unit == hole.own_unit]
    tools = sorted(own or smaller, key=lambda t: t.diameter_mm)
    through = [t for t in tools if expected_drilled(t).mean_mm <= small - spare]
    if not through:
        return ()
    found = [_step(through[-1], None, 0.0, large)]
    while found[-1].most_mm > constant("pin_most_mm") and len(found) < most:
        before = found[-1]
        wish = before.expected_mm + min((large - before.expected_mm) / 2, constant("pin_most_mm"))
        later = [t for t in tools if t.diameter_mm > before.tool.diameter_mm]
        usable = [(t, (large - expected_drilled(t, before.expected_mm).mean_mm - spare) / slope) for t in later]
        usable = [(t, deep) for t, deep in usable if deep > 2 * spare / slope]
        if not usable:
            break
        tool, deep = min(usable, key=lambda item: abs(item[0].diameter_mm - wish))
        expected = expected_drilled(tool, before.expected_mm).mean_mm
        at_step = large - deep * slope
        found[-1] = PinStep(before.tool, before.depth_mm, before.expected_mm, at_step - before.expected_mm)
        found.append(PinStep(tool, deep, expected, large - expected))
    return tuple(found)


def _step(tool: Tool, depth: float | None, previous: float, large: float) -> PinStep:
    expected = expected_drilled(tool, previous).mean_mm
    return PinStep(tool, depth, expected, large - expected)
