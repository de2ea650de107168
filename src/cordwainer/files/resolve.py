"""A hole's entry made into the hole the core knows; what does not add up is named with its field."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, Length, from_mm, in_inches
from cordwainer.core.part.hole import DEFAULT_FLOOR_MM, Feature, Hole, Mouth, limits_of
from cordwainer.core.part.tolerance import Limits
from cordwainer.files.entries import HoleEntry

if TYPE_CHECKING:
    from cordwainer.core.part.center import CenterSize
    from cordwainer.core.part.pin import PinSize
    from cordwainer.core.part.thread import Thread

GENERAL_SMALLEST = Fraction(1, 10)
GENERAL_LEAST = Fraction(1, 2)


def resolve_hole(hole: HoleEntry, general_tolerance: str) -> Hole:
    """The hole as the core knows it; anything that does not add up is an `InputError`."""
    feature = _feature(hole)
    diameter = _diameter(hole, feature)
    depth = _depth(hole, feature)
    limits = _limits(hole, feature, diameter, general_tolerance)
    if hole.kind == "sized" and not hole.tolerance and not hole.limits:
        raise InputError("tolerance", tr("missing; a sized hole needs one, such as 'H7' or '+0.02/-0 mm'"))
    if hole.part_thickness is not None and not hole.through and hole.part_thickness.mm <= depth.mm:
        raise InputError(
            "part_thickness",
            tr(
                "'{part_thickness}' is not more than the depth '{depth}'; write more, or make it through",
                part_thickness=hole.part_thickness,
                depth=depth,
            ),
        )
    if feature.thread_depth is not None and feature.thread_depth.mm > depth.mm + 1e-9:
        raise InputError(
            "thread_depth",
            tr(
                "'{thread_depth}' is more than the hole's '{depth}'; write less, or drill deeper",
                thread_depth=feature.thread_depth,
                depth=depth,
            ),
        )
    return Hole(
        id=hole.id,
        kind=hole.kind,
        diameter=diameter,
        depth=depth,
        through=hole.through,
        limits=limits,
        name=hole.name,
        count=hole.count,
        tolerance=hole.tolerance or "",
        finish_ra_um=hole.finish_ra_um,
        position_tolerance_mm=hole.position_tolerance.mm if hole.position_tolerance else None,
        entry=hole.entry,
        slope_deg=hole.slope_deg,
        exit=hole.exit,
        existing_mm=hole.existing_hole.mm if hole.existing_hole else None,
        part_thickness_mm=hole.part_thickness.mm if hole.part_thickness else None,
        floor_mm=hole.floor.mm if hole.floor is not None else DEFAULT_FLOOR_MM,
        floor_given=hole.floor is not None,
        wall_mm=_wall(hole, diameter),
        outside_mm=hole.outside.mm if hole.outside else None,
        roundness_mm=hole.roundness.mm if hole.roundness else None,
        squareness_mm=hole.squareness.mm if hole.squareness else None,
        keyway=hole.keyway,
        peck_mm=hole.peck.mm if hole.peck else None,
        thread_percent=hole.thread_percent,
        depth_window_mm=(hole.depth.mm, hole.depth_to.mm) if hole.depth and hole.depth_to else None,
        curve_radius_mm=hole.curve_radius.mm if hole.curve_radius else None,
        cross_mm=hole.cross_diameter.mm if hole.cross_diameter else None,
        under=hole.under or "",
        under_gap_mm=hole.under_gap.mm if hole.under_gap is not None else None,
        places_mm=_places(hole),
        feature=feature,
        mouth=_mouth(hole, diameter),
        limits_given=hole.limits is not None,
        diameter_given=hole.diameter is not None,
        depth_given=hole.depth is not None,
    )


def _wall(hole: HoleEntry, diameter: Length) -> float | None:
    """Metal around the hole: as given, or what a round part leaves."""
    if hole.wall is not None:
        return hole.wall.mm
    if hole.outside is None:
        return None
    if hole.outside.exact_mm <= diameter.exact_mm:
        raise InputError(
            "outside",
            tr("'{outside}' is not wider than the hole; write the part's diameter", outside=hole.outside),
        )
    return float((hole.outside.exact_mm - diameter.exact_mm) / 2)


def _places(hole: HoleEntry) -> tuple[tuple[float, float], ...]:
    """Where each of the like holes stands."""
    if hole.places:
        if len(hole.places) != hole.count:
            raise InputError(
                "places",
                tr(
                    "{count} places for {count_2} holes; give each hole one, or change the count",
                    count=len(hole.places),
                    count_2=hole.count,
                ),
            )
        return tuple((x.mm, y.mm) for x, y in hole.places)
    if (hole.x is None) != (hole.y is None):
        raise InputError("y" if hole.y is None else "x", tr("missing; a place is an x and a y"))
    return ((hole.x.mm, hole.y.mm),) if hole.x is not None and hole.y is not None else ()


def _feature(hole: HoleEntry) -> Feature:
    """Thread, pin or center of the kinds that have one."""
    if hole.kind == "tapped":
        return Feature(thread=_thread(hole), thread_depth=hole.thread_depth)
    if hole.kind == "taper_pin":
        return Feature(pin=_pin(hole))
    if hole.kind == "center_hole":
        return Feature(center=_center(hole))
    return Feature()


def _thread(hole: HoleEntry) -> Thread:
    from cordwainer.core.part.thread import read_thread

    if not hole.thread:
        raise InputError("thread", tr("missing; a tapped hole needs one, such as 'M10x1.5' or '5/16-18 UNC'"))
    try:
        thread = read_thread(hole.thread)
    except InputError as bad:
        raise bad.inside("thread") from None
    known = "6H" if thread.system == "metric" else "2B"
    if hole.class_ is not None and hole.class_ != known:
        raise InputError(
            "class",
            tr(
                "'{class_}' is not worked out for {thread}; write '{known}'",
                class_=hole.class_,
                thread=thread.name,
                known=known,
            ),
        )
    return thread


def _pin(hole: HoleEntry) -> PinSize:
    from cordwainer.core.part.pin import pin_size

    if not hole.size:
        raise InputError("size", tr("missing; a taper pin hole needs one, such as '6' or '#4'"))
    pin = pin_size(hole.size, hole.taper)
    if hole.taper is not None and hole.taper != pin.taper:
        raise InputError(
            "taper",
            tr(
                "'{taper}' does not go with pin {pin}; write '{taper_2}'",
                taper=hole.taper,
                pin=pin.size,
                taper_2=pin.taper,
            ),
        )
    return pin


def _center(hole: HoleEntry) -> CenterSize:
    from cordwainer.core.part.center import center_size

    size = hole.size or ""
    if not size:
        raise InputError("size", "missing; write it as '3.15' with center_type 'A', or '#4' with 'plain'")
    letter = size.strip()[:1].upper()
    center_type = hole.center_type or (letter if letter in ("A", "B", "R") else "plain")
    return center_size(center_type, size)


def _diameter(hole: HoleEntry, feature: Feature) -> Length:
    if hole.diameter is not None:
        return hole.diameter
    if feature.thread is not None:
        low = feature.thread.minor_low_mm
        if feature.thread.system == "metric":
            return from_mm(low)
        return in_inches(low)
    if feature.center is not None:
        return feature.center.pilot
    if feature.pin is not None:
        if hole.depth is None or not feature.pin.large_end_known:
            return feature.pin.nominal
        small = feature.pin.ends(hole.depth.exact_mm)[1]
        if small <= 0:
            raise InputError(
                "depth",
                tr("'{depth}' is longer than a {pin} taper pin can be", depth=hole.depth, pin=feature.pin.size),
            )
        return in_inches(small)
    raise InputError("diameter", tr("missing; write it as '18 mm'"))


def _depth(hole: HoleEntry, feature: Feature) -> Length:
    if hole.depth is not None and hole.depth_to is not None:
        if hole.depth_to.exact_mm <= hole.depth.exact_mm:
            raise InputError(
                "depth_to",
                tr(
                    "'{depth_to}' is not more than the depth '{depth}'; write more",
                    depth_to=hole.depth_to,
                    depth=hole.depth,
                ),
            )
        if hole.through:
            raise InputError("depth_to", tr("a through hole has no window of depths; leave it out"))
        middle = (hole.depth.exact_mm + hole.depth_to.exact_mm) / 2
        return in_inches(middle) if hole.depth.unit == "in" else from_mm(middle)
    if hole.depth is not None:
        return hole.depth
    if feature.thread is not None and feature.thread_depth is not None and not hole.through:
        from cordwainer.core.part.thread import USUAL_TAP, drilled_depth

        return drilled_depth(feature.thread, feature.thread_depth.exact_mm, USUAL_TAP).drilled
    if feature.center is not None:
        from cordwainer.core.cutting.center import USUAL_RULE, center_depth

        tip = center_depth(feature.center, USUAL_RULE).tip_mm
        inches = Fraction(str(round(tip / INCH_MM, 4))) * Fraction(254, 10)
        return in_inches(inches) if feature.center.unit == "in" else from_mm(tip, 3)
    raise InputError("depth", tr("missing; write it as '32 mm' (of a through hole: the thickness)"))


def _limits(hole: HoleEntry, feature: Feature, diameter: Length, general_tolerance: str) -> Limits:
    if feature.thread is not None:
        return Limits(feature.thread.minor_low_mm, feature.thread.minor_high_mm)
    pair = (hole.limits[0], hole.limits[1]) if hole.limits else None
    field = "limits" if pair else ("tolerance" if hole.tolerance else "diameter")
    try:
        limits = limits_of(diameter, hole.tolerance, pair, general_tolerance)
    except InputError as bad:
        if feature.center is not None and not hole.tolerance:
            # The standard's first row starts at 0.5 mm; a pilot just under it takes that row.
            return Limits(diameter.exact_mm - GENERAL_SMALLEST, diameter.exact_mm + GENERAL_SMALLEST)
        if field == "diameter" and general_tolerance_is_silent(hole):
            half = min(GENERAL_SMALLEST, diameter.exact_mm / 4)
            return Limits(diameter.exact_mm - half, diameter.exact_mm + half)
        raise bad.inside(field) from None
    if pair is not None and not 0.5 < limits.middle_mm / diameter.mm < 2:
        raise InputError(
            "limits",
            tr(
                "'{pair}' to '{pair_2}' is far from the diameter '{diameter}'; check the unit",
                pair=pair[0],
                pair_2=pair[1],
                diameter=diameter,
            ),
        )
    return limits


def general_tolerance_is_silent(hole: HoleEntry) -> bool:
    """Whether a hole without a tolerance is smaller than general tolerances go: below 0.5 mm (ISO 2768-1).

    Its limits are then the first row's, at most a quarter of the size (assumed), and it is said.
    """
    plain = not hole.tolerance and not hole.limits and hole.thread is None and hole.kind == "plain"
    return plain and hole.diameter is not None and 0 < hole.diameter.exact_mm < GENERAL_LEAST


def _mouth(hole: HoleEntry, diameter: Length) -> Mouth:
    sink = hole.countersink_diameter
    for field, size in (("counterbore_diameter", hole.counterbore_diameter), ("countersink_diameter", sink)):
        if size is not None and size.exact_mm <= diameter.exact_mm:
            raise InputError(
                field, tr("'{size}' is not wider than the hole, '{diameter}'", size=size, diameter=diameter)
            )
    if hole.kind == "counterbored" and hole.counterbore_diameter is None and hole.thread is not None:
        return _screw_mouth(hole.thread)
    angle = hole.countersink_angle_deg
    if sink is not None and angle is None:
        angle = 82.0 if diameter.unit == "in" and hole.kind == "countersunk" else 90.0
    return Mouth(
        counterbore=hole.counterbore_diameter,
        counterbore_depth=hole.counterbore_depth,
        counterbore_tolerance=hole.counterbore_tolerance or "",
        countersink=sink,
        countersink_angle_deg=angle,
        spotface=hole.kind == "spotfaced" or (hole.kind != "counterbored" and hole.counterbore_depth is None),
    )


def _screw_mouth(thread: str) -> Mouth:
    """A counterbore named by its screw alone."""
    from cordwainer.core.part.screw import head_of

    head = head_of(thread)
    return Mouth(counterbore=head.counterbore, counterbore_depth=head.depth)
