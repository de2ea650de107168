"""The shop sheet: a page a hole with section, sequence and readings, blanks to fill in, cautions; PDF or text."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from cordwainer import __version__
from cordwainer.core.errors import InputError
from cordwainer.core.language import inner, localized, tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.planning.doubt import doubt_of, headline
from cordwainer.core.planning.machine.card import TOUCHES, Card, card_of, stroke_lines
from cordwainer.core.planning.words.names import limits_pair, print_size
from cordwainer.core.planning.words.operation import HolePlan, Route
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.shop.machine import Machine
from cordwainer.core.tables import by_key
from cordwainer.files.job import Job
from cordwainer.files.order_page import batch_for, order_page
from cordwainer.files.paper import fonts
from cordwainer.files.paper import mm as _mm
from cordwainer.files.paper import words as _words
from cordwainer.files.schedule import Batch
from cordwainer.files.section_drawing import Shape, section, to_svg
from cordwainer.files.shown import shown

PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
MARGIN_MM, FOOT_MM = 14.0, 16.0
SECTION_MM = 50.0
COLUMNS_MM = (7.0, 45.0, 14.0, 16.0, 38.0, 24.0, 38.0)
HEADS = (
    "",
    tr("Step and tool"),
    tr("rpm"),
    tr("feed"),
    tr("Touch → stop"),
    tr("turns, fluid"),
    tr("Done: rpm, stop, minutes"),
)
MOST_PECKS, MOST_PASSES, MOST_FETCH = 6, 24, 160


def fit_paper(name: str) -> tuple[float, float]:
    """Width and height of a paper in mm. Raises `InputError` for one that is not known."""
    found = PAPERS.get(name.lower())
    if found is None:
        raise InputError(
            "paper", tr("'{name}' is not a paper; write one of {papers}", name=name, papers=", ".join(PAPERS))
        )
    return found


def sheet_pdf(
    job: Job,
    plans: Sequence[HolePlan],
    machine: Machine,
    paper: str = "a4",
    unit: str = "",
    batch: Batch | None = None,
) -> bytes:
    """The whole job's sheet as a PDF file; `unit` is the job's own where none is given.

    `batch` puts the order of the whole batch on a page in front.
    """
    from reportlab.platypus import PageBreak, SimpleDocTemplate

    wide, high = (mm * _mm() for mm in fit_paper(paper))
    held = io.BytesIO()
    name = job.file.name or "Untitled"
    document = SimpleDocTemplate(
        held,
        pagesize=(wide, high),
        leftMargin=MARGIN_MM * _mm(),
        rightMargin=MARGIN_MM * _mm(),
        topMargin=12 * _mm(),
        bottomMargin=(FOOT_MM + 5) * _mm(),
        title=tr("{name}: shop sheet", name=name),
        author="Cordwainer",
        subject=tr("Drill sequences with readings"),
    )
    fonts()
    unit = unit or job.file.units
    story: list[Any] = order_page(batch, document.width) if batch is not None else []
    for number, plan in enumerate(plans):
        if number or batch is not None:
            story.append(PageBreak())
        story += _page(job, plan, machine, unit, document.width)

    def foot(canvas: Any, _document: Any) -> None:
        _foot(canvas, name, wide)

    document.build(story, onFirstPage=foot, onLaterPages=foot)
    return held.getvalue()


def sheet_or_section(path: Path, job: Job, plans: Sequence[HolePlan], machine: Machine, paper: str) -> bytes:
    """The sheet, or where the name ends in ``.svg`` the section of the job's only hole.

    Raises `InputError` where there is nothing to draw.
    """
    if path.suffix.lower() != ".svg":
        return sheet_pdf(job, plans, machine, paper, batch=batch_for(job, plans, machine))
    if len(plans) != 1:
        raise InputError("hole", tr("a section shows one hole; name it with --hole"))
    return section_svg(plans[0], plans[0].recommended, job.file.units).encode()


def section_svg(plan: HolePlan, route: Route | None, unit: str) -> str:
    """One hole in section as an SVG file."""
    wide, high = 180.0, 90.0
    return to_svg(
        section(plan.hole, route, unit, wide, high), wide, high, f"{plan.hole.id} {plan.hole.name}".strip()
    )


def sequence_text(plan: HolePlan, route: Route, machine: Machine, unit: str) -> str:
    """A hole's sequence as plain text, a line a step, for pasting."""
    hole = plan.hole
    upper, lower = limits_pair(hole, unit)
    size = " ".join(part for part in (print_size(hole, unit), upper, lower) if part)
    lines = [
        f"{hole.id} {hole.name}".strip() + tr(": {size}, on the {machine}", size=size, machine=inner(machine.name))
    ]
    for index in range(len(route.operations)):
        card = card_of(route, index, machine, unit)
        parts = [card.fetch or card.name]
        if card.speed:
            parts.append(tr("{speed} rpm", speed=card.speed))
        if card.start:
            parts.append(
                tr(
                    "{main} {start} to {stop}",
                    main=card.main.words if card.main else "",
                    start=card.start,
                    stop=card.stop,
                )
            )
        if card.operation.passes_mm:
            parts.append(tr("set to ") + ", ".join(rung.reading for rung in card.rungs if rung.what == "pass"))
        lines.append(f"{index + 1}. {card.name}: " + ", ".join(parts))
    return "\n".join(lines) + "\n"


# -- parts of a page ---------------------------------------------------------------------------------


def _page(job: Job, plan: HolePlan, machine: Machine, unit: str, wide: float) -> list[Any]:
    """One hole: head, section, sequence, readings to take, cautions."""
    hole, route = plan.hole, plan.recommended
    found: list[Any] = [_head(job, plan, machine, unit, wide)]
    if route is None:
        found.append(_words(tr("No route with this shop and machine:"), 11, True, space=10))
        found += [_words(f"\u2022 {why}", 10, space=4) for why in plan.why_not]
        return found
    cards = [card_of(route, i, machine, unit) for i in range(len(route.operations))]
    found.append(_Drawing(section(hole, route, unit, wide / _mm(), SECTION_MM), wide, SECTION_MM * _mm()))
    found.append(_sequence(cards, unit, wide))
    found.append(_measured(unit, wide))
    found.append(_cautions(cards, route, wide))
    return found


def _head(job: Job, plan: HolePlan, machine: Machine, unit: str, wide: float) -> Any:
    from reportlab.platypus import Table, TableStyle

    hole, route = plan.hole, plan.recommended
    upper, lower = limits_pair(hole, unit)
    size = "  ".join(part for part in (print_size(hole, unit), upper, lower) if part)
    number = (
        tr("{count} of it in each part, {quantity} parts", count=hole.count, quantity=job.file.quantity)
        if hole.count > 1
        else ""
    )
    number = number or (
        tr("{quantity} parts", quantity=job.file.quantity) if job.file.quantity > 1 else tr("one part")
    )
    told = chance_words(route.chance_all) if route is not None and route.chance_all is not None else ""
    chance = tr("{told} in 100 in tolerance", told=told) if told else ""
    minutes = tr("about {minutes:.0f} min a hole", minutes=route.minutes) if route else ""
    about = ", ".join(part for part in (job.material.name, machine.name, number, minutes, chance) if part)
    left = [
        _words(f"{hole.id} {hole.name}".strip(), 17, True),
        _words(job.file.name or "Untitled", 10, space=1),
        _words(about, 8.5, color="#333333", space=2),
    ]
    doubt = doubt_of(route) if route is not None else None
    if route is not None and doubt is not None:
        left.append(_words(f"! {headline(route) or doubt.text}", 8.5, True, space=3))
    right = [
        _words(size, 15, True),
        _words("Date ______________  By ______________", 8.5, color="#333333", space=8),
    ]
    table = Table([[left, right]], colWidths=[wide * 0.62, wide * 0.38])
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                ("LINEBELOW", (0, 0), (-1, -1), 1.2, "#000000"),
            ]
        )
    )
    return table


def _sequence(cards: Sequence[Card], unit: str, wide: float) -> Any:
    """The table of steps, with a blank for what was really done."""
    from reportlab.platypus import Table, TableStyle

    rows = [[_words(head, 7.5, True, "#333333") for head in HEADS]]
    for card in cards:
        rows.append([*_row(card, unit), ""])
    share = wide / sum(COLUMNS_MM)
    table = Table(rows, colWidths=[share * column for column in COLUMNS_MM], repeatRows=1, splitInRow=1)
    last = len(COLUMNS_MM) - 1
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, "#777777"),
                ("LINEABOVE", (0, 0), (-1, 0), 0.4, "#777777"),
                ("BACKGROUND", (0, 0), (-1, 0), "#e8e8e8"),
                ("LINEBEFORE", (last, 0), (last, -1), 0.8, "#000000"),
                ("LEFTPADDING", (0, 0), (-1, -1), 3),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
                ("TOPPADDING", (0, 0), (-1, -1), 2.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
            ]
        )
    )
    return table


def _row(card: Card, unit: str) -> list[Any]:
    o = card.operation
    tool = [_words(card.name, 8.5, True), _words(shown(card.fetch or "", MOST_FETCH), 7.5)]
    warned = [w.text for w in o.warnings]
    tool += [_words(f"! {text}", 7) for text in warned[:2]]
    speed = _words(card.speed, 11, True)
    feed = ""
    if o.feed_mm_per_rev is not None:
        figure = (
            localized(f"{o.feed_mm_per_rev:.2f}")
            if unit == "mm"
            else localized(f"{o.feed_mm_per_rev / INCH_MM:.4f}").lstrip("0")
        )
        feed = tr(
            "{figure} {unit}\n{power}",
            figure=figure,
            unit=unit,
            power=tr("power") if o.feed_source == "power" else tr("by hand"),
        )
    read: list[Any] = []
    if card.start:
        read.append(_words(f"{card.start} → {card.stop}", 11, True))
        touched = tr("touching {meets}", meets=card.meets) if card.meets else TOUCHES[card.touch][0]
        read.append(_words(f"{card.main.words if card.main else ''}, {touched}", 7))
        if o.readings is not None and o.readings.strokes:
            read.append(_words(stroke_lines(o.readings), 7))
        clears = [rung.reading for rung in card.rungs if rung.what == "clear"]
        if clears:
            more = tr(" … {count} times", count=len(clears)) if len(clears) > MOST_PECKS else ""
            read.append(_words(tr("clear at ") + ", ".join(clears[:MOST_PECKS]) + more, 7))
        if card.main is not None and card.main.slow is not None:
            read.append(_words(tr("half feed from {slow}", slow=card.main.say(card.main.slow)), 7))
    elif card.rungs:
        passes = [rung.reading for rung in card.rungs if rung.what == "pass"]
        springs, many = sum(rung.what == "spring" for rung in card.rungs), len(passes) > MOST_PASSES
        few = [*passes[: MOST_PASSES - 2], "…", passes[-1]] if many else passes
        read.append(_words(", ".join(few), 10, True))
        read.append(
            _words(
                (tr("{count} sizes to set, all on the screen", count=len(passes)) if many else tr("sizes to set"))
                + (tr(", then {springs} more, not set", springs=springs) if springs else ""),
                7,
            )
        )
    turns: list[Any] = []
    wheel = card.wheel
    if wheel is not None and wheel.turns is not None:
        turns = [_words(localized(f"{wheel.turns} + {wheel.divisions:g}"), 10, True), _words(wheel.words, 7)]
    elif o.turns is not None:
        turns = [_words(localized(f"{o.turns:.1f}"), 10, True), _words(tr("of the tap, by hand"), 7)]
    if card.fluid and o.rpm is not None:
        turns.append(_words(card.fluid, 7))
    return [_words(str(card.index + 1), 9, True), tool, speed, _words(feed, 7.5), read, turns]


def _measured(unit: str, wide: float) -> Any:
    """Blanks for what was measured: three depths, two directions."""
    from reportlab.platypus import KeepTogether, Spacer, Table, TableStyle

    heads = ("", "mouth", "middle", tr("far end"), tr("gauge, temperature"), tr("seen, heard, felt"))
    rows: list[list[Any]] = [[_words(head, 7.5, True, "#333333") for head in heads]]
    for way in (tr("one way, {unit}", unit=unit), tr("a quarter on")):
        rows.append([_words(way, 7.5, False, "#333333"), *[""] * 5])
    shares = (0.13, 0.14, 0.14, 0.14, 0.18, 0.27)
    table = Table(rows, colWidths=[wide * share for share in shares], rowHeights=[13, 19, 19])
    table.setStyle(
        TableStyle(
            [
                ("GRID", (0, 0), (-1, -1), 0.4, "#777777"),
                ("SPAN", (4, 1), (4, 2)),
                ("SPAN", (5, 1), (5, 2)),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("LEFTPADDING", (0, 0), (-1, -1), 3),
            ]
        )
    )
    return KeepTogether([Spacer(1, 7), table])


def _cautions(cards: Sequence[Card], route: Route, wide: float) -> Any:
    """Every caution of the hole once, those that stop first, each with the steps it belongs to."""
    found: dict[str, tuple[str, str, list[int]]] = {}
    for card in cards:
        for caution in (*card.stops, *card.notes):
            found.setdefault(caution.id, (caution.level, caution.text, []))[2].append(card.index + 1)
    ordered = sorted(found.values(), key=lambda entry: (entry[0] != "stop", entry[2][0]))
    lines = []
    for level, text, steps in ordered:
        where = tr("every step") if len(steps) == len(cards) else tr("step {map}", map=", ".join(map(str, steps)))
        word = tr("Stop and read: ") if level == "stop" else ""
        lines.append(_words(f"{word}{text} ({where})", 7, level == "stop", space=1))
    backlash = next((card.backlash for card in cards if card.backlash), "")
    if backlash:
        lines.append(_words(backlash, 7.5, space=1.5))
    if route.missing_tools:
        lines.append(_words(tr("To get: ") + ", ".join(route.missing_tools), 8, True, space=4))
    from reportlab.platypus import Table, TableStyle

    half = (len(lines) + 1) // 2
    pairs = [[left, lines[half + k] if half + k < len(lines) else ""] for k, left in enumerate(lines[:half])]
    table = Table([[_words("Cautions", 9, True), ""], *pairs], colWidths=[wide / 2] * 2)
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, 0), 8),
                ("TOPPADDING", (0, 1), (-1, -1), 0.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 0.5),
            ]
        )
    )
    return table


def _foot(canvas: Any, name: str, wide: float) -> None:
    """The standing caution and what made the sheet, at the foot of every page."""
    canvas.saveState()
    left, width = MARGIN_MM * _mm(), wide - 2 * MARGIN_MM * _mm()
    canvas.setLineWidth(0.4)
    canvas.line(left, (FOOT_MM + 3) * _mm(), left + width, (FOOT_MM + 3) * _mm())
    standing = _words(by_key("cautions", "id")["standing"].words("text"), 7)
    _, tall = standing.wrap(width, 60)
    standing.drawOn(canvas, left, (FOOT_MM + 2) * _mm() - tall)
    canvas.setFont("B612", 7)
    canvas.drawString(
        left, 8 * _mm(), tr("{name}, made with Cordwainer {version}", name=name, version=__version__)
    )
    canvas.drawRightString(
        left + width, 8 * _mm(), tr("page {getpagenumber}", getpagenumber=canvas.getPageNumber())
    )
    canvas.restoreState()


class _Lazy:
    """The drawing's class, made when the PDF writer is first there."""

    made: type[Any] | None = None


def _Drawing(shapes: Sequence[Shape], wide: float, high: float) -> Any:
    """Shapes as something that flows on a page; sizes in points."""
    if _Lazy.made is None:
        from reportlab.platypus import Flowable

        class Section(Flowable):  # type: ignore[misc]
            """Shapes, upper left corner at 0, 0."""

            def __init__(self, shapes: Sequence[Shape], wide: float, high: float) -> None:
                super().__init__()
                self.shapes, self.width, self.height = shapes, wide, high

            def draw(self) -> None:
                for shape in self.shapes:
                    _draw(self.canv, shape, self.height)

        _Lazy.made = Section
    return _Lazy.made(shapes, wide, high)


def _draw(canvas: Any, shape: Shape, high: float) -> None:
    """One shape on the PDF's canvas."""
    mm = _mm()
    points = [(x * mm, high - y * mm) for x, y in shape.points]
    if shape.words:
        canvas.setFillGray(0)
        canvas.setFont("B612-Bold" if shape.bold else "B612", shape.size_mm * mm)
        {"start": canvas.drawString, "middle": canvas.drawCentredString}[shape.anchor](*points[0], shape.words)
        return
    canvas.saveState()
    if shape.fill is not None:
        canvas.setFillGray(shape.fill)
    if shape.ink is not None:
        canvas.setStrokeGray(shape.ink)
        canvas.setLineWidth(shape.wide_mm * mm)
    if shape.dash_mm:
        canvas.setDash([d * mm for d in shape.dash_mm])
    fill, stroke = int(shape.fill is not None), int(shape.ink is not None)
    if shape.round_mm:
        canvas.circle(*points[0], shape.round_mm * mm, fill=fill, stroke=stroke)
    else:
        way = canvas.beginPath()
        way.moveTo(*points[0])
        for point in points[1:]:
            way.lineTo(*point)
        if shape.closed:
            way.close()
        canvas.drawPath(way, fill=fill, stroke=stroke)
    canvas.restoreState()
