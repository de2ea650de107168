"""What the work is made of: speeds, feed factors, force constants, expansion, fluid."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.habits import PLASTICS, hardens
from cordwainer.core.tables import Row, by_key, rows

HARD_STEELS = ("alloy_steel_hard",)
STEEL_LINE = ((200.0, 24000.0), (300.0, 31000.0), (400.0, 34000.0))


@dataclass(frozen=True)
class Band:
    """A low and a high end, such as a range of cutting speeds or feed factors."""

    low: float
    high: float

    @property
    def middle(self) -> float:
        """Half way."""
        return (self.low + self.high) / 2


ONE = Band(1.0, 1.0)


@dataclass(frozen=True)
class Material:
    """One work material; speeds in m/min by operation column, force constants dimensionless.

    Sources: the rows of `cutting_speeds.csv`, `material_force.csv`, `drill_feed_factors.csv`,
    `ream_feed_factors.csv` and `fluids.csv`.
    """

    id: str
    name: str
    speeds: dict[str, Band]
    drill_feed: Band
    ream_feed: Band
    kd_torque: float
    kd_thrust: float
    kd_hardness: float | None
    expansion_per_k: float
    fluids: dict[str, str]
    point_angle_deg: float
    chip_habit: str
    grabs: bool
    diagnosis_name: str
    source: str

    @property
    def is_hard(self) -> bool:
        """Steel too hard for the usual center-drill cone (about 40 on the hardness C scale)."""
        return self.id in HARD_STEELS

    @property
    def hardens(self) -> bool:
        """Whether it hardens under an edge that rubs."""
        return hardens(self.id)

    @property
    def is_plastic(self) -> bool:
        """A plastic, which takes no punch and no split point."""
        return self.id in PLASTICS

    @property
    def turns_fast(self) -> bool:
        """Aluminum and brass, where a center drill may turn up to the higher cap."""
        return self.id.startswith(("aluminum", "brass"))

    def force_constants(self, hardness_bhn: float | None) -> tuple[float, float]:
        """Torque and thrust factors K_d, carried along the handbook's steel line by hardness."""
        steel = "steel" in self.id
        if hardness_bhn is None or not steel or self.kd_hardness is None:
            return self.kd_torque, self.kd_thrust
        ratio = _steel_line(hardness_bhn) / _steel_line(self.kd_hardness)
        return self.kd_torque * ratio, self.kd_thrust * ratio


def _steel_line(hardness: float) -> float:
    (h0, k0), (h1, k1), (h2, k2) = STEEL_LINE
    if hardness <= h1:
        return max(k0 + (k1 - k0) * (hardness - h0) / (h1 - h0), 0.5 * k0)
    return k1 + (k2 - k1) * (min(hardness, 1.25 * h2) - h1) / (h2 - h1)


def _factor(table: str, name: str) -> Band:
    if not name:
        return ONE
    row = by_key(table, "applies_to")[name]
    return Band(row.number("feed_factor_low"), row.number("feed_factor_high"))


def _speeds(row: Row) -> dict[str, Band]:
    columns = ("hss_drill", "carbide_drill", "hss_ream", "hss_bore")
    return {
        column: Band(row.number(f"{column}_m_min_low"), row.number(f"{column}_m_min_high")) for column in columns
    }


@cache
def materials() -> dict[str, Material]:
    """All materials by id, in the order of the table."""
    force = by_key("material_force", "id")
    groups = by_key("material_groups", "id")
    fluids = by_key("fluids", "material_class")
    found = {}
    for row in rows("cutting_speeds"):
        key = row.text("id")
        group, kd = groups[key], force[key]
        fluid = fluids[group.text("fluid_row")]
        found[key] = Material(
            id=key,
            name=row.words("material_class"),
            speeds=_speeds(row),
            drill_feed=_factor("drill_feed_factors", group.text("drill_feed_row")),
            ream_feed=_factor("ream_feed_factors", group.text("ream_feed_row")),
            kd_torque=kd.number("kd_torque"),
            kd_thrust=kd.number("kd_thrust"),
            kd_hardness=kd.number_or_none("at_hardness_bhn"),
            expansion_per_k=row.number("expansion_um_m_K") * 1e-6,
            fluids={
                "drill": fluid.words("drilling_fluid"),
                "ream": fluid.words("reaming_fluid"),
                "tap": fluid.words("tapping_fluid"),
                "bore": fluid.words("boring_fluid"),
            },
            point_angle_deg=row.number("recommended_point_angle_deg"),
            chip_habit=row.text("chip_habit"),
            grabs=row.text("grab_risk") == "high",
            diagnosis_name=group.text("diagnosis_material"),
            source=row.source,
        )
    return found


def material(identifier: str) -> Material:
    """The material of that id; an unknown one is an `InputError` that names near ones."""
    found = materials().get(identifier)
    if found is None:
        stem = identifier.split("_")[0].lower()
        near = [key for key in materials() if stem and stem in key] or list(materials())[:4]
        raise InputError(
            "",
            tr(
                "'{identifier}' is not a known material; write one such as '{near}'",
                identifier=identifier,
                near=near[0],
            ),
        )
    return found
