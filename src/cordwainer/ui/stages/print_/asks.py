"""What stands beside the drawing: what the print asks in figures, and what that wants of the shop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from cordwainer.core.cutting.center import RULES, bearing_mouth, center_depth, too_deep
from cordwainer.core.cutting.depth import cone_depth
from cordwainer.core.cutting.strength import tap_torque_nm
from cordwainer.core.formation.inputs import habits
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.lengths import Length
from cordwainer.core.part.center import TYPE_WORDS
from cordwainer.core.part.fit import Fit, shafts_for
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.screw import head_over
from cordwainer.core.part.tolerance import Limits, written_limits
from cordwainer.core.planning.search.fronts import way_of
from cordwainer.core.planning.steps.finish import choose_process
from cordwainer.core.planning.steps.tapping import TapDrill, tap_choices, tap_drills
from cordwainer.core.planning.ways import ways
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.planning.words.sentences import NM_PER_IN_LB
from cordwainer.core.planning.words.wording import as_written, fixed, micro, plain
from cordwainer.core.shop.identify import neighbors
from cordwainer.core.shop.punches import transfer_punch
from cordwainer.core.tables import constant
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Mark, Rule, text_label
from cordwainer.ui.kit.layout import fill, line_of
from cordwainer.ui.kit.plain import Label, escape
from cordwainer.ui.stages.print_.fit_rows import FitRows
from cordwainer.ui.stages.print_.tap_rows import TapRows

if TYPE_CHECKING:
    from cordwainer.core.shop.tool import Tool

RULE_WORDS = {
    "half": tr("half the cone"),
    "two_thirds": tr("two thirds, the default"),
    "three_quarters": tr("three quarters"),
}


def line(name: str, value: str, bold: bool = True) -> QWidget:
    """A name and its figure over a rule."""
    row, box = line_of((0, 1, 0, 1))
    fill(box, text_label(name, 14, color=theme.INK2), None, text_label(value, 15, bold))
    return row


def marked(status: str, words: str) -> QWidget:
    """Words with a status mark before them."""
    row, box = line_of()
    box.addWidget(Mark(status, 8, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
    box.addWidget(text_label(words, 15, wrap=True), 1)
    return row


WANTS = {
    "ream": tr("reaming: a drill alone spreads wider than this."),
    "drill": tr("drilling with care: the expected hole must fall inside."),
    "bore": tr("boring: finer, or truer in its place, than a reamer leaves it."),
    "bore_ream": tr("boring true, then reaming: place and size are both tight."),
    "core": tr("a core drill or solid carbide: a twist drill spreads wider than this."),
    "mill": tr("an end mill that cuts to its center, plunged after a drill."),
}


class Asks(Column):
    """The right-hand column of the Print stage, for whatever kind of hole is drawn."""

    wants = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        super().__init__((0, 0, 0, 0), 5)
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.fit = "sliding"
        self.more = False
        self._shown: object = None
        self.taps: TapRows | None = None
        self.fits: FitRows | None = None
        self.fit_answer: Label | None = None

    def show_hole(self, hole: Hole) -> None:
        """Mirror one hole."""
        plan = self.plans.plan
        key = (hole, self.selection.unit, self.document.shop_name, plan, self.more)
        if key == self._shown:
            return
        self._shown = key
        self.clear()
        self.taps = self.fits = None
        unit = self.selection.unit
        if hole.feature.thread is not None:
            self._tapped(hole, unit)
        elif hole.feature.center is not None:
            self._center(hole, unit)
        elif hole.feature.pin is not None:
            self._pin(hole, unit)
        else:
            self._sized(hole, unit)
        register = hole.mouth.counterbore
        if register is not None and hole.mouth.counterbore_tolerance:
            tolerance = hole.mouth.counterbore_tolerance
            limits = written_limits(register.exact_mm, tolerance, hole.unit)
            name = f"Ø{as_written(register)} {tolerance}"
            self._fit(tr("How the register should sit"), name, register, limits)
        self._plan(hole)

    def _head(self, words: str, note: str = "") -> None:
        row, box = line_of((0, 6, 0, 0))
        fill(box, text_label(words, 20, True), None)
        if note:
            box.addWidget(text_label(note, 14, color=theme.INK2))
        self.add(row)

    def _lines(self, lines: Iterator[tuple[str, str]]) -> None:
        for name, value in lines:
            self.add(Rule())
            self.add(line(name, value))
        self.add(Rule())

    # -- plain and sized -----------------------------------------------------------------------

    def _sized(self, hole: Hole, unit: str) -> None:
        self._head(tr("What it asks"))
        self._lines(self._size_lines(hole, unit))
        finisher = choose_process(hole, self.stock.practice)
        if hole.kind == "sized":
            name = f"Ø{as_written(hole.diameter)} {hole.tolerance}".strip()
            self._fit(tr("How a shaft should sit"), name, hole.diameter, hole.limits)
        else:
            self._nearest(hole, unit)
        if hole.kind in ("plain", "sized"):
            planned = self._planned()
            wants = way_of(planned) if planned is not None else (finisher.usual or finisher.processes)[:1]
            if wants:
                self.add(
                    text_label(
                        tr("It wants {wants}", wants=WANTS[wants if isinstance(wants, str) else wants[0]]),
                        14,
                        wrap=True,
                    )
                )
            for status, words_of_it in ways(hole, self.stock.shop):
                self.add(marked(status, words_of_it) if status else text_label(words_of_it, 14, wrap=True))
            for reason in finisher.why_not:
                self.add(marked("reject", sentence(reason) + "."))
        self._mouth_words(hole, unit)

    def _size_lines(self, hole: Hole, unit: str) -> Iterator[tuple[str, str]]:
        lower, upper = hole.limits.lower_mm, hole.limits.upper_mm
        yield (
            tr("Limits"),
            tr("{lower} to {upper} {unit}", lower=fixed(lower, unit), upper=fixed(upper, unit), unit=unit),
        )
        width, width_unit = micro(hole.limits.width_mm, unit)
        grade = tr("IT{grade}", grade=hole.grade) if hole.grade >= 3 else tr("finer than IT3")
        yield tr("Between them"), f"{width} {width_unit}, {grade}"
        yield tr("Depth over Ø"), localized(f"{hole.depth_mm / hole.nominal_mm:.1f}")

    def _nearest(self, hole: Hole, unit: str) -> None:
        """Sizes that exist next to this one, with the error, and the punch that finds its place."""
        self._head(tr("Drills next to it"))
        own = {round(t.diameter_mm, 5) for t in self.stock.shop.of_kind("drill")}
        shown = []
        for candidate in neighbors(hole.nominal_mm)[:4]:
            size = candidate.named.size
            off = -candidate.difference_mm
            text = tr("to size") if abs(off) < 1e-6 else f"{'+' if off > 0 else '−'}{fixed(abs(off), unit, 3, 4)}"
            here = "" if round(size.mm, 5) in own else tr(", to get")
            shown.append((f"{candidate.named.name}{here}", text))
        self._lines(iter(shown))
        punch = transfer_punch(hole.nominal_mm)
        if punch is not None:
            self.add(
                text_label(
                    tr("Its place marked through another part: transfer punch {punch}.", punch=punch),
                    14,
                    wrap=True,
                )
            )

    def _mouth_words(self, hole: Hole, unit: str) -> None:
        mouth = hole.mouth
        if mouth.countersink is not None and mouth.countersink_angle_deg is not None:
            deep = cone_depth(mouth.countersink.mm, hole.nominal_mm, mouth.countersink_angle_deg)
            words = tr(
                "{deep} {unit} down from the touch on the hole's edge.", deep=fixed(deep, unit, 2, 3), unit=unit
            )
            self.add(
                text_label(
                    tr(
                        "{countersink_angle_deg:g}° tool: {words}",
                        countersink_angle_deg=mouth.countersink_angle_deg,
                        words=words,
                    ),
                    14,
                    wrap=True,
                )
            )
        if mouth.counterbore is not None:
            head = head_over(hole.nominal_mm, mouth.counterbore.mm)
            if head is not None:
                high = tr(
                    "{as_written} high, sunk {as_written_2}",
                    as_written=as_written(head.head_height),
                    as_written_2=as_written(head.depth),
                )
                self.add(
                    text_label(
                        tr("Takes the socket head {head}, {high}.", head=head.size, high=high), 14, wrap=True
                    )
                )
        if hole.kind == "flat_bottom":
            mills = [t for t in self.stock.shop.of_kind("end_mill") if t.center_cutting]
            fits = [t for t in mills if abs(t.diameter_mm - hole.nominal_mm) < 1e-6]
            tool = tr("{name} is here.", name=fits[0].name) if fits else tr("None of this size is in the crib.")
            slow = f"{fixed(constant('mill_gentle_mm'), unit, 1, 4)} {unit}"
            words = tr(
                "Flat: drill short, then a center-cutting end mill, the first {slow} slowly. {tool}",
                slow=slow,
                tool=tool,
            )
            self.add(text_label(words, 14, wrap=True))

    # -- tapped --------------------------------------------------------------------------------

    def tap_list(self, hole: Hole) -> list[TapDrill]:
        """The best drill, the next below and above, and more where wanted, one of a size, small to large."""
        thread = hole.feature.thread
        if thread is None:
            return []
        ranked = tap_drills(thread, self.stock.shop.of_kind("drill"))
        sizes: dict[float, TapDrill] = {}
        for drill in ranked:
            sizes.setdefault(round(drill.tool.diameter_mm, 4), drill)
        if not sizes:
            return []
        planned = self._planned_drills()
        wanted = planned[-1].diameter if planned else hole.diameter
        best = next((d for d in ranked if wanted == d.tool.diameter), ranked[0])
        around = sorted(sizes.values(), key=lambda d: abs(d.tool.diameter_mm - best.tool.diameter_mm))
        below = [d for d in around if d.tool.diameter_mm < best.tool.diameter_mm - 1e-6]
        above = [d for d in around if d.tool.diameter_mm > best.tool.diameter_mm + 1e-6]
        many = 2 if self.more else 1
        return sorted([*below[:many], best, *above[:many]], key=lambda d: d.tool.diameter_mm)

    def _tapped(self, hole: Hole, unit: str) -> None:
        thread = hole.feature.thread
        assert thread is not None
        self._head(
            tr("Drill for the tap"), tr("minor Ø, {value}", value="6H" if thread.system == "metric" else "2B")
        )
        found = self.tap_list(hole)
        if not found:
            self.add(marked("reject", tr("No drill of this crib is near it.")))
        else:
            self.taps = TapRows(thread, found, self._taken(hole, found), unit)
            self.taps.chosen.connect(self._take_tap)
            self.add(self.taps)
            now = next((d for d in found if self.taps and d.tool == self._taken(hole, found)), found[0])
            words = tr(
                "Post is the drill, curve the hole it leaves, likely {hole_percent:.0f} %. Rough chances.",
                hole_percent=now.hole_percent,
            )
            self.add(text_label(words, 14, color=theme.INK2, wrap=True))
            more = Link(tr("Fewer") if self.more else tr("More drills"), 14)
            more.clicked.connect(self._more)
            self.add(more)
        deep = hole.feature.thread_depth.mm if hole.feature.thread_depth is not None else hole.depth_mm
        turns = deep / float(thread.pitch_mm)
        self._head(tr("How deep"), tr("{turns:.1f} turns", turns=turns))
        for choice in tap_choices(thread, deep, hole.depth_mm, hole.through):
            name = tr(
                "{tap}{tap_2}, lead {lead_turns:g}",
                tap=choice.tap[0].upper(),
                tap_2=choice.tap[1:],
                lead_turns=choice.lead_turns,
            )
            wants = (
                tr("goes through")
                if hole.through
                else tr("wants {wants_mm}", wants_mm=fixed(choice.wants_mm, unit, 1, 2))
            )
            self.add(Rule())
            row = line(name, wants, choice.fits)
            box = row.layout()
            assert isinstance(box, QHBoxLayout)
            box.addWidget(Mark("accept" if choice.fits else "reject", 7, theme.INK, theme.PLATE))
            self.add(row)
        self.add(Rule())
        torque = tap_torque_nm(
            float(thread.major_mm), float(thread.pitch_mm), habits(self.document.job.material.id)[5]
        )
        turning = (
            localized(f"{torque:.1f} N·m")
            if unit == "mm"
            else tr("{torque:.0f} in-lb", torque=torque / NM_PER_IN_LB)
        )
        words = tr(
            "By hand 1.5 to 2 turns on, half a turn back. A sharp tap takes about {turning}.", turning=turning
        )
        self.add(text_label(words, 14, color=theme.INK2, wrap=True))

    def _taken(self, hole: Hole, found: list[TapDrill]) -> Tool | None:
        planned = self._planned_drills()
        wanted = planned[-1].diameter if planned else hole.diameter
        named = [d.tool for d in found if wanted == d.tool.diameter]
        ranked = tap_drills(hole.feature.thread, [d.tool for d in found]) if hole.feature.thread else ()
        return named[0] if named else (ranked[0].tool if ranked else None)

    def _take_tap(self, drill: TapDrill) -> None:
        hole = self.selection.hole
        if hole is not None:
            self.selection.edit_hole(
                tr("Drill {drill}", drill=drill.tool.designation), diameter=str(drill.tool.diameter)
            )

    def _more(self) -> None:
        self.more = not self.more
        if self.selection.hole is not None:
            self.show_hole(self.selection.hole)

    # -- fits ----------------------------------------------------------------------------------

    def _fit(self, words: str, name: str, nominal: Length, limits: Limits) -> None:
        fits = shafts_for(nominal.exact_mm, limits)
        self._head(words)
        self.add(
            text_label(
                tr("{name} hole. Bars are play, left of the line it holds.", name=name),
                14,
                color=theme.INK2,
                wrap=True,
            )
        )
        self.fits = FitRows(fits, self.fit, self.selection.unit)
        self.fits.chosen.connect(self._choose_fit)
        self.add(self.fits)
        self.fit_answer = text_label("", 15, wrap=True)
        self.add(self.fit_answer)
        self._choose_fit(next((f for f in fits if f.id == self.fit), fits[0]))

    def _choose_fit(self, fit: Fit) -> None:
        self.fit = fit.id
        unit = self.selection.unit
        least, small = micro(float(fit.least_mm), unit)
        most, _ = micro(float(fit.most_mm), unit)
        turn = tr(
            "<b>{lower} to {upper}</b> {unit}",
            lower=fixed(fit.limits.lower_mm, unit),
            upper=fixed(fit.limits.upper_mm, unit),
            unit=unit,
        )
        if self.fit_answer is not None:
            self.fit_answer.set_rich(
                tr(
                    "Turn the shaft {turn}: {fit}, play {least} to {most} {small}.",
                    turn=turn,
                    fit=escape(fit.words),
                    least=least,
                    most=most,
                    small=small,
                )
            )

    # -- pins and centers ----------------------------------------------------------------------

    def _pin(self, hole: Hole, unit: str) -> None:
        pin = hole.feature.pin
        assert pin is not None
        large, small = (float(end) for end in pin.ends(hole.depth.exact_mm))
        self._head(tr("Down to the pin"), pin.taper)
        self._lines(
            iter(
                (
                    (tr("Large end"), f"{fixed(large, unit)} {unit}"),
                    (tr("Small end"), f"{fixed(small, unit)} {unit}"),
                    (tr("Over its length"), f"{fixed(large - small, unit)} {unit}"),
                )
            )
        )
        self._head(tr("Drill in steps"))
        planned = self._planned()
        if planned is None and self.plans.plan is not None:
            self.add(marked("reject", tr("No drill of this crib is small enough for the small end.")))
        drills = [o for o in planned.operations if o.kind == "drill" and o.tool is not None] if planned else []
        for step in drills:
            through = (step.depth_mm or 0.0) >= hole.depth_mm - 1e-6
            deep = (
                "through" if through else tr("{depth_mm} deep", depth_mm=fixed(step.depth_mm or 0.0, unit, 1, 2))
            )
            self.add(Rule())
            self.add(line(step.tool.name if step.tool else "", deep))
        if drills:
            self.add(Rule())
            self.add(text_label(tr("As planned. The reamer is turned forward only, by hand."), 14, wrap=True))
        reamers = [
            t
            for t in self.stock.shop.of_kind("taper_pin_reamer")
            if t.designation == pin.size and t.series == pin.taper
        ]
        self.add(
            marked("accept", tr("{name} is here.", name=reamers[0].name))
            if reamers
            else marked("reject", tr("Its reamer: to get."))
        )

    def _center(self, hole: Hole, unit: str) -> None:
        size = hole.feature.center
        assert size is not None
        self._head(tr("How far into the cone"))
        shares = ["two_thirds"] if size.protect is not None else list(RULES)
        for rule in shares:
            at = center_depth(size, rule)
            name = tr("to the protecting mouth") if size.protect is not None else RULE_WORDS[rule]
            self.add(Rule())
            self.add(
                line(
                    name,
                    tr(
                        "tip {tip_mm}, mouth {mouth_mm}",
                        tip_mm=fixed(at.tip_mm, unit, 2, 3),
                        mouth_mm=fixed(at.mouth_mm, unit, 2, 3),
                    ),
                )
            )
        self.add(Rule())
        now = center_depth(size)
        self._head(tr("This one"))
        self._lines(
            iter(
                (
                    (tr("Pilot"), f"{fixed(size.pilot.mm, unit, 2, 4)} {unit}"),
                    (tr("Body"), f"{fixed(size.body.mm, unit, 2, 4)} {unit}"),
                    (tr("Carries a part of about"), _part_range(now.mouth_mm, unit)),
                )
            )
        )
        self.add(text_label(f"{sentence(TYPE_WORDS[size.type])}.", 14, wrap=True))
        below = hole.depth_mm - (now.tip_mm - now.cone_mm)
        mouth = size.pilot.mm + max(below, 0.0) * 2 * 0.57735
        if size.protect is None and too_deep(size, mouth):
            words = tr(
                "Too deep: the cone is used up and the body cuts a cylinder over it. Face off and drill it anew."
            )
            self.add(marked("reject", words))
        words = tr("Drill it with the part extended as it will run; moved afterwards, it wobbles.")
        self.add(text_label(words, 14, wrap=True))
        self.add(text_label(tr("Look at the pilot after: a broken tip stays in the hole."), 14, wrap=True))

    def _planned(self) -> Route | None:
        """The recommended route of the hole shown, once it is there."""
        plan = self.plans.plan
        return plan.recommended if plan is not None else None

    def _planned_drills(self) -> list[Tool]:
        """The drills of that route."""
        planned = self._planned()
        return [o.tool for o in planned.operations if o.kind == "drill" and o.tool is not None] if planned else []

    # -- the plan --------------------------------------------------------------------------------

    def _plan(self, hole: Hole) -> None:
        plan = self.plans.plan
        if plan is None:
            return
        if plan.routes:
            go = Link(
                tr(
                    "Plan: {minutes:.0f} min, {count} steps",
                    minutes=plan.routes[0].minutes,
                    count=len(plan.routes[0].operations),
                ),
                16,
            )
            go.clicked.connect(lambda: self.wants.emit("go_plan"))
            self.add(go)
        elif not choose_process(hole).why_not and plan.why_not:
            self.add(marked("reject", sentence(plan.why_not[0]) + "."))


def _part_range(mouth_mm: float, unit: str) -> str:
    """Diameters of parts a mouth is usual for."""
    ratio = bearing_mouth(1.0)[1]
    low, high = (mouth_mm / ratio) ** 2, mouth_mm**2
    return tr(
        "Ø{plain} to {plain_2} {unit}",
        plain=plain(round(low), unit, 0),
        plain_2=plain(round(high), unit, 0),
        unit=unit,
    )
