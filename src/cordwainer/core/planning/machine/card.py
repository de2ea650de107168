"""One operation as it is carried out: what to fetch and set, where to touch and stop on every scale, what next."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from cordwainer.core.cutting.marks import Marks, marks
from cordwainer.core.cutting.strokes import stroke_count, stroke_ends
from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM, MM_PER_INCH, Length, from_mm
from cordwainer.core.planning.words.names import plain, role_name, size_shown
from cordwainer.core.planning.words.operation import Caution, DepthReading, Operation, Route
from cordwainer.core.planning.words.sentences import caution
from cordwainer.core.shop.machine import LIMIT_IS_READING, SCALE_WORDS, Machine, Scale
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import rows

TOUCHES = {
    "tip": (tr("tip at the face"), tr("Sight the tip level with the face, with a rule laid across it.")),
    "full_diameter": (tr("full Ø at the face"), tr("Feed in until the corners just stand flush with the face.")),
    "edge_touch": (
        tr("lips on the edge"),
        tr("Bring the lips onto the edge of the hole until they touch all round."),
    ),
    "flat_face": (
        tr("front end at the face"),
        tr("Bring its flat end, or the reamer's lead, level with the face."),
    ),
    "bottom": (tr("tip on the bottom"), tr("Let the tip touch the bottom that is there.")),
}
POINTED = ("drill", "spade_drill")


@dataclass(frozen=True)
class Rung:
    """One stop on the way in: what is done there, how deep the tip then is in mm, what is read there.

    Of a bar a rung is a pass: what it is set to.
    """

    what: str
    tip_mm: float
    reading: str = ""


@dataclass(frozen=True)
class Card:
    """Everything that is looked at while one operation is carried out. Lengths in mm, minutes expected.

    `scales` are the machine's, the one a depth is read on first; `turns` those of a tap. `meets` says what the
    tool touches at the touch.
    """

    index: int
    of: int
    operation: Operation
    name: str
    size: str
    fetch: str
    speed: str
    touch: str
    touches: tuple[str, ...]
    meets: str
    tip_at_touch_mm: float
    rungs: tuple[Rung, ...]
    scales: tuple[Marks, ...]
    slow_tip_mm: float | None
    fluid: str
    minutes: float
    stops: tuple[Caution, ...]
    notes: tuple[Caution, ...]
    next_name: str
    next_words: str
    backlash: str

    def reached(self, rung: int) -> Rung | None:
        """The stop last confirmed; the last there is where a step has fewer now than were confirmed in it."""
        return self.rungs[min(rung, len(self.rungs) - 1)] if self.rungs and rung >= 0 else None

    @property
    def main(self) -> Marks | None:
        """The scale a depth is read on."""
        return self.scales[0] if self.scales else None

    @property
    def wheel(self) -> Marks | None:
        """The dial that feeds the tool, when it is not that scale."""
        return next((each for each in self.scales[1:] if each.turns is not None), None) or next(
            (each for each in self.scales[:1] if each.turns is not None), None
        )

    @property
    def division_mm(self) -> float:
        """A division of what the tool is fed with, in mm; 0 where no scale is known."""
        found = self.wheel or self.main
        return found.division * (float(MM_PER_INCH) if found.unit == "in" else 1.0) if found is not None else 0.0

    @property
    def start(self) -> str:
        """What the main scale reads at the touch; nothing where there is none."""
        return self.rungs[0].reading if self.rungs and self.rungs[0].what == "touch" else ""

    @property
    def stop(self) -> str:
        """What is read when it is done: the scale's stop, or the last size of a bar."""
        return self.rungs[-1].reading if self.rungs else ""


def _cautions(route: Route, index: int, machine: Machine) -> tuple[Caution, ...]:
    """Those of the operation; at the first one those of every start, at measuring those of a part still hot."""
    own = list(route.operations[index].cautions)
    if index == 0:
        first = ["eye", "loose", "home", *([] if machine.is_lathe else ["table_square"])]
        own += [caution(name) for name in first if name not in {c.id for c in own}]
    if route.operations[index].kind == "measure" and any(o.fluid.startswith(tr("dry")) for o in route.operations):
        own.append(caution("hot"))
    return tuple(own)


def on_scale(readings: DepthReading, value: float) -> str:
    """A planned reading as it is looked for: in parts of an inch on a ruled inch scale, else in decimals."""
    own = Marks(
        readings.scale, readings.unit, readings.start, readings.stop, readings.stop, readings.division, None
    )
    if own.fractional:
        return own.say(value)
    return localized(f"{value:.{(3 if readings.unit == 'in' else 2)}f}")


def setup_checks(machine: Machine) -> tuple[str, ...]:
    """What is looked at on a set-up before the first cut, for this kind of machine. Source: `setup_checks.csv`."""
    kind = "lathe" if machine.is_lathe else "press" if machine.is_drill_press else "mill"
    return tuple(row.words("text") for row in rows("setup_checks") if row.text("machine") in ("all", kind))


def at_the_touch(machine: Machine, main: Marks | None, start: Length | None, again: bool) -> tuple[Caution, ...]:
    """What a touch says of ram and stop: inside its knock-out, travel that is missing, the last tool's stop.

    `main` is the scale a depth is read on for this step, `start` what was read at the touch where it is known,
    `again` whether another tool was touched off on it before.
    """
    scale = machine.depth_scale
    if scale is None or main is None:
        return ()
    found, name = [], SCALE_WORDS.get(scale.kind, "scale")
    ram = scale.kind in LIMIT_IS_READING and scale.direction != "decreases"
    if ram and start is not None and start.exact_mm < scale.start.exact_mm:
        unit_mm = MM_PER_INCH if main.unit == "in" else 1
        least = f"{main.say(float(scale.start.exact_mm / unit_mm))} {main.unit}"
        text = tr(
            "Touched before {least}, where the {name} lets the tool go: run it out that far, touch again.",
            least=least,
            name=name,
        )
        found.append(Caution("knock_out", "note", text))
    if main.missing is not None:
        short = localized(f"{main.missing:.3f}".rstrip("0").rstrip(".")) + f" {main.unit}"
        text = tr(
            "{short} of travel are missing before the stop: move the {name} up, lock it, touch again.",
            short=short,
            name=name,
        )
        found.append(Caution("travel_short", "note", text))
    if again and scale.kind not in ("readout",):
        found.append(
            Caution("stop_void", "note", tr("The stop is still the last tool's: touch off, then set it anew."))
        )
    return tuple(found)


def fluid_words(operation: Operation, machine: Machine) -> str:
    """The fluid and where it goes: work that turns flings it off, a hole that stands still holds it.

    Source: common practice.
    """
    fluid = operation.fluid
    if not fluid or fluid.startswith(("dry", "none")):
        return fluid
    if machine.is_lathe:
        return tr("{fluid}, on the tool", fluid=fluid)
    return tr("{fluid}, pooled in the hole", fluid=fluid)


def touches(operation: Operation) -> dict[str, float]:
    """The ways to find zero with a tool, and how deep its tip then is in mm; the usual one first."""
    tool, tip = operation.tool, operation.tip_mm
    if tool is None or tip is None or operation.kind in ("bore", "tap", "punch", "face"):
        return {}
    planned, point = operation.readings, tool.point_mm
    begun = planned.start_tip_mm if planned is not None else 0.0
    if operation.kind in POINTED:
        slope = point / (tool.diameter_mm / 2) if point else 0.0
        found = {"tip": 0.0, "full_diameter": point} if point else {"flat_face": 0.0}
        if planned is not None and planned.zero_on == "bottom":
            return {"bottom": begun} | (
                {how: at for how, at in found.items() if at < tip} if planned.meets else {}
            )
        if planned is not None and planned.zero_on == "edge_touch" and point:
            found = {"edge_touch": begun} | found
        elif operation.previous_mm > 0 and point:
            found = {"edge_touch": operation.previous_mm / 2 * slope} | found
        return {how: at for how, at in found.items() if at < tip}
    if operation.kind == "countersink" and begun > 0:
        return {"edge_touch": begun, "tip": 0.0}
    if operation.kind in ("center_drill", "spot_drill", "countersink"):
        return {"tip": 0.0}
    return {"flat_face": begun}


def card_of(
    route: Route,
    index: int,
    machine: Machine,
    unit: str,
    *,
    starts: Mapping[str, Length] | None = None,
    touch: str | None = None,
) -> Card:
    """The card of one operation of a route.

    `starts` are readings at the touch by kind of scale, where they are not the machine's usual; `touch` is another
    way to find zero than the usual one. A way the tool does not have is taken as the usual one.
    """
    operation = route.operations[index]
    machine = route.machine or machine
    ways = touches(operation)
    how = touch if touch in ways else next(iter(ways), "")
    at, tip = ways.get(how, 0.0), operation.tip_mm or 0.0
    clears = [peck for peck in operation.pecks_mm[:-1] if peck > at + 1e-6] if ways else []
    slow = operation.breakthrough.from_tip_mm if operation.breakthrough is not None and ways else None
    slow = slow if slow is not None and slow > at + 1e-6 else None
    ends = _stroke_ends(operation, machine, at, starts or {})
    floor = operation.kind in POINTED and operation.floor
    scales = [
        marks(scale, at, tip, [*clears, *ends[:-1]], slow, (starts or {}).get(scale.kind), ends, floor)
        for scale in machine.scales
        if ways
    ]
    rungs = _passes(operation, unit) if operation.kind == "bore" else _rungs(ways, at, clears, tip, scales, ends)
    after = next((i for i in range(index + 1, len(route.operations))), None)
    main = scales[0] if scales else None
    touched = (starts or {}).get(main.kind) if main is not None else None
    again = any(o.readings is not None for o in route.operations[:index])
    cautions = (*at_the_touch(machine, main, touched, again), *_cautions(route, index, machine))
    return Card(
        index=index,
        of=len(route.operations),
        operation=operation,
        name=role_name(route, index),
        size=size_shown(operation, unit),
        fetch=fetch_words(operation.tool),
        speed=localized(f"{operation.rpm:g}") if operation.rpm is not None else "",
        touch=how,
        touches=tuple(ways),
        meets=operation.readings.meets if operation.readings is not None and how == next(iter(ways), "") else "",
        tip_at_touch_mm=at,
        rungs=tuple(rungs),
        scales=tuple(scales),
        slow_tip_mm=slow,
        fluid=fluid_words(operation, machine),
        minutes=operation.minutes,
        stops=tuple(c for c in cautions if c.level == "stop"),
        notes=tuple(c for c in cautions if c.level != "stop"),
        next_name=_named(route, after, unit) if after is not None else "",
        next_words=_next(route, index, after, machine, unit) if after is not None else "",
        backlash=_backlash(machine, unit),
    )


def _stroke_ends(
    operation: Operation, machine: Machine, at: float, starts: Mapping[str, Length]
) -> tuple[float, ...]:
    """Where the strokes of an operation end, from where the tool touches and what the scale reads there."""
    scale, tip = machine.depth_scale, operation.tip_mm
    if scale is None or scale.room is None or tip is None or operation.readings is None:
        return ()
    if not operation.readings.strokes:
        return ()
    room, start = float(scale.room), starts.get(scale.kind)
    if start is not None:
        room -= abs(start.mm - scale.start.mm)
    return stroke_ends(at, tip, room) if room > 0 and stroke_count(tip - at, room) > 1 else ()


def _rungs(
    ways: Mapping[str, float],
    at: float,
    clears: list[float],
    tip: float,
    scales: list[Marks],
    ends: tuple[float, ...],
) -> list[Rung]:
    """Touch, clearings, ends of strokes and stop, as the main scale reads them."""
    if not ways:
        return []
    main = scales[0] if scales else None
    between = [("clear", peck) for peck in clears] + [("move_up", end) for end in ends[:-1]]
    said = [main.say(x) for x in main.pecks] if main else [""] * len(between)
    inner = sorted(zip(between, said, strict=True), key=lambda each: each[0][1])
    first = Rung("touch", at, main.say(main.start) if main else "")
    last = Rung("stop", tip, main.say(main.nearest if main.floor else main.stop) if main else "")
    return [first, *(Rung(what, deep, reading) for (what, deep), reading in inner), last]


def _passes(operation: Operation, unit: str) -> list[Rung]:
    """The sizes a bar is set to in turn, then the passes without a new setting."""
    tip = operation.tip_mm or operation.depth_mm or 0.0
    found = [Rung("pass", tip, plain(size, unit)) for size in operation.passes_mm]
    last = found[-1].reading if found else ""
    return [*found, *(Rung("spring", tip, last) for _ in range(operation.spring))]


def stroke_lines(readings: DepthReading) -> str:
    """The strokes of a depth beyond the travel, as they are read, in the scale's unit."""
    places = 3 if readings.unit == "in" else 1
    runs = []
    for stroke in readings.strokes:
        moved = stroke.move_mm / (INCH_MM if readings.unit == "in" else 1.0)
        first = tr("move up {moved}, then ", moved=localized(f"{moved:.{places}f}")) if stroke.move_mm else ""
        runs.append(
            tr(
                "{first}{start} to {stop}",
                first=first,
                start=localized(f"{stroke.start:.{places}f}"),
                stop=localized(f"{stroke.stop:.{places}f}"),
            )
        )
    return tr("{count} strokes: {runs} {readings}", count=len(runs), runs="; ".join(runs), readings=readings.unit)


def fetch_words(tool: Tool | None) -> str:
    """The tool to fetch: its name and where it lies.

    >>> fetch_words(None)
    ''
    """
    if tool is None:
        return ""
    return tr("{tool}, drawer {drawer}", tool=tool.name, drawer=tool.drawer) if tool.drawer else tool.name


def _named(route: Route, after: int, unit: str) -> str:
    """The next operation by its name and size."""
    return f"{role_name(route, after)} {size_shown(route.operations[after], unit)}".strip()


def _next(route: Route, index: int, after: int, machine: Machine, unit: str) -> str:
    """Where the next tool lies, and the speed where that changes."""
    operation = route.operations[after]
    parts = []
    now = next((o.rpm for o in reversed(route.operations[: index + 1]) if o.rpm is not None), None)
    if operation.rpm is not None and operation.rpm != now:
        parts.append(
            tr(
                "{rpm:g} rpm, change the {belt}",
                rpm=operation.rpm,
                belt=tr("belt") if machine.drive == "belt" else tr("gear"),
            )
        )
    if operation.tool is not None and operation.tool.drawer:
        parts.append(tr("drawer {drawer}", drawer=operation.tool.drawer))
    if operation.kind == "tap":
        parts.append(tr("by hand"))
    return ", ".join(part for part in parts if part)


def _backlash(machine: Machine, unit: str) -> str:
    """How to come to a reading on a screw with play."""
    if machine.backlash_mm is None or machine.backlash_mm <= 0:
        return ""
    play = from_mm(round(machine.backlash_mm, 4), 2) if unit == "mm" else None
    said = str(play) if play is not None else localized(f"{machine.backlash_mm / INCH_MM:.3f} in")
    return tr("The screw has {said} of play: come to every reading feeding in, never drawing back.", said=said)


def tip_at(card: Card, machine: Machine, start: Length | None, reading_mm: float) -> float | None:
    """Depth of the tip in mm at a reading of the linked readout; `start` is what it read at the touch.

    None where neither that nor a readout's own start is known.
    """
    scale = _readout(machine)
    if start is None and scale is None:
        return None
    begin = start.mm if start is not None else (scale.start.mm if scale is not None else 0.0)
    falls = scale is not None and scale.direction == "decreases"
    return card.tip_at_touch_mm + (begin - reading_mm if falls else reading_mm - begin)


def reading_at(card: Card, machine: Machine, start: Length | None, tip_mm: float) -> float | None:
    """What the linked readout shows with the tip at a depth, in mm: the inverse of `tip_at`."""
    zero, scale = tip_at(card, machine, start, 0.0), _readout(machine)
    if zero is None:
        return None
    return zero - tip_mm if scale is not None and scale.direction == "decreases" else tip_mm - zero


def _readout(machine: Machine) -> Scale | None:
    return next((s for s in machine.scales if s.kind == "readout"), None)
