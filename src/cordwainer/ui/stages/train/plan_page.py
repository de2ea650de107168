"""A hole to plan: the print at the left, one's own steps in the middle, the program's word at the right."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QPushButton, QWidget

from cordwainer.core.diagnosis.evidence import Sizes
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.training.planning import KINDS, SIZELESS, Judged
from cordwainer.core.training.settings import planned
from cordwainer.ui.desk.plan_try import PlanTry
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Column, Field, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.stages.train.told_section import ToldSection

TOLD_WIDTH, WORD_WIDTH = 270, 390
A_ROW = 3


class PlanPage(QWidget):
    """Steps are laid down by kind and size, then run."""

    ladder_asked = pyqtSignal()

    def __init__(self, plan_try: PlanTry) -> None:
        super().__init__()
        self.plan_try = plan_try
        line = across(self, NONE, 0)
        line.addWidget(self._told())
        line.addWidget(self._steps(), 1)
        line.addWidget(self._word())
        plan_try.changed.connect(self.refresh)

    def _told(self) -> QWidget:
        pane = Pane(theme.HI, "r")
        pane.setFixedWidth(TOLD_WIDTH)
        box = down(pane, (0, 12, 0, 12), 8)
        head, line = line_of((20, 0, 16, 0))
        self.level = Link(tr("All lessons"), 14)
        self.level.clicked.connect(self.ladder_asked.emit)
        fill(line, text_label(tr("The print"), 20, True), None, self.level)
        self.section = ToldSection()
        self.section.nothing = tr("not cut yet")
        self.facts = text_label("", 16, wrap=True)
        self.facts.setContentsMargins(20, 6, 16, 0)
        for part in (head, self.section, self.facts):
            box.addWidget(part)
        box.addStretch(1)
        words = tr("Local rules and the machine's manual come first. At a real machine: glasses on, work clamped.")
        foot = text_label(words, 13, color=theme.INK2, wrap=True)
        foot.setContentsMargins(20, 0, 16, 0)
        box.addWidget(foot)
        return pane

    def _steps(self) -> QWidget:
        pane = Pane(theme.PLATE)
        box = down(pane, (18, 12, 16, 12), 8)
        self.place = text_label("", 20, True)
        box.addWidget(self.place)
        self.list = Column(NONE, 0)
        area = scroll_down()
        put_in_scroll(area, self.list)
        box.addWidget(area, 1)
        self.why = text_label("", 15, True, wrap=True)
        fill(
            box,
            self.why,
            Rule(),
            text_label(tr("Size, then the step; center drills as A 2.5"), 14, color=theme.INK2),
        )
        row, line = line_of(gap=8)
        self.field = Field(tr("Size of the step"), 20, True)
        self.field.setFixedWidth(140)
        self.field.setPlaceholderText("9.5")
        fill(line, self.field, None)
        box.addWidget(row)
        self.kinds: dict[str, BoxButton] = {}
        names = list(KINDS)
        for start in range(0, len(names), A_ROW):
            row, line = line_of(gap=6)
            for kind in names[start : start + A_ROW]:
                button = BoxButton(tr("Lay down: {kinds}", kinds=KINDS[kind]), KINDS[kind], 15)
                button.setCheckable(False)
                button.setMinimumHeight(38)
                button.clicked.connect(lambda _=False, k=kind: self._add(k))
                self.kinds[kind] = button
                line.addWidget(button, 1)
            box.addWidget(row)
        self.run_button = QPushButton(tr("Run it"))
        self.run_button.setProperty("role", "act")
        self.run_button.clicked.connect(self.plan_try.run)
        box.addWidget(self.run_button)
        return pane

    def _word(self) -> QWidget:
        pane = Pane(theme.HI, "l")
        pane.setFixedWidth(WORD_WIDTH)
        box = down(pane, (22, 12, 18, 14), 8)
        self.points = text_label("", 24, True, wrap=True)
        self.figures = text_label("", 17, wrap=True)
        self.said = Column(NONE, 6)
        area = scroll_down()
        put_in_scroll(area, self.said)
        self.next = QPushButton(tr("Next hole"))
        self.next.setProperty("role", "act")
        self.next.clicked.connect(self.plan_try.another)
        fill(box, self.points, self.figures)
        box.addWidget(area, 1)
        box.addWidget(self.next)
        return pane

    def showEvent(self, event: QShowEvent | None) -> None:
        """Mirror it."""
        super().showEvent(event)
        self.refresh()

    def _add(self, kind: str) -> None:
        size = "" if kind in SIZELESS else self.field.text()
        if not size.strip() and kind not in SIZELESS:
            self.plan_try.why = tr("Write the size of the {kinds} first.", kinds=KINDS[kind])
            self.refresh()
            self.field.setFocus()
            return
        self.plan_try.add(kind, size)
        if not self.plan_try.why:
            self.field.clear()
        self.field.setFocus()

    def refresh(self) -> None:
        """Mirror the hole, the steps, the word on them."""
        tried = self.plan_try
        if tried.setting is None or tried.lesson is None or not self.isVisible():
            return
        found = planned(tried.setting.id)
        self.place.setText(f"{tried.lesson.name}, {tried.number}")
        self.section.show_hole(found.hole, Sizes(), found.hole.unit)  # that of the print beside it
        self.facts.setText(
            tr(
                "{part}: {callout}\n{material}\n{machine}, tools as sold",
                part=sentence(found.setting.part),
                callout=found.setting.callout,
                material=sentence(found.material.name),
                machine=found.machine.name,
            )
        )
        self.why.setText(tried.why)
        self.why.setVisible(bool(tried.why))
        self.list.clear()
        for place, laid in enumerate(tried.steps):
            row, line = line_of((0, 4, 0, 4), 10)
            fill(line, text_label(f"{place + 1}", 17, True, theme.INK2), text_label(laid.words, 18, True), None)
            for words, what, able in (
                ("up", lambda _=False, k=place: tried.move(k, -1), place > 0),
                ("down", lambda _=False, k=place: tried.move(k, 1), place < len(tried.steps) - 1),
                ("remove", lambda _=False, k=place: tried.take_away(k), True),
            ):
                link = Link(words, 14)
                link.setAccessibleName(f"{laid.words}: {words}")
                link.clicked.connect(what)
                if able:
                    line.addWidget(link)
            self.list.add(row)
        if not tried.steps:
            self.list.add(text_label(tr("No step yet."), 16, color=theme.INK2))
        self.list.box.addStretch(1)
        self.run_button.setEnabled(bool(tried.steps))
        self._show_word(tried.judged)

    def _show_word(self, judged: Judged | None) -> None:
        self.said.clear()
        if judged is None:
            self.points.setText(tr("Lay down your sequence"))
            self.figures.setText(
                tr(
                    "Run, it is cut on the model and held against the program's own: minutes, chance, limits. "
                    "The first run counts."
                )
            )
            return
        self.points.setText(tr("{points:.0f} points", points=judged.points))
        theirs = tr("The program: {figures}", figures=_figures(judged.theirs.minutes, judged.theirs.chance_all))
        mine = judged.mine
        yours = (
            tr("Yours: {figures}", figures=_figures(mine.minutes, mine.chance_all))
            if mine is not None
            else tr("Yours: {why_not}", why_not=judged.why_not)
        )
        self.figures.setText(f"{yours}\n{theirs}")
        if judged.broken:
            self.said.add(text_label(tr("What yours breaks"), 17, True))
            for words in judged.broken:
                self.said.add(text_label(f"{sentence(words)}.", 15, wrap=True))
        if judged.differences:
            self.said.add(text_label(tr("What the program does otherwise"), 17, True))
        for found in judged.differences:
            self.said.add(text_label(f"{found.words}.", 15, True, wrap=True))
            self.said.add(text_label(found.reason, 15, color=theme.INK2, wrap=True))
        if mine is not None and not judged.differences and not judged.broken:
            self.said.add(text_label(tr("The same work in the same order."), 16, wrap=True))
        self.said.box.addStretch(1)


def _figures(minutes: float, chance: float | None) -> str:
    sure = tr(", {chance} in 100", chance=chance_words(chance)) if chance is not None else ""
    return localized(f"{minutes:.1f} min{sure}")
