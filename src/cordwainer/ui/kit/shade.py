"""The colors of the machine's screen: light as at the desk, or dim for a dark shop."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtGui import QColor

from cordwainer.ui.kit import theme


@dataclass(frozen=True)
class Shade:
    """One set of colors; the names are the theme's. `on_ink` is what is written on a field of ink."""

    name: str
    plate: QColor
    hi: QColor
    lo: QColor
    ink: QColor
    ink2: QColor
    rule: QColor
    dye: QColor
    dyelo: QColor
    scribe: QColor
    scribe2: QColor
    bare: QColor
    brass: QColor
    on_brass: QColor
    brassdye: QColor
    on_ink: QColor
    steel: QColor
    flute: QColor
    dark: QColor
    on_dark: QColor


LIGHT = Shade(
    "light",
    plate=theme.PLATE,
    hi=theme.HI,
    lo=theme.LO,
    ink=theme.INK,
    ink2=theme.INK2,
    rule=theme.RULE,
    dye=theme.DYE,
    dyelo=theme.DYELO,
    scribe=theme.SCRIBE,
    scribe2=theme.SCRIBE2,
    bare=theme.BARE,
    brass=theme.BRASS,
    on_brass=theme.INK,
    brassdye=theme.BRASSDYE,
    on_ink=theme.HI,
    steel=theme.STEEL,
    flute=theme.FLUTE,
    dark=theme.INK,
    on_dark=theme.HI,
)
DIM = Shade(
    "dim",
    plate=QColor("#120D2E"),
    hi=QColor("#1B1444"),
    lo=QColor("#0D0923"),
    ink=theme.SCRIBE,
    ink2=theme.SCRIBE2,
    rule=QColor("#4A4278"),
    dye=QColor("#231964"),
    dyelo=QColor("#170F48"),
    scribe=theme.SCRIBE,
    scribe2=theme.SCRIBE2,
    bare=QColor("#8E8880"),
    brass=theme.BRASS,
    on_brass=theme.INK,
    brassdye=theme.BRASSDYE,
    on_ink=QColor("#120D2E"),
    steel=QColor("#746D66"),
    flute=QColor("#332E2A"),
    dark=QColor("#080516"),
    on_dark=theme.SCRIBE,
)
