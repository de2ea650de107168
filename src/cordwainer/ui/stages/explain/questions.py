"""Causes, questions and their answers as things to read and press."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from cordwainer.core.diagnosis.knowledge import Question, answer_words, causes
from cordwainer.core.diagnosis.posterior import Ranked
from cordwainer.core.language import localized, sentence, tr
from cordwainer.ui.desk.causes import Causes
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Pressable, draw_focus, text_label
from cordwainer.ui.kit.layout import MIDDLE, down, fill
from cordwainer.ui.kit.plain import on_tip

NO_TOOL = ("nothing", "memory", "eyes", "ears")


class CauseRow(Pressable):
    """A cause with its word or figure and a bar; pressing it shows what it does and how it is mended."""

    chosen = pyqtSignal(str)

    def __init__(self, ranked: Ranked, first: bool, most: float) -> None:
        about = tr(", about {in_100} in 100", in_100=ranked.in_100) if ranked.in_100 is not None else ""
        super().__init__(
            tr(
                "{ranked}, {ranked_2}{about}{shown}",
                ranked=ranked.name,
                ranked_2=ranked.word,
                about=about,
                shown=tr(", shown") if first else "",
            )
        )
        self.ranked, self.first, self.most = ranked, first, most
        cause = causes().get(ranked.id)
        self.setEnabled(cause is not None)
        policy = QSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)  # a long name breaks; it does not widen the column
        self.clicked.connect(lambda: self.chosen.emit(ranked.id))
        column = down(self, (0, 0, 0, 8), 2)
        line = QHBoxLayout()
        line.addWidget(text_label(ranked.name, 18 if first else 16, first, wrap=True), 1)
        if ranked.in_100 is not None:
            line.addWidget(text_label(f"{ranked.in_100}", 28 if first else 20, first))
        else:
            line.addWidget(text_label(ranked.word, 15, first, color=theme.INK if first else theme.INK2))
        fill(column, line, OddsBar(ranked.probability / most, first))
        if cause is not None and first:
            column.addWidget(text_label(cause.mechanism, 13, color=theme.INK2, wrap=True))

    def sizeHint(self) -> QSize:
        """As its words need it."""
        layout = self.layout()
        return layout.sizeHint() if layout is not None else super().sizeHint()

    def hasHeightForWidth(self) -> bool:
        """Words break."""
        return True

    def heightForWidth(self, width: int) -> int:
        """As its words need it at a width."""
        layout = self.layout()
        return layout.heightForWidth(width) if layout is not None else self.sizeHint().height()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The ring where the keyboard is."""
        if self.ring:
            draw_focus(QPainter(self), QRectF(self.rect()))


class OddsBar(QWidget):
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

    def __init__(self, words: str, effect: str, low: bool = False) -> None:
        super().__init__(f"{words}: {effect}")
        self.words, self.effect, self.low = words, effect, low
        self.setFixedHeight(42 if low else 48)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A plate box on brass."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.SCRIBE if self.hovered else theme.HI)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.setPen(theme.INK)
        painter.setFont(theme.font(14, True))
        words = painter.fontMetrics().elidedText(
            sentence(self.words), Qt.TextElideMode.ElideRight, self.width() - 16
        )
        painter.drawText(QRectF(9, 1 if self.low else 4, self.width() - 14, 22), MIDDLE, words)
        painter.setFont(theme.font(13))
        effect = painter.fontMetrics().elidedText(self.effect, Qt.TextElideMode.ElideRight, self.width() - 16)
        painter.drawText(QRectF(9, 20 if self.low else 24, self.width() - 14, 20), MIDDLE, effect)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class QuestionRow(QWidget):
    """One question with its answers as boxes or, where there are many, stepped through."""

    def __init__(self, question: Question, value: str | None, causes: Causes, unit: str) -> None:
        super().__init__()
        self.value = value
        column = down(self, (0, 2, 0, 4), 3)
        self.words = text_label(question.text, 14, value is not None, wrap=True)
        column.addWidget(self.words)
        if question.minutes:
            column.addWidget(text_label(costs(question), 13, color=theme.INK2))
        options = [(a, answer_words(question.id, a, unit)) for a in question.answers]
        self.row = FlowRow(options, value, question.text)
        self.row.setToolTip(on_tip(question.how))
        self.row.chosen.connect(
            lambda answer: causes.answer(question.id, None if answer == self.value else answer)
        )
        column.addWidget(self.row)

    def show_answer(self, value: str | None) -> None:
        """Another answer, or none; the boxes stay."""
        if value != self.value:
            self.value = value
            self.words.setFont(theme.font(14, value is not None))
        self.row.show_value(value)


def costs(question: Question) -> str:
    """What a question asks for: minutes and the means; empty where it is free.

    >>> from cordwainer.core.diagnosis.knowledge import questions
    >>> costs(questions()["q_tip"]), costs(questions()["q_moved"])
    ('1 min, loupe', '')
    """
    if not question.minutes:
        return ""
    needs = "" if question.needs in NO_TOOL else f", {tr(question.needs)}"
    return localized(f"{question.minutes:g} min{needs}")


class FlowRow(QWidget):
    """Boxes in rows that break where the width ends."""

    chosen = pyqtSignal(str)

    def __init__(self, options: list[tuple[str, str]], value: str | None, name: str, width: int = 268) -> None:
        super().__init__()
        x = y = 0
        self.buttons: dict[str, BoxButton] = {}
        for key, words in options:
            button = BoxButton(f"{name} {words}", words, 13)
            button.one_of_several()
            button.setFont(theme.font(13, True))
            wide = min(button.fontMetrics().horizontalAdvance(words) + 16, width)
            if x and x + wide > width:
                x, y = 0, y + 31
            button.setParent(self)
            button.setGeometry(x, y, wide, 30)
            button.setChecked(key == value)
            button.clicked.connect(lambda _=False, k=key: self.chosen.emit(k))
            self.buttons[key] = button
            x += wide - 1
        self.setFixedHeight(y + 31)

    def show_value(self, value: str | None) -> None:
        """Mark the box of a value, or none."""
        for key, button in self.buttons.items():
            button.setChecked(key == value)
