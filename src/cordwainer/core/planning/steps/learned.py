"""What the logbook has learned, said at the step it changes."""

from __future__ import annotations

from cordwainer.core.formation.lips import added
from cordwainer.core.formation.oversize import Expected, expected_mean_sd
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.cuts import ReamCut
from cordwainer.core.planning.steps.finish import stock_for
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

OVER_WORTH_SAYING = 0.001  # of the diameter


def learned_words(tool: Tool, unit: str) -> str:
    """What a tool's own holes say of it; empty where there are none."""
    if not tool.learned_holes:
        return ""
    sign = "" if tool.learned_over_mm < 0 else "+"
    number = (
        tr("1 hole") if tool.learned_holes == 1 else tr("{learned_holes} holes", learned_holes=tool.learned_holes)
    )
    thin = tool.learned_weight < constant("learn_few_holes")
    counted = tr("too few yet to lean on") if thin else tr("the plan counts on it")
    return tr(
        "This one has cut {sign}{learned_over_mm} in {number}: {counted}.",
        sign=sign,
        learned_over_mm=say(tool.learned_over_mm, unit, 3),
        number=number,
        counted=counted,
    )


def point_words(tool: Tool, unit: str) -> str:
    """What a point check read that changes a drill's hole or push; empty where it read nothing such."""
    point = tool.point
    if point is None:
        return ""
    own = added(tool, point)
    read = [tr("web {web}", web=say(point.web, unit, 2))] if point.web is not None else []
    if point.lips_known:
        apart = abs(point.lip_difference)
        read.append(
            tr("lips {apart} apart", apart=say(apart, unit, 3))
            if apart > constant("lip_same_mm")
            else tr("lips alike")
        )
    elif point.by_eye == "longer":
        read.append(tr("one lip longer by eye"))
    if point.angle_difference:
        read.append(tr("lip angles {angle_difference:g}° apart", angle_difference=abs(point.angle_difference)))
    if point.wear:
        read.append(tr("corners worn {wear}", wear=say(point.wear, unit, 2)))
    if not read:
        return ""
    over = (
        tr("; from solid its lips add {own}", own=say(own.mm, unit, 3))
        if own.mm > OVER_WORTH_SAYING * tool.diameter_mm
        else ""
    )
    return tr("Its point as read: {read}{over}. The plan counts on that.", read=", ".join(read), over=over)


def passed_over(bench: Bench, tool: Tool, previous_mm: float, ream: ReamCut) -> str:
    """The larger drill the survey alone would have taken under a reamer, and what its own holes say against it."""
    best: tuple[float, str] | None = None
    if "learned" not in bench.shop.worked_out:
        bench.shop.worked_out["learned"] = [t for t in bench.shop.of_kind("drill") if t.learned_holes]
    for other in bench.shop.worked_out["learned"]:
        if not tool.diameter_mm < other.diameter_mm < ream.tool.diameter_mm:
            continue
        surveyed, believed = (
            Expected(*expected_mean_sd(other.diameter_mm, other.chisel_mm, factor, previous_mm))
            for factor in (1.0, other.oversize_factor)
        )
        usual, now = (stock_for(bench, ream.tool, left.mean_mm) for left in (surveyed, believed))
        if usual.on_target and not now.on_target and (best is None or other.diameter_mm > best[0]):
            over = say(other.learned_over_mm, bench.hole.unit, 3)
            best = (
                other.diameter_mm,
                (
                    tr(
                        "The {other} has cut +{over} in {learned_holes} holes and would leave {now}: "
                        "passed over for this one.",
                        other=other.designation,
                        over=over,
                        learned_holes=other.learned_holes,
                        now=say(now.mm, bench.hole.unit, 3),
                    )
                ),
            )
    return best[1] if best is not None else ""
