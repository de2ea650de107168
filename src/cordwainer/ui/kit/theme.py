"""Colors, type and the style sheet: dye is metal that stays, bare is cut, brass is to act on now."""

from __future__ import annotations

from functools import cache

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from cordwainer.core.tables import packaged

PLATE = QColor("#DDD8CF")
HI = QColor("#EAE6DE")
LO = QColor("#CDC7BC")
INK = QColor("#211D1A")
INK2 = QColor("#544C44")
RULE = QColor("#9C9387")
HAIR = QColor("#C3BCB0")
DYE = QColor("#2B1F80")
DYELO = QColor("#1D1459")
DYEHI = QColor("#43369F")
SCRIBE = QColor("#F6F2E9")
SCRIBE2 = QColor("#C6BEF0")
BARE = QColor("#D3CDC2")
BARE2 = QColor("#BFB8AB")
BRASS = QColor("#C8962B")
BRASSDYE = QColor("#EBC163")
BRASSINK = QColor("#6E4E08")
STEEL = QColor("#A8A097")
FLUTE = QColor("#4A433D")

# Other grounds to the same meaning; what a set does not name stays as it is at the desk by day.
DARK = {
    "PLATE": "#17123A", "HI": "#211A4C", "LO": "#110D2C", "INK": "#F6F2E9", "INK2": "#C6BEF0", "RULE": "#6C63A0",
    "HAIR": "#3A3266", "DYE": "#34289A", "DYELO": "#0D0923", "BARE": "#4E4841", "BARE2": "#413C36",
    "BRASS": "#8F6714", "BRASSINK": "#EBC163", "STEEL": "#5E5750", "FLUTE": "#24201D",
}  # fmt: skip
CONTRAST = {
    "PLATE": "#FFFFFF", "HI": "#FFFFFF", "LO": "#EDEDED", "INK": "#000000", "INK2": "#000000", "RULE": "#000000",
    "HAIR": "#4A4A4A", "DYE": "#00005A", "DYELO": "#000038", "DYEHI": "#00007A", "SCRIBE": "#FFFFFF",
    "SCRIBE2": "#FFFFFF", "BARE": "#FFFFFF", "BARE2": "#E2E2E2", "BRASS": "#FFB800", "BRASSDYE": "#FFD24A",
    "BRASSINK": "#4A3200", "STEEL": "#C4C4C4", "FLUTE": "#202020",
}  # fmt: skip
SETS: dict[str, dict[str, str]] = {"light": {}, "dark": DARK, "contrast": CONTRAST}

FAMILY = "B612"
_DAY = {key: value.name() for key, value in list(globals().items()) if isinstance(value, QColor)}
STRIP_HEIGHT, RAIL_WIDTH = 52, 84


def load_fonts() -> None:
    """Make the shipped typeface known to Qt."""
    for name in ("B612-Regular.otf", "B612-Bold.otf"):
        QFontDatabase.addApplicationFontFromData(packaged(f"fonts/{name}"))


def font(pixels: float, bold: bool = False) -> QFont:
    """The typeface at a pixel size."""
    found = QFont(FAMILY)
    found.setPixelSize(round(pixels))
    found.setBold(bold)
    return found


@cache
def written_in(color: str) -> QPalette:
    """The palette of words in a color."""
    palette = QPalette()
    palette.setColor(QPalette.ColorRole.WindowText, QColor(color))
    return palette


def take(name: str) -> None:
    """Use a set of colors from here on: before anything is made that keeps one of them."""
    for key, value in {**_DAY, **SETS[name]}.items():
        globals()[key].setRgba(QColor(value).rgba())
    written_in.cache_clear()


def apply(application: QApplication, colors: str = "light") -> None:
    """Colors, fonts, palette and style sheet for the whole application."""
    take(colors)
    load_fonts()
    application.setStyle("Fusion")
    application.setFont(font(15))
    palette = QPalette()
    for role, color in (
        (QPalette.ColorRole.Window, PLATE),
        (QPalette.ColorRole.Base, HI),
        (QPalette.ColorRole.AlternateBase, PLATE),
        (QPalette.ColorRole.Button, PLATE),
        (QPalette.ColorRole.WindowText, INK),
        (QPalette.ColorRole.Text, INK),
        (QPalette.ColorRole.ButtonText, INK),
        (QPalette.ColorRole.Highlight, BRASS),
        (QPalette.ColorRole.HighlightedText, INK),
        (QPalette.ColorRole.PlaceholderText, INK2),
        (QPalette.ColorRole.ToolTipBase, HI),
        (QPalette.ColorRole.ToolTipText, INK),
    ):
        palette.setColor(role, color)
    application.setPalette(palette)
    application.setStyleSheet(sheet())


def sheet() -> str:
    """The style sheet in the colors in use."""
    return f"""
QLabel {{ background: transparent; }}
QToolTip {{ background: {HI.name()}; color: {INK.name()}; border: 1px solid {INK.name()}; padding: 4px 8px; }}
QMenu {{ background: {HI.name()}; color: {INK.name()}; border: 2px solid {INK.name()}; padding: 6px 0;
  font-size: 15px; menu-scrollable: 1; }}
QMenu::item {{ padding: 7px 28px 7px 20px; }}
QMenu::item:selected {{ background: {INK.name()}; color: {HI.name()}; }}
QMenu::item:disabled {{ color: {RULE.name()}; }}
QMenu::separator {{ height: 1px; background: {HAIR.name()}; margin: 5px 12px; }}
QDialog, QMessageBox {{ background: {PLATE.name()}; }}
QLineEdit {{ background: {HI.name()}; color: {INK.name()}; border: 1px solid {INK2.name()}; border-radius: 0;
  padding: 3px 8px; placeholder-text-color: {INK2.name()};
  selection-background-color: {BRASS.name()}; selection-color: {INK.name()}; }}
QLineEdit:focus {{ border: 2px solid {INK.name()}; padding: 2px 7px; }}
QLineEdit[wrong="true"] {{ border: 2px solid {INK.name()}; }}
QComboBox {{ background: {HI.name()}; color: {INK.name()}; border: 1px solid {INK2.name()}; border-radius: 0;
  padding: 4px 8px; }}
QComboBox:focus {{ border: 2px solid {INK.name()}; padding: 3px 7px; }}
QComboBox::drop-down {{ border: none; width: 22px; }}
QComboBox QAbstractItemView {{ background: {HI.name()}; border: 2px solid {INK.name()}; outline: none;
  selection-background-color: {INK.name()}; selection-color: {HI.name()}; }}
QPushButton {{ background: {HI.name()}; color: {INK.name()}; border: 2px solid {INK.name()}; border-radius: 0;
  padding: 7px 18px; font-weight: bold; }}
QPushButton:hover {{ background: {SCRIBE.name()}; }}
QPushButton:focus {{ background: {BRASS.name()}; }}
QPushButton:pressed {{ background: {INK.name()}; color: {HI.name()}; }}
QPushButton[role="act"] {{ background: {BRASS.name()}; border-color: {INK.name()}; }}
QPushButton:disabled, QPushButton[role="act"]:disabled {{ background: {PLATE.name()}; color: {INK2.name()};
  border: 2px dashed {RULE.name()}; }}
QScrollArea {{ border: none; background: transparent; }}
QAbstractScrollArea::corner {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 12px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {RULE.name()}; min-height: 40px; margin: 2px 3px; }}
QScrollBar::handle:vertical:hover {{ background: {INK2.name()}; }}
QScrollBar:horizontal {{ background: transparent; height: 12px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {RULE.name()}; min-width: 40px; margin: 3px 2px; }}
QScrollBar::handle:horizontal:hover {{ background: {INK2.name()}; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QPlainTextEdit {{ background: {HI.name()}; border: 1px solid {INK2.name()}; border-radius: 0; padding: 6px; }}
QCheckBox {{ spacing: 10px; }}
QCheckBox::indicator {{ width: 20px; height: 20px; border: 2px solid {INK.name()}; background: {HI.name()}; }}
QCheckBox::indicator:checked {{ background: {INK.name()}; image: none; }}
QCheckBox:focus {{ color: {BRASSINK.name()}; }}
"""
