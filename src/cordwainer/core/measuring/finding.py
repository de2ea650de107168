"""What is measured of a hole, and what is found."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.measuring.uncertainty import GUARD_FACTOR, Share
from cordwainer.core.part.hole import Hole
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.material import Material


@dataclass(frozen=True)
class Reading:
    """One diameter as read, at a depth and direction; mm and degrees."""

    depth_mm: float
    size_mm: float
    direction_deg: float = 0.0


@dataclass(frozen=True)
class Pin:
    """One pin tried: its size, whether it goes, and how deep it went."""

    size_mm: float
    goes: bool
    depth_mm: float | None = None


@dataclass(frozen=True)
class Axis:
    """How far the hole's axis is off its own place at mouth and far end, and what points tell of it; mm."""

    entry_mm: float | None = None
    exit_mm: float | None = None
    leans_mm: float | None = None
    straightness_mm: float | None = None
    cylindricity_mm: float | None = None
    lobes: int = 0


@dataclass(frozen=True)
class Measured:
    """What was measured and how; temperatures in °C, None where not said."""

    hole: Hole
    material: Material
    gauge: Gauge
    readings: tuple[Reading, ...] = ()
    pins: tuple[Pin, ...] = ()
    part_c: float | None = None
    gauge_c: float | None = None
    deburred: bool = True
    hot: bool = False
    axis: Axis | None = None
    told_in: str = ""


@dataclass(frozen=True)
class Correction:
    """One correction: its id, how many micrometers it adds at the middle size, and why."""

    id: str
    um: float
    text: str


@dataclass(frozen=True)
class Corrected:
    """A reading with its corrected size and its own verdict."""

    reading: Reading
    size_mm: float
    verdict: str


@dataclass(frozen=True)
class Finding:
    """Everything said about a measured hole.

    `between_mm` are the largest pin that goes and the smallest that does not, where both were tried.
    """

    entry_mm: float | None
    middle_mm: float | None
    exit_mm: float | None
    size_min_mm: float | None
    size_max_mm: float | None
    taper_mm: float | None
    out_of_round_mm: float | None
    form: tuple[str, ...]
    corrections: tuple[Correction, ...]
    expanded_mm: float
    verdict: str
    why: str
    settle_with: tuple[str, ...]
    flags: tuple[str, ...]
    corrected: tuple[Corrected, ...]
    guard_factor: float = GUARD_FACTOR
    budget: tuple[Share, ...] = ()
    cone_deg: float | None = None
    axis: Axis | None = None
    between_mm: tuple[float, float] | None = None
