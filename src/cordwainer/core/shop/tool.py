"""A physical tool and what follows from its shape."""

from __future__ import annotations

import math
import uuid
from dataclasses import dataclass
from hashlib import sha1

from cordwainer.core.language import tr
from cordwainer.core.lengths import Length
from cordwainer.core.part.tolerance import Limits
from cordwainer.core.shop.drill_point import Point

KINDS = (
    "drill",
    "core_drill",
    "spade_drill",
    "center_drill",
    "spot_drill",
    "reamer",
    "hand_reamer",
    "taper_pin_reamer",
    "boring_bar",
    "end_mill",
    "countersink",
    "counterbore",
    "tap",
    "punch",
)
LONG_SERIES = ("long", "extra_long_1", "extra_long_2")
REAMER_GRIP_MM = 25.0
USABLE = ("good", "worn")
CHIPPED_WEAR = 0.5
CONDITION_WEAR = {"good": 0.0, "worn": 0.5, "chipped": 1.0, "blunt": 1.0}
STANDARD_CHISEL, SPLIT_CHISEL = 0.18, 0.03
SPADE_CHISEL = 0.10  # an insert is about 0.17 d thick and notched at the point (common practice, assumed)
STANDARD_WEB = 0.155
CHISEL_PER_WEB = 1.15
NAMESPACE = uuid.UUID("b3b1b7c2-4e0d-5a6f-9c1e-7d2f8a4c5e60")


@dataclass(frozen=True)
class Tool:
    """One tool of the crib; lengths in millimeters, `limits` are a reamer's own sizes.

    `oversize_factor` is what the logbook has learned of this very drill: measured oversize
    over the survey's mean, 1 until it knows better; `learned_holes` stand behind it, worth `learned_weight`, with
    that plain mean over its size. `sheet_m_min` and `sheet_feed_mm` are what its own data sheet asks, in m/min and
    mm/rev. `point` is what its point check read. `out` of the `quantity` are out on a job.
    """

    id: str
    kind: str
    diameter: Length
    designation: str
    series: str
    point_angle_deg: float | None = None
    split_point: bool = False
    web_mm: float | None = None
    flutes: int = 2
    margins: int = 2
    flute_length_mm: float | None = None
    overall_length_mm: float | None = None
    shank: str = "straight"
    shank_diameter_mm: float | None = None
    material: str = "hss"
    coating: str = ""
    zone: str = ""
    limits: Limits | None = None
    lead_mm: float | None = None
    min_bore_mm: float | None = None
    max_overhang_mm: float | None = None
    center_cutting: bool | None = None
    pilot_length_mm: float | None = None
    body_diameter_mm: float | None = None
    included_angle_deg: float | None = None
    pilot_diameter_mm: float | None = None
    pitch_mm: float | None = None
    quantity: int = 1
    out: int = 0
    drawer: str = ""
    condition: str = "good"
    regrinds: int = 0
    price: float | None = None
    note: str = ""
    oversize_factor: float = 1.0
    learned_holes: int = 0
    learned_weight: float = 0.0
    learned_over_mm: float = 0.0
    point: Point | None = None
    sheet_m_min: float | None = None
    sheet_feed_mm: float | None = None

    @property
    def diameter_mm(self) -> float:
        """Marked diameter in millimeters; a center drill's is its pilot."""
        return self.diameter.mm

    @property
    def point_mm(self) -> float:
        """Length of the point or lead in front of the full diameter, in millimeters."""
        if self.lead_mm is not None:
            return self.lead_mm
        if self.point_angle_deg is None or self.point_angle_deg >= 180:
            return 0.0
        return self.diameter_mm / 2 / math.tan(math.radians(self.point_angle_deg / 2))

    @property
    def chisel_mm(self) -> float:
        """Length of the chisel edge: 0.18 d for a standard web, 1.15 x an odd one, 0.03 d for a split point.

        A core drill has none; a spade insert is thinned to 0.1 d unless its web is known.
        """
        if self.kind == "core_drill":
            return 0.0
        if self.point is not None and self.point.web is not None and not self.split_point:
            return CHISEL_PER_WEB * self.point.web
        if self.kind == "spade_drill" and not self.web_mm:
            return SPADE_CHISEL * self.diameter_mm
        odd_web = self.web_mm is not None and abs(self.web_mm / self.diameter_mm - STANDARD_WEB) > 1e-3
        if self.web_mm is not None and odd_web and not self.split_point:
            return CHISEL_PER_WEB * self.web_mm
        return (SPLIT_CHISEL if self.split_point else STANDARD_CHISEL) * self.diameter_mm

    @property
    def is_stub(self) -> bool:
        """Stub or self-centering: starts itself on a flat, square face."""
        return self.series in ("stub", "carbide_self_centering")

    @property
    def is_long(self) -> bool:
        """Of a series made for deep holes."""
        return self.series in LONG_SERIES

    @property
    def reach_mm(self) -> float | None:
        """How deep it can cut, in millimeters; None where nobody said.

        A drill as deep as its flutes. A reamer's neck is thinner than its flutes, so that it reaches as far as its
        shank is not held. Source: common practice.
        """
        if self.kind == "reamer" and self.overall_length_mm is not None:
            return max(
                self.overall_length_mm - max(REAMER_GRIP_MM, 2 * self.diameter_mm), self.flute_length_mm or 0.0
            )
        return self.flute_length_mm

    @property
    def wear(self) -> float:
        """Wear from 0 (sharp) to 1: the condition noted in the crib, or what the point check read."""
        noted = CONDITION_WEAR.get(self.condition, 0.0)
        if self.point is None:
            return noted
        return max(noted, self.point.worn, CHIPPED_WEAR if self.point.chips != "none" else 0.0)

    @property
    def usable(self) -> bool:
        """Whether it is fit to be put to work: neither blunt nor chipped, by its note and by its point check."""
        return self.condition in USABLE and (self.point is None or not self.point.unfit)

    @property
    def name(self) -> str:
        """Designation and kind as one would ask for it at the crib."""
        words = {
            "drill": tr("{series}drill", series=_series_word(self.series)),
            "center_drill": tr("center drill"),
            "spot_drill": tr(
                "spot drill {included_angle_deg:g}°", included_angle_deg=self.included_angle_deg or 0
            ),
            "reamer": tr(
                "{zone}reamer, {series} flute", zone=self.zone + " " if self.zone else "", series=tr(self.series)
            ),
            "end_mill": tr("end mill") if self.center_cutting is not False else tr("end mill, not center-cutting"),
            "punch": tr("center punch"),
            "taper_pin_reamer": tr("taper pin reamer {series}", series=self.series),
            "boring_bar": tr("{series} boring bar", series=tr(self.series)),
            "countersink": tr(
                "countersink {included_angle_deg:g}°", included_angle_deg=self.included_angle_deg or 0
            ),
            "tap": tr("{series} tap", series=tr(self.series)),
        }
        word = words.get(self.kind, tr(self.kind.replace("_", " ")))
        return word if self.kind == "punch" else tr("{size} {kind}", size=self.designation, kind=word)


def _series_word(series: str) -> str:
    words = {
        "jobber": "",
        "taper_shank": tr("taper-shank "),
        "reduced_shank": tr("reduced-shank "),
        "carbide_self_centering": tr("carbide "),
    }
    words |= {"extra_long_1": tr("extra-long "), "extra_long_2": tr("extra-long (2) ")}
    return words.get(series, tr("{series} ", series=tr(series)))


def built_in_id(kind: str, designation: str, series: str) -> str:
    """The stable id of a built-in tool: a version-5 UUID of kind, designation and series."""
    raw = bytearray(
        sha1(NAMESPACE.bytes + f"{kind} {designation} {series}".encode(), usedforsecurity=False).digest()[:16]
    )
    raw[6], raw[8] = raw[6] & 0x0F | 0x50, raw[8] & 0x3F | 0x80  # as RFC 9562 has it, without an object for each
    text = raw.hex()
    return f"{text[:8]}-{text[8:12]}-{text[12:16]}-{text[16:20]}-{text[20:]}"
