"""What the print asks of one hole."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from cordwainer.core.lengths import Length
from cordwainer.core.part.tolerance import Limits, general_limits, grade_of, limit_pair, written_limits

if TYPE_CHECKING:
    from cordwainer.core.part.center import CenterSize
    from cordwainer.core.part.pin import PinSize
    from cordwainer.core.part.thread import Thread

KINDS = (
    "plain",
    "sized",
    "tapped",
    "counterbored",
    "countersunk",
    "spotfaced",
    "flat_bottom",
    "taper_pin",
    "center_hole",
)
ENTRIES = ("faced", "pip", "sawn", "cast", "sloped", "curved")
UNDER = ("parallels", "vise", "table", "subplate", "jaws")
EXITS = ("free", "cross_hole", "sloped", "stack")
DEFAULT_FLOOR_MM = 1.0


@dataclass(frozen=True)
class Feature:
    """What a tapped, taper pin or center hole is named by; at most one of the three."""

    thread: Thread | None = None
    thread_depth: Length | None = None
    pin: PinSize | None = None
    center: CenterSize | None = None


@dataclass(frozen=True)
class Mouth:
    """What is cut at the entry: a counterbore or register, a countersink or chamfer (included angle)."""

    counterbore: Length | None = None
    counterbore_depth: Length | None = None
    counterbore_tolerance: str = ""
    countersink: Length | None = None
    countersink_angle_deg: float | None = None
    spotface: bool = False

    @property
    def plain(self) -> bool:
        """Nothing at the mouth."""
        return self.counterbore is None and self.countersink is None


@dataclass(frozen=True)
class Hole:
    """One hole as the print asks for it; lengths in millimeters, limits exact.

    `diameter` of a tapped hole is the drill's where the print gives one, else the least minor diameter; of
    a center hole its pilot, of a taper pin hole the small end. `depth_mm` of a through hole is the thickness.
    `under` is what lies below the far side (parallels, vise, table, subplate, jaws), `under_gap_mm` how far below,
    `under_places` which of the places come out over it, where that is known;
    `places_mm` are x and y of each of the like holes, from the part's left and lower edges.
    `wall_mm` is the metal around it, from `outside_mm` of a round part where that is given. A `depth_window_mm` is
    the least and greatest depth that will do; `depth_mm` is its middle. A `keyway` runs along the hole.
    `peck_mm` is the bite chips are cleared after, `thread_percent` how much of a full thread is wanted, where
    somebody said so.
    `part_thickness_mm` is the metal from the entry face to the far side of a blind hole, when the print gives it.
    """

    id: str
    kind: str
    diameter: Length
    depth: Length
    through: bool
    limits: Limits
    name: str = ""
    count: int = 1
    tolerance: str = ""
    finish_ra_um: float | None = None
    position_tolerance_mm: float | None = None
    entry: str = "faced"
    slope_deg: float | None = None
    exit: str = "free"
    existing_mm: float | None = None
    part_thickness_mm: float | None = None
    floor_mm: float = DEFAULT_FLOOR_MM
    floor_given: bool = False
    wall_mm: float | None = None
    outside_mm: float | None = None
    roundness_mm: float | None = None
    squareness_mm: float | None = None
    keyway: bool = False
    peck_mm: float | None = None
    thread_percent: float | None = None
    depth_window_mm: tuple[float, float] | None = None
    curve_radius_mm: float | None = None
    cross_mm: float | None = None
    under: str = ""
    under_gap_mm: float | None = None
    under_places: tuple[int, ...] = ()
    places_mm: tuple[tuple[float, float], ...] = ()
    feature: Feature = Feature()
    mouth: Mouth = Mouth()
    limits_given: bool = False
    diameter_given: bool = False
    depth_given: bool = False
    shown_in: str = ""

    @property
    def callout_drill(self) -> Length | None:
        """The drill the callout of a thread names, or None."""
        return self.diameter if self.feature.thread is not None and self.diameter_given else None

    @property
    def general(self) -> bool:
        """Whether its size has no tolerance of its own: the drawing's general one stands for it."""
        named = self.feature.thread is not None or self.feature.pin is not None or self.feature.center is not None
        return self.kind != "sized" and not named and not self.tolerance and not self.limits_given

    @property
    def nominal_mm(self) -> float:
        """Nominal diameter in millimeters."""
        return self.diameter.mm

    @property
    def across_mm(self) -> float:
        """Diameter that the metal around it must clear: the thread's major where it is tapped, in mm."""
        return (
            self.nominal_mm
            if self.feature.thread is None
            else max(self.nominal_mm, float(self.feature.thread.major_mm))
        )

    @property
    def depth_mm(self) -> float:
        """Depth to full diameter, or the thickness of a through hole, in millimeters."""
        return self.depth.mm

    @property
    def own_unit(self) -> str:
        """The system the hole is drawn in, 'mm' or 'in'."""
        return self.diameter.unit

    @property
    def unit(self) -> str:
        """The system it is spoken of in: the one it is drawn in, unless another is shown."""
        return self.shown_in or self.diameter.unit

    @property
    def grade(self) -> int:
        """The IT grade the limits ask for (rules of record: the coarsest not wider)."""
        return grade_of(self.nominal_mm, self.limits.width_mm)

    @property
    def exit_sag_mm(self) -> float:
        """How much later a drill's corners come out into a cross hole than its axis does, in mm.

        A cross hole smaller than this one never frees the corners; its radius stands for it then.
        """
        if self.exit != "cross_hole" or self.cross_mm is None or not self.through:
            return 0.0
        r, wide = self.nominal_mm / 2, self.cross_mm / 2
        return wide - math.sqrt(max(wide * wide - r * r, 0.0))

    @property
    def tip_room_mm(self) -> float | None:
        """How deep any tip may go below the entry face, or None where nothing is behind."""
        if self.through or self.part_thickness_mm is None:
            return None
        return self.part_thickness_mm - self.floor_mm


def limits_of(
    diameter: Length,
    tolerance: str | None,
    pair: tuple[Length, Length] | None,
    general: str,
    default_unit: str | None = None,
) -> Limits:
    """The limits a print gives: two limits, else a tolerance as written, else the general one."""
    nominal: Fraction = diameter.exact_mm
    if pair is not None:
        return limit_pair(pair)
    if tolerance:
        return written_limits(nominal, tolerance, default_unit)
    return general_limits(nominal, general)
