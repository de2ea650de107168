"""What a drawing says once for all its holes: its unit, its general tolerance, the material."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from cordwainer.core.lengths import parse
from cordwainer.core.prints.callouts import Found, understood
from cordwainer.core.prints.wording import SIZE

_UNIT = (
    (
        "in",
        re.compile(
            r"\b(?:DIM(?:ENSION)?S?|UNITS?|ALL\s+DIM\w*)\b[^.;]{0,40}\b(?:IN\s+)?INCH(?:ES)?\b|\bINCHES\b\s*$|^\s*INCH\s*$",
            re.I,
        ),
    ),
    (
        "mm",
        re.compile(
            r"\b(?:DIM(?:ENSION)?S?|UNITS?|ALL\s+DIM\w*)\b[^.;]{0,40}\b(?:MM|MILLI?MET(?:ER|RE)S?)\b"
            r"|^\s*(?:MM|MILLIMET(?:ER|RE)S?|METRIC)\s*$",
            re.I,
        ),
    ),
)
_STANDARD = re.compile(r"\bISO\s*2768\s*-?\s*(?:1\s*[:-]?\s*(?:\d{4}\s*-?\s*)?)?([fmcv])\s*([HKL])?\b")
_PLACES = re.compile(
    r"(?:^|[\s,;])(?:[X0]?(?P<dots>\.X{1,4})|(?P<words>[1-4])\s*PL(?:ACES?|C)?\.?(?:\s*DEC\w*)?)"
    r"\s*[=:]?\s*(?:±|\+/-)\s*(?P<size>[0-9]*\.[0-9]+)",
    re.I,
)
_MATERIAL = re.compile(r"\bMAT(?:ERIA)?L?\.?\s*[:=]\s*(.{2,60})$|\bMATERIAL\s+(?!CONDITION|SPEC)(.{2,60})$", re.I)
_MATERIAL_HEAD = re.compile(r"^\s*MAT(?:ERIA)?L\.?\s*:?\s*$", re.I)
# What steels, irons and light metals are called on prints. Source: common practice.
MATERIALS: tuple[tuple[str, str], ...] = (
    (r"\b12L14\b|\b1215\b|\b11SMn(?:Pb)?30\b|\b1144\b|FREE[\s-]?(?:MACH|CUTT)\w+\s+STEEL", "free_machining_steel"),
    (r"\b10(?:08|10|15|18|20|22|25)\b|\bA36\b|\bS2[37]5\w*|\bC15\b|MILD\s+STEEL", "low_carbon_steel"),
    (r"\bCRS\b|\bHRS\b|LOW[\s-]CARBON", "low_carbon_steel"),
    (r"\b10(?:30|35|40|45|50)\b|\bC45E?\b|\bC35\b|\bS355\w*|MEDIUM[\s-]CARBON", "medium_carbon_steel"),
    (r"\b41(?:30|40|45)\b|\b43(?:40|30)\b|\b86(?:20|40)\b|\b42CrMo\w*|ALLOY\s+STEEL", "alloy_steel_annealed"),
    (r"TOOL\s+STEEL|\b[OADSW][12]\b|\bH13\b", "tool_steel_annealed"),
    (r"\b30[1-4]L?\b|\b31[67]L?\b|1\.4301|1\.4305|1\.4404|X5CrNi", "stainless_austenitic"),
    (r"\b4(?:10|16|20)\b|1\.4021", "stainless_martensitic"),
    (r"\b17-4\b", "stainless_precipitation_hardening"),
    (r"\bA?3[58]6\b|\bA?380\b|CAST\s+ALUMIN", "aluminum_cast"),
    (r"\b60(?:61|63|82)\b|\b7075\b|\b2024\b|\b5083\b|ALUMINI?UM", "aluminum_wrought"),
    (r"DUCTILE|NODULAR|EN-?GJS|\bGGG", "ductile_iron"),
    (r"MALLEABLE", "malleable_iron"),
    (r"GR[AE]Y\s+(?:CAST\s+)?IRON|CAST\s+IRON|\bGG-?2[05]\b|EN-?GJL", "cast_iron_gray"),
    (r"\bC?360\b|CuZn39Pb3|\bBRASS\b", "brass_free_machining"),
    (r"\bBRONZE\b|\bC?932\b|\bSAE\s?660|CuSn", "bronze"),
    (r"\bACETAL\b|\bPOM\b", "acetal"),
)


_THICK = re.compile(
    rf"(?<![0-9./])({SIZE})\s*(?:MM|IN\.?|\")?\s*(?:THICK|THK)\b|\bTHICK(?:NESS)?\s*[:=]?\s*({SIZE})", re.I
)


@dataclass(frozen=True)
class Notes:
    """General notes of a drawing; None and empty where it says nothing.

    `general_tolerance` in a job's own words, `by_places` half widths in the drawing's unit by decimals written;
    `material` the text of the title block, `material_id` the material it names here; `thickness` of the part as
    written.
    """

    unit: str | None = None
    general_tolerance: str | None = None
    by_places: dict[int, str] = field(default_factory=dict)
    material: str = ""
    material_id: str = ""
    thickness: str = ""


def notes_of(texts: Sequence[str], known: Sequence[str] = ()) -> Notes:
    """The general notes among a drawing's lines; `known` are the materials there are.

    >>> found = notes_of(["UNLESS OTHERWISE SPECIFIED DIMENSIONS ARE IN INCHES", ".XX ±.01  .XXX ±.005"])
    >>> found.unit, found.by_places
    ('in', {2: '.01', 3: '.005'})
    >>> notes_of(["General tolerances ISO 2768-mK"]).general_tolerance
    'ISO 2768-mK'
    """
    units = {unit for text in texts for unit, pattern in _UNIT if pattern.search(text)}
    tolerances = [m for text in texts if (m := _STANDARD.search(text))]
    places = {
        len(m["dots"]) - 1 if m["dots"] else int(m["words"]): m["size"]
        for text in texts
        for m in _PLACES.finditer(text)
    }
    material = _material(texts)
    identifier = next(
        (name for pattern, name in MATERIALS if re.search(pattern, material, re.I) and name in known), ""
    )
    thick = {m[1] or m[2] for text in texts if (m := _THICK.search(text))}
    standard = {f"ISO 2768-{m[1]}{m[2] or ''}" for m in tolerances}
    return Notes(
        units.pop() if len(units) == 1 else None,
        standard.pop() if len(standard) == 1 else None,
        places,
        material,
        identifier if material else "",
        thick.pop() if len(thick) == 1 else "",
    )


def _material(texts: Sequence[str]) -> str:
    for index, text in enumerate(texts):
        match = _MATERIAL.search(text)
        if match is not None:
            return (match[1] or match[2]).strip()
        if _MATERIAL_HEAD.match(text) and index + 1 < len(texts):
            return texts[index + 1].strip()
    return ""


def with_places(found: Found, notes: Notes, unit: str) -> Found:
    """A callout with the title block's tolerance for as many decimals, where it has none of its own.

    Only sizes that a tolerance of their own would make a sized hole: threads, pins and centers stay.
    """
    callout = found.callout
    if callout is None or callout.tolerance or callout.limits or callout.diameter is None or not notes.by_places:
        return found
    if callout.kind not in ("plain", "counterbored", "countersunk", "spotfaced") or unit != callout.diameter.unit:
        return found
    written = re.search(r"[0-9]*[.,]([0-9]+)", str(callout.diameter))
    half = notes.by_places.get(len(written[1]) if written is not None else 0)
    if half is None or parse(half, unit).mm >= callout.diameter.mm:
        return found
    place = found.line.find(str(callout.diameter).split()[0])
    end = place + len(str(callout.diameter).split()[0])
    if place < 0:
        return found
    again = understood(f"{found.line[:end]} ±{half} {found.line[end:]}", unit)
    if again.callout is None or again.callout.tolerance is None:
        return found
    said = (*found.said, f"±{half} by the title block")
    return replace(again, text=found.text, boxes=found.boxes, sheet=found.sheet, said=said, count=found.count)
