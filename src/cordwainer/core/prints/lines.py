"""Pieces of text joined to lines as a person reads them: tolerance stacks, fractions, signs set apart."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from cordwainer.core.part.callout_words import limit_texts
from cordwainer.core.prints.near import Grid
from cordwainer.core.prints.signs import plain
from cordwainer.core.prints.words import Box, Frame, Placed, Run, by_direction

SAME_LINE, WORD_GAP, LINE_GAP = 0.3, 0.15, 1.6
SMALL, ALIKE = 0.9, 0.72
STACK_LEAST, STACK_MOST, BESIDE = 0.5, 1.9, 1.3
NEXT_LEAST, NEXT_MOST = 0.8, 2.3
LIMITS_APART, CELL, MOST_BELOW = 0.97, 4.0, 500
_NUMBER = r"(?:[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)"
_STACKED = re.compile(rf"^\s*[Ø]?\s*[+-]?\s*{_NUMBER}\s*(?:mm|in|\")?\s*$")
_SIGNED = re.compile(rf"^\s*[+-]\s*{_NUMBER}\s*$")
_NOUGHT = re.compile(r"^\s*[+-]?\s*0*[.,]?0+\s*$")
_WHOLE = re.compile(r"^\s*[0-9]+\s*$")
DENOMINATORS = {"2", "4", "8", "16", "32", "64", "128"}


@dataclass(frozen=True)
class Line:
    """A line of text: what it says, and where, along its frame."""

    text: str
    frame: Frame
    u: float
    v: float
    end: float
    height: float

    @property
    def box(self) -> Box:
        """Around it, with a little air."""
        air = 0.25 * self.height
        return self.frame.box(self.u - air, self.v - air, self.end - self.u + 2 * air, self.height + 2 * air)


def lines_of(runs: Sequence[Run]) -> list[Line]:
    """Lines in reading order, direction by direction, top to bottom."""
    found: list[Line] = []
    for frame, placed in by_direction(runs):
        pieces = [p.said(plain(p.text)) for p in placed]
        pieces = stacked([p for p in pieces if p.text.strip()])
        found += [_line(frame, row) for row in _rows(pieces)]
    return found


def _line(frame: Frame, row: Sequence[Placed]) -> Line:
    text = row[0].text
    for before, piece in pairwise(row):
        apart = piece.u - before.end > WORD_GAP * min(before.height, piece.height)
        text += (" " if apart and not text.endswith(" ") else "") + piece.text
    tall = max(row, key=lambda p: p.height)
    end = max(p.end for p in row)
    return Line(re.sub(r"\s+", " ", text).strip(), frame, row[0].u, tall.v, end, tall.height)


def _rows(pieces: Sequence[Placed]) -> list[list[Placed]]:
    """Pieces on one base line and near one another along it, each row from left to right."""
    rows: list[list[Placed]] = []
    levels: list[list[Placed]] = []
    for piece in sorted(pieces, key=lambda p: -p.v):
        for level in reversed(levels[-6:]):
            other = level[0]
            if abs(other.v - piece.v) <= SAME_LINE * max(other.height, piece.height):
                level.append(piece)
                break
        else:
            levels.append([piece])
    for level in levels:
        row: list[Placed] = []
        for piece in sorted(level, key=lambda p: p.u):
            apart = row and piece.u - max(p.end for p in row) > LINE_GAP * max(
                p.height for p in (*row[-1:], piece)
            )
            if row and (apart or not _as_high(row[-1], piece)):
                rows.append(row)
                row = []
            row.append(piece)
        if row:
            rows.append(row)
    return sorted(rows, key=lambda row: (-row[0].v, row[0].u))


def _as_high(one: Placed, other: Placed) -> bool:
    return ALIKE <= one.height / max(other.height, 1e-9) <= 1 / ALIKE


# -- one figure over another -------------------------------------------------------------------------------------


def stacked(pieces: Sequence[Placed]) -> list[Placed]:
    """Pieces with every figure that stands over another said in a line: deviations, limits, fractions.

    >>> size, over, under = Placed("Ø12", 0, 0, 20, 10), Placed("+0.02", 21, 5, 35, 6), Placed("0", 21, -3, 24, 6)
    >>> [p.text for p in stacked([size, over, under])]
    ['Ø12', ' +0.02/0']
    """
    left, made = sorted(pieces, key=lambda p: (p.u, -p.v)), list[Placed]()
    used: set[int] = set()
    heights = sorted(p.height for p in left)
    cell = CELL * (heights[len(heights) // 2] if heights else 1.0)
    begins, ends = Grid[int](cell), Grid[int](cell)
    for k, piece in enumerate(left):
        if _STACKED.match(piece.text):
            begins.add(piece.middle, piece.v, k)
        ends.add(piece.end, piece.v, k)
    for index, upper in enumerate(left):
        if index in used or not _STACKED.match(upper.text):
            continue
        reach = upper.height / ALIKE
        wide = (upper.end - upper.u) / 2 + reach
        area = (upper.middle - 2 * wide, upper.v - STACK_MOST * reach, upper.middle + 2 * wide, upper.v)
        near = begins.around(*area)
        under = [k for k in near if k not in used and k != index and _over(upper, left[k])]
        if not under:
            continue
        lower_at = min(under, key=lambda k: upper.v - left[k].v)
        reach = 2.5 * upper.height / ALIKE
        area = (upper.u - BESIDE * reach, left[lower_at].v - reach, upper.u + reach, upper.v + reach)
        skipped = {index, lower_at}
        found = [left[k] for k in ends.around(*area) if k not in used and k not in skipped]
        before = _before(found, upper, left[lower_at])
        joined = _joined(upper, left[lower_at], before)
        if joined is not None:
            used |= {index, lower_at}
            made.append(joined)
    return [p for k, p in enumerate(left) if k not in used] + made


def _over(upper: Placed, lower: Placed) -> bool:
    """Whether one stands over the other as the parts of one figure do."""
    height = max(upper.height, lower.height)
    begun, ended = abs(upper.u - lower.u), abs(upper.end - lower.end)
    aligned = min(begun, ended, abs(upper.middle - lower.middle)) <= 0.6 * height
    return aligned and _as_high(upper, lower) and STACK_LEAST * height <= upper.v - lower.v <= STACK_MOST * height


def _before(pieces: Sequence[Placed], upper: Placed, lower: Placed) -> Placed | None:
    """The piece a stack belongs to: right before it, its base line between the two."""
    found = [
        piece
        for piece in pieces
        if -0.5 * piece.height <= min(upper.u, lower.u) - piece.end <= BESIDE * piece.height
        and lower.v - 0.35 * piece.height <= piece.v <= upper.v + 0.25 * piece.height
        and piece.height >= ALIKE * upper.height
    ]
    return max(found, key=lambda piece: piece.end, default=None)


def _joined(upper: Placed, lower: Placed, before: Placed | None) -> Placed | None:
    """Two figures as one, or None where they only happen to stand so."""
    over, under = (p.text.strip().replace(" ", "") for p in (upper, lower))
    height = before.height if before is not None else upper.height
    level = before.v if before is not None else (upper.v + lower.v) / 2
    place = replace(upper, u=min(upper.u, lower.u), end=max(upper.end, lower.end), v=level, height=height)
    if _SIGNED.match(over) or _SIGNED.match(under):
        fits = (_SIGNED.match(over) or _NOUGHT.match(over)) and (_SIGNED.match(under) or _NOUGHT.match(under))
        if before is None or not fits:
            return None
        high, low = sorted((over, under), key=_value, reverse=True)
        return place.said(f" {high if high[0] in '+-' else '+' + high}/{low}")
    small = before is None or upper.height <= SMALL * before.height
    if _WHOLE.match(over) and _WHOLE.match(under) and under in DENOMINATORS and int(over) < int(under):
        whole = before is not None and re.search(r"[0-9]\s*$", before.text)
        led = before is not None and re.search(r"(?:[0-9Ø]|DRILL|REAM|TAP)\s*$", before.text, re.I)
        return place.said(f"{'-' if whole else ''}{over}/{under}") if small or led else None
    if any(c in over + under for c in ".,") and limit_texts(f"{over.lstrip('Ø')}/{under.lstrip('Ø')}"):
        high, low = sorted((over.lstrip("Ø"), under.lstrip("Ø")), key=_value, reverse=True)
        near = _value(low) / max(_value(high), 1e-9) >= LIMITS_APART
        if near and (before is None or re.search(r"(?:[ØMxX=()-]|dia\.?|holes?)\s*$", before.text, re.I)):
            return place.said(f"{'Ø' if over.startswith('Ø') else ''}{low}/{high}")
    return None


def _value(text: str) -> float:
    try:
        return float(re.sub(r"[^0-9.+-]", "", text.replace(",", ".")) or 0)
    except ValueError:
        return 0.0


# -- lines that go on ---------------------------------------------------------------------------------------------


def goes_on(above: Line, below: Line) -> bool:
    """Whether a line stands under another as the next of one note."""
    if above.frame != below.frame:
        return False
    height = max(above.height, below.height)
    pitch = (above.v - below.v) / height
    if not NEXT_LEAST <= pitch <= NEXT_MOST or not ALIKE <= above.height / below.height <= 1 / ALIKE:
        return False
    lapped = min(above.end, below.end) - max(above.u, below.u)
    centered = abs((above.u + above.end) - (below.u + below.end)) / 2 <= height
    return (
        abs(above.u - below.u) <= height
        or centered
        or lapped >= 0.5 * min(above.end - above.u, below.end - below.u)
    )


class Below:
    """Lines by their level, to be asked for those that may stand right under one."""

    def __init__(self, lines: Sequence[Line]) -> None:
        self.lines = lines
        self.order = sorted(range(len(lines)), key=lambda k: lines[k].v)
        self.levels = [lines[k].v for k in self.order]

    def of(self, line: Line) -> list[int]:
        """Indexes of what lies no further under a line than the next of its note."""
        first = bisect_left(self.levels, line.v - NEXT_MOST * line.height / ALIKE)
        last = bisect_right(self.levels, line.v)
        return self.order[max(first, last - MOST_BELOW) : last]
