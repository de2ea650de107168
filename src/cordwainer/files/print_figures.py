"""The figures of a hole as they stand on its drawing: where each is, what it says, what may be typed over it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from cordwainer.core.cutting.depth import cone_depth, point_length
from cordwainer.core.cutting.profile import DRAWN_POINT_DEG, counterbore_depth
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.tolerance import is_code
from cordwainer.core.planning.words.wording import as_written, limits_pair, plain, print_size
from cordwainer.files.entries import HoleEntry

MAIN, SIDE, SMALL = 32.0, 26.0, 20.0


@dataclass(frozen=True)
class Figure:
    """One figure: its id and name, what is scribed, what its field starts with, and the edge it speaks of.

    `left` figures are depths with a dimension line down to `depth_mm`; the others have a leader to the edge at
    `depth_mm` and `radius_mm`. `hints` are up to three lines shown while it is changed.
    """

    id: str
    name: str
    figure: str
    note: str
    typed: str
    depth_mm: float
    radius_mm: float
    left: bool = False
    upper: str = ""
    lower: str = ""
    size: float = SIDE
    hints: tuple[str, ...] = ()
    top_mm: float = 0.0
    word: str = ""


def figures_of(hole: Hole, entry: HoleEntry) -> tuple[Figure, ...]:
    """Every figure of a hole, mouth first."""
    found = [*_mouth(hole, entry), *_named(hole, entry), *_depths(hole, entry), *_around(hole, entry)]
    return tuple(found)


def _mouth(hole: Hole, entry: HoleEntry) -> Iterator[Figure]:
    mouth, unit = hole.mouth, hole.unit
    if mouth.counterbore is not None:
        deep = counterbore_depth(hole)
        tolerance = mouth.counterbore_tolerance
        note = tolerance.removesuffix(f" {unit}") or (tr("spotface") if mouth.spotface else "")
        typed = f"{mouth.counterbore} {tolerance}".strip()
        yield Figure(
            "counterbore",
            tr("Spotface diameter") if mouth.spotface else tr("Register or counterbore diameter"),
            f"Ø{as_written(mouth.counterbore)}",
            note,
            typed,
            deep / 2,
            mouth.counterbore.mm / 2,
        )
        given = mouth.counterbore_depth
        yield Figure(
            "counterbore_depth",
            tr("Register or counterbore depth"),
            as_written(given) if given is not None else tr("clean up"),
            tr("deep") if given is not None else "",
            str(given or ""),
            deep,
            mouth.counterbore.mm / 2,
            left=True,
        )
    if mouth.countersink is not None:
        yield _sink(hole, entry)


def _sink(hole: Hole, entry: HoleEntry) -> Figure:
    mouth = hole.mouth
    assert mouth.countersink is not None
    angle = mouth.countersink_angle_deg or 90.0
    under = hole.nominal_mm
    top = counterbore_depth(hole) if mouth.counterbore is not None else 0.0
    if mouth.counterbore is not None and mouth.countersink.mm >= mouth.counterbore.mm:
        under, top = mouth.counterbore.mm, 0.0
    deep = cone_depth(mouth.countersink.mm, under, angle)
    wide = f"Ø{as_written(mouth.countersink)} × {angle:g}°"
    if hole.kind == "countersunk":
        return Figure(
            "countersink",
            "Countersink",
            wide,
            "",
            f"{mouth.countersink} x {angle:g}°",
            top + deep / 3,
            mouth.countersink.mm / 2 - deep / 6,
            hints=(tr("{plain} deep from its touch on the edge", plain=plain(deep, hole.unit, 2)),),
        )
    across = float(hole.feature.thread.major_mm) if hole.feature.thread is not None else under
    width = max((mouth.countersink.mm - across) / 2, 0.0)
    shown = plain(width, hole.unit, 2)
    return Figure(
        "countersink",
        "Chamfer",
        f"{shown} × {angle / 2:g}°" if width > 0 else wide,
        "",
        f"{shown} x 45°" if width > 0 and angle == 90 else f"{mouth.countersink} x {angle:g}°",
        top + deep / 2,
        (mouth.countersink.mm + under) / 4,
        size=SMALL,
    )


def _named(hole: Hole, entry: HoleEntry) -> Iterator[Figure]:
    feature, unit = hole.feature, hole.unit
    mouth_deep = counterbore_depth(hole)
    half_way = (mouth_deep + hole.depth_mm) / 2
    if feature.thread is not None:
        thread = feature.thread
        deep = feature.thread_depth.mm if feature.thread_depth is not None else hole.depth_mm
        name, _, series = thread.name.partition(" ")
        code = entry.class_ or ("6H" if thread.system == "metric" else "2B")
        yield Figure(
            "thread",
            "Thread",
            name.replace("x", "×"),
            f"{series} {code}".strip(),
            f"{thread.name} {code}",
            mouth_deep + 0.6 * (deep - mouth_deep),
            float(thread.major_mm) / 2,
            size=MAIN,
            word=tr("right hand"),
        )
        if entry.diameter is not None:
            yield Figure(
                "size", "Drill", f"Ø{as_written(entry.diameter)}", "drill", str(entry.diameter),
                (deep + hole.depth_mm) / 2, hole.nominal_mm / 2, size=SMALL,
            )  # fmt: skip
    elif feature.pin is not None:
        large, small = feature.pin.ends(hole.depth.exact_mm)
        yield Figure(
            "pin",
            tr("Taper pin"),
            tr("pin {pin}", pin=feature.pin.size),
            feature.pin.taper,
            feature.pin.size,
            half_way,
            float(large + small) / 4,
            size=MAIN,
        )
    elif feature.center is not None:
        center = feature.center
        name = center.size if center.size.startswith("#") else f"{center.type} {center.size}"
        yield Figure(
            "center",
            "Center",
            name,
            f"{center.type}, 60°" if center.size.startswith("#") else "60°",
            f"{center.type} {center.size}",
            0.3 * hole.depth_mm,
            center.pilot.mm / 2 + 0.3 * (center.body.mm - center.pilot.mm) / 2,
            size=MAIN,
        )
    else:
        upper, lower = limits_pair(hole, unit)
        tolerance = hole.tolerance
        code = tolerance if is_code(tolerance) else ""
        typed = f"{hole.diameter} {tolerance}".strip()
        if entry.limits is not None:
            low, high = sorted(entry.limits, key=lambda size: size.exact_mm)
            typed = tr("{low} to {high}", low=low, high=high)
        figure = f"{print_size(hole, unit)} {code}".strip()
        yield Figure(
            "size",
            tr("Diameter and tolerance"),
            figure,
            "",
            typed,
            half_way,
            hole.nominal_mm / 2,
            upper=upper,
            lower=lower,
            size=MAIN,
        )


def _depths(hole: Hole, entry: HoleEntry) -> Iterator[Figure]:
    feature = hole.feature
    if feature.thread is not None and not (hole.through and feature.thread_depth is None):
        deep = feature.thread_depth
        pitch = float(feature.thread.pitch_mm)
        turns = tr("thread, {deep:.0f} turns", deep=(deep.mm if deep else hole.depth_mm) / pitch)
        left = (hole.depth_mm - (deep.mm if deep else hole.depth_mm)) / pitch
        yield Figure(
            "thread_depth",
            tr("Thread depth"),
            as_written(deep) if deep is not None else "all",
            "thread",
            str(deep or ""),
            deep.mm if deep is not None else hole.depth_mm,
            hole.nominal_mm / 2,
            left=True,
            hints=(turns,)
            if hole.through
            else (turns, tr("{left:.1f} left under it", left=left), tr("a plug tap takes 5")),
        )
    point = 0.0 if hole.kind == "flat_bottom" else point_length(hole.nominal_mm, DRAWN_POINT_DEG)
    words = tr("through") if hole.through else tr("deep")
    under = "" if hole.through else (tr("drilled, full Ø") if feature.thread is not None else tr("to full Ø"))
    hints: tuple[str, ...] = (
        () if hole.through else (tr("tip at {plain}", plain=plain(hole.depth_mm + point, hole.unit, 1)),)
    )
    if feature.center is not None:
        words, hints, under = tr("to the tip"), (), ""
    if hole.kind == "flat_bottom":
        under = tr("flat bottom")
    if feature.pin is not None and hole.through:
        words = tr("through")
    yield Figure(
        "depth", "Depth", as_written(hole.depth), words, str(hole.depth), hole.depth_mm, hole.nominal_mm / 2,
        left=True, hints=hints, size=MAIN, word=under,
    )  # fmt: skip


def _around(hole: Hole, entry: HoleEntry) -> Iterator[Figure]:
    if not hole.through:
        thick = entry.part_thickness
        known = hole.part_thickness_mm or hole.depth_mm
        yield Figure(
            "thickness",
            tr("Metal to the far side"),
            as_written(thick) if thick is not None else tr("not said"),
            "thick",
            str(thick or ""),
            known,
            0.0,
            size=SMALL,
        )
    for wanted, found in (
        (hole.entry == "sloped", _Aside("slope", tr("Slope of the entry"), "slope", _degrees(hole), 0.0)),
        (hole.entry == "curved", _Aside("curve", tr("Radius of the entry"), "radius", entry.curve_radius, 0.0)),
        (
            hole.exit == "cross_hole",
            _Aside(
                "cross", tr("Diameter of the cross hole"), tr("cross hole"), entry.cross_diameter, hole.depth_mm
            ),
        ),
    ):
        if wanted:
            yield found.figure()


def _degrees(hole: Hole) -> str:
    return f"{hole.slope_deg:g}°" if hole.slope_deg else ""


@dataclass(frozen=True)
class _Aside:
    """A figure that speaks of the part around the hole."""

    id: str
    name: str
    note: str
    value: Length | str | None
    depth_mm: float

    def figure(self) -> Figure:
        """It as a figure without a leader."""
        lead = {"slope": "", "curve": "R", "cross": "Ø"}[self.id]
        shown = as_written(self.value) if isinstance(self.value, Length) else (self.value or "")
        text = f"{lead}{shown}" if shown else tr("how much?")
        typed = str(self.value or "")
        return Figure(self.id, self.name, text, self.note, typed, self.depth_mm, -1.0, size=SMALL)
