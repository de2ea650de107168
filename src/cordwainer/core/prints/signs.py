"""Signs of drawings however they are coded, as the one character the callout reader knows.

Sources: ASME Y14.5 and ISO 129-1 for the signs; the letters of symbol fonts from common practice.
"""

from __future__ import annotations

import re
import unicodedata
from functools import lru_cache

SAME = str.maketrans(
    {
        "⌀": "Ø", "∅": "Ø", "ø": "Ø", "Φ": "Ø", "φ": "Ø", "ϕ": "Ø", "ɸ": "Ø", "ɵ": "Ø", "⊘": "Ø", "⦰": "Ø",
        "−": "-", "–": "-", "—": "-", "‐": "-", "‑": "-", "‒": "-", "×": "x", "✕": "x", "⨯": "x",
        "”": '"', "“": '"', "″": '"', "’": "'", "‘": "'", "′": "'", "º": "°", "˚": "°",
        "∓": "±", "↓": "↧", "⤓": "↧", "⭳": "↧", "⊔": "⌴", "␣": "⌴", "∨": "⌵", "⩗": "⌵",
        "⁄": "/", "∕": "/", "\u00ad": "-", "⊕": "⌖", "⦜": "∠",
    }
)  # fmt: skip
# What drawing programs' own symbol fonts hold under plain letters.
SYMBOL_FONT = {"n": "Ø", "v": "⌴", "w": "⌵", "x": "↧", "j": "⌖", "m": "Ⓜ", "b": "⊥", "f": "∥", "r": "◎", "o": "□"}
SYMBOL_FONT_NAMES = ("gdt", "gd&t", "gdtsym", "dimsym")
GREEK_FONT = {"Æ": "Ø", "f": "Ø", "F": "Ø", "±": "±", "°": "°", "´": "x"}
PRIVATE = range(0xF000, 0xF100)
FRAME_SIGNS = "⌖⏥○⌭⊥∥∠↗⌰◎⌓⌒⏤⌯"
_FRACTION = re.compile(r"([0-9])?([½⅓⅔¼¾⅕⅖⅗⅘⅙⅚⅛⅜⅝⅞])")
_CODED = re.compile(r"%%([cdpuoCDPUO%]|[0-9]{3})")
_CODES = {"c": "Ø", "d": "°", "p": "±", "u": "", "o": "", "%": "%"}


@lru_cache(maxsize=4096)
def of_font(character: str, font: str) -> str:
    """A character of a named font as what it shows.

    >>> of_font("n", "AAAAAA+Some-GDT"), of_font("n", "Helvetica"), of_font("\\uf06e", "gdt")
    ('Ø', 'n', 'Ø')
    """
    if ord(character) in PRIVATE:
        character = chr(ord(character) - PRIVATE.start)
        if not any(name in font.lower() for name in SYMBOL_FONT_NAMES):
            return GREEK_FONT.get(character, character)
    if any(name in font.lower() for name in SYMBOL_FONT_NAMES):
        return SYMBOL_FONT.get(character, character)
    if font.lower().rsplit("+", 1)[-1].startswith("symbol"):
        return GREEK_FONT.get(character, character)
    return character


SPOKEN = {"⌴": "CBORE", "⌵": "CSK", "⌖": "POSITION", "\ufffd": "?"}


def spoken(text: str) -> str:
    """Text with the signs few typefaces have in words.

    >>> spoken("4X Ø9 THRU ⌴ Ø15 ↧ 8.6")
    '4X Ø9 THRU CBORE Ø15 ↧ 8.6'
    """
    for sign, word in SPOKEN.items():
        text = text.replace(sign, word)
    return text


def plain(text: str) -> str:
    """Text with the drawing's signs in their one form, without control characters.

    >>> plain("2× ⌀1½ ↓ 20"), plain("%%c8 %%p0.1"), plain("ﬁt")
    ('2x Ø1-1/2 ↧ 20', 'Ø8 ±0.1', 'fit')
    """
    text = _CODED.sub(lambda m: _CODES.get(m[1].lower(), chr(int(m[1])) if m[1].isdigit() else ""), text)
    text = _FRACTION.sub(lambda m: (m[1] + "-" if m[1] else "") + unicodedata.normalize("NFKC", m[2]), text)
    text = text.translate(SAME)
    kept = "".join(c if c in "⌖ØⓂ±°⌴⌵↧µ" else unicodedata.normalize("NFKC", c) for c in text)
    kept = kept.translate(SAME)
    return "".join(c if unicodedata.category(c)[0] != "C" else " " for c in kept)
