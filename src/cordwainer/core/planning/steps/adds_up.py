"""What a print asks that does not add up: figures that leave no metal, no lead for the tap, no edge."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.cutting.depth import point_length
from cordwainer.core.cutting.profile import DRAWN_POINT_DEG, counterbore_depth
from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM, Length, from_mm, in_inches
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.thread import SPARE_TURNS, TAP_LEAD_TURNS
from cordwainer.core.tables import constant

THIN_MM, THIN_PER_D = 2.0, 0.2


@dataclass(frozen=True)
class Way:
    """A way out: its words, and the keys of the hole it changes (None takes a key away)."""

    words: str
    changes: tuple[tuple[str, object], ...]


@dataclass(frozen=True)
class Trouble:
    """One thing that does not add up: at which figure, what it says in one sentence, ways out.

    `thin` is the metal left between two depths in mm where that is what is wrong.
    """

    id: str
    figure: str
    text: str
    ways: tuple[Way, ...] = ()
    thin: tuple[float, float] | None = None


def adds_up(hole: Hole) -> tuple[Trouble, ...]:
    """Everything about a hole that does not add up; empty where all does. Source: common practice."""
    found = [*_far_face(hole), *_thread_room(hole), *_mouth(hole), *_wall(hole)]
    if hole.kind == "taper_pin" and not hole.through:
        found.append(
            Trouble(
                "pin_blind",
                "depth",
                tr("A taper pin is driven out from its small end: a blind hole keeps it for good."),
                (Way("Through", (("through", True),)),),
            )
        )
    return tuple(found)


def _shown(value_mm: float, unit: str) -> str:
    """A figure as it is said: tenths of a millimeter, thousandths of an inch."""
    if unit == "in":
        return localized(f"{value_mm / INCH_MM:.3f}").removeprefix("0") + " in"
    return localized(f"{value_mm:.1f}").removesuffix(".0") + " mm"


def _written(value_mm: float, unit: str) -> Length:
    exact = from_mm(value_mm, 2)
    return exact if unit == "mm" else in_inches(exact.exact_mm, 3)


def _down(value_mm: float, unit: str) -> float:
    """The next half millimeter, or hundredth of an inch, below."""
    step = 0.254 if unit == "in" else 0.5
    return math.floor(value_mm / step + 1e-9) * step


def _far_face(hole: Hole) -> list[Trouble]:
    """The point against the far side: under 2 mm or 0.2 d is thin."""
    thick = hole.part_thickness_mm
    if thick is None or hole.through:
        return []
    flat = hole.kind == "flat_bottom"
    point = 0.0 if flat else point_length(hole.nominal_mm, DRAWN_POINT_DEG)
    left = thick - hole.depth_mm - point
    least = hole.floor_mm
    if not hole.floor_given:
        least = max(min(THIN_MM, THIN_PER_D * hole.nominal_mm), least)
    if left >= least - 1e-9:
        return []
    unit = hole.unit

    def shown(mm: float) -> str:
        return _shown(mm, unit)

    if left <= 0:
        text = tr(
            "{depth_mm} and the point's {point} come out of {thick}.",
            depth_mm=shown(hole.depth_mm),
            point=shown(point),
            thick=shown(thick),
        )
    else:
        text = tr(
            "{depth_mm} and the point's {point} leave {left} of {thick}: thin.",
            depth_mm=shown(hole.depth_mm),
            point=shown(point),
            left=shown(left),
            thick=shown(thick),
        )
    ways = []
    shallower = thick - point - least
    if shallower > 0.3 * hole.depth_mm:
        depth = _written(_down(shallower, unit), unit)
        changes: list[tuple[str, object]] = [("depth", str(depth))]
        ways.append(Way(tr("Drill {depth}", depth=depth), tuple(changes)))
    ways.append(
        Way("Through", (("through", True), ("depth", str(_written(thick, unit))), ("part_thickness", None)))
    )
    if left > 0:
        ways.append(
            Way(
                tr("Keep it, {left} is enough", left=shown(left)),
                (("floor", str(_written(max(left - 0.01, 0), unit))),),
            )
        )
    return [Trouble("thin_floor", "depth", text, tuple(ways), (hole.depth_mm + point, thick))]


def _thread_room(hole: Hole) -> list[Trouble]:
    """The tap's lead under the last full thread."""
    thread, deep = hole.feature.thread, hole.feature.thread_depth
    if thread is None or deep is None or hole.through:
        return []
    room = hole.depth_mm - deep.mm
    turns = room / float(thread.pitch_mm)
    need = {tap: float(lead + SPARE_TURNS) for tap, lead in TAP_LEAD_TURNS.items()}
    if turns >= need["plug"] - 1e-6:
        return []
    unit = hole.unit
    best = tr("a bottoming tap") if turns >= need["bottoming"] - 1e-6 else tr("no tap")
    wanted = _written(deep.mm + need["plug"] * float(thread.pitch_mm), unit)
    less = hole.depth_mm - need["plug"] * float(thread.pitch_mm)
    ways = [Way(tr("Drill {wanted}", wanted=wanted), (("depth", str(wanted)),))]
    if less > 0.4 * deep.mm:
        shorter = _written(less, unit)
        ways.append(Way(tr("Thread {shorter}", shorter=shorter), (("thread_depth", str(shorter)),)))
    text = tr(
        "{turns:.1f} turns are left under the thread; a plug tap takes {plug:g}. It is for {best}.",
        turns=turns,
        plug=need["plug"],
        best=best,
    )
    return [Trouble("tap_room", "thread_depth", text, tuple(ways))]


def _mouth(hole: Hole) -> list[Trouble]:
    mouth, found = hole.mouth, []
    major = float(hole.feature.thread.major_mm) if hole.feature.thread is not None else hole.nominal_mm

    def shown(mm: float) -> str:
        return _shown(mm, hole.unit)

    if mouth.counterbore is not None and mouth.counterbore.mm <= major:
        found.append(
            Trouble(
                "register_small",
                "counterbore",
                tr(
                    "The register's {counterbore} is not wider than the thread, {major}.",
                    counterbore=shown(mouth.counterbore.mm),
                    major=shown(major),
                ),
                (Way(tr("Leave it out"), (("counterbore_diameter", None), ("counterbore_depth", None))),),
            )
        )
    if mouth.counterbore is not None and counterbore_depth(hole) >= hole.depth_mm:
        found.append(
            Trouble(
                "register_deep",
                "counterbore_depth",
                tr(
                    "The register goes {counterbore_depth} deep, the hole only {depth_mm}.",
                    counterbore_depth=shown(counterbore_depth(hole)),
                    depth_mm=shown(hole.depth_mm),
                ),
            )
        )
    sink = mouth.countersink
    if sink is not None and mouth.counterbore is not None and sink.mm > mouth.counterbore.mm + 3:
        found.append(
            Trouble(
                "sink_wide",
                "countersink",
                tr(
                    "The chamfer's {sink} is wider than the register, {counterbore}.",
                    sink=shown(sink.mm),
                    counterbore=shown(mouth.counterbore.mm),
                ),
                (Way(tr("Leave it out"), (("countersink_diameter", None), ("countersink_angle_deg", None))),),
            )
        )
    if sink is not None and mouth.countersink_angle_deg == 60:
        found.append(
            Trouble(
                "sink_60",
                "countersink",
                tr("60° is for centers. Screw heads take 82° (inch) or 90° (metric), chamfers 90°."),
                tuple(Way(f"{angle}°", (("countersink_angle_deg", float(angle)),)) for angle in (82, 90)),
            )
        )
    return found


def _wall(hole: Hole) -> list[Trouble]:
    """Metal beside the hole: under a fifth of its diameter it swells when drilled."""
    if hole.wall_mm is None or hole.wall_mm >= max(THIN_PER_D * hole.nominal_mm, constant("thin_wall_mm")):
        return []
    return [
        Trouble(
            "thin_wall",
            "size",
            tr(
                "Only {shown} is left beside it: thin walls swell and spring back.",
                shown=_shown(hole.wall_mm, hole.unit),
            ),
            (Way(tr("It is enough"), (("wall", None),)),),
        )
    ]
