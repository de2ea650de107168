"""What each school would change for one hole: the plan made again with that one choice, and the difference."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from cordwainer.core.cutting.depth import point_length
from cordwainer.core.language import article, localized, tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.search.fronts import chance_of
from cordwainer.core.planning.steps.mouths import sink_wanted
from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
from cordwainer.core.planning.words.practice import Practice, School, schools
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.tables import constant

SAME_MINUTES, SAME_CHANCE = 0.02, 0.002


@dataclass(frozen=True)
class Effect:
    """One choice of one school for one hole, against the practice in force.

    `minutes` and `chance` are those with it, `more_minutes` and `chance_now` what it is compared with; None where
    there is no sequence. `differs` says what else is other, in words; `apart` stands where nothing of this hole's
    plan depends on the school, and was not planned again.
    """

    key: str
    choice: str
    in_force: bool
    minutes: float | None
    more_minutes: float | None
    chance: float | None
    chance_now: float | None
    differs: str = ""
    why_not: str = ""
    apart: str | None = None

    @property
    def none(self) -> bool:
        """Whether it changes nothing here."""
        if self.in_force or self.why_not:
            return False
        even = abs(self.more_minutes or 0.0) < SAME_MINUTES
        return even and abs((self.chance or 0.0) - (self.chance_now or 0.0)) < SAME_CHANCE and not self.differs

    @property
    def words(self) -> str:
        """The effect in a line: minutes, chance, what is other."""
        if self.in_force:
            return tr("in force")
        if self.apart is not None:
            return self.apart or tr("nothing here depends on it")
        if self.why_not:
            return tr("no sequence: {why_not}", why_not=self.why_not)
        if self.none:
            return tr("no change here")
        parts = []
        if self.more_minutes is not None and abs(self.more_minutes) >= SAME_MINUTES:
            parts.append(localized(f"{self.more_minutes:+.1f} min").replace("-", "−"))
        if self.chance is not None and self.chance_now is not None:
            now, then = round(100 * self.chance_now), round(100 * self.chance)
            if now != then:
                parts.append(tr("chance {now} → {then} in 100", now=now, then=then))
        if self.differs:
            parts.append(self.differs)
        return ", ".join(parts) or tr("no change worth a figure")


def effects(
    hole: Hole,
    shop: Shop,
    machine: Machine,
    material: Material,
    practice: Practice,
    hardness_bhn: float | None = None,
    stop: Callable[[], bool] = lambda: False,
    wanted: Callable[[], str] = lambda: "",
) -> Iterator[Effect]:
    """Every choice of every school for one hole, school by school; planned one at a time as they are asked for.

    `wanted` is asked before each school which one somebody is waiting for.
    """
    now = plan_hole(hole, shop, machine, material, practice, hardness_bhn)
    left = list(schools())
    while left:
        school = next((s for s in left if s.key == wanted()), left[0])
        left.remove(school)
        for choice in school.choices:
            if stop():
                return
            if not applies(school, hole, machine, material, now):
                in_force = getattr(practice, school.key) == choice.name
                yield Effect(
                    school.key,
                    choice.name,
                    in_force,
                    None,
                    0.0,
                    None,
                    None,
                    apart=_drawn(school, choice.name, hole),
                )
                continue
            yield _effect(hole, shop, machine, material, practice, hardness_bhn, now, school, choice.name)


def applies(school: School, hole: Hole, machine: Machine, material: Material, now: HolePlan) -> bool:
    """Whether anything of a hole's plans could depend on a school."""
    kinds = {o.kind for route in now.routes for o in route.operations}
    tools = [o.tool for route in now.routes for o in route.operations if o.tool is not None]
    deep = hole.depth_mm > constant("guide_from_depth") * hole.nominal_mm * 0.5
    tests = {
        "flat_floor": hole.kind == "flat_bottom" and not hole.through,
        "center_oil": material.id.startswith("aluminum"),
        "drill_in": machine.is_lathe and not machine.carriage_held,
        "deep_pilot": deep or any(t.is_long or t.series == "carbide_self_centering" for t in tools),
        "point_drawn": False,
        "chamfer": hole.kind != "countersunk" and sink_wanted(hole) is not None,
        "thread_percent": hole.feature.thread is not None,
        "ream_stock": "ream" in kinds,
        "ream_speed": "ream" in kinds,
        "reamer_feed": "ream" in kinds,
        "center_depth": "center_drill" in kinds or not kinds,
    }
    plain = school.key in ("pilot", "start", "self_start", "finish") and hole.kind in ("center_hole",)
    return tests.get(school.key, not plain)


def _drawn(school: School, choice: str, hole: Hole) -> str:
    """What drawing the point otherwise does to the picture; the sums are the same."""
    if school.key != "point_drawn" or hole.through or hole.kind in ("flat_bottom", "center_hole"):
        return ""
    shorter = point_length(hole.nominal_mm, 118.0) - point_length(hole.nominal_mm, 120.0)
    return tr("the picture's point is {shorter:.2f} mm shorter, no figure moves", shorter=shorter)


def _effect(
    hole: Hole,
    shop: Shop,
    machine: Machine,
    material: Material,
    practice: Practice,
    hardness_bhn: float | None,
    now: HolePlan,
    school: School,
    choice: str,
) -> Effect:
    base = now.recommended
    if getattr(practice, school.key) == choice:
        minutes = base.minutes if base else None
        chance = _chance(base)
        return Effect(school.key, choice, True, minutes, 0.0, chance, chance)
    other = replace(practice, **{school.key: choice})
    plan = plan_hole(hole, shop, machine, material, other, hardness_bhn)
    route = plan.recommended
    if route is None:
        return Effect(
            school.key,
            choice,
            False,
            None,
            None,
            None,
            _chance(base),
            why_not=plan.why_not[0] if plan.why_not else "",
        )
    more = route.minutes - base.minutes if base is not None else None
    differs = _differs(base, route, school.key) if base is not None else tr("a sequence where there is none")
    return Effect(school.key, choice, False, route.minutes, more, _chance(route), _chance(base), differs)


def _chance(route: Route | None) -> float | None:
    return None if route is None or route.chance_all is None else chance_of(route)


def _differs(base: Route, other: Route, key: str) -> str:
    """What is other in the sequence itself, in few words."""
    if key == "point_drawn":
        return ""
    old, new = Counter(_kinds(base)), Counter(_kinds(other))
    if old != new:
        added, gone = new - old, old - new
        parts = [tr("with {listed}", listed=_listed(added))] if added else []
        parts += [tr("without {listed}", listed=_listed(gone))] if gone else []
        return ", ".join(parts)
    return next((text for text in map(_changed, base.operations, other.operations) if text), "")


def _listed(names: Counter[str]) -> str:
    return tr(" and ").join(article(name) if count == 1 else f"{count} {name}s" for name, count in names.items())


def _kinds(route: Route) -> list[str]:
    words = {"ream": tr("reamer"), "bore": tr("bar"), "deburr": tr("deburring"), "measure": tr("measuring")}
    return [
        words.get(o.kind, tr(o.kind.replace("_", " "))) if o.role != "guide" else tr("guide drill")
        for o in route.operations
    ]


def _changed(old: Operation, new: Operation) -> str:
    """What is other about one operation."""
    name = tr(old.kind.replace("_", " "))
    if old.tool is not None and new.tool is not None and old.tool.id != new.tool.id:
        return tr("{new} for {old}", new=new.tool.designation, old=old.tool.designation)
    if old.rpm != new.rpm and new.rpm is not None:
        return tr("{name} at {rpm:g} for {rpm_2:g} rev/min", name=name, rpm=new.rpm, rpm_2=old.rpm)
    if len(old.pecks_mm) != len(new.pecks_mm):
        return tr(
            "{count} clearings for {count_2}",
            count=max(len(new.pecks_mm) - 1, 0),
            count_2=max(len(old.pecks_mm) - 1, 0),
        )
    if old.mouth_mm is not None and new.mouth_mm is not None and abs(old.mouth_mm - new.mouth_mm) > 1e-6:
        return tr("mouth {mouth_mm:.2f} for {mouth_mm_2:.2f} mm", mouth_mm=new.mouth_mm, mouth_mm_2=old.mouth_mm)
    if old.fluid != new.fluid:
        return f"{name}: {new.fluid or tr('no fluid')}"
    deep = old.depth_mm is not None and new.depth_mm is not None
    if deep and abs((old.depth_mm or 0.0) - (new.depth_mm or 0.0)) > 1e-6:
        return tr(
            "{name} {depth_mm:.1f} deep for {depth_mm_2:.1f} mm",
            name=name,
            depth_mm=new.depth_mm,
            depth_mm_2=old.depth_mm,
        )
    return ""
