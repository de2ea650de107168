"""A stranger's text as words on screen, paper and in lists: nothing in it acts, hides or turns the line around.

Names of jobs, holes, tools and files come from anywhere. Where they are read they become what is shown here; what
is saved again is the text as it came.
"""

from __future__ import annotations

import re
import unicodedata

LONGEST = 200
TEXT_LONGEST = 4000
# Letters joined or parted in some scripts, and the mark that follows an emoji: they belong to their words.
JOINERS = "\u200c\u200d"
HIDDEN = {"Cc", "Cf", "Cs", "Co", "Cn", "Zl", "Zp"}
# What a spreadsheet takes for the beginning of a formula.
FORMULA = "=+-@\t\r\uff1d\uff0b\uff0d\uff20"
FIGURE = re.compile(r"[+-]?\d[\d.,/ ]*(-\d+/\d+)?( ?(mm|in|um|°))?")


def shown(text: object, most: int = LONGEST) -> str:
    """A stranger's text as one line of words: what cannot be seen as ``[U+202E]``, cut to `most` characters.

    >>> shown("reamer\\u202e\\n1/2")
    'reamer[U+202E] 1/2'
    """
    return lines(" ".join(str(text)[: most * 4].split("\n")), most)


def lines(text: object, most: int = TEXT_LONGEST) -> str:
    """As `shown`, with its lines kept.

    >>> lines("one\\ntwo\\x07")
    'one\\ntwo[U+0007]'
    """
    found = str(text)
    if found.isascii() and found.isprintable() and len(found) <= most:
        return found
    found = "".join(_seen(c) for c in found[: most + 1])
    return found if len(found) <= most else found[: most - 1].rstrip() + "\N{HORIZONTAL ELLIPSIS}"


def _seen(c: str) -> str:
    if c == "\n" or c in JOINERS:
        return c
    if c in "\t\r\v\f\x85\u2028\u2029":
        return " "
    if unicodedata.category(c) in HIDDEN:
        return "\N{REPLACEMENT CHARACTER}" if 0xD800 <= ord(c) < 0xE000 else f"[U+{ord(c):04X}]"
    return c


def cell(text: object) -> str:
    """A stranger's text in a cell of a list: no spreadsheet takes it for a formula. Figures stay as they are.

    >>> cell("=1+1"), cell("-0.5 mm"), cell("reamer")
    ("'=1+1", '-0.5 mm', 'reamer')
    """
    found = lines(text)
    if found[:1] in FORMULA and found and not FIGURE.fullmatch(found):
        return "'" + found
    return found


def uncelled(text: str) -> str:
    """A cell as it was before it was made harmless.

    >>> uncelled("'=1+1"), uncelled("'quoted'")
    ('=1+1', "'quoted'")
    """
    return text[1:] if text[:1] == "'" and text[1:2] and text[1] in FORMULA else text
