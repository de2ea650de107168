"""What was read of a drawing, as data and as lines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cordwainer import __version__
from cordwainer.core.language import tr
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE
from cordwainer.files.prints.review import Item, Review

WORDS = {SURE: "", DOUBT: tr("in doubt"), NO_HOLE: tr("no hole")}


def review_data(review: Review, entries: Sequence[dict[str, Any]] = ()) -> dict[str, Any]:
    """The callouts of a drawing with state, doubt and place, its notes, and the holes taken."""
    notes = review.read.notes
    return {
        "file": review.path.name,
        "units": review.unit,
        "sheets": len(review.read.sheets),
        "notes": {
            "units": notes.unit,
            "general_tolerance": notes.general_tolerance,
            "tolerance_by_places": {str(k): v for k, v in notes.by_places.items()},
            "material": notes.material,
            "material_id": notes.material_id or None,
        },
        "callouts": [
            {
                "text": item.found.text,
                "state": item.state,
                "why": item.found.why,
                "read_as": item.found.line,
                "hole": {k: v for k, v in item.found.callout.keys().items() if v is not None}
                if item.found.callout is not None
                else None,
                "count": item.found.count,
                "sheet": item.found.sheet + 1,
                "box": [round(v, 2) for v in item.found.box.bounds] if item.found.boxes else None,
                "places": [[round(x, 4), round(y, 4)] for x, y in item.found.places],
                "taken_as": item.taken or None,
            }
            for item in review.items
        ],
        "zero": [round(v, 4) for v in review.zero] if review.unit_mm is not None else None,
        "circles_without_callout": [
            {"x": round(c.x, 4), "y": round(c.y, 4), "diameter": round(c.diameter, 4)} for c in review.read.free
        ],
        "holes": list(entries),
        "said": list(review.said),
        "made_with": {"version": __version__},
    }


def review_lines(review: Review, left: Sequence[str] = ()) -> list[str]:
    """The same as lines of text."""
    lines = [f"{review.path.name}: {review.counted()}", *review.said]
    notes = review.read.notes
    for words, value in (
        ("unit", notes.unit),
        (tr("general tolerance"), notes.general_tolerance),
        ("material", notes.material),
    ):
        lines += [f"  {words}: {value}"] if value else []
    if review.zero != (0.0, 0.0):
        x, y = (f"{value:g}" for value in review.zero)
        lines.append(
            tr("  x, y from: where its dimensions start, ({x}, {y}) {review} in it", x=x, y=y, review=review.unit)
        )
    for item in review.items:
        if item.state == NO_HOLE:
            continue
        taken = f"{item.taken}  " if item.taken else ""
        why = f"   ({WORDS[item.state]}: {item.found.why})" if item.found.why else ""
        sheet = f"{item.found.sheet + 1}: " if len(review.read.sheets) > 1 else ""
        lines.append(f"  {sheet}{taken}{item.found.text}{why}")
    return [*lines, *(tr("left: {each}", each=each) for each in left)]


def reading_words(item: Item) -> str:
    """What a callout was read as, part by part.

    >>> from cordwainer.core.prints.callouts import understood
    >>> reading_words(Item(understood("4X Ø9 THRU ⌴ Ø15 ↧ 8.6", "mm")))
    '4 × Ø 9 mm, through, counterbore 15 mm × 8.6 mm'
    >>> reading_words(Item(understood("Ø6.8 ↧ 20 M8x1.25-6H ↧ 16", "mm")))
    'M8x1.25 6H, thread 16 mm deep, drilled 20 mm deep'
    """
    callout = item.found.callout
    if callout is None:
        return ""
    count = item.found.count or callout.count
    parts = (
        [callout.thread.name + (f" {callout.thread_class}" if callout.thread_class else "")]
        if callout.thread
        else []
    )
    if callout.pin is not None:
        parts.append(tr("taper pin {pin}", pin=callout.pin))
    elif callout.center is not None:
        parts.append(
            tr("center hole {center_type} {center}", center_type=callout.center_type, center=callout.center)
        )
    elif callout.thread is None and callout.limits is not None:
        low, high = (str(z).removesuffix(f" {z.unit}") for z in callout.limits)
        parts.append(tr("Ø {low} to {high} {unit}", low=low, high=high, unit=callout.limits[0].unit))
    elif callout.thread is None:
        parts.append(f"Ø {callout.shown_size}" + (f" {callout.tolerance}" if callout.tolerance else ""))
    if callout.thread_depth is not None:
        parts.append(tr("thread {thread_depth} deep", thread_depth=callout.thread_depth))
    if callout.through:
        parts.append("through" + (f" {callout.depth}" if callout.depth is not None else ""))
    elif callout.depth is not None:
        parts.append(
            tr(
                "{drilled}{depth} deep",
                drilled=tr("drilled ") if callout.thread is not None else "",
                depth=callout.depth,
            )
        )
    if callout.counterbore is not None:
        deep = f" × {callout.counterbore_depth}" if callout.counterbore_depth is not None else ""
        parts.append(
            tr(
                "{spotface} {counterbore}{deep}",
                spotface=tr("spotface") if callout.spotface else tr("counterbore"),
                counterbore=callout.counterbore,
                deep=deep,
            )
        )
    if callout.countersink is not None:
        angle = f" × {callout.countersink_angle:g}°" if callout.countersink_angle is not None else ""
        parts.append(tr("countersink {countersink}{angle}", countersink=callout.countersink, angle=angle))
    if callout.flat:
        parts.append(tr("flat bottom"))
    if callout.position is not None:
        parts.append(tr("position {position}", position=callout.position))
    return (f"{count} × " if count > 1 else "") + ", ".join(parts)
