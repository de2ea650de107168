"""Internal threads: ISO metric (6H) and unified (2B), their minor diameter limits and percent of thread.

Sources: ISO 68-1 and ISO 965-1; ASME B1.1. The hole a tap finds must lie between the minor diameter
limits; the percent of thread is that of the hole, not of the drill's label.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, from_mm, parse
from cordwainer.core.tables import by_key, rows
from cordwainer.core.working import formula

BASIC_MINOR = Fraction("1.08253175")
FULL_HEIGHT = 1.299038
INCH_MM = Fraction(254, 10)
QUARTER_IN = Fraction(1, 4)
LEAST_TPI = 4
NUMBERED_FROM_TPI, LARGEST_NUMBER = 24, 14
THREE_PLACES_FROM_IN = Fraction("0.138")
TAP_LEAD_TURNS = {"taper": Fraction(8), "plug": Fraction(4), "bottoming": Fraction(3, 2)}
SPARE_TURNS = Fraction(1)
USUAL_TAP = "plug"
_METRIC = re.compile(
    r"^M\s*([0-9]+(?:[.,][0-9]+)?)(?:\s*[x×*]\s*([0-9]*[.,]?[0-9]+))?(?:\s*-?\s*6H)?$", re.IGNORECASE
)
_UNIFIED = re.compile(
    r"^(#\s*[0-9]+|[0-9]+(?:[\s-][0-9]+/[0-9]+)?|[0-9]+/[0-9]+|[0-9]*\.[0-9]+)\s*(?:in|\")?\s*-\s*([0-9]+)"
    r"\s*(UNC|UNF|UNEF|UN)?(?:\s*-?\s*2B)?$",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class Thread:
    """One internal thread; lengths in exact millimeters, `minor` the limits of the hole to be tapped."""

    name: str
    system: str
    major_mm: Fraction
    pitch_mm: Fraction
    minor_low_mm: Fraction
    minor_high_mm: Fraction

    def percent_of(self, hole_mm: float) -> float:
        """Percent of full thread a hole of that size leaves for the tap."""
        percent: float = thread_percent(float(self.major_mm), hole_mm, float(self.pitch_mm))
        return percent

    def takes(self, hole_mm: float) -> bool:
        """Whether a hole lies within the minor diameter limits."""
        return float(self.minor_low_mm) - 1e-9 <= hole_mm <= float(self.minor_high_mm) + 1e-9


@formula(tr("percent of thread"), tr("100 (major - hole) / (1.299 pitch)"), "%", tr("handbook tap drill formula"))
def thread_percent(major_mm: float, hole_mm: float, pitch_mm: float) -> float:
    """Percent of full thread left in a hole; lengths in one unit.

    >>> round(thread_percent(8, 6.8, 1.25), 1), round(thread_percent(0.25, 0.201, 1 / 20), 1)
    (73.9, 75.4)
    """
    return 100 * (major_mm - hole_mm) / (FULL_HEIGHT * pitch_mm)


@formula(
    tr("size for a percent of thread"),
    tr("major - percent/100 × 1.299 pitch"),
    "mm",
    tr("handbook tap drill formula"),
)
def hole_for_percent(major_mm: float, pitch_mm: float, percent: float) -> float:
    """The hole that leaves a wanted percent of thread.

    >>> round(hole_for_percent(10, 1.5, 77), 2)
    8.5
    """
    return major_mm - percent / 100 * FULL_HEIGHT * pitch_mm


def metric_thread(major_mm: Fraction, pitch_mm: Fraction) -> Thread:
    """An ISO metric thread, 6H: D1 = d - 1.0825 P, its tolerance from ISO 965-1 by pitch."""
    key = f"{float(pitch_mm):g}"
    row = by_key("thread_tolerances", "pitch_mm").get(key)
    if row is None:
        known = ", ".join(r.text("pitch_mm") for r in rows("thread_tolerances"))
        raise InputError("", tr("pitch {key} mm is not tabulated; write one of {known}", key=key, known=known))
    low = round(major_mm - BASIC_MINOR * pitch_mm, 3)
    high = low + Fraction(row.text("td1_6h_um")) / 1000
    return Thread(f"M{float(major_mm):g}x{key}", "metric", major_mm, pitch_mm, low, high)


def unified_thread(name: str, major_in: Fraction, tpi: int) -> Thread:
    """A unified thread, 2B. Source: ASME B1.1, minor diameter tolerance of class 2B.

    Below 1/4 in 0.05 P^(2/3) + 0.03 P/D - 0.002, between 0.25 P - 0.4 P² and 0.394 P; from there
    0.25 P - 0.4 P² (all in inches).
    """
    if tpi < LEAST_TPI:
        raise InputError(
            "", tr("{tpi} threads per inch are coarser than ASME B1.1 goes here; 4 and finer are known", tpi=tpi)
        )
    pitch = Fraction(1, tpi)
    if major_in <= 2 * pitch:
        raise InputError(
            "",
            tr(
                "'{name}': {tpi} threads per inch do not go on {major_in:g} in",
                name=name,
                tpi=tpi,
                major_in=float(major_in),
            ),
        )
    low = major_in - BASIC_MINOR * pitch
    plain = pitch / 4 - Fraction(2, 5) * pitch**2
    tolerance = plain
    if major_in < QUARTER_IN:
        small = 0.05 * float(pitch) ** (2 / 3) + 0.03 * float(pitch / major_in) - 0.002
        tolerance = min(max(Fraction(str(round(small, 6))), plain), Fraction("0.394") * pitch)
    # The standard rounds basic size and tolerance to four places before their sum.
    low, tolerance = _rounded(low, 4), _rounded(tolerance, 4)
    places = 3 if major_in >= THREE_PLACES_FROM_IN else 4
    low_in, high_in = _rounded(low, places), _rounded(low + tolerance, places)
    return Thread(name, "unified", major_in * INCH_MM, pitch * INCH_MM, low_in * INCH_MM, high_in * INCH_MM)


def _rounded(value: Fraction, places: int) -> Fraction:
    """Half up, as the standard's tables are rounded."""
    scale = 10**places
    return Fraction(int(value * scale + Fraction(1, 2)), scale)


def coarse_pitch(major_mm: Fraction) -> Fraction:
    """The coarse pitch of a metric size (``M10`` means ``M10x1.5``). Source: ISO 261."""
    for row in rows("threads_metric"):
        size = row.text("size").removeprefix("M")
        if row.text("series") == "coarse" and Fraction(size) == major_mm:
            return Fraction(row.text("pitch_mm"))
    raise InputError(
        "",
        tr(
            "M{major_mm:g} has no coarse pitch here; write the pitch, as 'M{major_mm:g}x1'",
            major_mm=float(major_mm),
        ),
    )


def read_thread(text: str) -> Thread:
    """A thread as the trade writes it: ``M10``, ``M10x1.25``, ``M14x2 6H``, ``5/16-18 UNC``, ``#8-32``, ``10-32``.

    >>> read_thread("M10").name, read_thread("5/16-18 UNC").name
    ('M10x1.5', '5/16-18 UNC')
    >>> read_thread("10-32 UNF").name
    '#10-32 UNF'
    """
    shown = text.strip()
    metric = _METRIC.match(shown)
    if metric:
        major = Fraction(metric[1].replace(",", "."))
        pitch = Fraction(metric[2].replace(",", ".")) if metric[2] else coarse_pitch(major)
        if not 0 < pitch < major / 2:
            raise InputError(
                "",
                tr(
                    "'{shown}': a pitch of {pitch:g} mm does not go with {major:g} mm",
                    shown=shown,
                    pitch=float(pitch),
                    major=float(major),
                ),
            )
        return metric_thread(major, pitch)
    unified = _UNIFIED.match(shown)
    if unified:
        size, tpi = unified[1].replace(" ", "-") if "#" not in unified[1] else unified[1], int(unified[2])
        if size.isdigit() and tpi >= NUMBERED_FROM_TPI and int(size) <= LARGEST_NUMBER:
            size = f"#{size}"  # 10-32 is a number size: no whole inch has so fine a thread
        major_in = _unified_major(size.replace(" ", ""))
        if tpi == 0:
            raise InputError("", tr("'{shown}' has no threads; write '5/16-18 UNC'", shown=shown))
        series = (unified[3] or _series(size, tpi) or "UN").upper()
        return unified_thread(f"{size}-{tpi} {series}", major_in, tpi)
    raise InputError(
        "", tr("'{shown}' is not a thread; write 'M10x1.5', 'M10', '5/16-18 UNC' or '#8-32'", shown=shown)
    )


def _unified_major(size: str) -> Fraction:
    """Numbered sizes are 0.060 in and 0.013 more each; others are what they say. Source: ASME B1.1."""
    if size.startswith("#"):
        return Fraction("0.060") + Fraction("0.013") * int(size[1:])
    return parse(f"{size} in").exact_mm / INCH_MM


def _series(size: str, tpi: int) -> str | None:
    for row in rows("threads_unified"):
        if row.text("size").replace(" ", "-") == f"{size}-{tpi}":
            return row.text("series")
    return None


@dataclass(frozen=True)
class TapDepth:
    """How deep to drill for a thread: full threads wanted, the tap's lead, a spare turn, in mm."""

    threads_mm: Fraction
    lead_mm: Fraction
    spare_mm: Fraction

    @property
    def drilled(self) -> Length:
        """Depth of the drill's full diameter."""
        return from_mm(self.threads_mm + self.lead_mm + self.spare_mm)


def drilled_depth(thread: Thread, threads_mm: Fraction, tap: str) -> TapDepth:
    """Depth to drill so that a tap cuts full threads that deep: its lead and one turn beyond.

    Leads of 8, 4 and 1.5 threads for taper, plug and bottoming taps (common practice).
    """
    if tap not in TAP_LEAD_TURNS:
        raise InputError(
            "",
            tr(
                "'{tap}' is not a tap; write one of {tap_lead_turns}",
                tap=tap,
                tap_lead_turns=", ".join(TAP_LEAD_TURNS),
            ),
        )
    return TapDepth(threads_mm, TAP_LEAD_TURNS[tap] * thread.pitch_mm, SPARE_TURNS * thread.pitch_mm)
