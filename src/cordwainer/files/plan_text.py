"""A plan as text, in the job's own unit: what the command prints and what is read aloud before it is signed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import inch_text, mm_text
from cordwainer.core.planning.doubt import UNLIKELY, doubt_of, headline
from cordwainer.core.planning.words.names import role_name
from cordwainer.core.planning.words.operation import DepthReading, HolePlan, Operation, Route
from cordwainer.core.planning.words.sentences import chance_words, feed_words, say
from cordwainer.core.shop.machine import SCALE_WORDS


def plan_lines(plans: Sequence[HolePlan]) -> list[str]:
    """The routes to every hole, each with its steps, their reasons, what spoils them and what to mind."""
    return [line for plan in plans for line in _hole_lines(plan)]


def _hole_lines(plan: HolePlan) -> Iterator[str]:
    hole = plan.hole
    named = f"{hole.id} {hole.name}".strip()
    feature = hole.feature
    what = feature.thread.name if feature.thread is not None else f"{hole.diameter} {hole.tolerance}".strip()
    yield tr(
        "{named}: {what}, {depth} {through}",
        named=named,
        what=what,
        depth=hole.depth,
        through=tr("through") if hole.through else tr("deep"),
    )
    for reason in plan.why_not:
        yield tr("  no route: {reason}", reason=reason)
    to_get = plan.to_get
    for route in (*plan.routes, *((to_get,) if to_get is not None else ())):
        yield from _route_lines(route, hole.unit)


def _route_lines(route: Route, unit: str) -> Iterator[str]:
    chance = route.chance_all if route.chance_all is not None else route.chance
    told = (
        tr("nothing the model judges")
        if chance is None
        else tr("chance in tolerance {chance} in 100", chance=chance_words(chance))
    )
    first, doubt = headline(route), doubt_of(route)
    if first:
        yield f"  {first}"
    yield f"  {route.label}: {route.minutes:.1f} min, {told}"
    if doubt is not None and not first:
        yield tr("    unlikely: {doubt}", doubt=doubt.text)
    for entry in route.instead:
        near = entry.nearest.name if entry.nearest is not None else entry.why_not
        sure = (
            tr(", {chance} in 100 with it", chance=chance_words(entry.chance)) if entry.chance is not None else ""
        )
        yield tr(
            "    to get: {missing}; here instead: {near}{sure}", missing=entry.missing.name, near=near, sure=sure
        )
    for index, operation in enumerate(route.operations):
        yield from _step_lines(route, index, operation, unit)


def _step_lines(route: Route, index: int, operation: Operation, unit: str) -> Iterator[str]:
    parts = [f"{index + 1} {role_name(route, index)}"]
    tool = operation.tool.name if operation.tool else (operation.gauge.name if operation.gauge else "")
    if tool:
        parts.append(tool)
    if operation.rpm:
        parts.append(tr("{rpm:g} rev/min", rpm=operation.rpm))
    if operation.feed_mm_per_rev and operation.rpm:
        parts.append(feed_words(operation.feed_mm_per_rev, unit))
    if operation.tip_mm:
        parts.append(tr("tip to {tip_mm}", tip_mm=say(operation.tip_mm, unit, 2)))
    if operation.fluid:
        parts.append(operation.fluid)
    yield "    " + ", ".join(parts)
    if operation.readings is not None:
        yield f"        {reading_words(operation.readings)}"
    if len(operation.pecks_mm) > 1:
        yield tr("        clear chips at ") + ", ".join(say(peck, unit, 1) for peck in operation.pecks_mm[:-1])
    for text in operation.because:
        yield f"        {text}"
    for text in operation.spoils:
        yield f"        ~ {text}"
    for caution in operation.cautions:
        yield f"        ! {caution.text}"
    for warning in operation.warnings:
        if warning.id != UNLIKELY:
            yield f"        !! {warning.text}"


def reading_words(readings: DepthReading) -> str:
    """What the depth scale reads from the touch to the stop, in strokes where it takes several."""
    places = (2, 1 if readings.division >= 0.5 else 3)[readings.unit == "mm"] if readings.unit == "mm" else 4

    def at(value: float) -> str:
        text = localized(f"{value:.{places}f}")
        return text.replace("0.", ".", 1) if readings.unit == "in" and text.startswith("0.") else text

    scale = SCALE_WORDS.get(readings.scale, readings.scale)
    meets = tr(", touching {meets}", meets=readings.meets) if readings.meets else ""
    if not readings.strokes:
        return tr(
            "{scale} {at} to {at_2} {readings}{meets}",
            scale=scale,
            at=at(readings.start),
            at_2=at(readings.stop),
            readings=readings.unit,
            meets=meets,
        )
    runs = "; ".join(
        (tr("moved up {moved}, ", moved=_moved(s.move_mm, readings.unit)) if s.move_mm else "")
        + tr("{at} to {at_2}", at=at(s.start), at_2=at(s.stop))
        for s in readings.strokes
    )
    return f"{scale}, {readings.unit}{meets}: {runs}"


def _moved(mm: float, unit: str) -> str:
    return f"{inch_text(mm, 3)} in" if unit == "in" else f"{mm_text(mm, 0)} mm"
