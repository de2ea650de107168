"""What pages share: the shipped typeface and words in it."""

from __future__ import annotations

import io
from functools import cache
from typing import Any

from cordwainer.core.tables import packaged


def mm() -> float:
    """Points of one millimeter."""
    from reportlab.lib.units import mm

    return float(mm)


@cache
def fonts() -> None:
    """Make the shipped typeface known to the PDF writer."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in (("B612", "B612-Regular.ttf"), ("B612-Bold", "B612-Bold.ttf")):
        pdfmetrics.registerFont(TTFont(name, io.BytesIO(packaged(f"fonts/{file}"))))
    pdfmetrics.registerFontFamily("B612", normal="B612", bold="B612-Bold", italic="B612", boldItalic="B612-Bold")


@cache
def style(size: float = 8.0, bold: bool = False, color: str = "#000000", space: float = 0.0) -> Any:
    """A paragraph's style: size in points, `space` before it."""
    from reportlab.lib.styles import ParagraphStyle

    return ParagraphStyle(
        f"s{size}{bold}{color}{space}",
        fontName="B612-Bold" if bold else "B612",
        fontSize=size,
        leading=size * 1.24,
        textColor=color,
        spaceBefore=space,
    )


def words(text: str, size: float = 8.0, bold: bool = False, color: str = "#000000", space: float = 0.0) -> Any:
    """Words as they flow on a page."""
    from xml.sax.saxutils import escape

    from reportlab.platypus import Paragraph

    return Paragraph(escape(text).replace("\n", "<br/>"), style(size, bold, color, space))
