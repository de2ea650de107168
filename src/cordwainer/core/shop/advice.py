"""What a practiced hand would say of a tool: point, helix and coating for a metal, sleeves, chucks, what pays."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.language import localized, tr
from cordwainer.core.shop.machine import Machine, taper_number
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, rows


@dataclass(frozen=True)
class DrillChoice:
    """Point angle, helix and coating usual for a metal, and a coating to leave alone there."""

    point: str
    helix: str
    coating: str
    avoid: str
    source: str

    @property
    def words(self) -> str:
        """In one line."""
        avoid = tr(", not {avoid}", avoid=self.avoid) if self.avoid else ""
        return tr(
            "{point}, helix {helix}, {coating}{avoid}",
            point=self.point,
            helix=self.helix,
            coating=self.coating,
            avoid=avoid,
        )


def drill_choice(material: Material) -> DrillChoice:
    """What suits a metal. Source: `tool_choice.csv` (common practice)."""
    for row in rows("tool_choice"):
        if material.id.startswith(row.text("material")):
            return DrillChoice(
                row.words("point"), row.words("helix"), row.text("coating"), row.text("avoid"), row.source
            )
    row = rows("tool_choice")[-1]
    return DrillChoice(row.words("point"), row.words("helix"), row.text("coating"), row.text("avoid"), row.source)


def adapters(machine: Machine, shank: str) -> str:
    """The sleeves between a taper shank and the machine's socket, in words; empty where none are needed.

    >>> from cordwainer.core.shop.machines import machines
    >>> lathe = next(m for m in machines() if m.taper == 3)
    >>> adapters(lathe, "MT1")
    'sleeve MT1 to MT3, or MT1 to 2 and 2 to 3'
    """
    number = taper_number(shank)
    if number is None or machine.taper is None or number >= machine.taper:
        return ""
    if machine.taper - number == 1:
        return tr("sleeve MT{number} to MT{taper}", number=number, taper=machine.taper)
    steps = tr(" and ").join(tr("{n} to {n_2}", n=n, n_2=n + 1) for n in range(number, machine.taper))
    return tr("sleeve MT{number} to MT{taper}, or MT{steps}", number=number, taper=machine.taper, steps=steps)


def chuck_caution(machine: Machine, tool: Tool, unit: str = "mm") -> str:
    """What the machine's chuck should not be asked, in words; empty where nothing is.

    Source: common practice: no tapping in a keyless chuck, a keyed one from 1/2 in up, and a taper shank
    rather than a straight one over about 16 mm.
    """
    if taper_number(tool.shank) is not None:
        return ""
    if tool.kind == "tap" and machine.chuck_kind == "keyless":
        return tr("never tap in a keyless chuck: use a tap holder")
    if machine.chuck_kind == "keyless" and tool.diameter_mm >= constant("keyed_from_mm") - 1e-6:
        return tr("from {in_} a keyed chuck holds better", in_="1/2 in" if unit == "in" else localized("12.7 mm"))
    if (tool.shank_diameter_mm or 0.0) > constant("straight_shank_most_mm"):
        return tr("a taper shank drives a tool this size better")
    return ""


def pays_from(tool: Tool) -> str:
    """From how many holes solid carbide pays against a drill like this one, in words; empty for other tools.

    Closed form: so many grinds of the cheap drill cost what the dear one does, n = life (ratio - 1) + 1.
    Source: common practice, ten times the price and ten to twenty times the holes.
    """
    if tool.kind != "drill" or tool.material == "carbide" or not 3 <= tool.diameter_mm <= 12:
        return ""
    holes = break_even_holes(constant("drill_holes_per_grind"), constant("carbide_price_ratio"))
    return tr("carbide from about {holes:.0f} holes, if none is reground", holes=float(f"{holes:.2g}"))


def break_even_holes(life: float, price_ratio: float) -> float:
    """Holes from which a tool `price_ratio` times as dear is no dearer than new cheap ones of that `life`.

    >>> break_even_holes(100.0, 10.0)
    901.0
    """
    return life * (price_ratio - 1) + 1
