"""What can still be done with a hole that came out wrong, with the arithmetic and who must agree.

Sources: common practice for walls, clean-up and interference; derived where a formula stands beside the figure.
Nothing here is decided: every way that changes what the drawing says needs its owner's agreement.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.layout import nearest_edge
from cordwainer.core.shop.material import Material
from cordwainer.core.tables import rows

CLEAN_UP_MM, BORE_CLEAN_MM = 0.05, 0.1
LEAST_BUSH_WALL_MM, BUSH_WALL_SHARE = 1.5, 0.08
EDGE_WALL_MM, EDGE_SHARE = 1.5, 0.5
INTERFERENCE = {"steel": 0.001, "soft": 0.0007}
CONCESSION_SHARE, LAP_MM, HONE_MM = 0.25, 0.02, 0.1
PRESS_CLEARANCE_MM, STEEL_PER_K = 0.02, 11.5e-6
LEAST_THREAD, ASK_THREAD = 55, 60
SOFT = ("aluminum", "cast_iron", "plastic")
AS_DRAWN, SMALL, ENGINEERING, LAST = ("drawing kept", "small agreement", "engineering agreement", "scrap")
ORDER = (AS_DRAWN, SMALL, ENGINEERING, LAST)


@dataclass(frozen=True)
class Bad:
    """A hole to be rescued: lengths in mm, None where not known.

    `worst_mm` and `least_mm` its largest and smallest reading, `entry_mm` the mouth's, `off_mm` how far its axis
    is off, `edge_mm` from its middle to the nearest edge, `taken_up_mm` the depth of a flared mouth, `unit` the
    one sums are told in, `thread` its name, major diameter and pitch where it is to be tapped, `plain` a hole that
    a fastener goes through, `reamed` one that a reamer made.
    """

    nominal_mm: float
    low_mm: float
    high_mm: float
    worst_mm: float
    least_mm: float
    depth_mm: float
    entry_mm: float | None = None
    taken_up_mm: float | None = None
    off_mm: float = 0.0
    zone_mm: float | None = None
    edge_mm: float | None = None
    hole_is_soft: bool = False
    unit: str = "mm"
    thread: tuple[str, float, float] | None = None
    plain: bool = False
    reamed: bool = False

    def say(self, value_mm: float) -> str:
        """A length in the unit sums are told in."""
        text = in_unit(value_mm, self.unit, 3, 4)
        return f"{text} {self.unit}"


@dataclass(frozen=True)
class Rescue:
    """One way: what is done, its sums, what it needs, who must agree; impossible ones say why."""

    id: str
    title: str
    sums: tuple[str, ...]
    size_mm: float | None
    agreement: str
    minutes: float
    possible: bool = True
    why_not: str = ""
    undone: bool = False


def bush_wall(bore_mm: float) -> float:
    """Least wall of a press-fit bush about a bore, in mm: 1.5 or 0.08 of the bore. Source: common practice."""
    return max(LEAST_BUSH_WALL_MM, BUSH_WALL_SHARE * bore_mm)


def closes_by(interference_mm: float, bore_mm: float, outer_mm: float) -> float:
    """How much a pressed bush closes in a heavy surround of its own metal: i d / B. Derived.

    >>> closes_by(0.016, 12, 16)
    0.012
    """
    return interference_mm * bore_mm / outer_mm


def heat_for(interference_mm: float, clearance_mm: float, outer_mm: float, per_k: float = STEEL_PER_K) -> float:
    """Kelvin to warm the part so that a bush drops in: (i + c) / (a B). Derived.

    >>> round(heat_for(0.025, 0.02, 25))
    157
    """
    return (interference_mm + clearance_mm) / (per_k * outer_mm)


def bored_true(size_mm: float, off_mm: float, clean_mm: float = CLEAN_UP_MM) -> float:
    """The least size bored at the true place that cleans up a hole off it: d + 2e + 2c. Derived.

    >>> bored_true(11, 0.25)
    11.6
    """
    return size_mm + 2 * off_mm + 2 * clean_mm


def bush_outer(bad: Bad, *, plugged: bool = False) -> float:
    """The least outer diameter of a bush: bored true, or a plug on the old hole drilled at the true place; mm."""
    wall = bush_wall(bad.nominal_mm)
    if plugged:
        return bad.nominal_mm + 2 * (bad.off_mm + wall)
    return max(bad.worst_mm + 2 * bad.off_mm + 2 * BORE_CLEAN_MM / 2, bad.nominal_mm + 2 * wall)


def edge_left(bad: Bad, size_mm: float) -> float | None:
    """Metal left to the nearest edge beside a size; None where the edge is not known."""
    return bad.edge_mm - size_mm / 2 if bad.edge_mm is not None else None


def thread_share(major_mm: float, drilled_mm: float, pitch_mm: float) -> float:
    """Percent of thread by the rule most tap-drill charts use: 76.98 (major - d) / P. Source: 60 degree form.

    >>> round(thread_share(8, 6.8, 1.25))
    74
    """
    return 76.98 * (major_mm - drilled_mm) / pitch_mm


def insert_hole(major_mm: float, pitch_mm: float) -> tuple[float, float]:
    """Least hole and tap major of a wire thread insert: D + 0.2165 P and D + 1.299 P. Source: 60 degree form.

    >>> tuple(round(v, 2) for v in insert_hole(8, 1.25))
    (8.27, 9.62)
    """
    return major_mm + 0.2165 * pitch_mm, major_mm + 1.299 * pitch_mm


def bad_of(
    hole: Hole,
    finding: Finding | None,
    material: Material,
    unit: str,
    edge_mm: float | None,
    place: tuple[float | None, tuple[float | None, float | None]],
    part_mm: tuple[float, float] | None = None,
    reamed: bool = False,
) -> Bad | None:
    """A measured hole as one to be rescued; None while its size is not known.

    `edge_mm` from its middle to the nearest edge, where somebody said so, else by its place on a part of
    `part_mm`; `place` the position zone and how far the axis is off at mouth and far end, in mm. A flared mouth is
    taken to end half way between the reading that is out and the next that is not.
    """  # fmt: skip
    if finding is None or finding.size_max_mm is None or finding.size_min_mm is None:
        return None
    zone, off = place
    if edge_mm is None and part_mm is not None and hole.places_mm:
        found = [nearest_edge(at, 0.0, part_mm) for at in hole.places_mm]
        edge_mm = min(edge.metal_mm for edge in found)
    thread = hole.feature.thread
    depths = sorted({c.reading.depth_mm for c in finding.corrected})
    flare = None
    if finding.entry_mm is not None and finding.middle_mm is not None and len(depths) > 1:
        inside = [
            depth for depth in depths
            if all(c.size_mm <= hole.limits.upper_mm for c in finding.corrected if c.reading.depth_mm == depth)
        ]  # fmt: skip
        if finding.entry_mm > hole.limits.upper_mm and inside and inside[0] > depths[0]:
            out = max(depth for depth in depths if depth < inside[0])
            flare = (out + inside[0]) / 2
    return Bad(
        nominal_mm=hole.nominal_mm,
        low_mm=hole.limits.lower_mm,
        high_mm=hole.limits.upper_mm,
        worst_mm=finding.size_max_mm,
        least_mm=finding.size_min_mm,
        depth_mm=hole.depth_mm,
        entry_mm=finding.entry_mm,
        taken_up_mm=flare,
        off_mm=max((abs(o) for o in off if o is not None), default=0.0),
        zone_mm=zone,
        edge_mm=edge_mm,
        hole_is_soft=material.diagnosis_name in SOFT,
        unit=unit,
        thread=(thread.name, float(thread.major_mm), float(thread.pitch_mm)) if thread is not None else None,
        plain=hole.kind == "plain",
        reamed=reamed,
    )


def consent_text(bad: Bad, way: Rescue, name: str) -> str:
    """What to ask the drawing's owner: what the drawing says, what would be, and a line for the answer."""
    says = tr("{low_mm} to {high_mm}", low_mm=bad.say(bad.low_mm), high_mm=bad.say(bad.high_mm))
    size = tr(", size {size_mm}", size_mm=bad.say(way.size_mm)) if way.size_mm is not None else ""
    lines = [
        tr("Hole {name}", name=name),
        tr("Drawing says: {says}", says=says),
        tr("Measured: {least_mm} to {worst_mm}", least_mm=bad.say(bad.least_mm), worst_mm=bad.say(bad.worst_mm))
        + (tr(", off its place by {off_mm}", off_mm=bad.say(bad.off_mm)) if bad.off_mm else ""),
        tr("Would be: {title}{size}", title=way.title, size=size),
        *(f"  {line}" for line in way.sums),
        tr("It cannot be undone.") if way.undone else tr("It can be undone."),
        tr("Agreed: yes / no    Who:                Date:"),
        tr("Not for safety-critical, lifting, pressure or medical parts without written consent."),
    ]
    return "\n".join(lines)


def rescues(bad: Bad, reamers_mm: Sequence[float] = ()) -> list[Rescue]:
    """Ways that could save a hole, those that keep the drawing first, scrap last; `reamers_mm` are the shop's."""
    found: list[Rescue] = []
    over = bad.worst_mm - bad.high_mm
    out_of_place = bad.zone_mm is not None and 2 * bad.off_mm > bad.zone_mm
    if over <= 0 and bad.least_mm >= bad.low_mm and not out_of_place:
        kept = (tr("keep the readings with it"),)
        return [Rescue("nothing", tr("Nothing: it is inside its limits"), kept, None, AS_DRAWN, 0)]
    if bad.least_mm < bad.low_mm and over <= 0:
        found.append(_open_up(bad))
    if over > 0 and over < CONCESSION_SHARE * (bad.high_mm - bad.low_mm):
        share = 100 * over / (bad.high_mm - bad.low_mm)
        sums = (
            tr(
                "over by {over}, {share:.0f} % of the zone {high_mm}",
                over=bad.say(over),
                share=share,
                high_mm=bad.say(bad.high_mm - bad.low_mm),
            ),
        )
        found.append(Rescue("concession", tr("Ask for it as it is"), sums, bad.worst_mm, SMALL, 5))
    if bad.entry_mm is not None and bad.taken_up_mm and bad.entry_mm - bad.high_mm > 0:
        found.append(_chamfer(bad))
    if bad.thread is not None and over > 0:
        found += [_thin_thread(bad, bad.thread), _insert(bad, bad.thread)]
    elif over > 0 or out_of_place:
        if bad.plain:
            found.append(_larger_fastener(bad))
        found += [_next_size(bad, reamers_mm), _bush(bad)]
        if not out_of_place and over > 0 and not bad.plain:
            sums = (
                tr(
                    "hole {worst_mm}: a pin of that less the clearance drawn; marked as a pair",
                    worst_mm=bad.say(bad.worst_mm),
                ),
            )
            found.append(Rescue("fitted_pin", tr("A pin made to the hole"), sums, None, ENGINEERING, 30))
    if out_of_place:
        found.insert(0, _true(bad))
    sums = (tr("set aside and tagged, so that nobody fits it"),)
    found.append(Rescue("scrap", tr("Scrap it"), sums, None, LAST, 0, undone=True))
    return sorted(found, key=lambda r: (not r.possible, ORDER.index(r.agreement)))


def _thin_thread(bad: Bad, thread: tuple[str, float, float]) -> Rescue:
    """Tapped all the same, where enough thread is left."""
    name, major, pitch = thread
    share = thread_share(major, bad.worst_mm, pitch)
    sums = (
        tr(
            "{name} in {worst_mm}: {share:.0f} % of thread by 76.98 (major - hole) / pitch",
            name=name,
            worst_mm=bad.say(bad.worst_mm),
            share=share,
        ),
    )
    enough = share >= LEAST_THREAD
    agreement = SMALL if share >= ASK_THREAD else ENGINEERING
    why = "" if enough else tr("under {least_thread} % of thread is left", least_thread=LEAST_THREAD)
    return Rescue("thin_thread", tr("Tap it all the same"), sums, None, agreement, 5, enough, why, True)


def _insert(bad: Bad, thread: tuple[str, float, float]) -> Rescue:
    """A wire thread insert of the same thread in a larger tapped hole."""
    name, major, pitch = thread
    hole, tap = insert_hole(major, pitch)
    wall = tap / 2 + EDGE_WALL_MM
    sums = [
        tr(
            "hole at least {hole} (major + 0.2165 pitch), tapped to {tap} (major + 1.299 pitch)",
            hole=bad.say(hole),
            tap=bad.say(tap),
        ),
        tr("middle of the hole at least {wall} from the edge", wall=bad.say(wall)),
    ]
    why = ""
    if bad.worst_mm > hole + 0.15 * pitch:
        why = tr("the hole is {worst_mm} already: take the next larger thread", worst_mm=bad.say(bad.worst_mm))
    elif bad.edge_mm is not None and bad.edge_mm < wall:
        why = tr("only {edge_mm} to the edge", edge_mm=bad.say(bad.edge_mm))
    return Rescue(
        "insert",
        tr("A thread insert for {name}", name=name),
        tuple(sums),
        hole,
        ENGINEERING,
        20,
        not why,
        why,
        True,
    )


def _larger_fastener(bad: Bad) -> Rescue:
    """The next screw whose clearance hole covers this one, off its place or not. Source: clearance_holes.csv."""
    need = bored_true(bad.worst_mm, bad.off_mm, 0.0)
    inch = bad.unit == "in"
    fits = [
        (row.text("thread"), row.number("hole_mm"))
        for row in rows("clearance_holes")
        if row.text("thread").startswith("M") is not inch and row.number("hole_mm") >= need
    ]
    if not fits:
        return Rescue(
            "fastener",
            tr("The next larger screw"),
            (tr("needs {need}", need=bad.say(need)),),
            None,
            SMALL,
            10,
            False,
            tr("no larger screw in the table covers it"),
            True,
        )
    name, hole = min(fits, key=lambda fit: fit[1])
    least = 1.5 * hole
    sums = [
        tr(
            "{name} has its clearance hole at {hole}; this one needs {need}",
            name=name,
            hole=bad.say(hole),
            need=bad.say(need),
        ),
        tr("middle at least {least} from the edge (1.5 times the hole)", least=bad.say(least)),
        tr("look at the washer's bearing and at the mate"),
    ]
    enough = bad.edge_mm is None or bad.edge_mm >= least
    why = "" if enough else tr("only {edge_mm} to the edge", edge_mm=bad.say(bad.edge_mm or 0.0))
    return Rescue(
        "fastener", tr("The next larger screw, {name}", name=name), tuple(sums), hole, SMALL, 10, enough, why, True
    )


def _open_up(bad: Bad) -> Rescue:
    """Metal is still there: ream (again), hone or lap."""
    stock = (bad.low_mm + bad.high_mm) / 2 - bad.least_mm
    sums = (tr("stock to the middle of the limits {stock}", stock=bad.say(stock)),)
    if stock < LAP_MM:
        return Rescue("lap", tr("Lap it, or choose a pin"), sums, bad.high_mm, AS_DRAWN, 15)
    if stock < HONE_MM:
        return Rescue("hone", tr("Hone it, or a spring pass: a reamer would rub"), sums, bad.high_mm, AS_DRAWN, 15)
    title = tr("Ream it again with a sound reamer, or bore it") if bad.reamed else tr("Ream or bore it to size")
    return Rescue("ream", title, sums, bad.high_mm, AS_DRAWN, 10)


def _chamfer(bad: Bad) -> Rescue:
    """A flared mouth counterbored or chamfered away, where enough good length is left."""
    flare, entry = bad.taken_up_mm or 0.0, bad.entry_mm or bad.worst_mm
    left = bad.depth_mm - flare
    sums = (
        tr(
            "flare {flare} deep, {left} good; a dowel wants {nominal_mm}",
            flare=bad.say(flare),
            left=bad.say(left),
            nominal_mm=bad.say(bad.nominal_mm),
        ),
        tr(
            "a chamfer to {entry} is {entry_2} deep at 45°",
            entry=bad.say(entry + 0.2),
            entry_2=bad.say((entry + 0.2 - bad.nominal_mm) / 2),
        ),
    )
    enough = left >= bad.nominal_mm
    why = "" if enough else tr("less than one diameter of good length would be left")
    return Rescue(
        "counterbore", tr("Counterbore or face the flare away"), sums, None, SMALL, 12, enough, why, True
    )


def _next_size(bad: Bad, reamers_mm: Sequence[float]) -> Rescue:
    """The next standard reamer with a pin to suit, one of the shop's where it has one near enough."""
    need = bored_true(bad.worst_mm, bad.off_mm) if bad.off_mm else bad.worst_mm + CLEAN_UP_MM
    standard = math.ceil(need * 2 - 1e-9) / 2
    shop = min((r for r in reamers_mm if r >= need), default=None)
    near = shop is not None and shop <= standard + 0.5
    size = shop if near and shop is not None else standard
    left, least = edge_left(bad, size), max(EDGE_WALL_MM, EDGE_SHARE * 1.5)
    sums = [
        tr(
            "at least {need} to clean up; {size} {in_}",
            need=bad.say(need),
            size=bad.say(size),
            in_=tr("in the crib") if near else tr("to get"),
        )
    ]
    if bad.off_mm:
        sums.append(tr("bored at the true place first: a reamer follows the hole it finds"))
    if left is not None:
        sums.append(tr("{left} left to the edge", left=bad.say(left)))
    enough = left is None or left >= least
    why = "" if enough else tr("only {left} would be left to the edge", left=bad.say(left or 0))
    sums.append(
        tr("stepped pin: one end to this hole, the other as drawn; the mate opened instead, where it can be")
    )
    return Rescue(
        "next_reamer", tr("Next standard reamer and pin"), tuple(sums), size, ENGINEERING, 25, enough, why, True
    )


def _bush(bad: Bad) -> Rescue:
    """A pressed bush, bored true, reamed in place."""
    outer = math.ceil(bush_outer(bad) * 2 - 1e-9) / 2
    wall = (outer - bad.nominal_mm) / 2
    tight = INTERFERENCE["soft" if bad.hole_is_soft else "steel"] * outer
    left = edge_left(bad, outer)
    least = max(EDGE_WALL_MM, EDGE_SHARE * wall, 0.25 * outer if bad.hole_is_soft else 0.0)
    sums = [
        tr(
            "bored to {outer}, its wall {wall} (at least {bush_wall})",
            outer=bad.say(outer),
            wall=bad.say(wall),
            bush_wall=bad.say(bush_wall(bad.nominal_mm)),
        ),
        tr("interference {tight}", tight=bad.say(tight)),
        tr(
            "its bore closes by {closes_by}: press it in, then ream",
            closes_by=bad.say(closes_by(tight, bad.nominal_mm, outer)),
        ),
        tr(
            "or warm the part by {heat_for:.0f} °C and drop it in",
            heat_for=heat_for(tight, PRESS_CLEARANCE_MM, outer),
        ),
    ]
    if left is not None:
        sums.append(
            tr("{left} of metal left to the edge (at least {least})", left=bad.say(left), least=bad.say(least))
        )
    enough = left is None or left >= least
    why = "" if enough else tr("only {left} of metal would be left around it", left=bad.say(left or 0))
    return Rescue(
        "bush", tr("Bore true and press in a bush"), tuple(sums), outer, ENGINEERING, 60, enough, why, True
    )


def _true(bad: Bad) -> Rescue:
    """Bored back to its place before the last size, while there is metal."""
    need = bored_true(bad.worst_mm, bad.off_mm)
    out = 2 * bad.off_mm - (bad.zone_mm or 0.0)
    enough = need <= bad.high_mm
    sums = (
        tr("off by {off_mm}, out by {out} of the zone", off_mm=bad.say(bad.off_mm), out=bad.say(out)),
        tr("cleans up at {need}", need=bad.say(need)),
    )
    why = (
        ""
        if enough
        else tr("{need} is more than the print's {high_mm}", need=bad.say(need), high_mm=bad.say(bad.high_mm))
    )
    return Rescue("bore_true", tr("Bore it true at this size"), sums, need, AS_DRAWN, 20, enough, why, True)
