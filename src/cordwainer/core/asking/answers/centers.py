"""Center drills: how deep, how wide, which for a part."""

from __future__ import annotations

from cordwainer.core.asking.answer import Given, Said, Use
from cordwainer.core.cutting.center import RULES, center_depth, size_for_part, typed_depth
from cordwainer.core.cutting.depth import center_mouth, cone_length
from cordwainer.core.errors import InputError
from cordwainer.core.part.center import TYPE_WORDS, CenterSize, center_size

NAMES = {
    "half": "half the cone",
    "two_thirds": "two thirds of the cone",
    "three_quarters": "three quarters of the cone",
}


def _size(given: Given) -> CenterSize:
    name = given.named("size")
    if name[0] in "ABR":
        return center_size(name[0], name[1:])
    if "." in name:
        return center_size("A", name)
    return center_size("plain", name)


def center(given: Given) -> list[Said]:
    """Mouth and depth of a center by a share of its cone, and the chamfer a drill after it leaves."""
    size = _size(given)
    pilot, body = size.pilot.mm, size.body.mm
    whole = cone_length(pilot, body)
    shares = [given["share"]] if given.has("share") else [given["percent"] / 100] if given.has("percent") else []
    if not shares and "half" in given.words:
        shares = [0.5]
    lines = [
        Said("pilot, body", f"{given.length(pilot)}, {given.length(body)}", "", size.source),
        Said("whole cone", given.length(whole), "(body − pilot) / 2 / tan 30°", "derived"),
    ]
    named = [(f"{share:.3g} of the cone", share) for share in shares]
    for name, share in named or [(NAMES.get(rule, rule), value) for rule, value in RULES.items()]:
        if not 0 < share <= 1:
            raise InputError("", "a share of the cone lies between 0 and 1")
        mouth = center_mouth(pilot, body, share)
        tip = size.pilot_length.mm + share * whole
        text = f"mouth {given.length(mouth)}, {given.length(share * whole)} of cone, tip at {given.length(tip)}"
        lines.append(Said(name, text, "pilot + share × (body − pilot)", "common practice", Use("length", tip)))
        if given.has("hole"):
            lines.append(_left(given, mouth))
    if not named:
        at = center_depth(size)
        lines.append(
            Said(
                "for support",
                f"tip at {given.length(at.tip_mm)}",
                "two thirds",
                "common practice",
                Use("length", at.tip_mm),
            )
        )
    if given.has("hole") and given["hole"] < pilot:
        lines.append(
            Said("", "the drill is smaller than the center drill's pilot: a smaller one, or a spot drill")
        )
    return lines


def _left(given: Given, mouth: float) -> Said:
    wide = (mouth - given["hole"]) / 2
    if wide <= 0:
        return Said("chamfer left", "none: the drill takes the mouth away", "(mouth − drill) / 2", "derived")
    text = f"{given.length(wide)} a side, {given.length(2 * wide)} on diameter"
    return Said("chamfer left by the drill", text, "(mouth − drill) / 2", "derived", Use("length", wide))


def center_deep(given: Given) -> list[Said]:
    """What a depth of the tip makes of a center."""
    size = _size(given)
    found = typed_depth(size, given["deep"])
    if found.at is None:
        fix = ". Face it off and drill it anew" if "past" in found.why_not else ""
        return [Said("", f"{given.length(given['deep'])} is {found.why_not}{fix}", "", "common practice")]
    text = f"mouth {given.length(found.at.mouth_mm)}, {found.at.share:.2f} of the cone"
    return [Said("seat", text, "", "derived", Use("length", found.at.mouth_mm))]


def center_for(given: Given) -> list[Said]:
    """The center drill for a part's diameter."""
    kind = "plain" if given.unit == "in" else "A"
    size = size_for_part(kind, given["d"])
    at = center_depth(size)
    name = size.size if kind == "plain" else f"A {size.size}"
    text = f"{name}, mouth {given.length(at.mouth_mm)} at two thirds of its cone"
    return [
        Said("center drill", text, "a mouth of about the square root of the diameter in mm", "common practice"),
        Said("", TYPE_WORDS[kind]),
    ]


ANSWERS = {"center": center, "center_deep": center_deep, "center_for": center_for}
