"""What stands in a question: figures with kind and unit, words with meaning, and what could not be read."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from itertools import islice, product

from cordwainer.core.asking.spoken import Rewritten, rewritten
from cordwainer.core.cutting.speed import METERS_PER_FOOT
from cordwainer.core.errors import CordwainerError
from cordwainer.core.lengths import INCH_MM, parse
from cordwainer.core.part.thread import read_thread
from cordwainer.core.tables import packaged

LONGEST = 200
LARGEST_THREAD_MM = 102
PLAIN, MOST_MARKINGS, MOST_WAYS = ("", "|", "to"), 243, 16
MOST_FIGURES = 6
ALONE, WEAK_ALONE, UNUSUAL = 1.6, 0.6, 0.3
DEPTHS = ("deep", "tip", "full", "stop")
NUMBER = r"(?:\d{1,4}[ -]\d{1,3}/\d{1,3}(?![\d/])|\d{1,4}/\d{1,4}|\d{0,7}[.,]\d{1,8}|\d{1,9})"
UNITS = {
    "surface": {
        "ft/min": r"ft/min(?:ute)?|fpm|sfm|sfpm|surface feet|feet (?:per|a) minute|ft (?:a|per) min(?:ute)?",
        "m/min": r"m/min|m per min(?:ute)?|m a minute|met(?:er|re)s? (?:per|a) minute",
    },
    "rpm": {"rev/min": r"rpm|rev/min|revs|r/min|revs? (?:per|a) minute|turns (?:per|a) minute"},
    "feed": {
        "mm/rev": r"mm/rev|mm/r|mm (?:per|a) (?:rev|turn)",
        "in/rev": r"in/rev|ipr|in (?:per|a) (?:rev|turn)|inch(?:es)? (?:per|a) (?:rev|turn)",
        "thou/rev": r"thou/rev|thou (?:per|a) (?:rev|turn)",
    },
    "rate": {
        "mm/min": r"mm/min|mm (?:per|a) min(?:ute)?",
        "in/min": r"in/min|ipm|in (?:per|a) min(?:ute)?|inch(?:es)? (?:per|a) min(?:ute)?",
    },
    "angle": {"°": r"°|deg\b|degrees?\b"},
    "percent": {"%": r"%|per ?cent"},
    "tpi": {"tpi": r"tpi|threads (?:per|an) inch|to the inch"},
    "minutes": {"h": r"h\b|hours?\b", "min": r"min\b|minutes?\b|mins\b", "s": r"s\b|sec\b|seconds?\b"},
    "count": {"": r"holes\b|parts\b|pieces\b|pcs\b|off\b"},
    "length": {
        "thou": r"thou\b|thousandths?\b",
        "µm": r"µm|μm|um\b|microns?\b",
        "mm": r"mm\b|millimet(?:er|re)s?\b",
        "in": r"in\b(?! an?\b| the\b| my\b| m\d| mm\b| inch| mill)|inch(?:es)?\b|\"",
    },
    "turns": {"turns": r"turns?\b"},
    "ratio": {"x": r"x(?!\d)|times\b"},
}  # fmt: skip
SCALE = {
    "ft/min": METERS_PER_FOOT, "in/rev": INCH_MM, "thou/rev": INCH_MM / 1000, "in/min": INCH_MM, "in": INCH_MM,
    "thou": INCH_MM / 1000, "µm": 0.001, "h": 60.0, "s": 1 / 60,
}  # fmt: skip
_UNIT = [(kind, unit, re.compile(words)) for kind, units in UNITS.items() for unit, words in units.items()]
_NUMBER = re.compile(NUMBER)
_RANGE = re.compile(rf"({NUMBER})\s*(?:-|\.\.|to)\s*({NUMBER})(?![\d/])")
_DRILL = re.compile(r"#\s*(\d{1,2})(?![\d/-])|letter ([a-z])\b|\b([a-hj-z]) drill\b")
_CENTER = re.compile(
    r"cent(?:er|re)(?: drill(?:ed)?| hole)?s?\s*(?:#|size )?\s*"
    r"(?P<a>(?:[abr] ?)?\d{1,2}(?:\.\d{1,2}|-1/2|-\d(?!/))?)(?![\d/.]| ?(?:mm|in|deg|\"|°))"
    r"|#(?P<b>\d{1,2}(?:-1/2)?) cent(?:er|re)(?: drill(?:ed)?| hole)?"
)
_THREAD = re.compile(
    r"(?P<m>m\d{1,2}(?:[.,]\d{1,2})?(?:\s*x\s*\d?[.,]?\d{1,2})?)(?![\d/-])"
    r"|(?P<u>#?\d{1,2}(?:-\d{1,2}/\d{1,2}|/\d{1,2})?\s*-\s*\d{1,2})(?!\d|[./])(?:\s*(?:unc|unf|un)\b)?"
)
_ZONE = re.compile(r"(?:js|[a-hkmnprs])\d{1,2}(?:\s*/\s*(?:js|[a-hkmnprs])\d{1,2})?(?![\w/.])")
_CHAMFER = re.compile(rf"({NUMBER})\s*x\s*45(?:\s*(?:°|deg\b|degrees\b))?")
_WORD = re.compile(r"[a-z][a-z'/]*|[^\sa-z\d]")


@dataclass(frozen=True)
class Quantity:
    """One figure: its kind, both ends in mm, m/min, mm/rev, mm/min, minutes and so on, and where it stands.

    `mark` is the word that says what it is; `unit` the unit it was typed in, empty where none was.
    """

    kind: str
    low: float
    high: float
    unit: str
    text: str
    start: int
    end: int
    mark: str = ""

    @property
    def value(self) -> float:
        """The figure, the middle of a range."""
        return (self.low + self.high) / 2


@dataclass(frozen=True)
class Word:
    """A word with a meaning, or one that says nothing (meaning empty)."""

    text: str
    meaning: str
    start: int
    end: int


@dataclass(frozen=True)
class Unread:
    """What could not be read, and where it stands in the line as typed."""

    text: str
    start: int
    end: int
    why: str = ""

    @property
    def said(self) -> str:
        """In words."""
        what = f"'{self.text.strip()}'"
        return f"{what}: {self.why}" if self.why else f"{what} could not be read"


@dataclass(frozen=True)
class Scanned:
    """A question taken apart: its figures with their marks and the words left over, likeliest way first."""

    ways: tuple[tuple[tuple[Quantity, ...], frozenset[str]], ...]
    material: str
    doubts: tuple[Unread, ...]
    line: Rewritten


@dataclass(frozen=True)
class Vocabulary:
    """Meaning by word (empty for filling), material by word; marks that belong to what follows, and that give way.

    `leads` stand before their figure more often than after it.
    `names` calls the slots of questions; `longest` is the most words of one entry.
    """

    meanings: dict[str, str]
    materials: dict[str, str]
    after: frozenset[str]
    leads: frozenset[str]
    weak: frozenset[str]
    names: dict[str, str]
    longest: int


@cache
def vocabulary() -> Vocabulary:
    """All of it, read once."""
    data = tomllib.loads(packaged("asking_words.toml").decode())
    meanings = dict.fromkeys(data["fill"], "")
    meanings |= {word: mark for mark, words in data["marks"].items() for word in words}
    materials = {word: made_of for made_of, words in data["materials"].items() for word in words}
    longest = max(len(word.split()) for word in [*meanings, *materials])
    after, leads, weak = (frozenset(data[name]["words"]) for name in ("after", "leads", "weak"))
    return Vocabulary(meanings, materials, after, leads | after, weak, data["names"], longest)


def begins_a_word(text: str) -> bool:
    """Whether a piece of text may still become a word that is known."""
    known = vocabulary()
    units = ("rpm", "rev", "thou", "deg", "min", "inch", "ft", "feet", "meters", "degrees")
    return any(word.startswith(text) for word in (*known.meanings, *known.materials, *units))


def _number(text: str) -> float | None:
    """The value of a number as written, None where it is none."""
    if text.isdigit():
        return float(text)
    try:
        return parse(text.replace(" ", "-") if "/" in text else text, "mm").mm
    except CordwainerError:
        return None


class _Scanner:
    """Walks the line once."""

    def __init__(self, line: Rewritten) -> None:
        self.text, self.line = line.text, line
        self.items: list[Quantity | Word] = []
        self.doubts: list[Unread] = []
        self.material = ""

    def run(self) -> None:
        """Take the line apart from left to right."""
        at = 0
        while at < len(self.text):
            if self.text[at].isspace():
                at += 1
                continue
            at = self._material(at) or self._figure(at) or self._word(at)

    def _add(self, kind: str, low: float, high: float, unit: str, start: int, end: int, mark: str = "") -> int:
        text = self.text[start:end].strip()
        self.items.append(Quantity(kind, low, high, unit, text, start, end, mark))
        return end

    def _doubt(self, start: int, end: int, why: str = "") -> int:
        first, last = self.line.place(start), self.line.place(max(end - 1, start)) + 1
        self.doubts.append(Unread(self.text[start:end], first, last, why))
        return end

    def _material(self, at: int) -> int:
        known = vocabulary()
        for end in self._ends(at, known.longest):
            if (made_of := known.materials.get(self.text[at:end])) is not None:
                self.material = made_of
                return end
        return 0

    def _ends(self, at: int, longest: int) -> list[int]:
        """Where the next one, two, three words end, the longest first."""
        ends, here = list[int](), at
        for _ in range(longest):
            found = re.compile(r"\s*[a-z0-9'/-]+").match(self.text, here)
            if found is None:
                break
            here = found.end()
            ends.append(here)
        return ends[::-1]

    def _figure(self, at: int) -> int:
        if not re.match(r"[\d.,#a-z]", self.text[at:]):
            return 0
        if found := _CENTER.match(self.text, at):
            name = (found["a"] or found["b"]).replace(" ", "").upper()
            return self._add("center", 0, 0, name, at, found.end())
        if found := _DRILL.match(self.text, at):
            return self._drill(found, at)
        if found := _CHAMFER.match(self.text, at):
            width = _number(found[1])
            if width is not None:
                return self._add("length", width, width, "?", at, found.end(), "chamfer")
        if (found := _THREAD.match(self.text, at)) and (end := self._thread(found, at)):
            return end
        if (found := _RANGE.match(self.text, at)) and (end := self._range(found, at)):
            return end
        if found := _ZONE.match(self.text, at):
            typed = self.line.typed[self.line.place(at) : self.line.place(found.end() - 1) + 1]
            return self._add("zone", 0, 0, typed, at, found.end())
        if found := _NUMBER.match(self.text, at):
            value = _number(found[0])
            if value is None:
                return self._doubt(
                    at, self._unit(found.end())[2], "this figure can be read two ways or not at all"
                )
            return self._with_unit(value, value, at, found.end())
        return 0

    def _drill(self, found: re.Match[str], at: int) -> int:
        name = f"#{found[1]}" if found[1] else f"letter {(found[2] or found[3]).upper()}"
        try:
            size = parse(name).mm
        except CordwainerError as bad:
            return self._doubt(at, found.end(), str(bad))
        return self._add("length", size, size, "drill", at, found.end(), "drill" if found[3] else "")

    def _thread(self, found: re.Match[str], at: int) -> int:
        try:
            thread = read_thread(found[0].replace(" ", "").upper().replace("X", "x").replace("UN", " UN", 1))
        except (CordwainerError, ValueError, ZeroDivisionError):
            return 0
        if thread.major_mm > LARGEST_THREAD_MM or self._unit(found.end())[0]:
            return 0
        return self._add("thread", float(thread.major_mm), float(thread.major_mm), thread.name, at, found.end())

    def _range(self, found: re.Match[str], at: int) -> int:
        if _mixed(found[0]):
            return 0
        low, high = _number(found[1]), _number(found[2])
        if low is None or high is None:
            return 0
        said_to = "to" in found[0]
        kind, unit, end = self._unit(found.end())
        if not kind and not said_to and "/" in found[1] and "/" in found[2]:
            low, high = sorted((low * INCH_MM, high * INCH_MM))
            return self._add("length", low, high, "in", at, found.end())
        if not kind or (said_to and kind == "length"):
            return 0
        scale = SCALE.get(unit, 1.0)
        low, high = sorted((low * scale, high * scale))
        return self._add(kind, low, high, unit, at, end)

    def _unit(self, at: int) -> tuple[str, str, int]:
        """Kind and unit of what stands there, and where it ends."""
        start = at + len(self.text[at:]) - len(self.text[at:].lstrip())
        for kind, unit, pattern in _UNIT:
            if kind == "ratio" and start > at and self.text[start : start + 1] == "x":
                continue
            if (found := pattern.match(self.text, start)) and not self.text[
                found.end() : found.end() + 1
            ].isalpha():
                return kind, unit, found.end()
        return "", "", at

    def _with_unit(self, low: float, high: float, at: int, end: int) -> int:
        kind, unit, after = self._unit(end)
        if not kind:
            fraction = "/" in self.text[at:end]
            scale = INCH_MM if fraction else 1.0
            name = ("length", "in?") if fraction else ("number", "")
            return self._add(name[0], low * scale, high * scale, name[1], at, end)
        scale = SCALE.get(unit, 1.0)
        return self._add(kind, low * scale, high * scale, unit, at, after)

    def _word(self, at: int) -> int:
        known = vocabulary()
        if self.text[at] in ",;:?!.()":
            self.items.append(Word(self.text[at], "|" if self.text[at] in ",;" else "", at, at + 1))
            return at + 1
        for end in self._ends(at, known.longest):
            if (meaning := known.meanings.get(self.text[at:end].strip())) is not None:
                self.items.append(Word(self.text[at:end], meaning, at, end))
                return end
        found = _WORD.match(self.text, at)
        end = found.end() if found else at + 1
        return self._doubt(at, end)


def _mixed(text: str) -> bool:
    """Whether it is one mixed number, such as 1-1/2, and no range."""
    return bool(re.fullmatch(r"\d+-\d+/\d+", text.replace(" ", "")))


def _markings(items: list[Quantity | Word]) -> list[tuple[list[Quantity], frozenset[str]]]:
    """The ways of giving each mark to a figure beside it, the likeliest first, with the words left over.

    A mark that reaches past another, or stands alone beside a figure, is less likely; one that names a thing gives
    way to one that says what the figure is.
    """
    known = vocabulary()
    marks = [
        (at, item.meaning) for at, item in enumerate(items) if isinstance(item, Word) and item.meaning not in PLAIN
    ]
    options: list[list[tuple[int | None, float]]] = []
    for at, meaning in marks:
        alone = WEAK_ALONE if meaning in known.weak else ALONE
        found: list[tuple[int | None, float]] = [(None, alone)]
        for side in (-1, 1):
            place, passed = _next(items, at, side)
            if place is not None and not (side < 0 and meaning in known.after):
                usual = side > 0 if meaning in known.leads else side < 0
                found.append((place, passed + (0.0 if usual else UNUSUAL)))
        options.append(sorted(found, key=lambda option: option[1])[:3])
    ways = list[tuple[float, tuple[int | None, ...]]]()
    for chosen in islice(product(*options), MOST_MARKINGS):
        places = [place for place, _ in chosen if place is not None]
        if len(set(places)) == len(places):
            ways.append((sum(cost for _, cost in chosen), tuple(place for place, _ in chosen)))
    ways.sort(key=lambda way: way[0])
    return [_given(items, [meaning for _, meaning in marks], places) for _, places in ways[:MOST_WAYS]]


def _given(
    items: list[Quantity | Word], marks: list[str], places: Sequence[int | None]
) -> tuple[list[Quantity], frozenset[str]]:
    """The figures with these marks, and the marks that stand alone."""
    now = list(items)
    for meaning, place in zip(marks, places, strict=True):
        if place is not None:
            found = now[place]
            assert isinstance(found, Quantity)
            now[place] = replace(found, mark=meaning)
    for at, item in enumerate(now):
        if isinstance(item, Word) and item.meaning == "to":
            _join(now, at)
    alone = frozenset(meaning for meaning, place in zip(marks, places, strict=True) if place is None)
    return [item for item in now if isinstance(item, Quantity)], alone


def _join(items: list[Quantity | Word], at: int) -> None:
    """ "5/8 to 3/4 deep" is one depth with two ends; "1/8 to 1/2" is a size and the one it goes to."""
    before, after = _next(items, at, -1)[0], _next(items, at, 1)[0]
    if after is None:
        return
    last = items[after]
    assert isinstance(last, Quantity)
    if before is None:
        return
    first = items[before]
    assert isinstance(first, Quantity)
    one_depth = (last.mark in DEPTHS and not first.mark) or (first.mark in DEPTHS and not last.mark)
    if first.kind == last.kind and one_depth:
        text = f"{first.text} to {last.text}"
        low, high = sorted((first.low, last.low))
        items[after] = replace(
            last, low=low, high=high, text=text, start=first.start, mark=first.mark or last.mark
        )
        items[before] = Word("", "", first.start, first.start)
    elif not last.mark:
        items[after] = replace(last, mark="to")


def _next(items: list[Quantity | Word], at: int, step: int) -> tuple[int | None, int]:
    """The place of the figure next to a word, and how many other marks stand between."""
    at, passed = at + step, 0
    while 0 <= at < len(items):
        item = items[at]
        if isinstance(item, Quantity):
            return at, passed
        if item.meaning == "|":
            return None, passed
        passed += bool(item.meaning)
        at += step
    return None, passed


def read(line: str) -> Scanned:
    """Take a question apart. Nothing typed is an error: what could not be read is among the doubts."""
    shown = line[:LONGEST]
    scanner = _Scanner(rewritten(shown))
    scanner.run()
    if len(line) > LONGEST:
        scanner.doubts.append(Unread(line[LONGEST : LONGEST + 20], LONGEST, len(line), "a question is shorter"))
    ways = tuple((tuple(quantities), words) for quantities, words in _markings(scanner.items))
    return Scanned(ways, scanner.material, tuple(scanner.doubts), scanner.line)
