"""Goes through the window in German, in a process of its own, and prints what a person would see of it.

Texts are made at import, so the language has to be there before anything else is. Printed as JSON: every text
that was painted or labeled, by stage, and every one wider than its place.
"""

from __future__ import annotations

import html
import json
import os
import re
import sys
from typing import Any

from cordwainer.core import language

if __name__ == "__main__":
    language.take("de")

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QWidget

from cordwainer.core.shop.catalog import machines
from cordwainer.files.places import Settings
from cordwainer.files.shop_out import shop_data
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.machine_page import MachinePage

STAGES = (
    "print",
    "plan",
    "practice",
    "measure",
    "explain",
    "crib",
    "logbook",
    "batch",
    "what_if",
    "train",
    "part",
)
TURNS = 12
seen: dict[str, str] = {}
wide: dict[str, list[Any]] = {}
here = ["first"]
paint = QPainter.drawText


def painted(painter: QPainter, *given: Any) -> Any:
    """Paints, and notes the text and whether its place holds it."""
    text = next((one for one in given if isinstance(one, str)), "")
    seen.setdefault(text, here[0])
    box = given[0] if isinstance(given[0], QRectF | QRect) else None
    flags = next((one for one in given[1:] if not isinstance(one, str | QRectF | QRect)), 0)
    bits = int(getattr(flags, "value", flags))
    wraps = bits & (Qt.TextFlag.TextWordWrap.value | Qt.TextFlag.TextDontClip.value)
    if text and box is not None and not wraps:
        needs = max(painter.fontMetrics().horizontalAdvance(line) for line in text.split("\n"))
        if needs > box.width() + 4:
            wide[text] = [here[0], needs, round(box.width())]
    return paint(painter, *given)


def labels(window: QWidget) -> None:
    """Notes the labels that are shown and whether they are cut off."""
    for widget in window.findChildren(QWidget):
        text = widget.text() if isinstance(widget, QLabel | QAbstractButton) else ""
        if not text or not widget.isVisible():
            continue
        plain = html.unescape(re.sub(r"<[^>]+>", "", text))
        seen.setdefault(plain, here[0])
        if isinstance(widget, QLabel) and not widget.wordWrap():
            shown = widget.visibleRegion().boundingRect()
            needs = widget.sizeHint().width()
            if needs > widget.width() + 4 or (
                not shown.isEmpty() and shown.right() + 4 < min(needs, widget.width())
            ):
                wide[plain] = [here[0], needs, min(widget.width(), shown.right())]


def main() -> None:
    """The demo, stage by stage."""
    QPainter.drawText = painted  # type: ignore[method-assign, assignment]
    application = QApplication(["german"])
    theme.apply(application)
    window = Window(Desk(Settings(), inline=True))
    window.begin(None, demo=False, ask=False)
    window.resize(QSize(1280, 800))
    window.show()
    window.grab()
    labels(window)
    window.begin(None, demo=True, ask=False)
    assert window.desk.plans.complete
    for stage in STAGES:
        here[0] = stage
        window.go(stage)
        window.desk.background.settle()
        for _ in range(TURNS):
            QApplication.processEvents()
        window.grab()
        labels(window)
    here[0] = "menu"
    for menu in window.actions_.menus.values():
        seen.update({action.text(): "menu" for action in menu.actions()})
    desk = window.desk
    desk.readings.put_reading(3.0, 0.0, "20,013")
    window.crib_acts().open_page("machines")
    (page,) = window.findChildren(MachinePage)
    for name, text in (("power_kw", "0,75"), ("feeds_mm_per_rev", "0,05  0,125"), ("rate_per_hour", "62,5")):
        page.fields[name].kept.emit(text)
    kept = json.dumps([desk.document.data, shop_data(desk.stock.shop)])
    names = [window.desk.stock.machine.name, window.desk.document.job.file.name]
    names += [machine.name for machine in machines()]
    names += [hole.name for hole in window.desk.document.job.file.holes]
    sys.stdout.write(json.dumps({"seen": seen, "wide": wide, "names": names, "kept": kept}))
    sys.stdout.flush()
    os._exit(0)


if __name__ == "__main__":
    main()
