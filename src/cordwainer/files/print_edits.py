"""What typing over a figure, choosing a kind or a mouth changes of a hole: the core reads, this names keys."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, Length, from_mm, in_inches, parse
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.callout_words import INCH_LOOK
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.pin import pin_size
from cordwainer.core.part.screw import head_over
from cordwainer.core.part.thread import Thread, read_thread
from cordwainer.core.tables import constant, rows
from cordwainer.files.entries import HoleEntry

NOTHING = ("", "-", "none", "general", "not said", tr("not said"))
MOUTH_KEYS = (
    "counterbore_diameter",
    "counterbore_depth",
    "counterbore_tolerance",
    "countersink_diameter",
    "countersink_angle_deg",
)
LENGTHS = {
    "depth": "depth",
    "thread_depth": "thread_depth",
    "counterbore_depth": "counterbore_depth",
    "thickness": "part_thickness",
    "position": "position_tolerance",
    "curve": "curve_radius",
    "cross": "cross_diameter",
}
MAY_BE_LEFT = {"thread_depth", "counterbore_depth", "thickness", "position", "curve", "cross"}
Changes = dict[str, Any]


def change_figure(hole: Hole, figure: str, text: str) -> Changes:
    """Keys of the hole that a text typed over a figure changes. Raises `InputError` in words."""
    text = text.strip()
    if figure == "position" and text.lower().startswith("general"):
        text = ""
    if figure in LENGTHS:
        text = re.sub(r"\s*(deep|thick|through|thread|drilled|min)\s*$", "", text, flags=re.I)
        if figure in MAY_BE_LEFT and text.lower() in (*NOTHING, "all", "clean up", tr("clean up")):
            return {LENGTHS[figure]: None}
        return {LENGTHS[figure]: str(parse(text, _unit(hole, text)))}
    if figure == "size" and hole.kind == "tapped":
        return {"diameter": None} if text in NOTHING else {"diameter": str(parse(text, hole.unit))}
    if figure == "size":
        return _size(hole, text)
    if figure == "thread":
        return _thread(text, hole)
    if figure == "pin":
        pin = pin_size(text.lower().replace("pin", "").strip())
        return {"size": pin.size, "taper": pin.taper}
    if figure == "center":
        found = read_callout(f"center {text}", hole.unit)
        return {"size": found.center, "center_type": found.center_type, "depth": None}
    if figure == "counterbore":
        return _counterbore(hole, text)
    if figure == "countersink":
        return _sink(hole, text)
    if figure == "slope":
        return {"slope_deg": _degrees(text)}
    raise InputError("", tr("'{figure}' cannot be changed here", figure=figure))


def _unit(hole: Hole, text: str) -> str:
    """Fractions, number and letter sizes and figures without a leading zero are inches on any print."""
    return "in" if INCH_LOOK.search(text) else hole.unit


def _degrees(text: str) -> float:
    match = re.fullmatch(r"\s*([0-9]*\.?[0-9]+)\s*(?:°|deg)?\s*", text)
    if match is None or not 0 <= float(match[1]) < 90:
        raise InputError("", tr("'{words}' is not a slope; write degrees below 90, as '12'", words=text))
    return float(match[1])


def _size(hole: Hole, text: str) -> Changes:
    found = read_callout(text, hole.unit)
    if found.diameter is None:
        return whole_line(found.keys())
    values: Changes = {
        "diameter": str(found.diameter),
        "tolerance": found.tolerance,
        "limits": [str(size) for size in found.limits] if found.limits else None,
    }
    if hole.kind in ("plain", "sized"):
        values["kind"] = "sized" if found.tolerance or found.limits else "plain"
    if found.depth is not None:
        to = str(found.depth_to) if found.depth_to is not None else None
        values |= {"depth": str(found.depth), "depth_to": to, "through": found.through}
    return values


def _thread(text: str, hole: Hole) -> Changes:
    found = read_callout(text, hole.unit)
    if found.thread is None:
        raise InputError("", tr("'{words}' is not a thread; write 'M10x1.5', 'M10' or '5/16-18'", words=text))
    values: Changes = {"thread": found.thread.name, "class": found.thread_class, "diameter": None}
    if found.thread_depth is not None:
        values["thread_depth"] = str(found.thread_depth)
    if found.depth is not None:
        values["depth"] = str(found.depth)
    return values


def _counterbore(hole: Hole, text: str) -> Changes:
    found = read_callout(text, hole.unit)
    if found.diameter is None or found.limits is not None:
        raise InputError("", tr("'{words}' is not a register; write its diameter, as '22 H7'", words=text))
    values: Changes = {"counterbore_diameter": str(found.diameter), "counterbore_tolerance": found.tolerance}
    if found.depth is not None:
        values["counterbore_depth"] = str(found.depth)
    return values


def _sink(hole: Hole, text: str) -> Changes:
    """``12.6 x 90°`` is a mouth and its angle, ``0.5 x 45°`` or ``0.5`` a chamfer's width."""
    parts = re.split(r"\s*[x×]\s*", text.replace("Ø", "").strip())
    angle = float(re.sub(r"[^0-9.]", "", parts[1]) or 0) if len(parts) == 2 else None
    length = parse(parts[0], hole.unit)
    across = hole.feature.thread.major_mm if hole.feature.thread is not None else hole.diameter.exact_mm
    if length.exact_mm > hole.diameter.exact_mm and angle != 45:
        angle = angle or hole.mouth.countersink_angle_deg or 90.0
        if not 30 <= angle <= 150:
            raise InputError("", tr("{angle:g}° is not a countersink; write 82° or 90°", angle=angle))
        return {"countersink_diameter": str(length), "countersink_angle_deg": angle}
    if angle not in (None, 45):
        raise InputError(
            "", tr("'{words}': a chamfer is written '0.5 x 45°', a countersink '12.6 x 90°'", words=text)
        )
    mouth = across + 2 * length.exact_mm
    return {"countersink_diameter": str(_in_unit(mouth, hole.unit)), "countersink_angle_deg": 90.0}


def _in_unit(exact_mm: Fraction, unit: str) -> Length:
    return from_mm(exact_mm) if unit == "mm" else in_inches(exact_mm)


def whole_line(keys: dict[str, object]) -> Changes:
    """What a whole line changes of a hole that is already drawn: a depth it does not say stays."""
    values = dict(keys)
    if values.get("kind") == "center_hole":
        return values
    if values.get("depth") is None:
        values.pop("depth", None)
        values.pop("depth_to", None)
        if not values.get("through"):
            values.pop("through", None)
    return values


# -- kinds and mouths -------------------------------------------------------------------------------


def change_kind(hole: Hole, entry: HoleEntry, kind: str) -> tuple[Changes, str]:
    """Keys for another kind of hole, and what had no place and is set aside, in words."""
    size = float(hole.feature.thread.major_mm) if hole.feature.thread is not None else hole.nominal_mm
    inch = hole.own_unit == "in"
    dropped = []
    values: Changes = {"kind": kind}
    aside = {
        "tolerance": kind in ("sized", "flat_bottom"),
        "limits": kind in ("sized", "flat_bottom"),
        "thread": kind == "tapped",
        "class": kind == "tapped",
        "thread_depth": kind == "tapped",
        "size": kind in ("taper_pin", "center_hole") and entry.kind == kind,
        "taper": kind == "taper_pin",
        "center_type": kind == "center_hole",
        "diameter": kind in ("plain", "sized", "flat_bottom"),
    }
    names = {"tolerance": hole.tolerance, "limits": tr("its limits"), "thread": entry.thread}
    names |= {"thread_depth": tr("thread {thread_depth} deep", thread_depth=entry.thread_depth)}
    for key, keeps in aside.items():
        old = getattr(entry, "class_" if key == "class" else key)
        if old is not None and not keeps:
            values[key] = None
            if names.get(key):
                dropped.append(str(names[key]))
    if kind in ("plain", "sized", "flat_bottom") and (entry.diameter is None or entry.kind == "tapped"):
        exact = Fraction(str(round(size / (INCH_MM if inch else 1), 4 if inch else 2)))
        values["diameter"] = f"{float(exact):.4f} in" if inch else f"{float(exact):g} mm"
    if kind == "sized" and not entry.tolerance and entry.limits is None:
        values["tolerance"] = "+.0010/-.0000 in" if inch else "H7"
    if kind in ("flat_bottom", "center_hole"):
        values["through"] = False
    if kind == "tapped" and entry.thread is None:
        thread = nearest_thread(size, inch)
        values["thread"] = thread.name
        if not hole.through:
            room = hole.depth_mm - 5 * float(thread.pitch_mm)
            values["thread_depth"] = str(
                _in_unit(Fraction(str(round(max(room, hole.depth_mm / 2), 1))), hole.unit)
            )
    if kind == "taper_pin":
        pin = _nearest_pin(size, inch)
        values |= {"size": pin, "taper": "1:48" if inch else "1:50", "through": True}
    if kind == "center_hole":
        values |= {"center_type": "plain" if inch else "A", "size": "#4" if inch else "3.15", "depth": None}
    elif hole.kind == "center_hole":
        values["depth"] = str(_in_unit(Fraction(str(round(constant("new_depth_per_d") * size, 1))), hole.unit))
    if kind in ("taper_pin", "center_hole"):
        values |= dict.fromkeys(MOUTH_KEYS)
        if not hole.mouth.plain:
            dropped.append(tr("what was at the mouth"))
    return values, tr("Set aside: {dropped}.", dropped=", ".join(dropped)) if dropped else ""


def nearest_thread(size_mm: float, inch: bool) -> Thread:
    """The coarse thread whose major diameter is nearest to a size."""
    if inch:
        names = [f"{r.text('size')} UNC" for r in rows("threads_unified") if r.text("series") == "UNC"]
    else:
        names = [r.text("size") for r in rows("threads_metric") if r.text("series") == "coarse"]
    return min(map(read_thread, names), key=lambda thread: abs(float(thread.major_mm) - size_mm))


def _nearest_pin(size_mm: float, inch: bool) -> str:
    system = "inch" if inch else "metric"
    sizes = [r.text("size") for r in rows("taper_pins") if r.text("system") == system]
    names = [f"#{size}" if inch else size for size in sizes]
    return min(names, key=lambda name: abs(pin_size(name).nominal.mm - size_mm))


def change_mouth(hole: Hole, entry: HoleEntry, which: str) -> Changes:
    """Keys for putting a chamfer, register, countersink or spotface at the mouth, or taking it away."""
    inch = hole.own_unit == "in"
    across = float(hole.feature.thread.major_mm) if hole.feature.thread is not None else hole.nominal_mm
    base = entry.kind if entry.kind not in ("counterbored", "countersunk", "spotfaced") else "plain"

    def written(value_mm: float) -> str:
        return f"{value_mm / INCH_MM:.3f} in" if inch else f"{round(value_mm * 2) / 2:g} mm"

    has = mouth_state(hole)
    if which in has:
        keys = MOUTH_KEYS[:3] if which in ("register", "spotface") else MOUTH_KEYS[3:]
        return {"kind": _kind_after(base, hole, which), **dict.fromkeys(keys)}
    if which == "chamfer":
        width = constant("new_chamfer_in") * INCH_MM if inch else constant("new_chamfer_mm")
        mouth = Fraction(str(round(across + 2 * width, 4)))
        kind = base if entry.kind == "countersunk" else entry.kind
        return {
            "kind": kind,
            "countersink_diameter": str(_in_unit(mouth, hole.unit)),
            "countersink_angle_deg": 90.0,
        }
    if which == "countersink":
        return {
            "kind": "countersunk" if base == "plain" else entry.kind,
            "countersink_diameter": written(constant("new_countersink_per_d") * across),
            "countersink_angle_deg": 82.0 if inch else 90.0,
        }
    if which == "spotface":
        return {
            "kind": "spotfaced" if base == "plain" else entry.kind,
            "counterbore_diameter": written(constant("new_spotface_per_d") * across),
            "counterbore_depth": None,
            "counterbore_tolerance": None,
        }
    head = head_over(across, constant("new_head_per_d") * across)
    wide, deep = (constant(f"new_counterbore{part}_per_d") * across for part in ("", "_depth"))
    return {
        "kind": "counterbored" if base == "plain" else entry.kind,
        "counterbore_diameter": str(head.counterbore) if head is not None else written(wide),
        "counterbore_depth": str(head.depth) if head is not None else written(max(deep, 1.0)),
    }


def _kind_after(base: str, hole: Hole, gone: str) -> str:
    """The kind once a mouth feature is taken away: what is left decides."""
    if base != "plain":
        return base
    rest = mouth_state(hole) - {gone}
    for feature, kind in (("register", "counterbored"), ("countersink", "countersunk")):
        if feature in rest:
            return kind
    return "plain"


def mouth_state(hole: Hole) -> set[str]:
    """Which of chamfer, register, countersink and spotface are at the mouth."""
    found = set()
    if hole.mouth.countersink is not None:
        found.add("countersink" if hole.kind == "countersunk" else "chamfer")
    if hole.mouth.counterbore is not None:
        found.add("spotface" if hole.mouth.spotface else "register")
    return found
