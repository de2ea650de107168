"""Text, circles and leaders of a DXF drawing, with where they stand."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from cordwainer.core.errors import CordwainerError, InputError, StoppedError
from cordwainer.core.language import tr
from cordwainer.core.prints.datum import Span, datum
from cordwainer.core.prints.sections import Length, depths
from cordwainer.core.prints.sheets import MOST_RUNS, Circle, Sheet
from cordwainer.core.prints.words import Point, Run
from cordwainer.files.drawing import MOST_PARTS, Drawing, entities, opened, read_opened
from cordwainer.files.prints import dxf_text

FAR = 1e9
MOST_LINES, MOST_SHEETS = 60_000, 40
SAG_SHARE, MOST_POINTS = 0.01, 64
FRAME_CODES = {"j": "⌖", "b": "⊥", "f": "∥", "r": "◎", "g": "⌭", "n": "Ø", "m": ""}
TURN, LEAN_DEG = 360.0, 0.01


@dataclass
class Drawn:
    """A DXF drawing read: its sheets with their text, what its lines and leaders say, its circles.

    `lines` are polylines a sheet, in the drawing's units, and `seen` those with the lines of dimensions, to be
    looked at; `leaders` are tips with where their text begins; `depths` what sections say of blind holes. `zero`
    is where the dimensions of the model start from, None where they do not say; `damaged` parts made no sense.
    """

    drawing: Drawing
    sheets: list[Sheet] = field(default_factory=list)
    lines: list[list[list[Point]]] = field(default_factory=list)
    seen: list[list[list[Point]]] = field(default_factory=list)
    leaders: list[list[tuple[Point, Point]]] = field(default_factory=list)
    circles: list[list[Circle]] = field(default_factory=list)
    depths: list[list[tuple[Point, str]]] = field(default_factory=list)
    zero: Point | None = None
    damaged: int = 0


def read_dxf(path: Path, told: Callable[[int, int], bool] = lambda done, of: False) -> Drawn:
    """A DXF drawing with its annotations. Raises `InputError` and `StoppedError`."""
    document = opened(path)
    try:
        drawn = Drawn(read_opened(path, document, told))
        spaces = [("Model", document.modelspace())]
        spaces += [(layout.name, layout) for layout in document.layouts if layout.name != "Model"][:MOST_SHEETS]
        for name, space in spaces:
            _take_space(drawn, name, space, told)
        return drawn
    except CordwainerError:
        raise
    except Exception as bad:
        raise InputError(
            "", tr("{path} is damaged: its parts do not fit ({name})", path=path.name, name=type(bad).__name__)
        ) from None


def _take_space(drawn: Drawn, name: str, space: Any, told: Callable[[int, int], bool]) -> None:
    """One space as a sheet; a layout with nothing on it is none."""
    hand = _Hand()
    for done, entity in enumerate(_all(space)):
        if done % 256 == 0 and told(done, MOST_PARTS):
            raise StoppedError("stopped")
        if done > MOST_PARTS:
            break
        try:
            hand.take(entity)
        except Exception:  # a part the library cannot make sense of says nothing
            hand.damaged += 1
    model = name == "Model"
    if not model and not hand.runs:
        return
    circles = [Circle(c.x, c.y, c.diameter, c.layer) for c in drawn.drawing.circles] if model else []
    if model:
        drawn.zero = datum(hand.ordinates, hand.spans, circles)
    left, low, right, top = _extent(hand, circles)
    runs = tuple(hand.runs[:MOST_RUNS])
    drawn.sheets.append(
        Sheet(len(drawn.sheets), right - left, top - low, runs, left, low, max(len(hand.runs) - MOST_RUNS, 0))
    )
    drawn.damaged += hand.damaged
    drawn.depths.append(depths(hand.lengths, hand.lines))
    drawn.lines.append(hand.lines)
    drawn.seen.append(hand.lines + hand.dimensioned)
    drawn.leaders.append(hand.leaders)
    drawn.circles.append(circles)


def _all(space: Any) -> Iterator[Any]:
    """Every part of a space as it comes to lie there, the texts that blocks were given among them."""
    for entity in space:
        if entity.dxftype() == "INSERT":
            yield from entity.attribs
    yield from entities(space)


def _extent(hand: _Hand, circles: list[Circle]) -> tuple[float, float, float, float]:
    xs = [p[0] for line in hand.lines for p in line] + [run.x for run in hand.runs]
    ys = [p[1] for line in hand.lines for p in line] + [run.y for run in hand.runs]
    for circle in circles:
        xs += [circle.x - circle.diameter / 2, circle.x + circle.diameter / 2]
        ys += [circle.y - circle.diameter / 2, circle.y + circle.diameter / 2]
    for run in hand.runs:
        xs.append(run.x + run.width * math.cos(math.radians(run.angle_deg)))
        ys.append(run.y + run.height)
    if not xs:
        return 0.0, 0.0, 1.0, 1.0
    wide = max(max(xs) - min(xs), max(ys) - min(ys), 1e-6)
    air = 0.03 * wide
    return min(xs) - air, min(ys) - air, max(xs) + air, max(ys) + air


def _near(*values: float) -> bool:
    """Whether these are places of a drawing at all."""
    return all(abs(value) < FAR for value in values)


class _Hand:
    """Takes the parts of a space one by one."""

    def __init__(self) -> None:
        self.runs: list[Run] = []
        self.lines: list[list[Point]] = []
        self.leaders: list[tuple[Point, Point]] = []
        self.ordinates: list[Point] = []
        self.spans: list[Span] = []
        self.lengths: list[Length] = []
        self.dimensioned: list[list[Point]] = []
        self.damaged = 0

    def take(self, entity: Any) -> None:
        """One part."""
        kind = entity.dxftype()
        if kind in ("TEXT", "ATTRIB"):
            if kind == "ATTRIB" and entity.is_invisible:
                return
            run = dxf_text.text_run(entity)
            self.runs += [run] if run is not None else []
        elif kind == "MTEXT":
            self._note(entity)
        elif kind == "DIMENSION":
            self._dimension(entity)
        elif kind == "LEADER":
            points = [(p[0], p[1]) for p in entity.vertices]
            self._lead(points)
        elif kind in ("MULTILEADER", "MLEADER"):
            self._multileader(entity)
        elif kind == "TOLERANCE":
            self._frame(entity)
        else:
            self._line(entity)

    def _note(self, entity: Any) -> None:
        height = abs(float(entity.dxf.get("char_height", dxf_text.DEFAULT_HEIGHT))) or dxf_text.DEFAULT_HEIGHT
        at = entity.dxf.insert
        lines = dxf_text.note_lines(entity.text, dxf_text.font_of(entity))
        self.runs += dxf_text.note_runs(
            lines, at.x, at.y, height, entity.get_rotation(), int(entity.dxf.get("attachment_point", 1))
        )

    def _dimension(self, entity: Any) -> None:
        """A dimension's words as drawn, else as its style would draw them; a diameter's center is its tip."""
        span = self._start_of(entity)
        lines = dxf_text.dimension_lines(entity)
        if not lines:
            return
        style = entity.override()
        scale = float(style.get("dimscale", 1) or 1)
        height = abs(float(style.get("dimtxt", dxf_text.DEFAULT_HEIGHT) or 0)) * scale
        at = entity.dxf.get("text_midpoint") or entity.dxf.get("defpoint")
        turned = float(entity.dxf.get("text_rotation", 0.0))
        if span is not None:
            words, measured = " ".join(lines), dxf_text.measured(entity)
            self.lengths.append(Length(span, words, (at.x, at.y), measured))
        drawn = self._drawn(entity)
        height = height or dxf_text.DEFAULT_HEIGHT
        self.runs += drawn or dxf_text.note_runs(lines, at.x, at.y, height, turned, 5)
        if entity.dimtype == dxf_text.DIAMETER:
            one, other = entity.dxf.get("defpoint"), entity.dxf.get("defpoint4")
            if one is not None and other is not None:
                self.leaders.append((((one.x + other.x) / 2, (one.y + other.y) / 2), (at.x, at.y)))

    def _start_of(self, entity: Any) -> Span | None:
        """Where an ordinate is counted from, or the two ends of a length along x or y, which are given back."""
        if entity.dimtype == dxf_text.ORDINATE:
            zero = entity.dxf.defpoint
            self.ordinates += [(zero.x, zero.y)] if _near(zero.x, zero.y) else []
        if entity.dimtype not in (dxf_text.LINEAR, dxf_text.ALIGNED):
            return None
        one, other = entity.dxf.get("defpoint2"), entity.dxf.get("defpoint3")
        if one is None or other is None or not _near(one.x, one.y, other.x, other.y):
            return None
        leans = float(entity.dxf.get("angle", 0.0))
        if entity.dimtype == dxf_text.ALIGNED:
            leans = math.degrees(math.atan2(other.y - one.y, other.x - one.x))
        quarter = leans % (TURN / 2)
        if min(abs(quarter - square) for square in (0.0, TURN / 4, TURN / 2)) < LEAN_DEG:
            span = Span((one.x, one.y), (other.x, other.y), abs(quarter - TURN / 4) > LEAN_DEG)
            self.spans.append(span)
            return span
        return None

    def _drawn(self, entity: Any) -> list[Run]:
        """The text a dimension is drawn with, from its own block; its lines are kept to be looked at.

        No text where its style sets a tolerance in a file that keeps places: it may be drawn in several pieces.
        """
        block, inner = entity.get_geometry_block(), _Hand()
        for part in block or ():
            if part.dxftype() in ("TEXT", "MTEXT", "LINE", "ARC", "LWPOLYLINE"):
                inner.take(part)
        self.dimensioned += inner.lines[: max(MOST_LINES - len(self.dimensioned), 0)]
        style = entity.override()
        tolerance = style.get("dimtol", 0) or style.get("dimlim", 0)
        return [] if tolerance and entity.doc.dxfversion > "AC1009" else inner.runs

    def _lead(self, points: list[Point]) -> None:
        if len(points) >= 2:
            self.leaders.append((points[0], points[-1]))
            self.lines.append(points)

    def _multileader(self, entity: Any) -> None:
        context = entity.context
        note = context.mtext
        if note is not None:
            height = abs(float(context.char_height or dxf_text.DEFAULT_HEIGHT))
            lines = dxf_text.note_lines(str(note.default_content))
            turned = math.degrees(float(note.rotation or 0.0))
            self.runs += dxf_text.note_runs(
                lines, note.insert.x, note.insert.y, height, turned, int(note.alignment or 1)
            )
        for leader in context.leaders:
            last = leader.last_leader_point
            for line in leader.lines:
                points = [(p.x, p.y) for p in line.vertices]
                if points:
                    self.leaders.append((points[0], (last.x, last.y)))
                    self.lines.append([*points, (last.x, last.y)])

    def _frame(self, entity: Any) -> None:
        """A frame of a geometric tolerance: its cells one after the other."""
        from ezdxf.tools.text import fast_plain_mtext

        text = str(entity.dxf.get("content", ""))
        for code, sign in FRAME_CODES.items():
            text = text.replace(f"{{\\Fgdt;{code}}}", sign)
        words = dxf_text.said(str(fast_plain_mtext(text.replace("%%v", " "))), "")
        at, height = entity.dxf.insert, dxf_text.DEFAULT_HEIGHT
        if words.strip():
            self.runs.append(Run(words, at.x, at.y - height / 2, dxf_text.width_of(words, height), height))

    def _line(self, entity: Any) -> None:
        """Whatever is drawn by lines, as points; text and fills are none."""
        if len(self.lines) >= MOST_LINES or entity.dxftype() in ("HATCH", "POINT", "IMAGE", "INSERT", "SOLID"):
            return
        if entity.dxftype() == "LINE":
            a, b = entity.dxf.start, entity.dxf.end
            self._keep([(a.x, a.y), (b.x, b.y)])
            return
        from ezdxf.path import make_path

        path = make_path(entity)
        size = max((abs(v) for p in path.control_vertices() for v in (p.x, p.y)), default=1.0)
        if not size < FAR:
            return
        box = [*path.control_vertices()]
        wide = max(
            max(p.x for p in box) - min(p.x for p in box), max(p.y for p in box) - min(p.y for p in box), 1e-9
        )
        points = [(p.x, p.y) for p in path.flattening(SAG_SHARE * wide, segments=8)]
        self._keep(points[: MOST_POINTS * 16])

    def _keep(self, points: list[Point]) -> None:
        if len(points) >= 2 and all(_near(*p) for p in points):
            self.lines.append(points)
