"""A tool by its kind, its series and the size stamped on it, as it is sold: what a set, or a typed line, names."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import cache

from cordwainer.core.errors import InputError, OutOfRangeError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, fraction_name, parse
from cordwainer.core.shop import finishers, makers
from cordwainer.core.shop.stock import fraction_length, sold
from cordwainer.core.shop.tool import Tool, built_in_id

REDUCED_MM, REDUCED_FLUTE_MM, REDUCED_LONG_MM = 12.7, 79.0, 152.0  # 1/2 in shank, 6 in long (common practice)
REDUCED_FROM_MM, REDUCED_TO_MM = 12.7, 25.4
LISTED = ("center_drill", "tap", "counterbore", "taper_pin_reamer", "core_drill", "punch")


def sized(kind: str, series: str, size: str, angle: float | None = None) -> Tool:
    """The tool of that kind, series and size as it is sold. Raises `InputError` for one nobody sells.

    >>> sized("drill", "jobber", "5/16 in").name
    '5/16 in drill'
    """
    try:
        return _sized(kind, series, size, angle)
    except OutOfRangeError:
        raise InputError(
            "size", tr("nobody sells a {kind} of {size}", kind=tr(kind.replace("_", " ")), size=size)
        ) from None


def _sized(kind: str, series: str, size: str, angle: float | None) -> Tool:
    if kind in LISTED:
        return _listed(kind, series, size)
    length = _stamped(size)
    if kind == "drill":
        return _drill(series, length)
    if kind == "countersink":
        return finishers.countersink(length, angle or 90.0)
    if kind == "spot_drill":
        return makers.spot_drill(length, angle or 120.0)
    if kind == "boring_bar":
        return finishers.boring_bar(length, "carbide" if series == "carbide" else "hss")
    if kind == "reamer":
        return finishers.reamer(length, "H7" if length.unit == "mm" else "", series or "straight")
    plain: dict[str, Callable[[Length], Tool]] = {
        "hand_reamer": finishers.adjustable_reamer if series == "adjustable" else finishers.hand_reamer,
        "end_mill": finishers.end_mill if series != "not_center_cutting" else finishers.plain_end_mill,
        "spade_drill": makers.spade_drill,
    }
    if kind in plain:
        return plain[kind](length)
    raise InputError("kind", tr("'{kind}' is not a kind of tool that is sold by its size", kind=kind))


def _stamped(size: str) -> Length:
    """A size as stamped: 64ths of an inch by their fraction, so that equal tools have one name."""
    length = parse(f"letter {size}" if len(size) == 1 and size.isalpha() else size)
    inches = length.exact_mm / makers.INCH
    if length.unit == "in" and ("/" in size or "." in size) and fraction_name(inches):
        return fraction_length(inches)
    return makers.metric_length(length.exact_mm) if length.unit == "mm" else length


def _drill(series: str, length: Length) -> Tool:
    if series == "stub":
        return makers.stub_drill(length)
    if series in ("long", "extra_long_1", "extra_long_2"):
        return makers.long_drill(length, series)
    if series == "carbide_self_centering":
        return makers.carbide_drill(length)
    plain = makers.twist_drill(length)
    if series == "reduced_shank":
        return _reduced(plain)
    if series not in ("jobber", "taper_shank", ""):
        raise InputError("series", tr("'{series}' is not a series of drills", series=series))
    if series and plain.series != series:
        larger = (
            tr("straight to 13 mm, above it with a taper") if series == "jobber" else tr("with a taper from 13 mm")
        )
        raise InputError("size", tr("a {length} drill is not sold so: {larger}", length=length, larger=larger))
    return plain


def _reduced(plain: Tool) -> Tool:
    """A large drill on a 1/2 in straight shank. Lengths: common practice."""
    if not REDUCED_FROM_MM < plain.diameter_mm <= REDUCED_TO_MM + 1e-9:
        raise InputError(
            "size",
            tr("a {plain} drill is not sold with a reduced shank: over 1/2 to 1 in", plain=plain.designation),
        )
    return replace(
        plain,
        id=built_in_id("drill", plain.designation, "reduced_shank"),
        series="reduced_shank",
        shank="straight",
        shank_diameter_mm=REDUCED_MM,
        flute_length_mm=REDUCED_FLUTE_MM,
        overall_length_mm=REDUCED_LONG_MM,
    )


@cache
def _by_name(kind: str) -> dict[tuple[str, str], Tool]:
    return {(tool.series, _plain(tool.designation)): tool for tool in sold(kind)}


def _listed(kind: str, series: str, size: str) -> Tool:
    known = _by_name(kind)
    if (series, _plain(size)) in known:
        return known[series, _plain(size)]
    raise InputError(
        "size", tr("'{size}' is not among the {kind}s that are sold", size=size, kind=tr(kind.replace("_", " ")))
    )


def _plain(designation: str) -> str:
    """A name without what is written in more than one way."""
    return designation.lower().replace(" ", "").removesuffix("unc").removesuffix("unf").removesuffix("mm")
