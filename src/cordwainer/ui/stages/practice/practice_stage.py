"""The shop's way of working: where good machinists disagree, and what each choice would change here."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, sentence, tr, trn
from cordwainer.core.planning.words.practice import Choice, School, read_practice, schools
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.planning.words.wording import limits_pair, print_size
from cordwainer.files.job import practice_in
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.effects import Effects
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Pane, Pressable, draw_focus, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, RIGHT, across, down, fill, scroll_down, smooth, write
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.tiles import Choices

if TYPE_CHECKING:
    from cordwainer.core.planning.effects import Effect

LIST_WIDTH, ROW, CARD = 404, 40, 116
EFFECT_WIDTH = 236
WRAP = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap


class SchoolRow(Pressable):
    """One disagreement: its title, the choice in force, how many choices would change this hole."""

    def __init__(self, school: School) -> None:
        super().__init__(school.title)
        self.school, self.force, self.own, self.matter = school, "", "", 0
        self.one_of_several()
        self.setFixedHeight(ROW)

    def show_state(self, force: str, own: str, matter: int) -> None:
        """The choice in force, whose it is, and how many others matter here."""
        self.force, self.own, self.matter = force, own, matter
        more = tr(", {matter} would change this hole", matter=matter) if matter else ""
        self.setAccessibleName(f"{self.school.title}: {force}{', ' + own if own else ''}{more}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Title over choice; brass edge when open."""
        painter = smooth(self)
        chosen, w, h = self.isChecked(), self.width(), self.height()
        if chosen or self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        if chosen:
            painter.fillRect(QRectF(0, 0, 5, h), theme.BRASS)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, h - 1, w, h - 1)
        write(painter, QPointF(14, 17), self.school.title, 15, chosen, color=theme.INK)
        painter.setFont(theme.font(13, bool(self.own)))
        painter.setPen(theme.INK if self.own else theme.INK2)
        words = f"{self.force}, {self.own}" if self.own else self.force
        room = w - 28 - (64 if self.matter else 0)
        painter.drawText(
            QPointF(14, 33), painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room)
        )
        if self.matter:
            painter.setFont(theme.font(13))
            painter.setPen(theme.BRASSINK)
            box = QRectF(w - 84, 18, 74, 20)
            painter.drawText(
                box, RIGHT, trn("{matter} differs", "{matter} differ", self.matter, matter=self.matter)
            )
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class ChoiceCard(Pressable):
    """One choice: what it does and why, and what it would change here."""

    def __init__(self, choice: Choice, usual: bool) -> None:
        super().__init__(choice.words)
        self.choice, self.usual = choice, usual
        self.effect: Effect | None = None
        self.waiting = False
        self.one_of_several()
        self.setFixedHeight(CARD)

    def show_effect(self, effect: Effect | None, waiting: bool) -> None:
        """What is known of its effect."""
        self.effect, self.waiting = effect, waiting
        told = effect.words if effect is not None else ("working" if waiting else "")
        self.setAccessibleName(f"{self.choice.words}. {self.choice.reason}. {told}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Ring, words, reason; the effect in figures at the right."""
        painter = smooth(self)
        chosen, w, h = self.isChecked(), self.width(), self.height()
        painter.fillRect(self.rect(), theme.HI if chosen or self.hovered else theme.PLATE)
        if chosen:
            painter.fillRect(QRectF(0, 0, 6, h), theme.BRASS)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(0, h - 1, w, h - 1)
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(32, 28), 9, 9)
        if chosen:
            painter.setBrush(theme.INK)
            painter.drawEllipse(QPointF(32, 28), 4.5, 4.5)
        right = w - EFFECT_WIDTH - 16
        painter.setPen(theme.INK)
        painter.setFont(theme.font(17, True))
        words = sentence(self.choice.words)
        box = QRectF(56, 14, right - 70, 44)
        painter.drawText(box, WRAP, words)
        used = painter.fontMetrics().boundingRect(box.toRect(), WRAP, words).height()
        painter.setFont(theme.font(14))
        painter.setPen(theme.INK2)
        reason = sentence(self.choice.reason) + "."
        painter.drawText(QRectF(56, 16 + used, right - 70, h - used - 18), WRAP, reason)
        self._effect(painter, float(right), h)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))

    def _effect(self, painter: QPainter, left: float, h: int) -> None:
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(QPointF(left, 12), QPointF(left, h - 13))
        x, wide = left + 16, EFFECT_WIDTH - 8
        found = self.effect
        if self.isChecked() or found is None or found.in_force:
            painter.setPen(theme.INK2)
            painter.setFont(theme.font(14))
            word = tr("in force") if self.isChecked() else ("working" if self.waiting else "")
            painter.drawText(QPointF(x, 33), word + (tr(", the usual") if self.isChecked() and self.usual else ""))
            return
        y = 34.0
        more, chance, now = found.more_minutes, found.chance, found.chance_now
        figures = found.apart is None and not found.why_not
        if figures and more is not None and abs(more) >= 0.05:
            painter.setPen(theme.INK)
            painter.setFont(theme.font(22, True))
            text = localized(f"{more:+.1f}").replace("-", "−")
            painter.drawText(QPointF(x, y), text)
            after = x + painter.fontMetrics().horizontalAdvance(text) + 5
            write(painter, QPointF(after, y), "min", 14)
            y += 26
        if figures and chance is not None and now is not None and round(100 * chance) != round(100 * now):
            painter.setPen(theme.INK)
            painter.setFont(theme.font(22, True))
            text = f"{100 * now:.0f} → {100 * chance:.0f}"
            painter.drawText(QPointF(x, y), text)
            after = x + painter.fontMetrics().horizontalAdvance(text) + 5
            write(painter, QPointF(after, y), tr("in 100"), 14)
            y += 26
        words = found.differs
        if found.why_not or found.apart is not None or found.none:
            words = found.words
        elif y < 40 and not words:
            words = tr("no change worth a figure")
        painter.setPen(theme.INK2)
        painter.setFont(theme.font(13))
        top = y - (16 if y < 40 else 14)
        painter.drawText(QRectF(x, top, wide, h - top - 4), WRAP, words)


class PracticeStage(Stage):
    """Schools at the left, the open one's choices at the right, with their effects on the selected hole."""

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, plans: Plans, effects: Effects
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.effects = effects
        self.effects = self.effects
        self.open = schools()[0].key
        row = across(self, NONE, 0)
        row.addWidget(self._list())
        row.addWidget(self._page(), 1)
        self.cards: dict[str, ChoiceCard] = {}
        self._shown = ""
        self.effects.ready.connect(self._show_effects)
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed, plans.arrived)

    def _list(self) -> QWidget:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(LIST_WIDTH)
        box = down(pane, (16, 12, 10, 8), 6)
        box.addWidget(text_label(tr("Your practice"), 20, True))
        about = tr(
            "Where good machinists disagree. None of it is wrong where the hole comes out inside its limits."
        )
        box.addWidget(text_label(about, 14, color=theme.INK2, wrap=True))
        column = Column((0, 0, 6, 0), 0)
        self.rows: dict[str, SchoolRow] = {}
        for school in schools():
            found = SchoolRow(school)
            found.clicked.connect(lambda _=False, key=school.key: self.show_school(key))
            column.add(found)
            self.rows[school.key] = found
        column.box.addStretch(1)
        area = scroll_down()
        put_in_scroll(area, column)
        box.addWidget(area, 1)
        back = Link(tr("Back to the plan"), 14)
        back.clicked.connect(lambda: self.wants.emit("go_plan"))
        box.addWidget(back)
        return pane

    def _page(self) -> QWidget:
        pane = Pane(theme.PLATE)
        box = down(pane, (24, 14, 20, 14), 6)
        self.title = text_label("", 26, True)
        box.addWidget(self.title)
        self.about = text_label("", 15, color=theme.INK2, wrap=True)
        box.addWidget(self.about)
        self.choices = Column((0, 8, 0, 0), 0)
        area = scroll_down()
        put_in_scroll(area, self.choices)
        box.addWidget(area, 1)
        foot = across(gap=12)
        foot.addWidget(text_label(tr("Choose for"), 15))
        self.scope = Choices(
            tr("Choose for"), [("job", tr("This job")), ("shop", tr("Every job here"))], QSize(136, 36)
        )
        self.scope.set_value("job")
        self.scope.chosen.connect(lambda value: self.scope.set_value(value or "job"))
        fill(foot, self.scope, None)
        self.usual = Link(tr("Back to the usual"), 14)
        self.usual.clicked.connect(self.let_go)
        foot.addWidget(self.usual)
        box.addLayout(foot)
        note = tr("A job's own choice goes before the shop's. Every plan is made anew with what is chosen.")
        box.addWidget(text_label(note, 13, color=theme.INK2, wrap=True))
        return pane

    # -- what is shown -------------------------------------------------------------------------

    @property
    def school(self) -> School:
        """The school open at the right."""
        return next(s for s in schools() if s.key == self.open)

    def show_school(self, key: str) -> None:
        """Open another school."""
        self.open = key
        self.effects.want(key)
        self.refresh()

    def refresh(self) -> None:
        """Mirror what is in hand."""
        if not self.isVisible():
            return
        school = self.school
        hole, route = self.selection.hole, self.plans.route
        self.title.setText(school.title)
        if hole is None:
            self.about.setText(tr("No hole yet: what a choice would change is shown once there is one."))
        else:
            upper, lower = limits_pair(hole, self.selection.unit)
            now = f"{route.minutes:.0f} min" if route is not None else tr("no sequence")
            if route is not None and route.chance_all is not None:
                now += tr(", {chance} in 100", chance=chance_words(route.chance_all))
            size = f"{print_size(hole, self.selection.unit)} {upper} {lower}".strip().replace("  ", " ")
            self.about.setText(
                tr(
                    "{hole} {hole_2}, {size}, on {machine}: {now} as planned",
                    hole=hole.id,
                    hole_2=hole.name,
                    size=size,
                    machine=self.stock.machine.name,
                    now=now,
                )
            )
        if self._shown != school.key:
            self._shown = school.key
            self.choices.clear()
            self.cards = {}
            for choice in school.choices:
                card = ChoiceCard(choice, choice.name == school.default)
                card.clicked.connect(lambda _=False, name=choice.name: self.choose(name))
                self.choices.add(card)
                self.cards[choice.name] = card
            self.choices.box.addStretch(1)
        force = getattr(practice_in(self.document.job, self.stock.shop), school.key)
        for name, card in self.cards.items():
            card.setChecked(name == force)
        own = school.key in self.document.job.file.practice or school.key in self.stock.shop.practice
        self.usual.setVisible(own)
        self.effects.look()
        self._show_effects()

    def _show_effects(self) -> None:
        """Rows and cards with what is known by now."""
        practice = practice_in(self.document.job, self.stock.shop)
        job = self.document.job.file.practice
        for school in schools():
            row, force = self.rows[school.key], getattr(practice, school.key)
            own = (
                tr("this job")
                if school.key in job
                else (tr("this shop") if school.key in self.stock.shop.practice else "")
            )
            known = [self.effects.found.get((school.key, choice.name)) for choice in school.choices]
            matter = sum(1 for e in known if e is not None and not e.in_force and e.apart is None and not e.none)
            row.show_state(school.choice(force).words, own, matter)
            row.setChecked(school.key == self.open)
        for name, card in self.cards.items():
            card.show_effect(self.effects.found.get((self.open, name)), self.effects.working)

    # -- choosing ------------------------------------------------------------------------------

    def choose(self, name: str) -> None:
        """Take a choice for the job or for the shop."""
        school = self.school
        words = f"{school.title}: {school.choice(name).words}"
        if self.scope.value == "shop":
            if school.key in self.document.job.file.practice:
                self._put(words, self._without(school.key))
            self.stock.crib.edit(words, lambda data: data["practice"].update({school.key: name}))
            return
        inherited = getattr(read_practice({}, self.stock.shop.practice)[0], school.key)
        kept = self._without(school.key)
        self._put(words, kept if name == inherited else kept | {school.key: name})

    def let_go(self) -> None:
        """Back to what is usual, for job and shop."""
        key = self.open
        if key in self.document.job.file.practice:
            self._put(tr("Back to the usual"), self._without(key))
        if key in self.stock.shop.practice:
            usual = self.school.default
            self.stock.crib.edit(tr("Back to the usual"), lambda data: data["practice"].update({key: usual}))

    def _put(self, words: str, practice: dict[str, str]) -> None:
        self.document.edit(words, lambda data: data.update(practice=practice))

    def _without(self, key: str) -> dict[str, str]:
        return {k: v for k, v in self.document.job.file.practice.items() if k != key}

    def hideEvent(self, event: object) -> None:
        """Nobody looks: stop working it out."""
        self.effects.quiet()
