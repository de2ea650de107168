"""What the shop measures with, and how far off each may be."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.tables import by_key, rows

WORDS = {
    "caliper": "caliper",
    "telescoping": "telescoping gauge and micrometer",
    "inside_micrometer": "inside micrometer",
    "two_point_bore_gauge": "two-point bore gauge",
    "three_point_bore_gauge": "three-point bore gauge",
    "pin": "pin gauges",
    "plug": "plug gauge",
    "air": "air gauge",
    "cmm": "coordinate measuring machine",
}
TWO_POINT = ("caliper", "telescoping", "inside_micrometer", "two_point_bore_gauge")
ALIASES = {"bore_gauge": "two_point_bore_gauge"}


@dataclass(frozen=True)
class Gauge:
    """One gauge; lengths in millimeters, `expanded_mm` overrides the table when given."""

    id: str
    kind: str
    low_mm: float
    high_mm: float
    resolution_mm: float
    expanded_mm: float | None = None
    jaw_land_mm: float | None = None

    @property
    def name(self) -> str:
        """The gauge in words."""
        return WORDS[self.kind]


def kinds() -> tuple[str, ...]:
    """All gauge kinds of the table."""
    return tuple(row.text("kind") for row in rows("gauges"))


def known_kind(kind: str) -> str:
    """The kind as the table names it, or an `InputError`."""
    kind = ALIASES.get(kind, kind)
    if kind not in kinds():
        raise InputError("", f"'{kind}' is not a known gauge; write one of {', '.join(kinds())}")
    return kind


def standard_uncertainty_mm(kind: str) -> float:
    """Standard uncertainty of a practiced hand with that kind of gauge, in millimeters.

    Source: `gauges.csv` (assumed; a shop's own gauge overrides it).
    """
    return by_key("gauges", "kind")[known_kind(kind)].number("standard_uncertainty_mm")
