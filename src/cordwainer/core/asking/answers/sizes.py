"""Sizes: notations, what goes and what does not, oversize, reamer stock, fits."""

from __future__ import annotations

import math
from fractions import Fraction

from cordwainer.core.asking.answer import Given, Said, Use, both, length
from cordwainer.core.cutting.depth import ring_area
from cordwainer.core.errors import InputError
from cordwainer.core.formation.oversize import opening_factor, survey_oversize
from cordwainer.core.lengths import INCH_MM, from_mm, in_inches
from cordwainer.core.part.tolerance import iso_limits, read_zone, shaft_limits
from cordwainer.core.planning.words.capable import fit_reamers
from cordwainer.core.shop import identify
from cordwainer.core.tables import constant, rows

SERIES = {"fraction": "fractions", "number": "numbers", "letter": "letters", "metric": "metric"}


def signed(given: Given, value_mm: float) -> str:
    """A difference with its sign and unit."""
    text = given.length(abs(value_mm))
    return text if abs(value_mm) < 5e-6 else f"+{text}" if value_mm > 0 else f"−{text}"


def notations(value_mm: float, unit: str) -> str:
    """A size as a fraction where it is one, in decimal inches and in millimeters."""
    name, plain = length(value_mm, "in", exact=True), length(value_mm, "in")
    inch = plain if name == plain else f"{name} = {plain}"
    return both(length(value_mm, "mm"), inch, unit)


def size(given: Given) -> list[Said]:
    """A size in every notation, and the nearest drills of each series."""
    d = given["d"]
    lines = [Said("size", notations(d, given.unit), "1 in = 25.4 mm", "derived", Use("length", d))]
    for system, name in SERIES.items():
        sizes = identify.named_sizes(system)
        below = max((n for n in sizes if n.size.mm <= d + 1e-6), key=lambda n: n.size.mm, default=None)
        above = min((n for n in sizes if n.size.mm > d + 1e-6), key=lambda n: n.size.mm, default=None)
        said = []
        for near in (below, above):
            if near is not None and abs(near.size.mm - d) <= 0.06 * d:
                off = near.size.mm - d
                said.append(
                    f"{near.name} ({signed(given, off)})" if abs(off) >= 5e-6 else f"{near.name}, the size itself"
                )
        if said:
            lines.append(Said(name, ", ".join(said), "drill less the size", "ASME B94.11M; ISO 235"))
    return lines


def bracket(given: Given) -> list[Said]:
    """A drill by a gauge plate, or a hole by two pins, by which of the two figures is larger."""
    goes, other = given["enters"], given["not"]
    if goes > other:
        found = identify.in_plate(goes, other)
        if not found:
            return [Said("", "no drill that is sold lies between these")]
        best, rest = found[0].named, found[1:]
        called = "" if best.system in ("fraction", "metric") else f"{best.name}, "
        text = f"{called}{notations(best.size.mm, given.unit)}"
        why = "it goes into its own hole of the plate and not into the next smaller one"
        lines = [Said("the drill", text, why, "common practice", Use("length", best.size.mm))]
        if rest:
            names = ", ".join(c.named.name for c in rest)
            lines.append(Said("of other series it may be", names, "", "ASME B94.11M; ISO 235"))
        return lines
    if goes == other:
        raise InputError("", "the same size cannot go and not go")
    text = f"{given.length(goes)} to {given.length(other)}"
    return [
        Said(
            "the hole lies between",
            text,
            "the largest cylinder that goes in",
            "common practice",
            Use("length", goes),
        ),
        Said("a pin sees", "the narrowest place along its length; a bell mouth or lobes hide above it"),
    ]


def pins(given: Given) -> list[Said]:
    """A drilled hole by two pins: its size and how far over the drill it came."""
    goes, other, d = given["goes"], given["not"], given["d"]
    if goes >= other:
        raise InputError("", "the pin that goes must be the smaller one")
    usual = survey_oversize(d)
    over = f"{signed(given, goes - d)} to {signed(given, other - d)}"
    lines = [
        Said(
            "the hole lies between", f"{given.length(goes)} and {given.length(other)}", "", "", Use("length", goes)
        ),
        Said(
            "over the drill",
            f"{over} ({100 * (goes - d) / d:.1f} % at least)",
            "pin − drill",
            "derived",
            Use("length", goes - d),
        ),
    ]
    text = f"{given.length(usual[0])} to {given.length(usual[2])}, {given.length(usual[1])} on average"
    lines.append(Said("usual from solid", text, "", "Machinery's Handbook, oversize diameters in drilling"))
    if goes - d > usual[2]:
        lines.append(
            Said("that is", "more than drills of this size leave: look at the lips, the chuck and the start")
        )
    return lines


def lip_offset(given: Given) -> list[Said]:
    """What offset of the point a hole that is too big comes to, from nominal and from one's own good hole."""
    hole, d = given["hole"], given["d"]
    over = hole - d
    lines = [Said("over the drill", f"{signed(given, over)}", "hole − drill", "derived")]
    if over <= 0:
        return [*lines, Said("", "the hole is not larger than the drill: no lip offset is in it")]
    most, least = over / 2, None
    if given.has("good"):
        least = (hole - given["good"]) / 2
        working = f"({given.length(hole)} − {given.length(given['good'])}) / 2"
        name = "offset of the point, from the good hole"
    else:
        least = (over - survey_oversize(d)[1]) / 2
        working = f"half of what is over the average {given.length(survey_oversize(d)[1])}"
        name = "offset of the point, from the average hole"
    if least <= 0:
        return [*lines, Said("", "no more than a good drill leaves: nothing points to the lips")]
    lines.append(Said(name, given.length(least), working, "derived", Use("length", least)))
    lines.append(
        Said(
            "at most, from the drill's size",
            given.length(most),
            f"({given.length(hole)} − {given.length(d)}) / 2",
            "derived",
        )
    )
    return lines


def opening(given: Given) -> list[Said]:
    """What opening one size to another takes away: a side, area, share and ratio."""
    a, b = given["a"], given["b"]
    if a >= b:
        raise InputError("", "the second size has to be the larger one")
    area = ring_area(b, a)
    lines = [
        Said("taken a side", given.length((b - a) / 2), f"({given.length(b)} − {given.length(a)}) / 2", "derived"),
        Said("on diameter", f"{given.length(b - a)} = {100 * (b - a) / b:.1f} % of it"),
        Said(
            "area",
            both(f"{area:.2f} mm²", f"{area / INCH_MM**2:.4f} in²", given.unit),
            "π (D² − d²) / 4",
            "derived",
        ),
        Said("share of the final area", f"{100 * (1 - (a / b) ** 2):.2f} %", "1 − (d / D)²", "derived"),
        Said("ratio", f"{b / a:.2f}", "D / d", "derived"),
    ]
    share = a / b
    if "ream" in given.words:
        lines.append(_stock_word(given, b - a, b))
    elif share < 0.18:
        lines.append(
            Said(
                "",
                "smaller than the chisel edge of the larger drill: it neither relieves nor guides",
                "",
                "common practice",
            )
        )
    elif share < 0.4:
        lines.append(
            Said(
                "",
                "a pilot: it relieves the chisel edge; steps are usually 0.4 to 0.85 of the next drill",
                "",
                "common practice",
            )
        )
    elif share > 0.85:
        lines.append(
            Said(
                "",
                "a thin ring for a drill: it may grab; a core drill, reamer or bar takes it",
                "",
                "common practice",
            )
        )
    return lines


def _stock_band(d_mm: float, unit: str) -> tuple[float, float]:
    """Usual machine reamer stock on diameter in mm, by the table of the unit."""
    scale = INCH_MM if unit == "in" else 1.0
    system = "inch" if unit == "in" else "metric"
    table = [row for row in rows("ream_allowance") if row.text("system") == system]
    row = next((r for r in table if d_mm / scale <= r.number("diameter_to") + 1e-9), table[-1])
    return row.number("machine_stock_low") * scale, row.number("machine_stock_high") * scale


def _stock_word(given: Given, stock: float, d: float) -> Said:
    low, high = _stock_band(d, given.unit)
    usual = f"usual {given.length(low)} to {given.length(high)} for a machine reamer"
    if stock <= 0:
        word = "nothing for the reamer: the hole is as large or larger already; bore it, or go to the next size"
    elif stock < 0.6 * low:
        word = "too little: the reamer may only rub"
    elif stock > 1.5 * high:
        word = "too much for a reamer: another drill or a bar first"
    else:
        word = "as usual" if low <= stock <= high else "still allowed"
    return Said("for a reamer", f"{word} ({usual})", "", "table of reamer stock")


def left_for_reamer(given: Given) -> list[Said]:
    """What a drill that cuts over leaves for the reamer."""
    hole = given["a"] + given["over"]
    left = given["b"] - hole
    working = f"{given.length(given['b'])} − ({given.length(given['a'])} + {given.length(given['over'])})"
    name = "left for the reamer" if left > 0 else "over the reamer already"
    lines = [
        Said("the hole", given.length(hole), "drill + oversize", "derived"),
        Said(name, given.length(abs(left)), working, "derived", Use("length", abs(left))),
        _stock_word(given, left, given["b"]),
    ]
    if left <= 0:
        lines.append(
            Said("", "the reamer cannot clean up: bore it to a larger size, or it is scrap", "", "common practice")
        )
    return lines


def undersize(given: Given) -> list[Said]:
    """Drills before a reamer by the usual rules, and by the stock table with what the drill leaves."""
    d = given["d"]
    low, high = _stock_band(d, given.unit)
    lines = []
    rules = (
        (("1/64 rule", INCH_MM / 64), ("1/32 rule", INCH_MM / 32))
        if given.unit == "in"
        else (("0.2 mm rule", 0.2), ("0.5 mm rule", 0.5))
    )
    for name, less in rules:
        size_mm = d - less
        text = notations(size_mm, given.unit)
        lines.append(
            Said(
                name, text, f"{given.length(d)} − {given.length(less)}", "common practice", Use("length", size_mm)
            )
        )
    system = ("fraction", "number", "letter") if given.unit == "in" else ("metric",)
    fitting = []
    for named in sorted((n for s in system for n in identify.named_sizes(s)), key=lambda n: n.size.mm):
        if not 0.85 * d < named.size.mm < d:
            continue
        over = survey_oversize(named.size.mm)[1] * float(
            opening_factor(named.size.mm, 0.18 * named.size.mm, 0.4 * named.size.mm)
        )
        stock = d - named.size.mm - over
        if 0.6 * low <= stock <= 1.5 * high:
            fitting.append((not low <= stock <= high, named.size.mm, named.name, stock, over))
    for _, mm, name, stock, over in sorted(fitting, key=lambda f: (f[0], -f[1]))[:2]:
        working = f"{given.length(d)} − ({name} + {given.length(over)} it cuts over behind a pilot)"
        lines.append(
            Said(
                name,
                f"leaves {given.length(stock)}; usual {given.length(low)} to {given.length(high)}",
                working,
                "tables of reamer stock and of oversize",
                Use("length", mm),
            )
        )
    return lines


def fits(given: Given) -> list[Said]:
    """Reamers over and under for a pin that is pressed in or runs."""
    d = given["d"]
    nominal = (
        in_inches(Fraction(str(round(d / INCH_MM, 6))) * Fraction(254, 10)) if given.unit == "in" else from_mm(d)
    )
    lines = []
    for sitting, pair in fit_reamers(nominal).items():
        if sitting in given.words or not {"press", "running"} & given.words:
            text = " or ".join(given.length(one.mm) for one in pair)
            inches = "0.0005 and 0.001 in under" if sitting == "press" else "0.0005 and 0.001 in over"
            lines.append(
                Said(f"reamer, {sitting} fit", text, inches, "common practice", Use("length", pair[0].mm))
            )
    return lines


def limits(given: Given) -> list[Said]:
    """Limits of size of an ISO zone."""
    nominal, code = given.length(given["d"]), given.named("zone")
    if "/" in code:
        return _fit(given, nominal, code)
    exact = Fraction(str(round(given["d"], 6)))
    if code[0].isupper() or "hole" in given.words or code.startswith("h"):
        code = code.upper()
        found = iso_limits(exact, code)
    else:
        found = shaft_limits(exact, code)
    low, high = float(found.lower), float(found.upper)
    text = f"{given.length(low)} to {given.length(high)}"
    lines = [Said(f"{nominal} {code}", text, "", "ISO 286-1, ISO 286-2", Use("length", (low + high) / 2))]
    return [*lines, Said("width", given.length(high - low)), Said("in the middle", given.length((low + high) / 2))]


def _fit(given: Given, nominal: str, code: str) -> list[Said]:
    """Limits of hole and shaft of a fit, and the play between them."""
    hole, shaft = (part.strip() for part in code.split("/"))
    found = read_zone(f"{nominal} {hole.upper()}/{shaft.lower()}")
    assert found.shaft is not None and found.clearance is not None
    lines = []
    for name, own in ((f"hole {hole.upper()}", found.limits), (f"shaft {shaft.lower()}", found.shaft)):
        text = f"{given.length(float(own.lower))} to {given.length(float(own.upper))}"
        lines.append(Said(name, text, "", "ISO 286-1, ISO 286-2", Use("length", float(own.lower + own.upper) / 2)))
    least, most = (float(end) for end in found.clearance)
    kind = "plays" if least >= 0 else "holds" if most <= 0 else "may play or hold"
    return [*lines, Said("play", f"{signed(given, least)} to {signed(given, most)}: it {kind}", "", "derived")]


def worn(given: Given) -> list[Said]:
    """Whether corners worn that far may still cut."""
    limit, wear = constant("drill_wear_limit_mm"), given["wear"]
    word = "regrind it: it is at its end" if wear >= limit - 1e-9 else "it may go on; at the limit it is ground"
    return [Said("limit", f"{notations(limit, given.unit)}: {word}", "", "common practice")]


def chisel(given: Given) -> list[Said]:
    """Chisel edge of a drill from its web, and the pilots that relieve it."""
    d = given["d"]
    web = given.get("web", constant("web_per_d") * d)
    edge = web / math.sin(math.radians(60)) if given.has("web") else 0.18 * d
    working = "web / sin 60°" if given.has("web") else "0.18 d for a standard point"
    lines = [
        Said(
            "chisel edge",
            given.length(edge),
            working,
            "Machinery's Handbook, chisel-edge table" if not given.has("web") else "derived",
            Use("length", edge),
        ),
        Said(
            "pilot",
            f"{given.length(edge)} to {given.length(1.3 * edge)}",
            "1 to 1.3 of the chisel edge",
            "common practice",
            Use("length", edge),
        ),
    ]
    if edge < constant("pilot_least_mm"):
        lines.append(
            Said(
                "",
                f"no pilot under {given.length(constant('pilot_least_mm'))}: drill it from the start",
                "",
                "common practice",
            )
        )
    return lines


ANSWERS = {
    "size": size,
    "bracket": bracket,
    "pins": pins,
    "lip_offset": lip_offset,
    "opening": opening,
    "left_for_reamer": left_for_reamer,
    "undersize": undersize,
    "fit_reamers": fits,
    "limits": limits,
    "worn": worn,
    "chisel": chisel,
}
