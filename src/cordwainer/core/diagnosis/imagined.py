"""How a hole was probably made, where only the kinds of its operations are known: for the forward model."""

from __future__ import annotations

from functools import cache, lru_cache

from cordwainer.core.diagnosis.evidence import MATERIALS_LIKE, Case
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.formation.inputs import Op, Setup
from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.planning.model.forward import metal_of
from cordwainer.core.shop.material import materials

PLACE_SD_MM = {"lathe": 0.02, "mill": 0.04}
ELSEWHERE_SD_MM, USUAL_FLUID = 0.12, 0.7
DRILLED = ("drill", "step_drill", "core_drill")
PILOT_SHARE, SMALL_PILOT_SHARE, BEFORE_BAR_SHARE = 0.3, 0.2, 0.1
MOST_BELOW_MM = 0.05  # a reamer for limits below its number; farther below they are a drill's
LEAST_SHARE = 0.2  # of any earlier tool, of the finished size
REAM_STOCK_MM, SMALL_REAM_STOCK_MM, ZONE_SHARE, MOST_ZONE_MM = 0.2, 0.12, 0.4, 0.012


def made(case: Case) -> Made:
    """How the hole of a case was made: as its plan says, else as is usual for the operations named."""
    if case.made is not None:
        return case.made
    low, high = case.limits_mm or (case.diameter_mm, case.diameter_mm)
    return _usual(
        case.operations, case.diameter_mm, case.depth_mm or 2 * case.diameter_mm, low, high,
        case.answers.get("e_material", "mild_steel"), case.answers.get("e_machine", "drill_press"),
    )  # fmt: skip


@cache
def _material_like(name: str) -> str:
    """A material of the tables that stands for one of the questions' words."""
    found = [m.id for m in materials().values() if m.diagnosis_name == name]
    return found[0] if found else MATERIALS_LIKE.get(name, "medium_carbon_steel")


@lru_cache(maxsize=256)
def _usual(
    names: tuple[str, ...], d: float, depth: float, low: float, high: float, material: str, machine: str
) -> Made:
    metal = metal_of(materials()[_material_like(material)])
    place = PLACE_SD_MM.get(machine, ELSEWHERE_SD_MM)
    setup = Setup(depth, metal, rotating_work=machine == "lathe", fluid=USUAL_FLUID, pos_sd=place)
    return Made(tuple(_ops(names or ("drill",), d, depth, low, high)), setup)


def _ops(names: tuple[str, ...], d: float, depth: float, low: float, high: float) -> list[Op]:
    found = []
    for place, kind in enumerate(names):
        stream = place + 2
        later = [name for name in names[place + 1 :] if name in (*DRILLED, "ream", "bore")]
        if kind == "center_drill":
            found.append(Op(kind, min(0.6 * d, 7.0), stream))
        elif kind == "spot_drill":
            found.append(Op(kind, min(0.9 * d, 12.0), stream, spot_deg=120.0))
        elif kind in DRILLED and not {"ream", "bore"} & set(names[:place]):
            own = "core_drill" if kind == "core_drill" else "drill"
            found.append(Op(own, max(_drilled(d, later), LEAST_SHARE * d), stream))
        elif kind == "ream":
            zone = (low - d if low - d > -MOST_BELOW_MM else 0.0) + min(ZONE_SHARE * (high - low), MOST_ZONE_MM)
            found.append(Op(kind, d, stream, flutes=6, fluid=1.0, size_error=zone))
        elif kind == "bore":
            size = (low + high) / 2 if not later else max(d - 0.25, LEAST_SHARE * d)
            bar = max(0.6 * d, 4.0)
            found.append(Op(kind, size, stream, bar=bar, projecting=1.1 * depth + 5, compensated=True))
    return found


def _drilled(d: float, later: list[str]) -> float:
    """The size of a drill by what comes after it."""
    if not later:
        return d
    if "ream" in later and not any(name in DRILLED for name in later):
        stock = REAM_STOCK_MM if d > 5 else SMALL_REAM_STOCK_MM
        return d - stock - float(survey_oversize(d)[1]) - (1.0 if "bore" in later else 0.0)
    if later == ["bore"]:
        return d - max(1.0, BEFORE_BAR_SHARE * d)
    size = d if later[-1] in DRILLED else 0.95 * d
    after = sum(name in DRILLED for name in later)
    return size * (PILOT_SHARE if after == 1 else SMALL_PILOT_SHARE)
