"""Explain: what was seen, likely causes, the next check, how to mend it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import Question, causes, questions
from cordwainer.core.diagnosis.next_check import Check, applies, leads_after, next_checks, outcomes
from cordwainer.core.diagnosis.posterior import Ranked, answers_of, rank
from cordwainer.core.measuring.verdict import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.ui import theme
from cordwainer.ui.canvas import dye
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import (
    BoxButton,
    Column,
    Link,
    Mark,
    Pane,
    Pressable,
    Rule,
    draw_focus,
    put_in_scroll,
    text_label,
)
from cordwainer.ui.wording import fixed, print_size

FREE_QUESTIONS = (
    "q_chips_lips",
    "q_deflect",
    "q_orbit",
    "q_sound",
    "q_feel",
    "q_finish",
    "q_fluid",
    "q_ream_hold",
)
SHOWN_CAUSES = 3


def answer_words(answer: str) -> str:
    """An answer as it is said."""
    return answer.replace("_", " ").replace("le3D", "3 D or less")


class ErrorSection(QWidget):
    """The measured hole standing up with its errors drawn many times larger."""

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.finding: Finding | None = None
        self.unit = "mm"
        self.expected: tuple[float, float] | None = None
        self.setMinimumHeight(300)

    def show_hole(
        self, hole: Hole | None, finding: Finding | None, unit: str, expected: tuple[float, float] | None
    ) -> None:
        """Show a hole and its finding; `expected` is the size band the plan foresaw, in mm."""
        self.hole, self.finding, self.unit, self.expected = hole, finding, unit, expected
        self.update()

    def _factor(self, scale: float) -> float:
        hole, finding = self.hole, self.finding
        if hole is None or finding is None or finding.size_max_mm is None or finding.size_min_mm is None:
            return 50.0
        most = max(
            abs(finding.size_max_mm - hole.nominal_mm),
            abs(finding.size_min_mm - hole.nominal_mm),
            hole.limits.width_mm,
        )
        room = 46.0
        for factor in (500.0, 200.0, 100.0, 50.0, 20.0, 10.0, 5.0):
            if most / 2 * scale * factor <= room * 1.6:
                return factor
        return 2.0

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dyed walls, bare bore, expected band, the wall as measured, what is past the limit."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        hole, finding = self.hole, self.finding
        whole = QRectF(self.rect())
        painter.drawPixmap(QPointF(0, 0), dye.dyed(self.width(), self.height(), self.devicePixelRatioF()))
        if hole is None:
            return
        axis = self.width() * 0.42
        base = 92.0
        scale = base / (hole.nominal_mm / 2)
        factor = self._factor(scale)
        top, bottom = 34.0, self.height() - 14.0

        def radius(size: float) -> float:
            return base + (size - hole.nominal_mm) / 2 * scale * factor

        painter.setPen(theme.SCRIBE)
        painter.setFont(theme.font(14))
        painter.drawText(
            QRectF(0, 6, whole.width() - 16, 20), Qt.AlignmentFlag.AlignRight, f"errors drawn ×{factor:g}"
        )
        sizes = None
        if finding is not None and finding.entry_mm is not None:
            middle = finding.middle_mm if finding.middle_mm is not None else finding.entry_mm
            far = finding.exit_mm if finding.exit_mm is not None else middle
            sizes = (finding.entry_mm, middle, far)
        shown = sizes or (hole.limits.middle_mm,) * 3
        rs = [radius(s) for s in shown]
        ys = (top, (top + bottom) / 2, bottom)
        bore = QPainterPath(QPointF(axis - rs[0], ys[0]))
        upper_half, lower_half = (ys[0] + ys[1]) / 2, (ys[1] + ys[2]) / 2
        bore.quadTo(QPointF(axis - rs[1], upper_half), QPointF(axis - rs[1], ys[1]))
        bore.quadTo(QPointF(axis - rs[1], lower_half), QPointF(axis - rs[2], ys[2]))
        bore.lineTo(QPointF(axis + rs[2], ys[2]))
        bore.quadTo(QPointF(axis + rs[1], lower_half), QPointF(axis + rs[1], ys[1]))
        bore.quadTo(QPointF(axis + rs[1], upper_half), QPointF(axis + rs[0], ys[0]))
        bore.closeSubpath()
        painter.fillPath(bore, theme.BARE)
        upper, lower = radius(hole.limits.upper_mm), radius(hole.limits.lower_mm)
        inside = QPainterPath()
        inside.addRect(QRectF(axis - upper, top - 2, 2 * upper, bottom - top + 4))
        past = bore.subtracted(inside)
        painter.fillPath(past, theme.DYELO)
        dye.hatch_path(painter, past, 7, theme.BRASSDYE, 1.6, back=True)
        if self.expected is not None:
            a, b = radius(self.expected[0]), radius(self.expected[1])
            for side in (-1, 1):
                band = QPainterPath()
                x0, x1 = sorted((axis + side * a, axis + side * b))
                band.addRect(QRectF(x0, top, x1 - x0, bottom - top))
                painter.fillPath(band.intersected(bore), theme.BARE2)
        for side in (-1, 1):
            for r, dash in ((upper, False), (lower, True)):
                color = theme.INK if bore.contains(QPointF(axis + side * r, ys[1])) else theme.SCRIBE
                pen = QPen(color, 1.6)
                if dash:
                    pen.setDashPattern([5, 4])
                painter.setPen(pen)
                painter.drawLine(QPointF(axis + side * r, top), QPointF(axis + side * r, bottom))
        painter.setPen(QPen(theme.SCRIBE, 2.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(bore)
        pen = QPen(theme.INK2, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(axis, top - 10), QPointF(axis, bottom))
        painter.setPen(theme.INK)
        painter.setFont(theme.font(24, True))
        mid = QRectF(axis - 90, top + 30, 180, 30)
        painter.fillRect(mid, theme.BARE)
        painter.drawText(mid, Qt.AlignmentFlag.AlignCenter, print_size(hole, self.unit))
        if sizes is None:
            painter.setPen(theme.SCRIBE)
            painter.setFont(theme.font(15))
            painter.drawText(
                QRectF(axis + 110, top, whole.width() - axis - 120, 80),
                int(Qt.AlignmentFlag.AlignLeft) | int(Qt.TextFlag.TextWordWrap),
                "Not measured yet. Answers alone still rank the causes.",
            )
            return
        for size, y, words in zip(
            sizes, (top + 18, ys[1], bottom - 18), ("mouth", "middle", "far end"), strict=True
        ):
            x = axis + radius(size)
            painter.setPen(QPen(theme.SCRIBE, 1.1))
            edge = min(x + 26, whole.width() - 118)
            painter.drawLine(QPointF(x, y), QPointF(edge, y))
            painter.setBrush(theme.BRASS)
            painter.setPen(QPen(theme.INK, 1.4))
            painter.drawEllipse(QPointF(x, y), 5, 5)
            painter.setPen(theme.SCRIBE)
            painter.setFont(theme.font(20, True))
            box = QRectF(edge + 6, y - 8, whole.width() - edge - 10, 26)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, fixed(size, self.unit))
            painter.setFont(theme.font(13))
            painter.setPen(theme.SCRIBE2)
            painter.drawText(QRectF(edge + 6, y - 24, 100, 18), Qt.AlignmentFlag.AlignVCenter, words)


class CauseRow(QWidget):
    """A cause with its word and a bar; pressing shows its mechanism."""

    def __init__(self, ranked: Ranked, first: bool, most: float) -> None:
        super().__init__()
        self.ranked, self.first, self.most = ranked, first, most
        self.setAccessibleName(f"{ranked.name}, {ranked.word}")
        cause = causes().get(ranked.id)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 8)
        column.setSpacing(2)
        line = QHBoxLayout()
        line.addWidget(text_label(ranked.name, 18 if first else 16, first, wrap=True), 1)
        line.addWidget(text_label(ranked.word, 15, first, color=theme.INK if first else theme.INK2))
        column.addLayout(line)
        column.addWidget(Bar(ranked.probability / most, first))
        if cause is not None:
            column.addWidget(text_label(cause.mechanism, 13, color=theme.INK2, wrap=True))


class Bar(QWidget):
    """How far a cause stands out beside the leader; a length, not odds."""

    def __init__(self, share: float, first: bool) -> None:
        super().__init__()
        self.share, self.first = share, first
        self.setFixedHeight(9)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dye for the leader, ink for the rest."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.LO)
        painter.fillRect(
            QRectF(0, 0, self.width() * self.share, self.height()), theme.DYE if self.first else theme.INK
        )


class AnswerButton(Pressable):
    """An outcome of the next check, with what it would do to the leader."""

    def __init__(self, answer: str, effect: str) -> None:
        super().__init__(f"{answer_words(answer)}: {effect}")
        self.answer, self.effect = answer, effect
        self.setFixedHeight(48)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A plate box on brass."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.SCRIBE if self.hovered else theme.HI)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.setPen(theme.INK)
        painter.setFont(theme.font(14, True))
        words = painter.fontMetrics().elidedText(
            answer_words(self.answer).capitalize(), Qt.TextElideMode.ElideRight, self.width() - 16
        )
        painter.drawText(QRectF(9, 4, self.width() - 14, 22), Qt.AlignmentFlag.AlignVCenter, words)
        painter.setFont(theme.font(13))
        effect = painter.fontMetrics().elidedText(self.effect, Qt.TextElideMode.ElideRight, self.width() - 16)
        painter.drawText(QRectF(9, 24, self.width() - 14, 20), Qt.AlignmentFlag.AlignVCenter, effect)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class QuestionRow(QWidget):
    """One question with its answers as boxes or, where there are many, stepped through."""

    def __init__(self, question: Question, value: str | None, session: Session) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(3)
        column.addWidget(text_label(question.text, 14, value is not None, wrap=True))
        row = FlowRow([(a, answer_words(a)) for a in question.answers], value, question.text)
        row.setToolTip(question.how)
        row.chosen.connect(lambda answer: session.answer(question.id, None if answer == value else answer))
        column.addWidget(row)


class FlowRow(QWidget):
    """Boxes in rows that break where the width ends."""

    WIDTH = 268
    chosen = pyqtSignal(str)

    def __init__(self, options: list[tuple[str, str]], value: str | None, name: str) -> None:
        super().__init__()
        x = y = 0
        for key, words in options:
            button = BoxButton(f"{name} {words}", words, 13)
            button.setFont(theme.font(13, True))
            wide = min(button.fontMetrics().horizontalAdvance(words) + 16, self.WIDTH)
            if x and x + wide > self.WIDTH:
                x, y = 0, y + 31
            button.setParent(self)
            button.setGeometry(x, y, wide, 30)
            button.setChecked(key == value)
            button.clicked.connect(lambda _=False, k=key: self.chosen.emit(k))
            x += wide - 1
        self.setFixedHeight(y + 31)


class ExplainStage(QWidget):
    """Seen and answered at the left, the hole, causes and the next check at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = Pane(theme.PLATE, "r")
        left.setFixedWidth(316)
        box = QVBoxLayout(left)
        box.setContentsMargins(0, 0, 0, 0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.seen = Column((20, 12, 14, 12), 4)
        put_in_scroll(scroll, self.seen)
        box.addWidget(scroll)
        row.addWidget(left)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        head = Pane(theme.HI, "b")
        head.setFixedHeight(52)
        line = QHBoxLayout(head)
        line.setContentsMargins(20, 0, 16, 0)
        self.heading = text_label("", 20, True)
        line.addWidget(self.heading)
        line.addStretch(1)
        self.switch = Link("", 15)
        self.switch.clicked.connect(
            lambda: session.select_hole((session.hole_index + 1) % max(len(session.job.holes), 1))
        )
        line.addWidget(self.switch)
        middle.addWidget(head)
        self.section = ErrorSection()
        middle.addWidget(self.section, 1)
        self.legend = Pane(theme.HI, "t")
        self.legend.setFixedHeight(46)
        legend = QHBoxLayout(self.legend)
        legend.setContentsMargins(20, 0, 16, 0)
        self.legend_text = text_label("", 14)
        legend.addWidget(Swatch("expected"))
        legend.addWidget(self.legend_text)
        legend.addSpacing(14)
        legend.addWidget(Swatch("past"))
        self.past_text = text_label("", 14)
        legend.addWidget(self.past_text)
        legend.addStretch(1)
        middle.addWidget(self.legend)
        mend = Pane(theme.PLATE, "t")
        mend.setFixedHeight(214)
        mend_box = QVBoxLayout(mend)
        mend_box.setContentsMargins(20, 10, 20, 10)
        self.mend = Column((0, 0, 0, 0), 3)
        mend_box.addWidget(self.mend)
        mend_box.addStretch(1)
        middle.addWidget(mend)
        row.addLayout(middle, 1)
        right = Pane(theme.HI, "l")
        right.setFixedWidth(404)
        column = QVBoxLayout(right)
        column.setContentsMargins(1, 0, 0, 0)
        column.setSpacing(0)
        cause_scroll = QScrollArea()
        cause_scroll.setWidgetResizable(True)
        cause_scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.causes = Column((24, 12, 20, 8), 4)
        put_in_scroll(cause_scroll, self.causes)
        column.addWidget(cause_scroll, 1)
        self.check = Pane(theme.BRASS)
        check = QVBoxLayout(self.check)
        check.setContentsMargins(24, 12, 20, 14)
        self.check_column = Column((0, 0, 0, 0), 4)
        check.addWidget(self.check_column)
        column.addWidget(self.check)
        row.addWidget(right)
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.refresh()

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        session, hole = self.session, self.session.hole
        case = session.case()
        if hole is None or case is None:
            return
        finding, unit = session.finding(), session.unit
        self.heading.setText(f"{hole.id} {hole.name}".strip())
        many = len(session.job.holes)
        self.switch.setText(f"Next of {many}")
        self.switch.setVisible(many > 1)
        expected = None
        route = session.route
        last = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route else None
        if last is not None and last.expected_mm is not None and last.expected_sd_mm is not None:
            expected = (last.expected_mm - 2 * last.expected_sd_mm, last.expected_mm + 2 * last.expected_sd_mm)
        self.section.show_hole(hole, finding, unit, expected)
        if expected is not None:
            self.legend_text.setText(f"expected {fixed(expected[0], unit)} to {fixed(expected[1], unit)}")
        self.past_text.setText(f"past {fixed(hole.limits.upper_mm, unit)}")
        ranked = rank(case)
        checks = next_checks(case)
        self._show_seen(hole, finding, case, unit)
        self._show_causes(ranked, case, finding)
        self._show_check(checks, ranked, case)
        self._show_mend(ranked)

    def _show_seen(self, hole: Hole, finding: Finding | None, case: Case, unit: str) -> None:
        seen = self.seen
        seen.clear()
        seen.add(text_label("What you measured", 20, True))
        if finding is None:
            seen.add(text_label("Nothing yet. Three sizes on Measure say most.", 14, color=theme.INK2, wrap=True))
        else:
            for words, size in (
                ("Mouth", finding.entry_mm),
                ("Middle", finding.middle_mm),
                ("Far end", finding.exit_mm),
            ):
                if size is None:
                    continue
                seen.add(Rule())
                row = QWidget()
                line = QHBoxLayout(row)
                line.setContentsMargins(0, 0, 0, 0)
                line.addWidget(text_label(words, 15))
                line.addStretch(1)
                line.addWidget(text_label(fixed(size, unit), 20, True))
                over = size - hole.limits.upper_mm
                under = hole.limits.lower_mm - size
                status = "accept" if over <= 0 and under <= 0 else "reject"
                line.addWidget(Mark(status, 6))
                note = (
                    "inside"
                    if status == "accept"
                    else (f"{fixed(over, unit)} over" if over > 0 else f"{fixed(under, unit)} under")
                )
                label = text_label(note, 13, color=theme.INK2)
                label.setFixedWidth(82)
                line.addWidget(label)
                seen.add(row)
            seen.add(Rule())
            limits = f"{fixed(hole.limits.lower_mm, unit)} to {fixed(hole.limits.upper_mm, unit)}"
            seen.add(text_label(f"Print allows {limits}", 14, color=theme.INK2))
        seen.box.addSpacing(8)
        seen.add(text_label("What else", 20, True))
        given = self.session.job.file.holes[self.session.hole_index].evidence
        known = answers_of(case)
        asked = [q for q in given if q in questions() and q[0] == "q"]
        asked += [
            q
            for q in FREE_QUESTIONS
            if q not in asked and q in questions() and applies(case, questions()[q], known)
        ]
        for question_id in asked:
            seen.add(Rule())
            value = case.answers.get(question_id)
            seen.add(QuestionRow(questions()[question_id], value, self.session))
        seen.box.addStretch(1)

    def _show_causes(self, ranked: list[Ranked], case: Case, finding: Finding | None) -> None:
        column = self.causes
        column.clear()
        column.add(text_label("Likely causes", 20, True))
        if finding is not None and finding.verdict == "accept":
            column.add(
                text_label(
                    "The hole is inside its limits. These are the causes to keep an eye on.",
                    14,
                    color=theme.INK2,
                    wrap=True,
                )
            )
        most = max(r.probability for r in ranked[:SHOWN_CAUSES])
        for index, entry in enumerate(ranked[:SHOWN_CAUSES]):
            column.add(CauseRow(entry, index == 0, most))
        count = len(answers_of(case))
        column.add(
            text_label(
                f"From {count} answers, by judgement: bars show the order, not odds.",
                13,
                color=theme.INK2,
                wrap=True,
            )
        )
        column.box.addStretch(1)

    def _show_check(self, checks: list[Check], ranked: list[Ranked], case: Case) -> None:
        column = self.check_column
        column.clear()
        self.check.setVisible(bool(checks))
        if not checks:
            return
        check = checks[0]
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label("Check this next", 15, True))
        line.addStretch(1)
        minutes = "free" if check.minutes == 0 else f"{check.minutes:g} min"
        line.addWidget(text_label(minutes, 18, True))
        column.add(head)
        column.add(text_label(check.question.text, 22, True, wrap=True))
        column.add(text_label(check.question.how, 14, wrap=True))
        leader = next((r for r in ranked if r.id in causes()), None)
        grid = QWidget()
        lines = QVBoxLayout(grid)
        lines.setContentsMargins(0, 4, 0, 0)
        lines.setSpacing(5)
        row: QHBoxLayout | None = None
        after = dict(outcomes(case, check.question, leader.id)) if leader else {}
        for index, (answer, lead) in enumerate(leads_after(case, check.question)):
            if index % 2 == 0:
                row = QHBoxLayout()
                row.setSpacing(8)
                lines.addLayout(row)
            effect = f"then: {causes()[lead].name[0].lower()}{causes()[lead].name[1:]}"
            if leader is not None and lead == leader.id:
                gain = after[answer] / leader.probability
                effect = (
                    "speaks for the first"
                    if gain > 1.15
                    else ("speaks against it" if gain < 0.85 else "changes little")
                )
            button = AnswerButton(answer, effect)
            button.clicked.connect(lambda _=False, a=answer: self.session.answer(check.question.id, a))
            if row is not None:
                row.addWidget(button)
        column.add(grid)

    def _show_mend(self, ranked: list[Ranked]) -> None:
        column = self.mend
        column.clear()
        leader = next((r for r in ranked if r.id in causes()), None)
        if leader is None:
            return
        cause = causes()[leader.id]
        column.add(text_label("If it is the first: mend the cause", 16, True))
        column.add(text_label(cause.fix, 14, wrap=True))
        if cause.rescue:
            column.box.addSpacing(4)
            column.add(text_label("Rescue this part", 16, True))
            column.add(text_label(f"{cause.rescue} Ask first if it is not your drawing.", 14, wrap=True))
        if cause.safety:
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 4, 0, 0)
            line.addWidget(Mark("caution", 9, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            line.addWidget(text_label(cause.safety, 14, True, wrap=True), 1)
            column.add(row)


class Swatch(QWidget):
    """A small patch of the legend."""

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.kind = kind
        self.setFixedSize(32, 18)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Expected band, or past the limit."""
        painter = QPainter(self)
        box = QRectF(0.5, 0.5, 31, 17)
        painter.fillRect(box, theme.BARE2 if self.kind == "expected" else theme.DYELO)
        if self.kind == "past":
            dye.lines(painter, box, 7, theme.BRASSDYE, 1.6, back=True)
        painter.setPen(QPen(theme.INK, 1))
        painter.drawRect(box)
