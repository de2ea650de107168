"""Lines of a drawing read as callouts of holes: understood, in doubt and why, or not a hole and why.

Nothing is guessed: what a line leaves open stays open, and is said.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cordwainer.core.errors import CordwainerError
from cordwainer.core.lengths import parse
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.callout_parts import Callout
from cordwainer.core.part.callout_words import INCH_LOOK
from cordwainer.core.prints.lines import Below, Line, goes_on
from cordwainer.core.prints.signs import FRAME_SIGNS
from cordwainer.core.prints.wording import SIZE, THREAD, TYPICAL, reworded
from cordwainer.core.prints.words import Box, Point

__all__ = ["DOUBT", "NO_HOLE", "SURE", "TYPICAL", "Found", "callouts_of", "may_be", "understood"]
SURE, DOUBT, NO_HOLE = "sure", "doubt", "no_hole"
MOST_LINES, LONGEST, MOST_WORDS, CLOSE = 6, 160, 16, 2.0
MOST_FOUND = 4000
DRILL_LEAST, DRILL_MOST = 0.76, 0.97  # of a thread's outside, by the tables of tapping drills
NO_DEPTH = "it does not say how deep; through?"
ALONE = "a diameter alone: a hole, or the outside of something round?"

_DIAMETER = re.compile(rf"(?:Ø\s*{SIZE}|{SIZE}\s*(?:mm|in|\")?\s*DIA\b|\bDIA\.?\s*{SIZE})", re.I)
_THREAD = re.compile(rf"(?<![A-Za-z0-9.]){THREAD}", re.I)
_WORK = re.compile(
    r"(?:\b(?:DRILL(?:ED)?|REAM(?:ED)?|BORED?|TAP(?:PED)?|C'?BORE|COUNTERBORED?|CSK|C'?SINK|COUNTERS[IU]NK)\b|⌴|⌵)",
    re.I,
)
_OTHER_KINDS = re.compile(r"\bTAPER\s+PIN\b|\bCENT(?:ER|RE)\s+(?:DRILL|HOLE)", re.I)
_HEAD = re.compile(r"^\s*\(?\s*[0-9]{1,3}\s*\)?\s*(?:x|HOLES?|PLACES|PLCS?)\s*$", re.I)
_BEGUN = re.compile(r"^\s*(?:[0-9]+\s*x\s*)?Ø\s*$", re.I)
_ON = re.compile(
    rf"^\s*(?:[⌴⌵↧]|C'?BORE|COUNTERBORE|CSK|C'?SINK|COUNTERS|SPOT\s?FACE|S\.?F\b|THRU|THROUGH|DEEP|DP\b|DEPTH|"
    rf"TYP|[0-9]{{1,3}}\s*(?:HOLES?|PLACES|PLCS?|PL|OFF)\b|\(?[0-9]{{1,3}}\s*x\)?\s*$|EQ(?:UALLY)?\b|EQUI|ON\s+(?:AN?\s+)?Ø?\s*[0-9.]|"
    rf"(?:TAP|REAM|BORE|DRILL|AND|&|TO)\b|[+±-]\s*[0-9.]|UN[CFJ]|NEAR|FAR|FLAT|MIN\b|FULL|x\s|"
    rf"{SIZE}\s*(?:DEEP|DP|MIN)\b|\([A-H]{{1,2}}[0-9]{{1,2}}\)|[A-H][0-9]{{1,2}}\b|CHAM|-\s*[1-8][BGH]\b|[A-Z]{{0,2}}\s*BOTH)",
    re.I,
)
_TOGETHER = re.compile(r"[Ø#M][^Ø]*[A-Z0-9.]\s*\b[0-9]{1,3}\s?x\s?(?:Ø|M\s?[0-9])", re.I)
_POSITION = re.compile(rf"^\s*⌖\s*(?:Ø\s*)?({SIZE})")
_PARTS = r"\b(?:SHCS|BHCS|FHCS|SCREWS?|BOLTS?|NUTS?|WASHERS?|STUDS?|DOWELS?)\b"
_OUTSIDES = r"\b(?:O\.?\s?D\.?|OUTSIDE|SHAFT|KNURL(?:ED)?|STOCK|BAR|ROD|TUBE|PIPE|WIRE|BOSS|TURNED|HUB|FLANGE)\b"
_CIRCLE_OF = r"(?:B\.?C\.?D?\.?|P\.?C\.?D?\.?|BOLT\s+CIRCLE|PITCH\s+(?:CIRCLE|DIA\.?))"
_SHAFT_ZONE = r"(?:a|b|c|d|e|f|fg|g|h|js|j|k|m|n|p|r|s|t|u|x|z)[0-9]{1,2}\b"
_NOT_A_HOLE = tuple(
    (re.compile(pattern, flags), words)
    for pattern, flags, words in (
        (rf"^\s*[{FRAME_SIGNS}]", 0, "a geometric tolerance"),
        (rf"^\s*\ufffd?\s*Ø?\s*{SIZE}\s*(?:Ⓜ|M)?(?:\s+[A-Z](?:-[A-Z])?)+\s*$", 0, "a geometric tolerance"),
        (r"^\s*\(.*\)\s*$|\bREF\b", re.I, "for reference only"),
        (r"\bS\s?[ØR]\s*[0-9.]", 0, "a ball"),
        (_PARTS, re.I, "names a part"),
        (rf"^\s*Ø?\s*{SIZE}[\s\"]*(?:DIA\.?)?\s*{_CIRCLE_OF}\s*$", re.I, "a bolt circle"),
        (rf"{_OUTSIDES}(?!\s*[0-9])", re.I, "an outside, or stock"),
        (rf"^\s*(?:[0-9]+\s*[xX]\s*)?Ø?\s*{SIZE}\s*\(?{_SHAFT_ZONE}", 0, "a shaft's zone"),
        (r"\b(?:[4-9][a-h]{1,2}(?:[4-9][a-h])?|[123]A)\b", 0, "an outside thread"),
        (r"\b(?:SCALE|SECTION|DETAIL|VIEW|DATE|DWG|REV|SHEET|ITEM|QTY)\b", re.I, "not of a hole"),
    )
)


@dataclass(frozen=True)
class Found:
    """One callout found on a sheet: its text, where, and what it is taken for.

    `state` is ``sure``, ``doubt`` or ``no_hole``, `why` in words for the last two; `line` is it in the callout
    reader's words; `callout` what it says, None where nothing could be read; `count` None where it says none.
    `places` are the middles of the circles it speaks of, in the sheet's units.
    """

    text: str
    boxes: tuple[Box, ...]
    state: str
    why: str = ""
    line: str = ""
    callout: Callout | None = None
    count: int | None = None
    said: tuple[str, ...] = ()
    sheet: int = 0
    places: tuple[Point, ...] = ()

    @property
    def box(self) -> Box:
        """Around all its lines, square to the sheet unless there is one line only."""
        if len(self.boxes) == 1:
            return self.boxes[0]
        bounds = [box.bounds for box in self.boxes]
        left, low = min(b[0] for b in bounds), min(b[1] for b in bounds)
        return Box(left, low, max(b[2] for b in bounds) - left, max(b[3] for b in bounds) - low, 0.0)


def may_be(text: str) -> bool:
    """Whether a line may speak of a hole at all.

    >>> [may_be(t) for t in ("Ø8 THRU", "M8x1.25 - 6H", "R5", "127.5", "BREAK EDGES 0.2", "5/16 DRILL")]
    [True, True, False, False, False, True]
    """
    if len(text) > LONGEST or len(text.split()) > MOST_WORDS or not re.search(r"[0-9]", text):
        return False
    return any(pattern.search(text) for pattern in (_DIAMETER, _THREAD, _OTHER_KINDS)) or (
        _WORK.search(text) is not None and re.search(rf"{SIZE}", text) is not None
    )


def callouts_of(lines: Sequence[Line], unit: str, sheet: int = 0) -> list[Found]:
    """Every callout among a sheet's lines, each with what was made of it; `unit` where a line says none."""
    found: list[Found] = []
    used: set[int] = set()
    below = Below(lines)
    for index, line in enumerate(lines):
        if index in used or len(found) >= MOST_FOUND:
            continue
        head = _HEAD.match(line.text) or _BEGUN.match(line.text)
        if not (head or may_be(line.text)):
            continue
        group = _group(lines, below, index, used)
        text = " ".join(lines[k].text for k in group)
        if head and (len(group) == 1 or not may_be(text)):
            continue
        frame = _position_under(lines, below, group, used)
        used |= {*group, *([frame] if frame is not None else [])}
        boxes = tuple(lines[k].box for k in (*group, *([frame] if frame is not None else [])))
        position = lines[frame].text if frame is not None else ""
        each = replace(understood(text, unit, position), boxes=boxes, sheet=sheet)
        loose = _loose_under(lines, below, group, used)
        if loose and each.state == SURE:
            each = replace(each, state=DOUBT, why=f"'{loose}' stands right under it; does it belong to it?")
        found.append(each)
    return found


def _group(lines: Sequence[Line], below: Below, first: int, used: set[int]) -> list[int]:
    """A line and those under it that go on with it."""
    group = [first]
    open_ = bool(_HEAD.match(lines[first].text) or _BEGUN.match(lines[first].text))
    while len(group) < MOST_LINES:
        last = lines[group[-1]]
        under = [k for k in below.of(last) if k not in used and k not in group and goes_on(last, lines[k])]
        if not under:
            break
        nearest = min(under, key=lambda k: (last.v - lines[k].v, abs(lines[k].u - last.u)))
        text = lines[nearest].text
        above = " ".join(lines[k].text for k in group)
        tapped = _THREAD.search(text) and not _THREAD.search(above) and _drills(above, text)
        drilled = re.search(r"↧|DEEP|\bDP\b|DEPTH|THR|DRILL", last.text, re.I) and not _HEAD.match(text)
        if not (open_ or _ON.match(text) or (tapped and drilled and not re.match(r"\s*[0-9]+\s*x", text, re.I))):
            break
        group.append(nearest)
        open_ = bool(_HEAD.match(text))
    return group


def _loose_under(lines: Sequence[Line], below: Below, group: Sequence[int], used: set[int]) -> str:
    """What stands close under a callout as if it went on, and could not be read as that; else empty."""
    last, text = lines[group[-1]], " ".join(lines[k].text for k in group)
    for k in below.of(last):
        line = lines[k]
        tight = k not in used and k not in group and goes_on(last, line)
        if not tight or last.v - line.v > CLOSE * max(last.height, line.height):
            continue
        if any(pattern.search(line.text) for pattern, _ in _NOT_A_HOLE):
            continue
        sizes = [re.search(rf"Ø\s*({SIZE})", each) for each in (text, line.text)]
        if sizes[1] is None or re.match(r"\s*[(]?[0-9]+[)]?\s*(?:x|HOLES?|-)", line.text, re.I):
            continue
        begins = re.match(r"\s*Ø", line.text) is not None
        if not begins or (sizes[0] is not None and _wider(sizes[1][1], sizes[0][1])):
            return line.text
    return ""


def _wider(one: str, other: str) -> bool:
    try:
        return parse(one, "in").mm > parse(other, "in").mm
    except CordwainerError:
        return True


def _drills(drill: str, thread: str) -> bool:
    """Whether one line's size may be the tapping drill of another's thread."""
    size = re.search(rf"(?:Ø\s*|DRILL\s*)({SIZE})|({SIZE})\s*(?:DIA|DRILL)", drill, re.I)
    named = _THREAD.search(thread)
    if size is None or named is None:
        return False
    try:
        read = read_callout(f"{named[0]} 1 deep").thread
        mm = parse(size[1] or size[2], "mm" if named[0].upper().startswith("M") else "in").mm
    except CordwainerError:
        return False
    return read is not None and DRILL_LEAST <= mm / float(read.major_mm) <= DRILL_MOST


def _position_under(lines: Sequence[Line], below: Below, group: Sequence[int], used: set[int]) -> int | None:
    """The frame of a position tolerance that stands right under a callout."""
    last = lines[group[-1]]
    for k in below.of(last):
        line = lines[k]
        if k not in used and k not in group and _POSITION.match(line.text) and goes_on(last, line):
            return k
    return None


def understood(text: str, unit: str, position: str = "") -> Found:
    """What a callout's text says, where it says it without a doubt; else the doubt.

    >>> found = understood("4X Ø9 THRU ⌴ Ø15 ↧ 8.6", "mm")
    >>> found.state, found.count, found.callout.kind
    ('sure', 4, 'counterbored')
    >>> understood("Ø40 h6", "mm").why
    "a shaft's zone"
    """
    why = next((words for pattern, words in _NOT_A_HOLE if pattern.search(text)), "")
    if why:
        return Found(text, (), NO_HOLE, why)
    if _TOGETHER.search(text):
        return Found(text, (), DOUBT, "two callouts stand in one line here; which is it?")
    worded = reworded(text)
    under = _POSITION.match(position)
    line = f"{worded.line} position {under[1]}" if under is not None else worded.line
    kept = Found(text, (), DOUBT, line=line, count=worded.count, said=tuple(worded.said))
    try:
        callout = read_callout(line, unit)
    except CordwainerError as bad:
        return replace(kept, why=str(bad))
    if under is not None and (other := _other_position(worded.line, under[1], unit)):
        return replace(kept, line=worded.line, callout=other, why=f"is the position's {under[1]} in mm or inches?")
    doubts = [*worded.doubts, *_left_open(callout, text), *_other_unit(callout, unit)]
    state = DOUBT if doubts else SURE
    return replace(kept, state=state, why="; ".join(doubts), callout=callout)


def _other_position(line: str, position: str, unit: str) -> Callout | None:
    """The callout without its position, where that is written in another unit than the hole."""
    own = read_callout(line, unit)
    return own if own.unit == "mm" and INCH_LOOK.search(position) else None


def _other_unit(callout: Callout, unit: str) -> list[str]:
    """An inch size in a drawing in mm, with a bare whole number beside it: 7/16 with 27 deep."""
    if unit != "mm" or callout.unit != "in":
        return []
    beside = (callout.depth, callout.thread_depth, callout.counterbore_depth, callout.counterbore)
    bare = [z for z in beside if z is not None and z.unit == "in" and re.fullmatch(r"[0-9]+ in", str(z))]
    return [f"is {str(z).split()[0]} in millimeters or inches?" for z in bare]


def _left_open(callout: Callout, text: str) -> list[str]:
    """What a callout that can be read leaves open."""
    if callout.through or callout.has_depth or callout.pin is not None:
        return [*callout.notes]
    bare = callout.kind == "plain" and callout.count == 1 and not _WORK.search(text)
    return [ALONE if bare else NO_DEPTH, *callout.notes]
