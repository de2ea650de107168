"""What a print writes of a hole beyond its own figures, taken off the line or put in the reader's order.

Source: common practice on drawings by ASME Y14.5 and ISO 129-1.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from cordwainer.core.tables import rows

TYPICAL = "'TYP' says there are more like it; how many?"
NUMBER = r"(?:[0-9]+(?:[.,][0-9]+)?|[.,][0-9]+)"
SIZE = rf"(?:[0-9]+[ -][0-9]+/[0-9]+|[0-9]+/[0-9]+|{NUMBER})"
THREAD = (
    r"(?:M\s?[0-9]+(?:[.,][0-9]+)?(?:\s*[x*]\s*[0-9]*[.,]?[0-9]+)?"
    r"|(?:#\s*[0-9]+|[0-9]+[\s-][0-9]+/[0-9]+|[0-9]+/[0-9]+|[.][0-9]+|[0-9]+)\s*\"?\s*-\s*[0-9]+\s*-?\s*"
    r"(?:UNC|UNF|UNEF|UNJC|UNJF|UNS|UN|NC|NF)\b)"
)
THREAD_CLASS = r"(?:\s*-?\s*(?:[2-8][GH]|[123]B)\b)?"
DEPTH = rf"(?:\s*(?:↧|DEEP|DP|DEPTH)\s*{SIZE}(?:\s*(?:DEEP|DP|MIN))?|\s*x?\s*{SIZE}\s*(?:DEEP|DP)(?:\s*MIN)?)"
THROUGH = r"\s*THRU?(?:OUGH)?\s*(?:ALL)?"

_COUNTS = (
    re.compile(r"^\s*\(?\s*([0-9]{1,3})\s*\)?\s*x(?![0-9a-z])\s*", re.I),
    re.compile(r"^\s*\(\s*([0-9]{1,3})\s*(?:HOLES?|PLACES|PLCS?|OFF)?\s*\)\s*(?=[Ø#.0-9A-Z])", re.I),
    re.compile(r"^\s*([0-9]{1,3})\s*(?:-\s+|-(?=Ø|M\s?[0-9]|\.[0-9])|x)\s*(?=Ø|M\s?[0-9]|[0-9.#])", re.I),
    re.compile(r"^\s*([0-9]{1,3})\s*(?:HOLES?|PLACES|PLCS?|PL|OFF)\b[,:\s-]*", re.I),
    re.compile(r"[,;\s-]*\(?\b([0-9]{1,3})\s*(?:HOLES?|PLACES|PLCS?|PL|OFF)\b\.?\s*\)?", re.I),
    re.compile(r"[,;\s]*\(\s*([0-9]{1,3})\s*x\s*\)", re.I),
    re.compile(r"[,;\s]+([0-9]{1,3})x\s*$", re.I),
)
_TYPICAL = re.compile(r"[,;\s]*\(?\s*\bTYP(?:ICAL)?\b\.?\s*\)?", re.I)
_CIRCLE_OF = re.compile(
    rf"[,;\s]*(?:\b(?:EQ(?:UALLY)?\.?[\s-]*SP(?:ACED|\.)?\s*)?(?:ON|AT)\b\s*(?:AN?\s+)?(?:Ø\s*)?{SIZE}\s*(?:MM|IN|\")?"
    r"\s*(?:DIA\.?)?\s*(?:B\.?\s?C\.?D?\.?|P\.?\s?C\.?D?\.?|BOLT CIRCLE|PITCH CIRCLE)"
    r"|\bEQ(?:UALLY)?\.?[\s-]*SP(?:ACED)?\b\.?|\bEQUI-?SPACED\b)(?:\s*(?:ON|AS SHOWN))?",
    re.I,
)
_SIDE = re.compile(r"[,;\s]*\(?\b(NEAR|FAR|THIS|OTHER|BOTH)\s+SIDES?\b\)?", re.I)
_ALTERNATE = re.compile(r"\[\s*[^\]]{1,24}\]")
_LETTER = re.compile(r"(?<=[0-9])\s*\(\s*(?:[A-Z]|NO\.?\s*[0-9]+|#[0-9]+|[0-9]+-?[0-9]*/[0-9]+)\s*\)", re.I)
_TAP_WORDS = re.compile(r"\b(?:TAP(?:PED)?|THREAD(?:ED|S)?|THD|DRILL(?:ED)?|REAM(?:ED)?|BORED?|HOLES?)\b", re.I)
_DRILL_FIRST = re.compile(
    rf"^(?:(?:DRILL(?:ED)?\s*)?Ø\s*{SIZE}|DRILL(?:ED)?\s*{SIZE}|{SIZE}(?=\s*(?:MM|IN|\")?\s*(?:DRILL|DIA)))"
    rf"\s*(?:MM|IN|\")?\s*(?:DIA\.?)?\s*(?:DRILL(?:ED)?)?(?P<deep>{DEPTH}|{THROUGH})?(?:\s*[,;/&-]+\s*|\s+)(?:(?:AND\s+)?TAP(?:PED)?\s*)?"
    rf"(?P<thread>{THREAD}{THREAD_CLASS})\s*(?:TAP(?:PED)?\s*)?(?P<after>.*)$",
    re.I,
)
_DRILL_AFTER = re.compile(rf"\s*/\s*Ø\s*{SIZE}\s*(?:↧|DEEP|DP)\s*({SIZE})\s*$", re.I)
_WORDS = (
    (re.compile(r"\bC['\s]?SINK\b|\bC['/\s]SK\b", re.I), "CSK"),
    (re.compile(r"\bC['/\s]BORE\b", re.I), "CBORE"),
)
_DIA = re.compile(rf"(?<![Ø0-9.]\s)(?<![Ø0-9.])({SIZE}(?:\s*[-/]\s*{SIZE})?)\s*DIA\b\.?", re.I)
_MANY_THREADS = re.compile(
    r"^\s*([0-9]{1,2})\s*-\s*((?:[0-9]+-)?[0-9]+/[0-9]+)\s*-\s*([0-9]+)(?=\s*-?\s*UN)", re.I
)
_TURNED_PAIR = re.compile(rf"(?<![0-9.])(-?\s*0+(?:[.,]0+)?|-\s*{NUMBER})\s*/?\s*(\+\s*{NUMBER})(?![0-9.])")


@dataclass
class Wording:
    """A print's line in the reader's words, and what was taken off it.

    `count` None where the line says none; `doubts` are what a person has to settle; `said` what was left out of
    the hole and is worth keeping as words.
    """

    line: str
    count: int | None = None
    doubts: list[str] = field(default_factory=list)
    said: list[str] = field(default_factory=list)


def reworded(text: str) -> Wording:
    """A print's callout as the callout reader takes it.

    >>> reworded("Ø6.8 ↧ 20 M8x1.25-6H ↧ 16").line
    'M8x1.25-6H ↧ 16, drill 20'
    >>> reworded("6 HOLES Ø8 THRU EQ SP ON Ø60 BC").line
    '6x Ø8 THRU'
    >>> reworded("Ø25 0/+0.021 THRU").line
    'Ø25 +0.021/0 THRU'
    """
    found = Wording(re.sub(r"\s+", " ", text).strip())
    found.line = found.line.replace("Ⓜ", "")
    for pattern, word in _WORDS:
        found.line = pattern.sub(word, found.line)
    for pattern, keep in ((_ALTERNATE, "other unit"), (_CIRCLE_OF, "bolt circle"), (_LETTER, "drill's name")):
        match = pattern.search(found.line)
        if match is not None:
            found.line = pattern.sub(" ", found.line)
            if keep == "bolt circle":
                found.said.append(match[0].strip(" ,;"))
    typical = _TYPICAL.search(found.line)
    if typical is not None:
        found.line = _TYPICAL.sub(" ", found.line)
    side = _SIDE.search(found.line)
    if side is not None:
        found.line = _SIDE.sub(" ", found.line)
        found.said.append(side[0].strip(" ,;()").lower())
        if side[1].upper() in ("FAR", "OTHER", "BOTH"):
            found.doubts.append(f"'{side[0].strip(' ,;()')}' speaks of a side; look which face it is cut from")
    _take_count(found)
    found.line = _DIA.sub(r"Ø\1", found.line)
    if typical is not None and found.count is None:
        found.doubts.append(TYPICAL)
    found.line = _TURNED_PAIR.sub(lambda m: f"{m[2].replace(' ', '')}/{m[1].replace(' ', '')}", found.line)
    found.line = _threads_first(re.sub(r"\s+", " ", found.line).strip(" ,;"))
    if found.count is not None and found.count > 1:
        told = "x" if re.match(r"[Ø0-9.#]|M\s?[0-9]", found.line) else " HOLES"
        found.line = f"{found.count}{told} {found.line}"
    return found


def _take_count(found: Wording) -> None:
    several = _MANY_THREADS.match(found.line)
    if several is not None:  # 2-3/8-16 is two of 3/8-16, unless there is a 2-3/8
        known = {row.text("size") for row in rows("threads_unified")}
        if f"{several[1]}-{several[2]}-{several[3]}" not in known and f"{several[2]}-{several[3]}" in known:
            found.count, found.line = int(several[1]), found.line[several.start(2) :]
    for pattern in _COUNTS:
        match = pattern.search(found.line)
        if match is None:
            continue
        number = int(match[1])
        if found.count is not None and found.count != number:
            found.doubts.append(f"{found.count} or {number} of them?")
        found.count = found.count or number
        found.line = f"{found.line[: match.start()]} {found.line[match.end() :]}".strip()


def _threads_first(line: str) -> str:
    """A tapping drill written before its thread set after it, as the reader has it."""
    match = _DRILL_FIRST.match(line)
    if match is None:
        return _DRILL_AFTER.sub(r", drill \1", line) if re.match(THREAD, line, re.I) else line
    deep = (match["deep"] or "").strip()
    after = match["after"].strip(" ,;")
    thread = f"{match['thread'].strip()} {after}".strip()
    if not deep:
        return thread
    if re.match(r"THR", deep, re.I):
        return f"{thread} THRU" if not re.search(r"\bTHR", after, re.I) else thread
    size = re.search(SIZE, deep)
    if size is None or not re.search(rf"(?:↧|DEEP|DP|DEPTH|{SIZE})", after, re.I):
        return thread
    return f"{thread}, drill {size[0]}"
