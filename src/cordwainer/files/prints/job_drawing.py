"""A job as a drawing of its own: part from above, hole table, every hole in section; as DXF layers or SVG."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import HolePlan
from cordwainer.files.callout_line import line_of
from cordwainer.files.job import Job
from cordwainer.files.section_drawing import Shape, section, to_svg
from cordwainer.files.shown import shown

PART, HOLES, TAGS, TABLE, SECTION, HATCH, WORDS = (
    "PART", "HOLES", "TAGS", "HOLE_TABLE", "SECTIONS", "SECTION_HATCH", "SECTION_TEXT",
)  # fmt: skip
COLORS = {PART: 7, HOLES: 1, TAGS: 5, TABLE: 7, SECTION: 7, HATCH: 8, WORDS: 7}
AIR, ROW, TEXT = 20.0, 6.0, 3.2
WIDE, HIGH, ACROSS = 150.0, 80.0, 3
COLUMNS = ((0.0, "Hole"), (16.0, tr("As printed")), (120.0, "x"), (150.0, "y"))
MOST_PLACES = 5000


@dataclass(frozen=True)
class Layered:
    """Something drawn, and the layer it is on."""

    layer: str
    shape: Shape


@dataclass(frozen=True)
class JobDrawing:
    """A drawing in mm from its upper left corner."""

    parts: tuple[Layered, ...]
    wide: float
    high: float


def job_drawing(job: Job, plans: Sequence[HolePlan]) -> JobDrawing:
    """The job drawn: the part and its holes where they stand, the table, the sections. Raises `InputError`."""
    if not job.holes:
        raise InputError("", tr("there is no hole to be drawn"))
    if sum(len(hole.places_mm) for hole in job.holes) > MOST_PLACES:
        raise InputError("", tr("more than {most_places} places; draw the job in pieces", most_places=MOST_PLACES))
    above, wide, high = _from_above(job)
    table, table_high = _table(job, wide + 2 * AIR if above else AIR)
    parts = [*above, *table]
    top = max(high if above else 0.0, table_high) + 2 * AIR
    routes = {plan.hole.id: plan.recommended for plan in plans}
    for number, hole in enumerate(job.holes):
        x, y = AIR + (number % ACROSS) * (WIDE + AIR), top + (number // ACROSS) * (HIGH + AIR)
        head = Shape(((x, y),), f"{hole.id} {shown(hole.name, 40)}".strip(), 4.0, True)
        parts.append(Layered(WORDS, head))
        for shape in section(hole, routes.get(hole.id), job.file.units, WIDE, HIGH):
            layer = WORDS if shape.words else (HATCH if shape.ink == 0.62 else SECTION)
            parts.append(Layered(layer, _moved(shape, x, y)))
    down = top + (1 + (len(job.holes) - 1) // ACROSS) * (HIGH + AIR)
    across = max(wide + 2 * AIR + 190 if above else 220, min(len(job.holes), ACROSS) * (WIDE + AIR) + AIR)
    return JobDrawing(tuple(parts), across, down)


def _moved(shape: Shape, x: float, y: float) -> Shape:
    return replace(shape, points=tuple((px + x, py + y) for px, py in shape.points))


def _from_above(job: Job) -> tuple[list[Layered], float, float]:
    """The part's outline and every hole at its place, y down on the paper; nothing where no hole has a place."""
    places = [(hole, place) for hole in job.holes for place in hole.places_mm]
    if not places:
        return [], 0.0, 0.0
    part = job.file.part
    xs, ys = [p[0] for _, p in places], [p[1] for _, p in places]
    reach = max(hole.across_mm for hole, _ in places) / 2 + 2
    left, low = (0.0, 0.0) if part is not None else (min(xs) - reach, min(ys) - reach)
    right = part.width.mm if part is not None else max(xs) + reach
    high = part.height.mm if part is not None else max(ys) + reach

    def on(x: float, y: float) -> tuple[float, float]:
        return AIR + x - left, AIR + high - y

    parts = []
    if part is not None:
        corners = (on(left, low), on(right, low), on(right, high), on(left, high))
        parts.append(Layered(PART, Shape(corners, closed=True, wide_mm=0.5)))
    for hole, (x, y) in places:
        parts += [Layered(HOLES, Shape((on(x, y),), round_mm=r, wide_mm=0.35)) for r in _radii(hole)]
        arm = hole.across_mm / 2 + 1.5
        parts += [
            Layered(HOLES, Shape((on(x - dx, y - dy), on(x + dx, y + dy)), wide_mm=0.13))
            for dx, dy in ((arm, 0.0), (0.0, arm))
        ]
        at = on(x + hole.across_mm / 2 + 0.8, y + hole.across_mm / 2)
        parts.append(Layered(TAGS, Shape((at,), hole.id, 3.0, True)))
    return parts, right - left + AIR, high - low + AIR


def _radii(hole: Hole) -> list[float]:
    mouths = (hole.mouth.counterbore, hole.mouth.countersink)
    return [hole.nominal_mm / 2, *(m.mm / 2 for m in mouths if m is not None)]


def _table(job: Job, x: float) -> tuple[list[Layered], float]:
    """A row a place: the hole, how it is printed, where it stands."""
    unit = job.file.units
    rows: list[tuple[str, ...]] = []
    for hole, entry in zip(job.holes, job.file.holes, strict=True):
        line = line_of(entry)
        several = len(hole.places_mm) > 1
        for number, place in enumerate(hole.places_mm or (None,), 1):
            name = f"{hole.id}.{number}" if several else hole.id
            where = ("", "") if place is None else tuple(f"{in_unit(z, unit, 3, 4)} {unit}" for z in place)
            rows.append((name, line if number == 1 else "", *where))
    shapes = [Shape(((x + at, AIR),), head, TEXT, True) for at, head in COLUMNS]
    for number, row in enumerate(rows, 1):
        y = AIR + number * ROW
        shapes.append(Shape(((x, y - ROW + 1.5), (x + 180.0, y - ROW + 1.5)), wide_mm=0.13))
        shapes += [Shape(((x + at, y),), text, TEXT) for (at, _), text in zip(COLUMNS, row, strict=True) if text]
    return [Layered(TABLE, shape) for shape in shapes], AIR + len(rows) * ROW


def as_svg(drawing: JobDrawing, title: str) -> str:
    """The drawing as an SVG file, a millimeter a unit."""
    return to_svg([part.shape for part in drawing.parts], drawing.wide, drawing.high, title)


def as_dxf(drawing: JobDrawing) -> str:
    """The drawing as a DXF file in mm, y up, each kind of thing on a layer of its own."""
    from ezdxf.document import Drawing
    from ezdxf.enums import TextEntityAlignment

    document = Drawing.new("R2010")
    document.header["$INSUNITS"] = 4
    for name, color in COLORS.items():
        document.layers.add(name, color=color)
    space = document.modelspace()
    for part in drawing.parts:
        shape, own = part.shape, {"layer": part.layer}
        points = [(x, drawing.high - y) for x, y in shape.points]
        if shape.words:
            text = space.add_text(shape.words.replace("Ø", "%%c"), height=0.72 * shape.size_mm, dxfattribs=own)
            align = {"middle": "BOTTOM_CENTER", "end": "BOTTOM_RIGHT"}.get(shape.anchor, "LEFT")

            text.set_placement(points[0], align=TextEntityAlignment[align])
        elif shape.round_mm:
            space.add_circle(points[0], shape.round_mm, dxfattribs=own)
        elif shape.ink is not None and len(points) > 1:
            space.add_lwpolyline(points, close=shape.closed, dxfattribs=own)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()
