"""If it is that cause: what it does in numbers, how it is mended, what of the plan changes, and that it was it."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout

from cordwainer.core.diagnosis.explained import Explained
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.numbers import Leaves
from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.planning.words.wording import fixed
from cordwainer.ui.desk.causes import Causes
from cordwainer.ui.desk.plan_change import PlanChanges
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Column, Link, Mark, Pane, text_label
from cordwainer.ui.kit.layout import across, down, fill, line_of

WIDE_BUTTON = 290
SELDOM = 5


class Mend(Pane):
    """Below the section: the chosen cause and what to do about it."""

    planned = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, causes: Causes, changes: PlanChanges) -> None:
        super().__init__(theme.PLATE, "t")
        self.causes, self.changes = causes, changes
        whole = down(self, (20, 10, 16, 12))
        row = across(gap=20)
        self.left, self.right = Column((0, 0, 0, 0), 3), Column((0, 0, 0, 0), 3)
        for column, share in ((self.left, 10), (self.right, 11)):
            box = QVBoxLayout()
            fill(box, column, None)
            row.addLayout(box, share)
        whole.addLayout(row, 1)
        self.foot = Column((0, 0, 0, 0), 6)
        whole.addWidget(self.foot)

    def show_cause(self, found: Explained | None, finding: Finding | None, unit: str) -> None:
        """Mirror the cause that is looked at."""
        for column in (self.left, self.right, self.foot):
            column.clear()
        cause = causes().get(found.chosen) if found is not None else None
        if found is None:
            return
        if cause is None:
            self.left.add(
                text_label(tr("Press a cause for what it would leave and how it is mended."), 14, wrap=True)
            )
            return
        self.left.add(text_label(tr("Mend the cause"), 16, True))
        self.left.add(text_label(cause.fix, 14, wrap=True))
        if cause.safety:
            row, line = line_of((0, 2, 0, 0))
            line.addWidget(Mark("caution", 9, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            line.addWidget(text_label(cause.safety, 14, True, wrap=True), 1)
            self.left.add(row)
        self._numbers(finding, found, unit)
        self._acts(found)

    def _acts(self, found: Explained) -> None:
        """What can be pressed: the plan changed, the cause kept as found."""
        known, cause_id = self.causes.confirmed, found.chosen
        if known in causes():
            self.foot.add(text_label(tr("Found to be: {name}.", name=causes()[known].name), 14, True, wrap=True))
        row, line = line_of(gap=14)
        change = self.changes.offered(cause_id)
        if change is not None:
            button = BoxButton(
                tr("Change the plan: {change}", change=change.words),
                tr("Plan it so: {change}", change=change.words),
                14,
            )
            button.setCheckable(False)
            button.setFixedHeight(34)
            button.setMinimumWidth(
                button.fontMetrics().horizontalAdvance(tr("Plan it so: {change}", change=change.words)) + 28
            )
            button.clicked.connect(lambda: self._change(cause_id))
            line.addWidget(button)
            if button.minimumWidth() > WIDE_BUTTON:
                self.foot.add(row)
                row, line = line_of()
        line.addStretch(1)
        vain = found.case.mended
        again = Link(tr("It did not come back") if cause_id in vain else tr("Mended, and it came back"), 15)
        again.setToolTip(tr("A mend that did not help speaks against its cause; the diagnosis goes on without it"))
        again.clicked.connect(lambda: self.causes.mended(cause_id, cause_id in vain))
        line.addWidget(again)
        line.addSpacing(16)
        words = tr("It was not this after all") if known == cause_id else tr("It was this")
        was = Link(words, 15)
        was.setToolTip(tr("Kept in the logbook: the shop's own experience then counts the next time"))
        was.clicked.connect(lambda: self.causes.confirm("" if known == cause_id else cause_id))
        line.addWidget(was)
        self.foot.add(row)

    def _change(self, cause_id: str) -> None:
        try:
            self.said.emit(self.changes.apply(cause_id))
            self.planned.emit()
        except InputError as bad:
            self.said.emit(sentence(bad.problem) + ".")

    def _numbers(self, finding: Finding | None, found: Explained, unit: str) -> None:
        column, with_it, sound = self.right, found.leaves, found.sound
        column.add(text_label(tr("In numbers"), 16, True))
        if with_it is None:
            words = tr("It leaves the sizes alone: answers tell it, not the gauge.")
            if found.alike is not None and found.alike[1] < SELDOM:
                words = tr("It leaves the sizes alone: it cannot be why this hole is out, whatever else it did.")
            column.add(text_label(words, 14, wrap=True))
            return
        place = _most_telling(with_it, sound)
        words, bands = _band_words(with_it, place, unit)
        column.add(text_label(tr("It leaves {words} {bands}.", words=words, bands=bands), 14, wrap=True))
        measured = (
            {"mouth": finding.entry_mm, "middle": finding.middle_mm, "far": finding.exit_mm} if finding else {}
        )
        here = measured.get(place)
        if here is not None:
            column.add(text_label(tr("Measured there: {here}.", here=fixed(here, unit)), 14, True))
        if sound is not None:
            _, bands = _band_words(sound, place, unit)
            column.add(text_label(tr("Without it: {bands}.", bands=bands), 14, wrap=True))
            if found.alike is not None:
                both = tr(
                    "Out as this one is: {alike} in 100 with it, {alike_2} without.",
                    alike=found.alike[0],
                    alike_2=found.alike[1],
                )
                column.add(text_label(both, 14, wrap=True))
            elif with_it.in_limits is not None and sound.in_limits is not None:
                both = tr(
                    "Inside the limits: {in_limits} in 100 with it, {in_limits_2} without.",
                    in_limits=with_it.in_limits,
                    in_limits_2=sound.in_limits,
                )
                column.add(text_label(both, 14, wrap=True))


WORDS = {"mouth": tr("the mouth"), "middle": tr("the middle"), "far": tr("the far end")}
WORDS |= {"off_mouth": tr("the mouth off its place by"), "off_far": tr("the far end off its place by")}


def _most_telling(with_it: Leaves, sound: Leaves | None) -> str:
    """The place where a cause shows most."""
    if sound is None:
        return "middle"
    gaps = {key: abs(getattr(with_it, key)[1] - getattr(sound, key)[1]) for key in WORDS}
    if max(gaps["mouth"], gaps["middle"], gaps["far"]) * 2 >= max(gaps["off_mouth"], gaps["off_far"]):
        gaps.pop("off_mouth")
        gaps.pop("off_far")
    most = max(gaps, key=lambda key: gaps[key])
    return "middle" if gaps["middle"] * 1.25 >= gaps[most] else most


def _band_words(leaves: Leaves, place: str, unit: str) -> tuple[str, str]:
    low, _, high = getattr(leaves, place)
    return WORDS[place], tr("{low} to {high} {unit}", low=fixed(low, unit), high=fixed(high, unit), unit=unit)
