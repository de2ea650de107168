"""Depths: cones, tips and corners, scale readings, countersinks, chamfers, pecks."""

from __future__ import annotations

import math

from cordwainer.core.asking.answer import Given, Said, Use
from cordwainer.core.cutting.depth import cone_depth, cone_more, point_length
from cordwainer.core.errors import InputError
from cordwainer.core.tables import constant

POINTS = (118.0, 120.0, 135.0, 140.0)
USUAL_POINT = 118.0
MOST_PECKS = 12


def _angle(given: Given, usual: float = USUAL_POINT) -> float:
    angle = given.get("angle", usual)
    if not 10 <= angle <= 180:
        raise InputError("", f"{angle:g}° is no point; 118 or 135 are usual")
    return angle


def cone(given: Given) -> list[Said]:
    """Length of a point's cone, of the usual points where none is given."""
    angles = (_angle(given),) if given.has("angle") else POINTS
    found = []
    for angle in angles:
        long = point_length(given["d"], angle)
        working = f"d / 2 / tan({angle / 2:g}°) = {long / given['d']:.4f} d"
        found.append(Said(f"cone of {angle:g}°", given.length(long), working, "derived", Use("length", long)))
    return found


def _tips(given: Given, angle: float) -> list[Said]:
    long = point_length(given["d"], angle)
    found = []
    for depth in given.ends("depth"):
        working = f"{given.length(depth)} + cone {given.length(long)} of {angle:g}°"
        name = "tip" if len(given.ends("depth")) == 1 else f"tip for {given.length(depth)}"
        found.append(Said(name, given.length(depth + long), working, "derived", Use("length", depth + long)))
    return found


def depths(given: Given) -> list[Said]:
    """Where the tip is for a depth to full diameter, diameters deep, and what that asks."""
    d, depth = given["d"], given.ends("depth")[-1]
    ratio = depth / d
    lines = _tips(given, _angle(given))
    lines.append(Said("depth over diameter", f"{ratio:.2f}", "L / D", "derived"))
    lines += _deep_words(given, d, ratio)
    return lines


def _deep_words(given: Given, d: float, ratio: float) -> list[Said]:
    said = []
    if ratio > 3:
        said.append(f"clear chips from {given.length(3 * d)} (carbide from {given.length(5 * d)})")
    if ratio > 5:
        said.append(
            "fluid does not reach the point by itself: oil at every clearing, or a drill with coolant through"
        )
    elif ratio >= 4.5:
        said.append("lying flat, from 4.5 diameters a drill with coolant through is better")
    lines = [Said("", "; ".join(said), "", "common practice")] if said else []
    flute = (ratio + 2) * d
    lines.append(
        Said("flute wanted", f"at least {given.length(flute)}", "depth + 2 d above the hole", "common practice")
    )
    if ratio >= constant("guide_from_depth"):
        deep = constant("guide_per_d") * d
        text = f"{given.length(deep)} deep, then enter it at 300 to 500 rev/min"
        lines.append(Said("guide pilot", text, "1.5 d with the same size", "common practice", Use("length", deep)))
    return lines


def guide(given: Given) -> list[Said]:
    """A hole so many diameters deep: its depth, the flute and the guide."""
    depth = given["ratio"] * given["d"]
    lines = [
        Said(
            "depth",
            given.length(depth),
            f"{given['ratio']:g} × {given.length(given['d'])}",
            "derived",
            Use("length", depth),
        )
    ]
    return lines + _deep_words(given, given["d"], given["ratio"])


def from_tip(given: Given) -> list[Said]:
    """Depth to full diameter of a drill whose tip is at a depth."""
    angle = _angle(given)
    long = point_length(given["d"], angle)
    full = given["tip"] - long
    if full < 0:
        return [
            Said("", f"only the point is in: the cone of {angle:g}° is {given.length(long)} long", "", "derived")
        ]
    working = f"{given.length(given['tip'])} − cone {given.length(long)} of {angle:g}°"
    return [Said("full diameter to", given.length(full), working, "derived", Use("length", full))]


def _ends(given: Given, values: list[float]) -> str:
    """One or both ends of a window, as a fraction where they are one."""
    exact = " to ".join(given.length(value, exact=True) for value in values)
    plain = " to ".join(given.length(value) for value in values)
    return plain if exact == plain else f"{exact} = {plain}"


def readings(given: Given) -> list[Said]:
    """Scale readings for a depth from any start, for either way of touching; both ends of a window."""
    start, wanted = given["start"], list(given.ends("depth"))
    stops = [start + depth for depth in wanted]
    sum_ = f"{given.length(start)} + {_ends(given, wanted)}"
    name = "stop at" if not given.has("d") else "stop at, corners level with the face at the start"
    lines = [Said(name, _ends(given, stops), sum_, "derived", Use("length", stops[-1]))]
    if given.has("d"):
        angle = _angle(given)
        long = point_length(given["d"], angle)
        tips, below = [stop + long for stop in stops], [depth + long for depth in wanted]
        sum_ = f"and the cone of {angle:g}°, {given.length(long)}"
        lines.append(
            Said("tip touching at the start", _ends(given, tips), sum_, "derived", Use("length", tips[-1]))
        )
        lines.append(Said("tip below the face", _ends(given, below)))
    scale = given.here.machine.depth_scale if given.here.machine is not None else None
    if scale is not None and scale.travel_limit is not None and scale.kind in ("tailstock_ram", "quill_scale"):
        last = start + given.ends("depth")[-1]
        if last > scale.travel_limit.mm + 1e-6:
            short = given.length(last - scale.travel_limit.mm)
            lines.append(
                Said("beyond the travel", f"{short} are missing: move the tailstock up, or drill in strokes")
            )
        if start < scale.start.mm - 1e-6:
            lines.append(
                Said("inside the knock-out", f"the ram lets the tool go below {given.length(scale.start.mm)}")
            )
    return lines


def stop_depth(given: Given) -> list[Said]:
    """What a stop reading drills from a start."""
    depth = given["stop"] - given["start"]
    if depth <= 0:
        why = f"the stop {given.length(given['stop'])} lies before the start {given.length(given['start'])}"
        return [Said("impossible", f"{why}: the reading is start + depth", "stop − start", "derived")]
    lines = [Said("depth", given.length(depth), "stop − start", "derived", Use("length", depth))]
    if given.has("d"):
        full = depth - point_length(given["d"], USUAL_POINT)
        lines.append(
            Said(
                "full diameter, tip touched at the start",
                given.length(max(full, 0.0)),
                "less the cone of 118°",
                "derived",
            )
        )
    return lines


def through(given: Given) -> list[Said]:
    """Travel beyond a through hole, and where the feed is halved."""
    angle, before = _angle(given), 1.0  # rules of record 11
    long, thick = point_length(given["d"], angle), given["thick"]
    tip, slow = thick + long + 1.0, given.length(max(thick - before, 0.0))
    out = f"{given.length(thick)} + cone {given.length(long)} + {given.length(1.0)}"
    early = f"{given.length(before)} before the tip emerges"
    return [
        Said("tip at", given.length(tip), out, "derived", Use("length", tip)),
        Said(
            "out below the part", given.length(long + 1.0), "clear of vise, parallels and table", "common practice"
        ),
        Said("half feed", f"with the tip from {slow} until the corners are out", early, "common practice"),
    ]


def countersink(given: Given) -> list[Said]:
    """Depth of a countersink for a mouth, from the touch on the hole's edge and of the tip."""
    angle = _angle(given, 82.0 if given.unit == "in" else 90.0)
    if given["mouth"] <= given["hole"]:
        raise InputError("", "the mouth has to be wider than the hole")
    z = cone_depth(given["mouth"], given["hole"], angle)
    working = f"({given.length(given['mouth'])} − {given.length(given['hole'])}) / 2 / tan({angle / 2:g}°)"
    tip = given["mouth"] / 2 / math.tan(math.radians(angle / 2))
    return [
        Said(
            f"down from the touch on the edge, {angle:g}°", given.length(z), working, "derived", Use("length", z)
        ),
        Said("tip below the face", given.length(tip), "mouth / 2 / tan(half angle)", "derived"),
    ]


def countersink_mouth(given: Given) -> list[Said]:
    """Mouth of a countersink that went down so far from the hole's edge."""
    angle = _angle(given, 82.0 if given.unit == "in" else 90.0)
    mouth = given["hole"] + 2 * given["deep"] * math.tan(math.radians(angle / 2))
    working = f"hole + 2 × {given.length(given['deep'])} × tan({angle / 2:g}°)"
    return [Said(f"mouth, {angle:g}°", given.length(mouth), working, "derived", Use("length", mouth))]


def countersink_more(given: Given) -> list[Said]:
    """How much deeper for the mouth to come to a size."""
    angle = _angle(given, 82.0 if given.unit == "in" else 90.0)
    if given["mouth"] <= given["came"]:
        over = given.length(given["came"] - given["mouth"])
        return [Said("", f"it is too wide by {over} already" if given["mouth"] < given["came"] else "it is there")]
    z = cone_more(given["came"], given["mouth"], angle)
    working = f"({given.length(given['mouth'])} − {given.length(given['came'])}) / 2 / tan({angle / 2:g}°)"
    return [Said(f"deeper by, {angle:g}°", given.length(z), working, "derived", Use("length", z))]


def chamfer(given: Given) -> list[Said]:
    """A chamfer by its width a side: mouth and depth, 45° where no angle is given."""
    angle = _angle(given, 90.0)
    hole, width = given["hole"], given["width"]
    mouth = hole + 2 * width
    z = cone_depth(mouth, hole, angle)
    sum_ = f"{given.length(hole)} + 2 × {given.length(width)}"
    down = f"down from the touch on the edge, {angle:g}°"
    return [
        Said("mouth", given.length(mouth), sum_, "derived", Use("length", mouth)),
        Said(down, given.length(z), "width / tan(half angle)", "derived", Use("length", z)),
    ]


def chamfer_width(given: Given) -> list[Said]:
    """Width and mouth of a chamfer that went down so far from the hole's edge."""
    angle = _angle(given, 90.0)
    width = given["deep"] * math.tan(math.radians(angle / 2))
    mouth = given["hole"] + 2 * width
    down = f"{given.length(given['deep'])} × tan({angle / 2:g}°)"
    return [
        Said("width a side", given.length(width), down, "derived", Use("length", width)),
        Said("mouth", given.length(mouth), "hole + 2 × width", "derived", Use("length", mouth)),
    ]


def pecks(given: Given) -> list[Said]:
    """Tip depths at which chips are cleared in bites of a size."""
    bite, depth = given["bite"], given["depth"]
    first = given.get("first", bite)
    if bite <= 0 or depth / bite > 5000:
        raise InputError("", "the bite is too small for that depth")
    after = max(math.ceil(round((depth - first) / bite, 9)), 0)
    stops = [first + i * bite for i in range(after)]
    shown = ", ".join(given.length(stop).split(" ")[0] for stop in stops[:MOST_PECKS])
    more = ", …" if len(stops) > MOST_PECKS else ""
    counted = (
        f"{after} of {given.length(bite)} after the first of {given.length(first)}"
        if given.has("first")
        else f"{after + 1} of {given.length(bite)}"
    )
    unit = given.length(1.0).split(" ")[-1]
    lines = [Said("bites", counted, f"to {given.length(depth)}", "derived")]
    if stops:
        lines.append(Said("clear chips at", f"{shown}{more} {unit}, then on to {given.length(depth)}"))
    if given.has("d"):
        lines.append(Said("depth over diameter", f"{depth / given['d']:.2f}", "L / D", "derived"))
    return lines


ANSWERS = {
    "cone": cone,
    "depths": depths,
    "guide": guide,
    "from_tip": from_tip,
    "readings": readings,
    "stop_depth": stop_depth,
    "through": through,
    "countersink": countersink,
    "countersink_mouth": countersink_mouth,
    "countersink_more": countersink_more,
    "chamfer": chamfer,
    "chamfer_width": chamfer_width,
    "pecks": pecks,
}
