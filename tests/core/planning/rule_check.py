"""The rules of record 1-13 checked from the tables alone, without the planner's own arithmetic."""

from __future__ import annotations

import csv
import itertools
import math
from pathlib import Path
from typing import Any

import cordwainer
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.both_ends import half_of
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop

DATA = Path(cordwainer.__file__).parent / "data"


def table(name: str) -> list[dict[str, str]]:
    """A table of the package as plain text rows."""
    with (DATA / f"{name}.csv").open(encoding="utf-8", newline="") as stream:
        return list(csv.DictReader(stream))


SPEEDS = {row["id"]: row for row in table("cutting_speeds")}
FEEDS, REAM_FEEDS, OVERSIZE = table("drill_feeds"), table("ream_feeds"), table("oversize")
ALLOWANCE = table("ream_allowance")


def mean_oversize_mm(mm: float) -> float:
    """Survey mean of a drill from solid."""  # Machinery's Handbook, oversize diameters in drilling
    d = mm / 25.4
    points = [(float(r["drill_diameter_inch"]), float(r["mean_inch"])) for r in OVERSIZE]
    if d > 1:
        return (0.002 + 0.005 * d) * 25.4
    if d < 1 / 16:
        return 0.0015 * (d * 16) ** 0.7 * 25.4
    for (a, ya), (b, yb) in itertools.pairwise(points):
        if a <= d <= b:
            return (ya + (yb - ya) * (d - a) / (b - a)) * 25.4
    raise AssertionError(mm)


def stock_band(hole: Hole) -> tuple[float, float]:
    """The allowance row of a hole, on diameter in mm."""
    inch = hole.diameter.unit == "in"
    size = hole.nominal_mm / 25.4 if inch else hole.nominal_mm
    for row in ALLOWANCE:
        fits = float(row["diameter_over"]) < size <= float(row["diameter_to"]) + 1e-9
        if row["system"] == ("inch" if inch else "metric") and fits:
            scale = 25.4 if inch else 1.0
            return float(row["machine_stock_low"]) * scale, float(row["machine_stock_high"]) * scale
    raise AssertionError(hole)


def depth_factors(ratio: float) -> tuple[float, float]:
    """Speed and feed factor by depth over diameter."""
    found = (1.0, 1.0)
    for row in table("drill_depth_speed_factors"):
        if ratio > float(row["depth_over_diameter"]) + 1e-9:
            found = float(row["speed_factor"]), float(row["feed_factor"])
    return found


def feed_band(rows: list[dict[str, str]], mm: float) -> tuple[float, float]:
    """Rule 35: linear between rows' ends; a low end rises to the next row's, a high from the last one's."""
    if rows is FEEDS and mm < 1:
        return 0.01 * mm, 0.03 * mm
    if rows is FEEDS and mm < 3.175:
        share = (mm - 1) / 2.175
        return 0.01 + share * (0.051 - 0.01), 0.02 + share * (0.076 - 0.02)
    at = next((i for i, r in enumerate(rows) if mm <= float(r["diameter_to_mm"]) + 1e-9), len(rows) - 1)
    row, before, after = rows[at], rows[max(at - 1, 0)], rows[min(at + 1, len(rows) - 1)]
    start, end = float(row["diameter_over_mm"]), float(row["diameter_to_mm"])
    share = min(max((mm - start) / (end - start), 0), 1)
    low, low_next = float(row["feed_mm_rev_low"]), float(after["feed_mm_rev_low"])
    high_before, high = float(before["feed_mm_rev_high"]), float(row["feed_mm_rev_high"])
    return low + share * (low_next - low), high_before + share * (high - high_before)


def chisel(operation: Operation) -> float:
    """Chisel edge by rule 3; core drills have none, spade inserts are thinned."""
    assert operation.tool is not None and operation.diameter_mm is not None
    if operation.kind == "core_drill":
        return 0.0
    if operation.kind == "spade_drill":
        return 0.10 * operation.diameter_mm
    return (0.03 if operation.tool.split_point else 0.18) * operation.diameter_mm


PASSES = ("guide", "part_way")
HARDEN = ("stainless_austenitic", "stainless_precipitation_hardening", "nickel_alloy", "titanium_alloy")  # rule 31


class Checker:
    """Collects every breach of a route in words."""

    def __init__(self, hole: Hole, route: Route, shop: Shop, machine: Machine, material: Material) -> None:
        self.hole, self.route, self.shop, self.machine, self.material = hole, route, shop, machine, material
        self.ops = route.operations
        if route.both_ends:  # either end is a blind hole of its own
            self.hole = half_of(hole)
            self.ops = tuple(o for o in route.operations if o.end == 1)
        kinds = ("drill", "core_drill", "spade_drill")
        self.sizing = [o for o in self.ops if o.kind in (*kinds, "ream") and o.role not in PASSES]
        self.drills = [o for o in self.sizing if o.kind != "ream"]
        self.bores = [o for o in self.ops if o.kind == "bore" and o.role != "counterbore"]
        self.floors = [o for o in self.ops if o.kind == "end_mill" and o.role is None]
        self.pin = hole.kind == "taper_pin"
        self.broken: list[str] = []

    def must(self, kept: bool, words: Any) -> None:
        """Note a breach."""
        if not kept:
            self.broken.append(str(words))

    def warned(self, operation: Operation, identifier: str) -> bool:
        """Whether the operation says so."""
        return any(w.id == identifier for w in operation.warnings)

    def run(self) -> list[str]:
        """All rules; the list is empty when every one is kept."""
        self.tools_exist()
        self.order()
        if self.hole.kind == "center_hole":
            self.work_center()
            return self.broken
        self.start()
        self.pilots()
        self.stock()
        self.finisher()
        self.depths()
        self.guides()
        self.two_goes()
        self.bars()
        self.dressed()
        for operation in self.sizing:
            self.speed(operation)
            self.feed(operation)
            self.pecks(operation)
        return self.broken

    def tools_exist(self) -> None:
        """Every tool is in the shop and the machine can hold and reach with it."""
        own = {tool.id for tool in self.shop.tools}
        for o in self.ops:
            if o.tool is None:
                continue
            self.must(o.tool.id in own, f"{o.tool.name} is not in the shop")
            if o.rpm is None:
                continue
            shank = o.tool.shank_diameter_mm or o.tool.diameter_mm
            if o.tool.shank.startswith("MT"):
                self.must(int(o.tool.shank[2:]) <= (self.machine.taper or 0), f"{o.tool.name} taper")
            elif o.tool.kind == "boring_bar":
                self.must(self.machine.id != "drill_press", "a bar on the drill press")
                self.must(shank <= (self.machine.holder_max_mm or 0), f"{o.tool.name} holder")
            else:
                solid = self.machine.id == "toolroom_lathe" or o.tool.kind in ("end_mill", "counterbore")
                holder = (self.machine.holder_max_mm or 0) if solid and self.machine.id != "bench_lathe" else 0
                self.must(shank <= max(self.machine.chuck_max_mm, holder) + 1e-6, f"{o.tool.name} chuck")
            if o.tool.flute_length_mm and o.kind in ("drill", "core_drill", "spade_drill", "end_mill"):
                self.must((o.depth_mm or 0) <= o.tool.flute_length_mm + 1e-6, f"{o.tool.name} flutes")
            if o.kind == "ream" and o.tool.overall_length_mm:
                self.must((o.depth_mm or 0) < o.tool.overall_length_mm - 20, f"{o.tool.name} too short")
            self.must(o.rpm in self.machine.steps(), f"{o.rpm} is no step")

    def order(self) -> None:
        """Rule 1 and deburr before measure."""
        kinds = [o.kind for o in self.ops]
        self.must(kinds[-2:] == ["deburr", "measure"], f"ends {kinds}")
        for a, b in zip(self.sizing, self.sizing[1:], strict=False):
            self.must((a.diameter_mm or 0) < (b.diameter_mm or 0), "diameter does not rise")
            if b.kind != "ream":
                alike = a.tool and b.tool and (a.tool.material, a.kind) == (b.tool.material, b.kind)
                self.must(not alike or (b.rpm or 0) <= (a.rpm or 0), f"speed rises {a.rpm} {b.rpm}")
            else:
                lowest = b.rpm == self.machine.steps()[0] and self.warned(b, "same_lowest_step")
                self.must((b.rpm or 0) < (a.rpm or 0) or lowest, f"reamer not slower {a.rpm} {b.rpm}")

    def start(self) -> None:
        """Rules 2 and 9."""
        hole = self.hole
        starts = [o for o in self.ops if o.kind in ("center_drill", "spot_drill")]
        first = self.drills[0] if self.drills else None
        punches = [o for o in self.ops if o.kind == "punch"]
        self.must(not punches or self.machine.id == "drill_press", "punch off the drill press")
        self.must(not starts or not hole.existing_mm, "a start into an existing hole")
        if hole.existing_mm is not None:
            return
        assert first is not None and first.tool is not None
        if not starts:
            own = first.tool.series in ("stub", "carbide_self_centering")
            self.must(own and hole.entry == "faced", "no start")
            return
        self.must(len(starts) == 1 and self.ops.index(starts[0]) < self.ops.index(first), "start out of order")
        start = starts[0]
        finished = max(o.diameter_mm or 0 for o in (*self.sizing, *self.bores, *self.floors))
        self.must((start.mouth_mm or 0) < finished, "mouth not below the hole")
        self.must((start.mouth_mm or 0) >= 1.1 * chisel(first) - 1e-6, "mouth below 1.1 chisel")
        if start.kind == "center_drill" and start.tool is not None:
            tool = start.tool
            self.must(tool.diameter_mm < first.tool.diameter_mm, "center pilot not below the drill")
            body = tool.body_diameter_mm or 0.0
            share = ((start.mouth_mm or 0) - tool.diameter_mm) / (body - tool.diameter_mm)
            if self.material.id != "alloy_steel_hard":
                needed = 1.1 * chisel(first) > tool.diameter_mm + 0.5 * (body - tool.diameter_mm)
                self.must(1 / 3 - 1e-6 <= share <= (0.75 if needed else 0.5) + 1e-6, f"cone share {share:.2f}")
            cone = share * (body - tool.diameter_mm) / 2 / math.tan(math.radians(30))
            self.must(abs((start.tip_mm or 0) - (tool.pilot_length_mm or 0) - cone) < 1e-6, "center depth")
            cap = 2000 if self.material.id.startswith(("aluminum", "brass")) else 1000
            lowest = start.rpm == self.machine.steps()[0]
            self.must((start.rpm or 0) <= cap or lowest, f"center drill at {start.rpm}")

    def pilots(self) -> None:
        """Rule 3."""
        for a, b in zip(self.drills, self.drills[1:], strict=False):
            assert a.diameter_mm and b.diameter_mm and a.depth_mm
            self.must(b.kind != "spade_drill", "a spade into a drilled hole")
            if b.kind == "core_drill":
                self.must(a.diameter_mm >= 0.6 * b.diameter_mm - 1e-6, "too little for a core drill to enter")
                continue
            ratio = a.diameter_mm / b.diameter_mm
            pilot = chisel(b) - 1e-6 <= a.diameter_mm <= 1.3 * chisel(b) + 1e-6
            self.must(pilot or ratio >= 0.4 - 1e-6, f"{a.diameter_mm} before {b.diameter_mm}")
            self.must(a.diameter_mm >= 1.5 and a.depth_mm <= 12 * a.diameter_mm + 1e-6, "pilot too slender")
            self.must(a.diameter_mm >= chisel(b) - 1e-6, "pilot under the chisel")

    def stock(self) -> None:
        """Rules 4 and 5."""
        if not self.drills or self.pin:
            return
        last = self.drills[-1]
        assert last.diameter_mm and last.expected_mm
        before = self.drills[-2].diameter_mm if len(self.drills) > 1 else self.hole.existing_mm
        factor = 1.0
        if before:
            thin = min(max((before / last.diameter_mm - 0.85) / 0.12, 0), 1)
            factor = 1 - 0.6 * (1 - 0.5 * thin * thin * (3 - 2 * thin))
        expected = last.diameter_mm + mean_oversize_mm(last.diameter_mm) * factor
        if self.hole.existing_mm is None or len(self.drills) > 1 or self.hole.existing_mm >= chisel(last):
            self.must(abs(expected - last.expected_mm) < 1e-6, f"expected {expected} {last.expected_mm}")
        finisher, limits = self.sizing[-1], self.hole.limits
        if finisher.kind == "ream":
            assert finisher.tool and finisher.tool.limits and finisher.stock_mm is not None
            low, high = stock_band(self.hole)
            left = self.bores[-1].diameter_mm if self.bores else last.expected_mm
            assert left is not None
            self.must(abs(finisher.stock_mm - (finisher.tool.diameter_mm - left)) < 1e-9, "stock arithmetic")
            self.must(0.6 * low - 1e-6 <= finisher.stock_mm <= 1.5 * high + 1e-6, f"stock {finisher.stock_mm}")
            outside = not low - 1e-6 <= finisher.stock_mm <= high + 1e-6
            self.must(outside == self.warned(finisher, "stock_outside_range"), "stock warning")
            own = finisher.tool.limits
            self.must(own.lower_mm >= limits.lower_mm - 1e-9, "reamer too small")
            self.must(own.upper_mm + 0.15 * limits.width_mm <= limits.upper_mm + 1e-9, "reamer too big")
        elif not self.bores and not self.floors:
            self.must(limits.lower_mm <= last.expected_mm <= limits.upper_mm, "drilled outside")

    def finisher(self) -> None:
        """Rule 13: the grade only advises, but a tight place is never left to drill and reamer alone."""
        if self.pin:
            return
        zone = self.hole.position_tolerance_mm
        self.must(zone is None or zone >= 0.05 or bool(self.bores), "a tight place left to drill and reamer")

    def guides(self) -> None:
        """Rule 1's guide: 1.5 d deep, the drill's size up to 0.05 mm over, before a long drill over 8 d."""
        guides = [o for o in self.ops if o.role == "guide"]
        long = [
            o for o in self.drills if o.tool is not None and o.tool.series in ("long", "carbide_self_centering")
        ]
        for o in long[:1]:
            deep = (o.depth_mm or 0) > 8 * (o.diameter_mm or 1) and not self.hole.existing_mm
            self.must(bool(guides) == deep or o is not self.drills[0], "guide")
        for o in guides:
            d = o.diameter_mm or 0
            self.must(0 <= d - (self.drills[0].diameter_mm or 0) <= 0.05 + 1e-9, "guide size")
            self.must(abs((o.depth_mm or 0) - 1.5 * d) < 1e-6, "guide depth")

    def two_goes(self) -> None:
        """Rule 1's pilot in two goes: part-way, opened out no deeper, then the rest of it."""
        begun = [o for o in self.ops if o.role == "part_way"]
        rest = [o for o in self.ops if o.role == "finish_pilot"]
        self.must(len(begun) == 2 * len(rest) <= 2, f"{len(begun)} passes, {len(rest)} to finish")
        for o in rest:
            pilot, wide = begun
            self.must(o.tool == pilot.tool and wide.tool == self.drills[1].tool, "other tools for the rest")
            self.must((wide.depth_mm or 0) <= (pilot.depth_mm or 0) < (o.depth_mm or 0), "opened past the pilot")
            self.must((wide.tip_mm or 0) <= (pilot.tip_mm or 0) + 1e-6, "the wide drill meets solid metal")
            places = [self.ops.index(each) for each in (pilot, wide, o, self.drills[1])]
            self.must(places == sorted(places), "out of order")
            self.must(o.readings is None or abs(o.readings.start_tip_mm - (pilot.tip_mm or 0)) < 1e-9, "touch")
            self.must(all(peck > (pilot.tip_mm or 0) for peck in o.pecks_mm), "clears above its own bottom")

    def bars(self) -> None:
        """A bar goes in, reaches, trues something, and ends where it should."""
        left = (self.drills[-1].expected_mm if self.drills else self.hole.existing_mm) or 0.0
        for o in self.bores:
            assert o.tool and o.overhang_mm and o.diameter_mm and o.depth_mm
            self.must((o.tool.min_bore_mm or 0) < left, "the bar does not go in")
            self.must(o.overhang_mm <= (o.tool.max_overhang_mm or 0) + 1e-6, "the bar reaches too far")
            self.must(o.overhang_mm >= o.depth_mm, "the bar does not reach")
            self.must(left < o.passes_mm[0] <= o.passes_mm[-1] == o.diameter_mm, f"passes {o.passes_mm}")
            self.must(list(o.passes_mm) == sorted(o.passes_mm), "passes do not grow")
            left = o.diameter_mm
        ends = self.ops[-3] if len(self.ops) > 2 else None
        if self.bores and ends is self.bores[-1]:
            low, high = self.hole.limits.lower_mm, self.hole.limits.upper_mm
            self.must(low < left < high, f"bored to {left}")

    def dressed(self) -> None:
        """Mouths, threads and floors the print asks for are there, and as deep as it says."""
        hole, kinds = self.hole, [o.kind for o in self.ops]
        mouth, thread = hole.mouth, hole.feature.thread
        if mouth.countersink is not None:
            sinks = [o for o in self.ops if o.kind == "countersink"]
            self.must(
                len(sinks) == 1 and abs((sinks[0].mouth_mm or 0) - mouth.countersink.mm) < 1e-6, "countersink"
            )
            for o in sinks:
                angle = math.radians((mouth.countersink_angle_deg or 90) / 2)
                self.must(abs((o.tip_mm or 0) - mouth.countersink.mm / 2 / math.tan(angle)) < 1e-6, "sink depth")
        if mouth.counterbore is not None:
            wide = [o for o in self.ops if o.kind in ("counterbore", "spotface") or o.role == "counterbore"]
            self.must(bool(wide), "counterbore missing")
            if mouth.counterbore_depth is not None and wide:
                self.must(abs((wide[-1].depth_mm or 0) - mouth.counterbore_depth.mm) < 1e-6, "counterbore depth")
        if thread is not None:
            taps = [o for o in self.ops if o.kind == "tap"]
            self.must(bool(taps) and all(o.rpm is None for o in taps), "tap")
            pitch = float(thread.pitch_mm)
            for o in taps:
                tool = o.tool
                self.must(tool is not None and abs((tool.pitch_mm or 0) - pitch) < 1e-3, "tap pitch")
                if not hole.through and not self.warned(o, "short_full_depth"):
                    self.must((o.tip_mm or 0) <= (self.drills[-1].depth_mm or 0) + 1e-6, "the tap meets the floor")
            self.must(kinds.index("tap") > max(i for i, k in enumerate(kinds) if k == "drill"), "tapped undrilled")
        if hole.kind == "flat_bottom" and not hole.through:
            for o in (*self.floors, *self.bores):
                self.must(abs((o.depth_mm or 0) - hole.depth_mm) < 1e-6, "floor depth")
            self.must(bool(self.floors or self.bores), "nothing squares the floor")
            for o in self.drills:
                self.must((o.tip_mm or 0) < hole.depth_mm, "the point marks the floor")
            for o in self.floors:
                self.must(o.tool is not None and o.tool.center_cutting is not False, "cannot plunge")

    def work_center(self) -> None:
        """A center hole: no start, two thirds of the cone, the tip where that puts it."""
        centers = [o for o in self.ops if o.kind == "center_drill"]
        center = self.hole.feature.center
        assert center is not None
        self.must(len(centers) == 1, "one center drill")
        o = centers[0]
        if center.protect is None and center.type != "R":
            whole = (center.body.mm - center.pilot.mm) / 2 / math.tan(math.radians(30))
            share = (self.hole.depth_mm - center.pilot_length.mm) / whole if self.hole.depth_given else 2 / 3
            tip = center.pilot_length.mm + share * whole
            self.must(abs((o.tip_mm or 0) - tip) < 1e-6, "two thirds of the cone, or the depth given")
            mouth = center.pilot.mm + share * (center.body.mm - center.pilot.mm)
            self.must(abs((o.mouth_mm or 0) - mouth) < 1e-6, "mouth at that depth")

    def met(self, o: Operation) -> float:
        """Rule 30: how deep the tip is at first metal: a start's rim or bottom, a hole's edge, the face."""
        assert o.tool is not None and o.diameter_mm is not None
        before = self.ops[: self.ops.index(o)]
        slope = 1 / math.tan(math.radians((o.tool.point_angle_deg or 118) / 2))
        guide = before[-1] if before and before[-1].role == "guide" else None
        if guide is not None:
            return min((guide.depth_mm or 0) + slope * o.diameter_mm / 2, guide.tip_mm or 0)
        starts = [p for p in before if p.kind in ("center_drill", "spot_drill")]
        hole = o.previous_mm
        if starts and starts[-1].tool is not None and hole < (starts[-1].mouth_mm or 0) < o.diameter_mm:
            mouth = starts[-1].mouth_mm or 0.0
            half = 60.0 if starts[-1].kind == "center_drill" else starts[-1].tool.included_angle_deg or 90
            wall = 1 / math.tan(math.radians(half / 2))
            low = (mouth - hole) / 2 * wall + hole / 2 * slope
            return min(mouth / 2 * slope, low, starts[-1].tip_mm or 0 if hole == 0 else low)
        return hole / 2 * slope

    def depths(self) -> None:
        """Rules 6 and 11."""
        hole = self.hole
        room = None if hole.through or hole.part_thickness_mm is None else hole.part_thickness_mm - hole.floor_mm
        for o in self.sizing:
            assert o.tool and o.depth_mm is not None and o.tip_mm is not None and o.diameter_mm
            if o.kind == "core_drill" or o.tool.kind == "taper_pin_reamer":
                extra = 0.0
            elif o.kind != "ream":
                extra = o.diameter_mm / 2 / math.tan(math.radians((o.tool.point_angle_deg or 118) / 2))
            else:
                extra = max(1.0, round(0.25 * o.diameter_mm, 2))
            self.must(abs(o.tip_mm - o.depth_mm - extra) < 1e-6, f"{o.kind} point {o.tip_mm - o.depth_mm}")
            partway = self.pin and o.kind == "drill" and o is not self.drills[0]
            if hole.through and not partway:
                self.must(o.depth_mm >= hole.depth_mm + 1 - 1e-6, "corners not out")
            if room is not None:
                self.must(o.tip_mm <= room + 1e-6, "into the floor")
            if o.kind != "ream" and hole.through and not partway:
                slow = o.breakthrough
                self.must(slow is not None, "no breakthrough")
                if slow is not None:
                    self.must(abs(slow.from_tip_mm - max(hole.depth_mm - 1, 0)) < 1e-6, "breakthrough start")
                    self.must(slow.to_tip_mm >= hole.depth_mm + extra - 1e-6, "breakthrough end")
                    self.must(abs(slow.feed_mm_per_rev - (o.feed_mm_per_rev or 0) / 2) < 1e-9, "half feed")
            r = o.readings
            if r is not None:
                unit = 25.4 if r.unit == "in" else 1.0
                travel = (r.stop - r.start) * unit
                touch = 0.0
                begun = [p for p in self.ops if p.role == "part_way" and p.tool == o.tool]
                if begun:
                    touch = begun[0].tip_mm or 0.0
                elif o.tool.kind in ("drill", "spade_drill"):
                    touch = self.met(o)
                moved = sum(s.move_mm for s in r.strokes)
                self.must(
                    abs(travel + moved - (o.tip_mm - touch)) < 1e-5, f"reading travels {travel} from {touch}"
                )
                self.must(all(s.stop >= s.start for s in r.strokes), "a stroke runs back")
        if not self.drills or self.pin or self.bores:
            return
        finisher, last = self.sizing[-1], self.drills[-1]
        if not hole.through and finisher.kind == "ream":
            assert finisher.depth_mm is not None and last.depth_mm is not None and finisher.tip_mm is not None
            self.must(finisher.tip_mm <= last.depth_mm + 1e-6, "reamer into the cone")
            short = hole.depth_mm - finisher.depth_mm
            self.must((short > 1e-6) == self.warned(finisher, "short_full_depth"), f"short by {short}")

    def speed(self, o: Operation) -> None:
        """Rule 7, with rule 1's way down allowed."""
        assert o.diameter_mm and o.depth_mm and o.rpm and o.tool
        row = SPEEDS[self.material.id]
        if o.kind == "ream":
            low, high = float(row["hss_ream_m_min_low"]), float(row["hss_ream_m_min_high"])
            by_hand = self.machine.feeds_mm_per_rev is None
            ideal = min(low, 15) if by_hand else (low + high) / 2
        else:
            by = "carbide" if o.tool.material == "carbide" else "hss"
            low, high = float(row[f"{by}_drill_m_min_low"]), float(row[f"{by}_drill_m_min_high"])
            ideal = (low + high) / 2 * depth_factors(o.depth_mm / o.diameter_mm)[0]
        rpm = 1000 * ideal / math.pi / o.diameter_mm
        steps = self.machine.steps()
        fitting = [n for n in steps if n <= 1.1 * rpm + 1e-9]
        if not fitting:
            self.must(o.rpm == steps[0] and self.warned(o, "too_fast"), f"too fast unsaid {o.rpm} {rpm}")
            self.must(math.pi * o.diameter_mm * o.rpm / 1000 <= 2 * high + 1e-6, "more than twice the high end")
            return
        self.must(o.rpm <= fitting[-1], f"{o.kind} {o.rpm} over {fitting[-1]}")
        if o.tool.kind == "taper_pin_reamer":  # rule 34: by hand, or at the slowest step
            self.must(o.rpm == steps[0], f"a taper reamer at {o.rpm}")
            return
        if o.rpm < fitting[-1] and not o.slowed_for:
            before = self.sizing[self.sizing.index(o) - 1] if self.sizing.index(o) else None
            lower = [
                n
                for n in steps
                if before and (n < (before.rpm or 0) if o.kind == "ream" else n <= (before.rpm or 0))
            ]
            self.must(bool(lower) and o.rpm == lower[-1], f"{o.rpm} for no reason, {fitting[-1]} fits")

    def feed(self, o: Operation) -> None:
        """Rule 8."""
        assert o.diameter_mm and o.depth_mm and o.feed_mm_per_rev
        if o.tool is not None and o.tool.kind == "taper_pin_reamer":
            return
        rows, factor = (
            (REAM_FEEDS, self.material.ream_feed) if o.kind == "ream" else (FEEDS, self.material.drill_feed)
        )
        low, high = feed_band(rows, o.diameter_mm)
        by_depth = depth_factors(o.depth_mm / o.diameter_mm)[1]
        self.must(
            low * factor.low * by_depth - 1e-6 <= o.feed_mm_per_rev <= high * factor.high * by_depth + 1e-6
            or o.feed_source == "power",
            f"feed {o.feed_mm_per_rev} at {o.diameter_mm}",
        )
        if o.feed_source == "power":
            self.must(o.feed_mm_per_rev in (self.machine.feeds_mm_per_rev or ()), "feed not in the gearbox")

    def pecks(self, o: Operation) -> None:
        """Rule 10."""
        assert o.diameter_mm and o.depth_mm and o.tip_mm
        if o.kind != "drill":
            self.must(not o.pecks_mm, f"pecked with a {o.kind}")
            return
        if o.role == "finish_pilot" or any(p.role == "part_way" and p.tool == o.tool for p in self.ops):
            return
        d = o.diameter_mm
        bite = 5 if o.tool is not None and o.tool.material == "carbide" else 3
        if o.depth_mm <= bite * d + 1e-9:
            self.must(not o.pecks_mm, "pecks not needed")
            return
        self.must(bool(o.pecks_mm) and abs(o.pecks_mm[-1] - o.tip_mm) < 1e-9, "pecks do not end at the tip")
        if len(o.pecks_mm) > 1:
            self.must(abs(o.pecks_mm[0] - (bite * d if d >= 1 else 1.0)) < 1e-6, "first bite")
            for a, b in zip(o.pecks_mm, o.pecks_mm[1:-1], strict=False):
                short = a >= 8 * d - 1e-6 and self.material.id not in HARDEN
                later = 0.1 if d < 1 else (0.5 * d if short else d)
                self.must(abs(b - a - later) < 1e-5, f"bite {b - a}")
