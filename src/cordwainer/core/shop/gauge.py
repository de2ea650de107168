"""What the shop measures with, and how far off each may be."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.tables import by_key, rows

WORDS = {
    "caliper": tr("caliper"),
    "telescoping": tr("telescoping gauge and micrometer"),
    "inside_micrometer": tr("inside micrometer"),
    "two_point_bore_gauge": tr("two-point bore gauge"),
    "three_point_bore_gauge": tr("three-point bore gauge"),
    "pin": tr("pin gauges"),
    "plug": tr("plug gauge"),
    "air": tr("air gauge"),
    "cmm": tr("coordinate measuring machine"),
}
TWO_POINT = ("caliper", "telescoping", "inside_micrometer", "two_point_bore_gauge")
ALIASES = {"bore_gauge": "two_point_bore_gauge"}


@dataclass(frozen=True)
class Gauge:
    """One gauge; lengths in millimeters, `expanded_mm` overrides the table when given.

    `due` is the day its calibration runs out, ISO 8601; `overdue` once that day is past.
    """

    id: str
    kind: str
    low_mm: float
    high_mm: float
    resolution_mm: float
    expanded_mm: float | None = None
    jaw_land_mm: float | None = None
    due: str = ""
    overdue: bool = False

    def as_of(self, day: str) -> Gauge:
        """The gauge on a day: once its calibration ran out, a figure better than usual of its kind counts no more.

        >>> Gauge("a", "pin", 1, 20, 0.01, 0.0001, due="2026-03-01").as_of("2026-03-02").expanded_mm is None
        True
        """
        if not self.due or day <= self.due:
            return self
        known = self.expanded_mm
        better = known is not None and known < 2 * standard_uncertainty_mm(self.kind)
        return replace(self, overdue=True, expanded_mm=None if better else known)

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
        raise InputError(
            "", tr("'{kind}' is not a known gauge; write one of {kinds}", kind=kind, kinds=", ".join(kinds()))
        )
    return kind


def standard_uncertainty_mm(kind: str) -> float:
    """Standard uncertainty of a practiced hand with that kind of gauge, in millimeters.

    Source: `gauges.csv` (assumed; a shop's own gauge overrides it).
    """
    return by_key("gauges", "kind")[known_kind(kind)].number("standard_uncertainty_mm")
