"""A machine: the speeds and feeds it has, what it holds, how its scales read."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING, Any

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import Length, inch_text

if TYPE_CHECKING:
    from cordwainer.core.shop.shop_law import ShopLaw

SCALE_KINDS = ("tailstock_ram", "ram_handwheel", "carriage_handwheel", "quill_scale", "knee_dial", "readout")
ROLLING = ("ram_handwheel", "carriage_handwheel", "knee_dial")
LIMIT_IS_READING = ("tailstock_ram", "quill_scale")
TRUE_ENOUGH_MM = 0.03
STEP_RATIO = 1.06
COLLET_KINDS = ("end_mill", "countersink", "counterbore")


SCALE_WORDS = {
    "tailstock_ram": tr("tailstock"),
    "ram_handwheel": tr("ram handwheel"),
    "carriage_handwheel": tr("carriage wheel"),
    "quill_scale": tr("quill"),
    "knee_dial": tr("knee dial"),
    "readout": tr("readout"),
}


@dataclass(frozen=True)
class Scale:
    """One scale or dial: where it starts, its division, its turn, which way it counts."""

    kind: str
    unit: str
    start: Length
    division: Length
    per_rev: Length | None = None
    travel_limit: Length | None = None
    direction: str = "increases"

    @property
    def rolls(self) -> bool:
        """Whether the dial comes round to zero each turn."""
        return self.kind in ROLLING and self.per_rev is not None

    @property
    def room(self) -> Fraction | None:
        """Travel to be had from the start reading in exact millimeters, or None if not said."""
        if self.travel_limit is None:
            return None
        if self.kind not in LIMIT_IS_READING:
            return self.travel_limit.exact_mm
        if self.direction == "decreases":
            return self.start.exact_mm
        return self.travel_limit.exact_mm - self.start.exact_mm


@dataclass(frozen=True)
class Machine:
    """One machine of the shop; power in kW, thrust in N, speeds in rev/min.

    `holder_max_mm` is the largest straight shank a solid holder takes: the tool post's or carriage block's of a
    lathe, the collet's or boring head's of a mill; None where nobody said. `jaws_mm` is how far its vise
    or chuck opens. `speed_factors` are what its people run
    of the table's speeds, by material and for all (""). `law` is what the holes made in this shop teach of the
    model's constants, as they count at this machine.
    """

    id: str
    name: str
    rotating: str
    speeds_rpm: tuple[float, ...]
    power_kw: float
    thrust_n: float
    taper: int | None
    chuck_kind: str
    chuck_max_mm: float
    travel_mm: float | None
    scales: tuple[Scale, ...]
    feeds_mm_per_rev: tuple[float, ...] | None = None
    backlash_mm: float | None = None
    runout_mm: float | None = None
    tailstock_offset_mm: tuple[float, float] | None = None
    fluid: str = "brush"
    drive: str = "belt"
    rate_per_hour: float | None = None
    speed_range_rpm: tuple[float, float] | None = None
    holder_max_mm: float | None = None
    jaws_mm: float | None = None
    speed_factors: tuple[tuple[str, float], ...] = ()
    law: ShopLaw | None = None

    def speed_factor(self, material_id: str) -> float:
        """What is run here of the table's speeds in a material, 1 where nobody said."""
        known = dict(self.speed_factors)
        return known.get(material_id, known.get("", 1.0))

    @property
    def is_lathe(self) -> bool:
        """The work turns."""
        return self.rotating == "work"

    @property
    def is_drill_press(self) -> bool:
        """A machine on which holes are punched and marked out."""
        return "press" in self.id or "press" in self.name.lower()

    @property
    def carriage_held(self) -> bool:
        """A lathe whose drills are held and fed by the carriage."""
        scale = self.depth_scale
        return self.is_lathe and scale is not None and scale.kind in ("readout", "carriage_handwheel")

    @property
    def depth_scale(self) -> Scale | None:
        """The scale a depth is read on."""
        return self.scales[0] if self.scales else None

    @property
    def wheel(self) -> Scale | None:
        """The handwheel that feeds the tool, when one is described."""
        return next((scale for scale in self.scales if scale.per_rev is not None), None)

    def noted(self) -> dict[str, Any]:
        """What is noted of it with a hole that is made, so that a change of it is known later."""
        offset = list(self.tailstock_offset_mm) if self.tailstock_offset_mm is not None else None
        return {"runout_mm": self.runout_mm, "tailstock_offset_mm": offset, "fluid": self.fluid}

    def steps(self) -> tuple[float, ...]:
        """The speeds to be had, slowest first; a stepless drive counts in steps of 6 %."""
        if self.speeds_rpm:
            return tuple(sorted(self.speeds_rpm))
        if self.speed_range_rpm is None:
            return ()
        low, high = self.speed_range_rpm
        found = [low]
        while found[-1] * STEP_RATIO < high:
            found.append(float(round(found[-1] * STEP_RATIO)) if found[-1] > 50 else found[-1] * STEP_RATIO)
        return (*found, high)


def true_enough(dx_mm: float, dy_mm: float) -> bool:
    """Whether a holder indicated that far off the axis, across and up, holds a drill as true as drills run.

    Source: common practice, 20 to 30 micrometers.

    >>> true_enough(0.020, 0.022), true_enough(0.05, 0.0)
    (True, False)
    """
    return max(abs(dx_mm), abs(dy_mm)) <= TRUE_ENOUGH_MM


def taper_number(shank: str) -> int | None:
    """The number of a Morse taper shank, or None for a straight one.

    >>> taper_number("MT2"), taper_number("straight")
    (2, None)
    """
    if len(shank) == 3 and shank.startswith("MT") and shank[2] in "01234567":
        return int(shank[2])
    return None


def _said(mm: float, unit: str) -> str:
    return localized(f"{inch_text(mm, 3)} in") if unit == "in" else localized(f"{mm:.4g} mm")


def holding(machine: Machine, shank: str, shank_mm: float, unit: str = "mm") -> str | None:
    """Why the machine cannot hold a shank, in words, or None when it can.

    A smaller taper goes in with a sleeve; a straight shank goes in the chuck.
    """
    number = taper_number(shank)
    if number is not None:
        if machine.taper is None:
            return tr(
                "its {shank} shank needs a taper socket, and {machine} has none", shank=shank, machine=machine.name
            )
        if number > machine.taper:
            return tr("its {shank} shank is too big for the MT{taper} socket", shank=shank, taper=machine.taper)
        return None
    if shank_mm > machine.chuck_max_mm + 1e-6:
        return tr(
            "its {said} shank is too big for the {said_2} chuck",
            said=_said(shank_mm, unit),
            said_2=_said(machine.chuck_max_mm, unit),
        )
    return None


def cannot_hold(machine: Machine, kind: str, shank: str, shank_mm: float, unit: str = "mm") -> str | None:
    """Why a machine cannot hold a kind of tool by its shank, in words, or None when it can.

    A boring bar goes in a tool post or a boring head, an end mill of a mill in a collet, a drill held by the
    carriage in a block; everything else as `holding` says. Source: common practice.
    """
    most = machine.holder_max_mm
    if kind == "boring_bar":
        if machine.is_drill_press:
            return tr(
                "{machine} cannot bore: its spindle is not made for side load and it has no head to set",
                machine=machine.name,
            )
        if most is not None and shank_mm > most + 1e-6:
            return tr(
                "its {said} shank is too big for the {said_2} holder",
                said=_said(shank_mm, unit),
                said_2=_said(most, unit),
            )
        return None
    solid = machine.carriage_held or (not machine.is_lathe and kind in COLLET_KINDS)
    if solid and shank == "straight" and most is not None and shank_mm <= most + 1e-6:
        return None
    return holding(machine, shank, shank_mm, unit)
