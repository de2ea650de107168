"""What is not read box by box: points from a machine, how far a hole is off its place, a gauge that sends."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.measuring.points import read_csv, work_up
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.planning.words.wording import fixed
from cordwainer.files.lists import text_of
from cordwainer.ui.desk.gauge_link import GaugeLink
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill
from cordwainer.ui.kit.questions import Questions
from cordwainer.ui.kit.typed import parse

PIN_WIDTH, WIDE, NARROW = 80, 112, 52
DEEPER = 1.02
PRESSES = (0.31, -0.22, 0.08, -0.05, 0.17, -0.36)


class Points(Column):
    """Points of a coordinate measuring machine: taken from a list, summed up in words."""

    told = pyqtSignal(str)

    def __init__(self, readings: Readings) -> None:
        super().__init__((0, 0, 0, 0), 6)
        self.readings = readings
        self.words = text_label("", 15, wrap=True)
        self.add(self.words)
        self.choose = Link(tr("Points from a list (CSV)"), 16)
        self.choose.setAccessibleName(tr("Take points from a list of x, y, z"))
        self.choose.clicked.connect(self._choose)
        self.add(self.choose)

    def _choose(self) -> None:
        path = Questions(self).file_to_open(tr("Points of this hole"), tr("Lists (*.csv *.txt);;All (*)"))
        if path is not None:
            self.take(path)

    def take(self, path: Path) -> None:
        """The points of a list: the first worked up, so that a bad list changes nothing."""
        try:
            points = read_csv(text_of(path))
            work_up(points)
            self.readings.put(tr("Points"), points=points, readings=[], pins=None)
            self.told.emit("")
        except InputError as bad:
            self.told.emit(f"{path.name}, {bad.field or 'points'}: {bad.problem}")

    def refresh(self, finding: Finding | None, hole: Hole, unit: str) -> None:
        """How many points there are and what they come to."""
        points = self.readings.points()
        if points and finding is None:
            self.words.setText(
                tr("{count} points that are no hole: each depth needs three or more around it.", count=len(points))
            )
            return
        if finding is None or not points:
            self.words.setText(
                tr(
                    "x, y, z in mm, a line each; x and y from the hole's own place, z along it. Three depths of "
                    "eight points or more tell its axis."
                )
            )
            return
        depths = sorted({c.reading.depth_mm for c in finding.corrected})
        lines = [tr("{count} points at {count_2} depths.", count=len(points), count_2=len(depths))]
        if depths[-1] > hole.depth_mm * DEEPER:
            deep = f"{fixed(depths[-1], unit, 1)} {unit}"
            lines.append(
                tr("The deepest at {deep}, deeper than the hole: is z counted from its mouth?", deep=deep)
            )
        axis = finding.axis
        if axis is not None and axis.entry_mm is not None:
            far = (
                tr(", {exit_mm} at the far end", exit_mm=fixed(axis.exit_mm, unit, 4))
                if axis.exit_mm is not None
                else ""
            )
            lines.append(
                tr(
                    "Off its place {entry_mm} {unit} at the mouth{far}.",
                    entry_mm=fixed(axis.entry_mm, unit, 4),
                    unit=unit,
                    far=far,
                )
            )
        if axis is not None and axis.cylindricity_mm is not None:
            bent = axis.straightness_mm
            straight = ""
            if bent is not None:
                straight = tr("Axis straight within {bent} {unit}; ", bent=fixed(bent, unit, 4), unit=unit)
            lines.append(
                tr(
                    "{straight}all within {cylindricity_mm} of a cylinder.",
                    straight=straight,
                    cylindricity_mm=fixed(axis.cylindricity_mm, unit, 4),
                )
            )
        if axis is not None and axis.lobes > 2 and "lobed" in finding.form:
            lines.append(tr("{lobes} lobes.", lobes=axis.lobes))
        if finding.cone_deg is not None:
            lines.append(tr("Cone {cone_deg:.3f}° included.", cone_deg=abs(finding.cone_deg)))
        self.words.setText(" ".join(lines))


class OffPlace(QWidget):
    """How far the hole is off its place at the mouth and the far end, as an indicator found it."""

    told = pyqtSignal(str)

    def __init__(self, selection: Selection, readings: Readings) -> None:
        super().__init__()
        self.selection, self.readings = selection, readings
        column, row = down(self, NONE, 2), across(gap=8)
        column.addLayout(row)
        self.against = text_label("", 13, color=theme.INK2, wrap=True)
        column.addWidget(self.against)
        self.mouth, self.far = (
            Field(tr("Off its place at the mouth"), 16),
            Field(tr("Off its place at the far end"), 16),
        )
        for words, field, key in (
            (tr("Off place, mouth"), self.mouth, "offset_entry"),
            (tr("far end"), self.far, "offset_exit"),
        ):
            label = text_label(words, 14, color=theme.INK2)
            label.setFixedWidth(WIDE if field is self.mouth else NARROW)
            row.addWidget(label)
            field.setFixedSize(PIN_WIDTH, 32)
            field.setPlaceholderText("–")
            field.kept.connect(lambda text, k=key, f=field: self._keep(k, f, text))
            row.addWidget(field)
        row.addStretch(1)

    def _keep(self, key: str, field: Field, text: str) -> None:
        if text.strip() == self._shown(key):
            return
        try:
            size = parse(text, self.selection.unit) if text.strip() else None
            self.readings.put(tr("Off its place"), **{key: str(size) if size is not None else None})
            field.set_wrong(False)
            self.told.emit("")
        except InputError as bad:
            field.set_wrong(True)
            self.told.emit(sentence(bad.problem))

    def _shown(self, key: str) -> str:
        length = dict(zip(("offset_entry", "offset_exit"), self.readings.off_place(), strict=True))[key]
        if length is None:
            return ""
        same = length.unit == self.selection.unit
        return str(length).rsplit(" ", 1)[0] if same else fixed(length.mm, self.selection.unit, 4)

    def refresh(self) -> None:
        """What was typed."""
        for field, key in ((self.mouth, "offset_entry"), (self.far, "offset_exit")):
            if not field.hasFocus():
                field.setText(self._shown(key))
        words = self._against()
        self.against.setText(words)
        self.against.setVisible(bool(words))

    def _against(self) -> str:
        """What the place is held against; empty while none was measured."""
        found = [abs(off.mm) for off in self.readings.off_place() if off is not None]
        hole, unit = self.selection.hole, self.selection.unit
        if not found or hole is None:
            return ""
        needs = f"Ø{fixed(2 * max(found), unit)} {unit}"
        zone = hole.position_tolerance_mm
        if zone is None:
            return tr(
                "The print gives no zone to hold it against; one of {needs} would just take it in.", needs=needs
            )
        word = tr("inside") if 2 * max(found) <= zone else tr("outside")
        return tr(
            "It wants a zone of {needs}: {word} the print's Ø{zone} {unit}.",
            needs=needs,
            word=word,
            zone=fixed(zone, unit),
            unit=unit,
        )


class Sends(QWidget):
    """A gauge on a serial line: how it stands, and the stand-in's button."""

    def __init__(self, selection: Selection, plans: Plans, link: GaugeLink) -> None:
        super().__init__()
        self.selection, self.plans, self.link, self.presses = selection, plans, link, 0
        row = across(self, NONE)
        self.words = text_label("", 14, True)
        fill(row, self.words, None)
        self.press = Link(tr("Press the stand-in"), 14)
        self.press.clicked.connect(self._press)
        row.addWidget(self.press)
        link.turned.connect(self.refresh)

    def refresh(self) -> None:
        """How it stands with the gauge."""
        self.setVisible(self.link.wanted)
        self.words.setText(self.link.words)
        self.press.setVisible(self.link.stand_in is not None)

    def _press(self) -> None:
        """The stand-in reads about what the plan expects, give or take what the print allows."""
        hole, stand_in, route = self.selection.hole, self.link.stand_in, self.plans.route
        if hole is None or stand_in is None:
            return
        stand_in.unit = self.selection.unit
        spread = 0.3 * (hole.limits.upper_mm - hole.limits.lower_mm)
        stand_in.press(_expected(hole, route) + spread * PRESSES[self.presses % len(PRESSES)])
        self.presses += 1


def _expected(hole: Hole, route: Route | None) -> float:
    """What the plan's last cut is expected to leave, in mm; the middle of the limits where there is none."""
    sizes = [o.expected_mm for o in (route.operations if route else ()) if o.expected_mm]
    return sizes[-1] if sizes else hole.limits.middle_mm
