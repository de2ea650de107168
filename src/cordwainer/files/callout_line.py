"""A hole's entry written as one line, as the callout reader takes it."""

from __future__ import annotations

from cordwainer.core.lengths import Length, from_mm, in_inches
from cordwainer.core.part.thread import read_thread
from cordwainer.files.entries import LENGTHS, HoleEntry


def figure(length: Length, unit: str) -> str:
    """A length in its own notation; its unit only where it is not the line's."""
    text = str(length)
    shown = text.removesuffix(" mm").removesuffix(" in")
    if length.unit != unit:
        return text
    plain = shown.removeprefix("0") if unit == "in" and shown.startswith("0.") else shown
    return text if unit == "in" and "." not in plain and "/" not in plain and plain.isdigit() else plain


def line_of(entry: HoleEntry) -> str:
    """The entry as a line that reads back to the same hole: ``M14x2 6H 26, drill 34, cbore 22 H7 x 4``.

    What a callout does not say (name, slope, far side, evidence) is left out.
    """
    unit = _unit(entry)
    known = (getattr(entry, name) for name in LENGTHS if name != "position_tolerance")
    if any(length is not None and length.unit != unit for length in known):
        unit = ""
    count = f"{entry.count}x " if entry.count > 1 else ""
    parts = [count + _head(entry, unit)]
    if entry.kind == "flat_bottom":
        parts[0] += " flat bottom"
    deep = _depth(entry, unit)
    if deep:
        parts[0] += f" {deep}" if entry.kind != "tapped" or entry.through else f", {deep}"
    if entry.counterbore_diameter is not None:
        word = "spotface" if entry.kind == "spotfaced" else "cbore"
        text = f"{word} {figure(entry.counterbore_diameter, unit)}"
        if entry.counterbore_tolerance:
            text += f" {_tolerance(entry.counterbore_tolerance, unit)}"
        if entry.counterbore_depth is not None:
            text += f" x {figure(entry.counterbore_depth, unit)}"
        parts.append(text)
    if entry.countersink_diameter is not None:
        parts.append(_sink(entry, entry.countersink_diameter, unit))
    named = (
        ("part", entry.part_thickness),
        ("wall", entry.wall),
        ("od", entry.outside),
        ("from", entry.existing_hole),
        ("round", entry.roundness),
        ("square", entry.squareness),
    )
    for word, length in named:
        if length is not None:
            parts.append(f"{word} {figure(length, unit)}")
    if entry.thread_percent is not None:
        parts.append(f"{entry.thread_percent:g} %")
    if entry.keyway:
        parts.append("keyway")
    return ", ".join(parts)


def _sink(entry: HoleEntry, mouth: Length, unit: str) -> str:
    """A countersink by its mouth; on any other kind of hole a chamfer by its width."""
    angle = entry.countersink_angle_deg or 90.0
    across = read_thread(entry.thread).major_mm if entry.thread else None
    if across is None and entry.diameter is not None:
        across = entry.diameter.exact_mm
    if entry.kind == "countersunk" or angle != 90 or across is None:
        return f"csk {figure(mouth, unit)} x {angle:g}°"
    width = (mouth.exact_mm - across) / 2
    return f"cham {figure(from_mm(width) if mouth.unit == 'mm' else in_inches(width), unit)}"


def _unit(entry: HoleEntry) -> str:
    if entry.thread:
        return "mm" if entry.thread.upper().startswith("M") else "in"
    if entry.diameter is not None:
        return entry.diameter.unit
    return entry.depth.unit if entry.depth is not None else "mm"


def _head(entry: HoleEntry, unit: str) -> str:
    if entry.kind == "tapped":
        text = f"{entry.thread} {entry.class_ or ''}".strip()
        if entry.thread_depth is not None:
            text += f" x {figure(entry.thread_depth, unit)}"
        return text
    if entry.kind == "taper_pin":
        return f"taper pin {entry.size}"
    if entry.kind == "center_hole":
        name = (entry.size or "").removeprefix(f"{entry.center_type} ")
        return f"center {entry.center_type or ''} {name}".replace("  ", " ")
    if entry.limits is not None:
        low, high = sorted(entry.limits, key=lambda size: size.exact_mm)
        return f"{figure(low, unit)} to {figure(high, unit)}"
    size = figure(entry.diameter, unit) if entry.diameter is not None else "?"
    return f"{size} {_tolerance(entry.tolerance, unit)}".strip() if entry.tolerance else size


def _tolerance(text: str, unit: str) -> str:
    return text.removesuffix(f" {unit}")


def _depth(entry: HoleEntry, unit: str) -> str:
    if entry.depth is None or entry.kind == "center_hole":
        return "through" if entry.through else ""
    deep = figure(entry.depth, unit)
    if entry.kind == "tapped" and not entry.through:
        drill = f"drill {figure(entry.diameter, unit)} x " if entry.diameter is not None else "drill "
        return f"{drill}{deep}"
    if entry.depth_to is not None and not entry.through:
        return f"{deep} to {figure(entry.depth_to, unit)} deep"
    return f"through {deep}" if entry.through else f"{deep} deep"
