"""A line of tools as a machinist writes them: `3x 6.8 jobber, 5/16 reamer, #4 center drill, M6 taps plug`.

Every piece between commas is one size, or a run of sizes, of one kind of tool; words stand in any order. What
cannot be read, or could be read in two ways, is said at its place with what would do instead.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse
from cordwainer.core.shop.sets import sizes_in
from cordwainer.core.shop.sized import sized
from cordwainer.core.shop.stock import sold
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import rows

LONGEST, MOST_PIECES, MOST_TOOLS = 4000, 400, 2000
CONDITION = {
    "new": "good",
    "good": "good",
    "worn": "worn",
    "chipped": "chipped",
    "blunt": "blunt",
    "dull": "blunt",
}
COATINGS = {"tin": "TiN", "tialn": "TiAlN", "ticn": "TiCN", "oxide": "black oxide", "bright": ""}
MATERIALS = {"hss": "hss", "cobalt": "cobalt", "hss-co": "cobalt", "carbide": "carbide"}
LEADS = {"taper": "taper", "plug": "plug", "second": "plug", "bottoming": "bottoming", "bottom": "bottoming"}
ALL_LEADS = ("taper", "plug", "bottoming")
NO_SIZE = ("punch",)
ANGLED, ANGLES = ("spot_drill", "countersink"), ("60", "82", "90", "100", "118", "120", "135", "142")
SPECIAL = "special"
NEAR_MM = 0.003

_COUNT = re.compile(r"^(?:(\d{1,4})\s*(?:x|×|off|pcs|pc)\b\s*|(\d{1,4})\s*[x×]\s*)", re.IGNORECASE)
_DRAWER = re.compile(r"\b(?:in\s+)?drawer\s+([\w-]{1,20})", re.IGNORECASE)
_ANGLE = re.compile(r"\b(\d{2,3})\s*(?:deg(?:rees?)?\b|°)", re.IGNORECASE)
_RUN = re.compile(
    r"(?P<first>#\d+|[a-z]|[\d./-]+?)\s*(?:\.\.|\bto\b|-(?=#|[a-z]\b|\d+\s+by\b)|-(?=\d+\s*$))\s*(?P<last>#?\d[\d./-]*|[a-z])"
    r"(?:\s*by\s*(?P<step>[\d./]+)(?P<ths>ths|nds|rds)?)?(?:\s*(?P<unit>mm|in)\b)?",
    re.IGNORECASE,
)
_SIZE = re.compile(
    r"""(?P<thread>\bm\d+(?:\.\d+)?(?:\s*x\s*\d+(?:\.\d+)?)?\b|(?:\#?\d+|\d+-\d+/\d+|\d+/\d+)-\d{1,2}\b(?!/)(?:\s*(?:unc|unf)\b)?)
    |(?P<metric>\b[abr]\s*\d+(?:\.\d+)?\b)
    |(?P<named>\#\d+(?:/0)?|\bno\.?\s*\d+|\bnumber\s+\d+|\bletter\s+[a-z]\b)
    |(?P<plain>\d+[-\s]+\d+/\d+|\d+/\d+|\d*[.,]\d+|\d+)\s*(?P<unit>mm\b|in\b|inch\b|"|″)?
    |(?P<letter>\b[a-z]\b)""",
    re.IGNORECASE | re.VERBOSE,
)


@dataclass(frozen=True)
class Read:
    """One piece understood: the tools it names, each with how many and what else was said of it."""

    at: int
    text: str
    tools: tuple[Tool, ...]

    @property
    def words(self) -> str:
        """What was understood, with what it will be called."""
        first = self.tools[0]
        many = f"{first.quantity} × " if first.quantity > 1 else ""
        if len(self.tools) == 1:
            return f"{many}{first.name}"
        return tr(
            "{many}{first} to {name}, {count} tools",
            many=many,
            first=first.name,
            name=self.tools[-1].name,
            count=len(self.tools),
        )


@dataclass(frozen=True)
class Doubt:
    """One piece that was not taken: the words in doubt and where they stand, why, what would do instead."""

    at: int
    text: str
    why: str
    offers: tuple[str, ...] = ()
    piece: str = ""


def read_tools(line: str, unit: str) -> list[Read | Doubt]:
    """Every piece of a line, in order; sizes without a unit are of `unit`, fractions and numbers are inch sizes.

    >>> [found.words for found in read_tools("3x 6.8 jobber, M6 taps plug bottoming", "mm")]
    ['3 × 6.8 mm drill', 'M6x1 plug tap to M6x1 bottoming tap, 2 tools']
    """
    if len(line) > LONGEST:
        return [
            Doubt(
                LONGEST,
                line[LONGEST : LONGEST + 20],
                tr("is more than {longest} signs; write it in parts", longest=LONGEST),
            )
        ]
    found: list[Read | Doubt] = []
    for at, piece in _pieces(line):
        if len(found) >= MOST_PIECES:
            found.append(
                Doubt(
                    at,
                    piece[:20],
                    tr(
                        "is the {most_pieces}th piece; write the rest in another line", most_pieces=MOST_PIECES + 1
                    ),
                )
            )
            break
        one = _piece(at, piece, unit)
        found.append(replace(one, piece=piece) if isinstance(one, Doubt) else one)
    total = sum(len(one.tools) for one in found if isinstance(one, Read))
    if total > MOST_TOOLS:
        return [
            Doubt(
                0,
                line[:20],
                tr("names {total} tools; {most_tools} are read at once", total=total, most_tools=MOST_TOOLS),
            )
        ]
    return found


def _pieces(line: str) -> Iterator[tuple[int, str]]:
    """The pieces between commas, semicolons and line ends; a comma between digits is a decimal one."""
    for match in re.finditer(r"(?:[^,;\n]|(?<=\d),(?=\d))+", line):
        text = match[0]
        if text.strip():
            yield match.start() + len(text) - len(text.lstrip()), text.strip()


@cache
def _kinds() -> tuple[tuple[str, str, str], ...]:
    """Words with the kind and series they mean, the longest first."""
    found = []
    for row in rows("tool_words"):
        for words in row.text("words").split("|"):
            found.append((words, row.text("kind"), row.text("series")))
    return tuple(sorted(found, key=lambda entry: -len(entry[0])))


def _piece(at: int, piece: str, unit: str) -> Read | Doubt:
    rest = piece.replace("’", "'").strip()
    count = 1
    match = _COUNT.match(rest)
    if match:
        count = int(match[1] or match[2])
        rest = rest[match.end() :]
        if not 1 <= count <= 1000:
            return Doubt(at, match[0].strip(), tr("is no count of tools; write 1 to 1000"))
    fields: dict[str, object] = {"quantity": count}
    rest, fields = _said_of_it(rest, fields)
    angle, rest = _angle(rest)
    kind, series, rest = _kind(rest)
    leads, rest = _leads(kind, rest)
    special = SPECIAL in rest.lower().split()
    rest = re.sub(r"\bspecial\b", " ", rest, flags=re.IGNORECASE)
    if kind in NO_SIZE and not rest.strip():
        return Read(at, piece, (replace(sold(kind)[0], **fields),))  # type: ignore[arg-type]
    try:
        sizes, left = _sizes(rest, kind, unit)
    except InputError as bad:
        return Doubt(at, piece, bad.problem)
    if not sizes:
        return Doubt(
            at, left or piece, tr("has no size; write it as it is stamped, '6.8', '5/16', '#7', 'F', 'M6'")
        )
    if left:
        where = piece.lower().find(left.lower())
        return Doubt(at + max(where, 0), left, tr("was not understood here"), _near_words(left))
    if kind in ANGLED and angle is None and len(sizes) == 2 and (own := _as_angle(sizes[1])):
        sizes, angle = sizes[:1], own
    kind = kind or ("tap" if _is_thread(sizes[0]) else "drill")
    tools: list[Tool] = []
    for size in sizes:
        for lead in leads or ("",):
            made = _made(kind, lead or series, size, angle, unit, special)
            if isinstance(made, Doubt):
                return replace(made, at=at, text=piece)
            tools.append(replace(made, **fields))  # type: ignore[arg-type]
    return Read(at, piece, tuple(tools))


def _said_of_it(rest: str, fields: dict[str, object]) -> tuple[str, dict[str, object]]:
    """Drawer, condition, coating and material, taken out of the piece."""
    match = _DRAWER.search(rest)
    if match:
        fields["drawer"] = match[1]
        rest = rest[: match.start()] + " " + rest[match.end() :]
    for key, words in (("condition", CONDITION), ("coating", COATINGS), ("material", MATERIALS)):
        for word, value in words.items():
            pattern = rf"\b{re.escape(word)}\b(?!\s*(?:drill|bar|boring))"
            if re.search(pattern, rest, re.IGNORECASE):
                fields[key] = value
                rest = re.sub(pattern, " ", rest, count=1, flags=re.IGNORECASE)
                break
    return re.sub(r"\bblack\s*$|\bcoated\b", " ", rest, flags=re.IGNORECASE), fields


def _angle(rest: str) -> tuple[float | None, str]:
    match = _ANGLE.search(rest)
    if match is None:
        return None, rest
    return float(match[1]), rest[: match.start()] + " " + rest[match.end() :]


def _kind(rest: str) -> tuple[str, str, str]:
    """The kind of tool and its series, and the piece without the words that said so."""
    lowered = f" {re.sub(r'[ ]+', ' ', rest.lower())} "
    kind = series = ""
    for words, its_kind, its_series in _kinds():
        match = re.search(rf"(?<![\w-]){re.escape(words)}(?![\w-])", lowered)
        if match is None or (kind and its_kind != kind):
            continue
        kind, series = its_kind, series or its_series
        lowered = lowered[: match.start()] + " " + lowered[match.end() :]
    return kind, series, lowered.strip()


def _as_angle(size: str) -> float | None:
    """A bare number behind the size of a spot drill or countersink that is one of their angles."""
    number = size.split()[0]
    return float(number) if number in ANGLES else None


def _leads(kind: str, rest: str) -> tuple[tuple[str, ...], str]:
    """Which of a hand set of taps: taper, plug, bottoming, or all three where a set is said."""
    if kind != "tap":
        return (), rest
    if re.search(r"\bset\b", rest):
        return ALL_LEADS, re.sub(r"\bset\b", " ", rest)
    found = tuple(dict.fromkeys(lead for word, lead in LEADS.items() if re.search(rf"\b{word}\b", rest)))
    for word in LEADS:
        rest = re.sub(rf"\b{word}\b", " ", rest)
    return found or ("plug",), re.sub(r"\band\b", " ", rest)


def _sizes(rest: str, kind: str, unit: str) -> tuple[list[str], str]:
    """The sizes of a piece as they are stamped, and what is left of it. Raises `InputError` for a bad run."""
    run = _RUN.search(rest)
    if run is not None and kind != "tap":
        return _run(run, unit), (rest[: run.start()] + rest[run.end() :]).strip()
    sizes = []
    left = ""
    at = 0
    for match in _SIZE.finditer(rest):
        left += rest[at : match.start()]
        at = match.end()
        if kind in ("drill", "") and match["metric"]:
            left += match[0]
            continue
        sizes.append(_stamped(match, unit))
    left = re.sub(r"\band\b|\bby\b|[+&/]", " ", left + rest[at:]).strip()
    return sizes, re.sub(r"\s+", " ", left)


def _stamped(match: re.Match[str], unit: str) -> str:
    if match["thread"]:
        return match["thread"].replace(" ", "").upper().replace("X", "x")
    if match["metric"]:
        return match["metric"].upper().replace(" ", "").replace("A", "A ").replace("B", "B ").replace("R", "R ")
    if match["named"]:
        text = match["named"].lower()
        if text.startswith("letter"):
            return text.split()[-1].upper()
        return "#" + re.sub(r"^(?:#|no\.?|number)\s*", "", text)
    if match["letter"]:
        return match["letter"].upper()
    plain, own = match["plain"].replace(",", "."), match["unit"]
    if own:
        return f"{plain} {'mm' if own.lower() == 'mm' else 'in'}"
    return f"{plain} in" if "/" in plain else f"{plain} {unit}"


def _run(run: re.Match[str], unit: str) -> list[str]:
    """A run of sizes: `#1 to #60`, `A-Z`, `1 to 13 by 0.5`, `1/16 to 1/2 by 64ths`."""
    first, last, step = run["first"].upper(), run["last"].upper(), run["step"]
    if first.startswith("#") or (len(first) == 1 and first.isalpha()):
        last = f"#{last.lstrip('#')}" if first.startswith("#") else last
        numbered = first[1:].isdecimal() and last[1:].isdecimal()
        if first[0] == "#" and not (numbered and 1 <= int(first[1:]) <= int(last[1:]) <= 80):
            raise InputError("", tr("'{run}' runs over no numbers; they go from #1 to #80", run=run[0].strip()))
        if first[0] != "#" and (len(last) != 1 or not first <= last):
            raise InputError("", tr("'{run}' runs over no letters; they go from A to Z", run=run[0].strip()))
        return list(sizes_in(f"{first}..{last}"))
    if step is None:
        raise InputError(
            "", tr("'{run}' says no step; write '1 to 13 by 0.5' or '1/16 to 1/2 by 64ths'", run=run[0].strip())
        )
    step = f"1/{step}" if run["ths"] else step
    own = (run["unit"] or "").lower() or ("in" if "/" in f"{first}{last}{step}" else unit)
    try:
        parsed = [parse(f"{text} {own}").exact_mm for text in (first, last, step)]
    except InputError:
        raise InputError("", tr("'{run}' cannot be read as a run of sizes", run=run[0].strip())) from None
    if parsed[2] <= 0 or parsed[1] < parsed[0] or (parsed[1] - parsed[0]) / parsed[2] > MOST_TOOLS:
        raise InputError("", tr("'{run}' runs over no sizes, or over too many", run=run[0].strip()))
    try:
        return list(sizes_in(f"{_exact(first)}..{_exact(last)} by {_exact(step)} {own}"))
    except (ValueError, ZeroDivisionError):
        raise InputError("", tr("'{run}' cannot be read as a run of sizes", run=run[0].strip())) from None


def _exact(text: str) -> str:
    whole = re.fullmatch(r"(\d+)-(\d+)/(\d+)", text)
    if whole:
        return f"{int(whole[1]) * int(whole[3]) + int(whole[2])}/{whole[3]}"
    return text


def _is_thread(size: str) -> bool:
    return bool(re.match(r"^M\d|^.+-\d{1,2}$", size)) and not re.match(r"^\d+-\d+/\d+", size)


def _made(kind: str, series: str, size: str, angle: float | None, unit: str, special: bool) -> Tool | Doubt:
    """The tool of a size, or why not: nobody sells it, or it could be of the other unit."""
    if kind == "center_drill":
        series, size = _center(size)
    elif kind == "tap":
        size = _pitch(size)
    elif kind == "counterbore":
        size = f"{size} spotface" if series == "spotface" else size.removesuffix(" in").removesuffix(" mm")
    elif kind == "taper_pin_reamer":
        series = "1:48" if size.startswith("#") else "1:50"
    try:
        tool = sized(kind, series, size, angle)
    except InputError as bad:
        return _other_unit(kind, series, size, angle) or Doubt(0, size, bad.problem, _sold_near(kind, size))
    except (ValueError, ZeroDivisionError, ArithmeticError):
        return Doubt(0, size, tr("'{size}' is no size", size=size))
    if special or kind not in ("drill", "reamer", "end_mill", "spot_drill"):
        return tool
    if _is_sold(tool):
        return tool
    unsold = tr("nobody sells a {size} {kind}", size=size, kind=tr(kind.replace("_", " ")))
    return _other_unit(kind, series, size, angle) or Doubt(
        0, size, unsold, (*_sold_near(kind, size), f"{size} special")
    )


def _other_unit(kind: str, series: str, size: str, angle: float | None) -> Doubt | None:
    """Where the bare number is a size that is sold in the other unit: which of the two is it?"""
    number = re.match(r"^([\d.]+) (mm|in)$", size)
    if number is None:
        return None
    other = f"{number[1]} {'in' if number[2] == 'mm' else 'mm'}"
    try:
        twin = sized(kind, series, other, angle)
    except (InputError, ValueError, ArithmeticError):
        return None
    if not _is_sold(twin):
        return None
    words = tr(
        "nobody sells a {size} {kind}; is it {other}?", size=size, kind=tr(kind.replace("_", " ")), other=other
    )
    return Doubt(0, size, words, (other, f"{size} special"))


def _center(size: str) -> tuple[str, str]:
    """The series and name of a center drill: `#4` is plain, `A 2.5` of its letter, `2.5 mm` an A."""
    if size.startswith("#"):
        return "plain", size
    if size.endswith(" mm"):
        return "A", f"A {float(size[:-3]):g}" if float(size[:-3]) % 1 else f"A {float(size[:-3]):.1f}"
    if len(size) > 1 and size[0] in "ABR" and size[1] == " ":
        number = float(size[2:])
        return size[0], f"{size[0]} {number:g}" if number % 1 else f"{size[0]} {number:.1f}"
    return "plain", f"#{size.split()[0]}"


def _pitch(size: str) -> str:
    """A thread with its pitch: `M6` is M6x1, `1/4` would be no thread."""
    if re.fullmatch(r"M\d+(?:\.\d+)?", size):
        return next((t.designation for t in sold("tap") if t.designation.split("x")[0] == size), size)
    return size if size.startswith(("M", "#")) or "/" in size else f"#{size}" if "-" in size else size


def _is_sold(tool: Tool) -> bool:
    """Whether that size is sold, in any series of its kind."""
    return any(abs(tool.diameter_mm - mm) < NEAR_MM for mm in _sold_mm(tool.kind))


@cache
def _sold_mm(kind: str) -> tuple[float, ...]:
    return tuple(sorted({tool.diameter_mm for tool in sold(kind)}))


def _sold_near(kind: str, size: str) -> tuple[str, ...]:
    """The sizes sold next to one, as they are stamped."""
    try:
        mm = parse(size).mm
    except InputError:
        return ()
    tools = sorted(sold(kind), key=lambda t: abs(t.diameter_mm - mm))
    return tuple(dict.fromkeys(tool.designation for tool in tools[:3]))


def _near_words(left: str) -> tuple[str, ...]:
    """Kinds of tools that begin like what was not understood."""
    start = left.split()[0][:3]
    return tuple(dict.fromkeys(words for words, _, _ in _kinds() if words.startswith(start)))[:3]
