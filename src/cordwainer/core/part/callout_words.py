"""The words of a callout: a line as printed, cut into sizes, tolerances, threads, angles and words.

Every piece remembers where it stood, so that a doubt can be shown at its place.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.tables import rows

LONGEST_LINE = 300
UNIT = r"(?:mm|inches|inch|in|thou|µm|um|\"|″)(?![a-z])"
NUMBER = r"(?:[0-9]+(?:[.,][0-9]+)?|\.[0-9]+)"
WHOLE = rf"(?:#\s*[0-9]+|letter\s+[a-z]\b|[0-9]+[\s-]+[0-9]+/[0-9]+|[0-9]+/[0-9]+|{NUMBER})"
SIZE = rf"{WHOLE}(?:\s*{UNIT})?"
INCH_LOOK = re.compile(r"(?<![0-9])\.[0-9]|^(?:[0-9]+[\s-]+)?[0-9]+/[0-9]+(?![.0-9])|^#|^letter", re.I)
LEAST_TPI, MOST_TPI = 4, 100
LEAST_SHARE = 0.8
SAME_TEXT = str.maketrans(
    {"−": "-", "–": "-", "×": "x", "⌀": "Ø", "ø": "Ø", "”": '"', "“": '"', "\n": " ", "\t": " "}
)
_PATTERNS = (
    ("ratio", r"1\s*:\s*[0-9]+"),
    ("angle", rf"{NUMBER}\s*(?:°|deg(?:rees?)?\b)"),
    ("percent", rf"{NUMBER}\s*(?:%|percent)(?:\s*(?:of\s+)?threads?\b)?"),
    ("both", rf"(?:±|\+/-|\+-)\s*{NUMBER}(?:\s*{UNIT})?"),
    ("two", rf"[+-]\s*{NUMBER}\s*(?:/\s*|\s+|(?=[+-]))(?:[+-]\s*{NUMBER}|0+(?:\.0+)?(?![0-9.]))(?:\s*{UNIT})?"),
    ("metric", r"M\s?[0-9]+(?:[.,][0-9]+)?(?:\s*[x*]\s*[0-9]*[.,]?[0-9]+(?![0-9.,]*\s*(?:deep|dp\b|thick)))?"),
    (
        "unified",
        r"(?:#\s*[0-9]+|[0-9]+[\s-][0-9]+/[0-9]+|[0-9]+/[0-9]+|\.[0-9]+|[0-9]+)\s*\"?\s*-\s*[0-9]+(?![0-9/.,])"
        r"(?:\s*-?\s*(?:UNC|UNF|UNEF|UN|NC|NF)\b)?",
    ),
    ("class", r"(?:[2-8][GH]|[123]B)\b"),
    ("limits", rf"{SIZE}\s*(?:/|-|\bto\b)\s*{SIZE}"),
    ("size", SIZE),
    ("by", r"[x*](?=\s*(?:[0-9.#Ø]|M\s?[0-9]|taper|cent))"),
    ("code", r"[A-Za-z]{1,2}[0-9]{1,2}(?![0-9.,]*[0-9])(?:\s*/\s*[a-z]{1,2}[0-9]{1,2})?"),
    ("word", r"[A-Za-z][A-Za-z'.]*"),
    ("sign", r"[Ø↧⌴⌵⌖@()/&-]"),
)
_LEXER = re.compile("|".join(f"(?P<{name}>{pattern})" for name, pattern in _PATTERNS), re.I)
_GAP = re.compile(r"[\s,;.:]+")


class Doubt(InputError):
    """A place of a line that cannot be read: from `start` to `end`, and ways to write it instead.

    `ways` are pairs of words and the whole line as it would stand then.
    """

    def __init__(self, problem: str, start: int, end: int, ways: tuple[tuple[str, str], ...] = ()) -> None:
        super().__init__("", problem)
        self.start, self.end, self.ways = start, end, ways


@dataclass(frozen=True)
class LinePiece:
    """One piece of a line: its sort, its text, and where it stands."""

    sort: str
    text: str
    start: int
    end: int

    @property
    def word(self) -> str:
        """The text as a word to look up."""
        return self.text.lower().strip(".'")


def cut(line: str) -> tuple[LinePiece, ...]:
    """Cut a line into pieces. Raises `Doubt` at the first place that is none.

    >>> [(p.sort, p.text) for p in cut("Ø16 H7, 32 deep")]
    [('sign', 'Ø'), ('size', '16'), ('code', 'H7'), ('size', '32'), ('word', 'deep')]
    """
    if len(line) > LONGEST_LINE:
        raise Doubt(
            tr("the line is {count} letters long; write one hole on a line", count=len(line)),
            LONGEST_LINE,
            len(line),
        )
    text = line.translate(SAME_TEXT)
    found: list[LinePiece] = []
    at = 0
    while at < len(text):
        gap = _GAP.match(text, at)
        if gap and not re.match(r"\.[0-9]", text[gap.end() - 1 :]):
            at = gap.end()
            continue
        if gap and gap.end() - at > 1:
            at = gap.end() - 1
            continue
        match = _LEXER.match(text, at)
        if match is None:
            raise Doubt(tr("'{line}' cannot be read here", line=line[at]), at, at + 1)
        piece = _settled(text, match)
        found.append(piece)
        at = piece.end
    return tuple(found)


def _settled(text: str, match: re.Match[str]) -> LinePiece:
    """A match, or the shorter reading where the longer one makes no sense."""
    sort, start = match.lastgroup or "", match.start()
    end = match.end()
    if sort == "metric" and not _pitch_makes_sense(match[0]):
        shorter = re.match(r"M\s?[0-9]+(?:[.,][0-9]+)?", match[0], re.I)
        end = start + len(shorter[0]) if shorter is not None else end
    elif sort == "unified" and not _is_unified(match[0]):
        return _size_or_limits(text, start)
    elif sort == "limits" and not limit_texts(match[0]):
        size = re.compile(SIZE, re.I).match(text, start)
        end = size.end() if size else end
        sort = "size"
    return LinePiece(sort, text[start:end], start, end)


def _size_or_limits(text: str, start: int) -> LinePiece:
    limits = re.compile(dict(_PATTERNS)["limits"], re.I).match(text, start)
    if limits and limit_texts(limits[0]):
        return LinePiece("limits", limits[0], start, limits.end())
    size = re.compile(SIZE, re.I).match(text, start)
    end = size.end() if size else start + 1
    return LinePiece("size", text[start:end], start, end)


def _pitch_makes_sense(text: str) -> bool:
    match = re.match(r"M\s?([0-9.,]+)\s*[x*]\s*([0-9.,]+)$", text, re.I)
    if match is None:
        return True
    major, pitch = (float(part.replace(",", ".")) for part in match.groups())
    return 0 < pitch < major / 2 and pitch <= 8


def _is_unified(text: str) -> bool:
    """Size-threads, and not two limits or a mixed number: a series, or a size the tables know."""
    match = re.match(r"(.+?)\s*\"?\s*-\s*([0-9]+)\s*-?\s*([A-Za-z]*)$", text)
    if match is None or not LEAST_TPI <= int(match[2]) <= MOST_TPI:
        return False
    size = re.sub(r"\s+", "-", match[1].replace("# ", "#").strip())
    if match[3] or not size.isdigit():
        return True
    known = {row.text("size") for row in rows("threads_unified")}
    return {f"{size}-{match[2]}", f"#{size}-{match[2]}"} & known != set()


def unified_name(text: str) -> str:
    """A unified thread as the tables name it: ``10-24`` is ``#10-24``."""
    match = re.match(r"([0-9]+)\s*-\s*([0-9]+)(.*)$", text.strip())
    if match is None:
        return text.strip().replace('"', "")
    known = {row.text("size") for row in rows("threads_unified")}
    numbered = f"#{match[1]}-{match[2]}" in known and f"{match[1]}-{match[2]}" not in known
    return f"{'#' if numbered else ''}{match[1]}-{match[2]}{match[3]}"


def limit_texts(text: str) -> tuple[str, str] | None:
    """The two figures of limits, ``20.000-20.021`` or ``.624 to .626``; None where they are no limits.

    ``15/64`` is a fraction and ``1-1/4`` a mixed number; limits are two figures of nearly one size.
    """
    match = re.fullmatch(rf"\s*({SIZE})\s*(/|-|to)\s*({SIZE})\s*", text, re.I)
    if match is None or (match[2] in "/-" and "." not in match[1] + match[3]):
        return None
    if not all(re.fullmatch(rf"{NUMBER}(?:\s*{UNIT})?", part, re.I) for part in (match[1], match[3])):
        return None
    low, high = (float(re.sub(r"[^0-9.]", "", part.replace(",", "."))) for part in (match[1], match[3]))
    if low <= 0 or high <= 0 or not LEAST_SHARE < low / high < 1 / LEAST_SHARE:
        return None
    return match[1], match[3]
