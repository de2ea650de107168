"""A hole as the trade writes it in one line, read into its parts or refused with the place of the doubt."""

from __future__ import annotations

import re
from collections.abc import Callable

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.part.callout_figures import Figures
from cordwainer.core.part.callout_parts import COUNT, DEEP, Callout
from cordwainer.core.part.callout_walk import Walk
from cordwainer.core.part.callout_words import Doubt, LinePiece
from cordwainer.core.part.center import center_size
from cordwainer.core.part.tolerance import is_code, written_limits

THROUGH = {"through", "thru", "thr"}
COUNTERBORE = {"cbore", "counterbore", "counterbored", "c'bore", "cb", "register", "⌴"}
COUNTERSINK = {"csk", "countersink", "countersunk", "sink", "⌵"}
SPOTFACE = {"spotface", "spotfaced", "sf", "spotfacing"}
CHAMFER = {"cham", "chamfer", "chamfered", "chf"}
DRILL = {"drill", "drilled", "predrill", "hole"}
ENTRIES = {"faced", "sawn", "cast", "pip"}
ASIDE = {
    "ra", "position", "tp", "⌖", "from", "existing", "cored", "wall", "part", "od", "round",
    "roundness", "cylindricity", "square", "squareness", "perpendicular",
}  # fmt: skip
LEAST_CODED_IN, LEAST_ASKED_IN = 3, 7
KEYWAY = {"keyway", "keyseat", "splined", "slotted"}
NOISE_WORDS = """dia diam diameter ream reamed bore bored tap tapped thread threads threaded full all min bottom
bottomed for screw socket head with and rh iso face left a at to on of in holes size @ ( ) &"""
NOISE = frozenset(NOISE_WORDS.split())
NOT_READ = {
    "npt": tr("pipe threads are not read here; write the tap drill's size"),
    "bsp": tr("pipe threads are not read here; write the tap drill's size"),
    "lh": tr("left-hand threads cannot be kept here yet; leave it out and note it in the name"),
}

_CENTER = re.compile(
    r"(?<![A-Za-z0-9#.])(?P<type>[ABR]|plain|bell)?\s*-?\s*"
    r"(?P<size>(?:#|no\.?)\s*[0-9]+(?:[ -]1/2)?|(?<![0-9.])[0-9]+(?:[.,][0-9]+)?)"
    r"\s*(?:/\s*[0-9]+(?:[.,][0-9]+)?)?\s*(?:mm)?\s*$",
    re.I,
)


def read_callout(text: str, default_unit: str = "mm") -> Callout:
    """Read one hole as printed, such as ``18 H7 through 32``, ``M14x2 6H 26, drill 34`` or
    ``4x Ø9 thru, cbore 15 x 8.6``.

    Without a unit, inch forms (no leading zero, fractions, number drills) are inches and the rest is in the
    unit of the line, `default_unit` where it names none. Raises `Doubt` (an `InputError`) with the place that
    cannot be read and, where there are two readings, both.

    >>> found = read_callout("Ø16 H7, 32 deep")
    >>> str(found.diameter), found.tolerance, str(found.depth), found.through
    ('16 mm', 'H7', '32 mm', False)
    >>> found = read_callout(".6875 +.001 -.000 through 1-1/4")
    >>> str(found.diameter), found.tolerance, str(found.depth), found.through
    ('.6875 in', '+.001 -.000 in', '1-1/4 in', True)
    >>> found = read_callout("M14x2 6H 26, drill 34")
    >>> found.kind, found.thread.name, str(found.thread_depth), str(found.depth)
    ('tapped', 'M14x2', '26 mm', '34 mm')
    """
    if not text.strip():
        raise Doubt(tr("nothing is written yet; write it as '18 H7 through 32'"), 0, 0)
    return _Reader(text, default_unit).read()


class _Reader:
    """Walks the pieces once and checks what they say of one another."""

    def __init__(self, text: str, default_unit: str) -> None:
        self.walk = Walk(text, default_unit)
        self.figures = Figures(self.walk)
        walk, figures = self.walk, self.figures
        self.readers: dict[str, Callable[[LinePiece], None]] = {
            "ratio": walk.read_ratio,
            "angle": walk.read_angle,
            "both": walk.read_both,
            "two": walk.read_two,
            "code": walk.read_code,
            "metric": figures.read_metric,
            "unified": figures.read_unified,
            "class": figures.read_class,
            "limits": figures.read_limits,
            "by": figures.read_by,
            "size": figures.read_size,
            "percent": self._percent,
            "sign": self._read_sign,
            "word": self._read_word,
        }

    def read(self) -> Callout:
        """The whole line."""
        if any(
            (p.sort == "word" and p.word.startswith("cent")) or p.word == "6411" for p in self.walk.pieces
        ) or re.search(r"ISO\s*6411", self.walk.text, re.I):
            return self._center()
        while (piece := self.walk.peek()) is not None:
            self.walk.at += 1
            self.readers[piece.sort](piece)
        found = self.walk.found
        whole = LinePiece("line", self.walk.text, 0, len(self.walk.text))
        if found.diameter is None and found.thread is None and found.pin is None:
            raise self.walk.doubt(
                whole, tr("no size can be read in '{walk}'; write '18 H7 through 32'", walk=self.walk.text.strip())
            )
        self._check(whole)
        return found

    def _check(self, whole: LinePiece) -> None:
        """What the parts say of one another."""
        found = self.walk.found
        size = self.walk.size_piece or whole
        if found.diameter is not None and found.diameter.exact_mm <= 0:
            raise self.walk.doubt(size, tr("'{size}' is not a size; write more than zero", size=size.text))
        for length in (found.depth, found.thread_depth, found.counterbore, found.counterbore_depth, found.chamfer):
            if length is not None and length.exact_mm <= 0:
                raise self.walk.doubt(whole, tr("a depth or size of zero; write more than zero"))
        self._which_unit(size)
        outside = found.outside
        if outside is not None and outside.exact_mm <= found.shown_size.exact_mm:
            raise self.walk.doubt(
                whole,
                tr(
                    "a part of {outside} is not wider than its hole, {shown_size}",
                    outside=outside,
                    shown_size=found.shown_size,
                ),
            )
        if found.tolerance and found.diameter is not None:
            try:
                written_limits(found.diameter.exact_mm, found.tolerance)
            except InputError as bad:
                raise self.walk.doubt(size, bad.problem) from None
        if found.counterbore is not None and found.counterbore.exact_mm <= found.shown_size.exact_mm:
            raise self.walk.doubt(
                whole,
                tr(
                    "a counterbore of {counterbore} is not wider than the hole, {shown_size}",
                    counterbore=found.counterbore,
                    shown_size=found.shown_size,
                ),
            )
        if found.countersink is not None and found.countersink.exact_mm <= found.shown_size.exact_mm:
            raise self.walk.doubt(
                whole,
                tr(
                    "a countersink of {countersink} is not wider than the hole, {shown_size}",
                    countersink=found.countersink,
                    shown_size=found.shown_size,
                ),
            )
        if found.spotface and found.counterbore is None:
            raise self.walk.doubt(whole, tr("how wide is the spotface? Write 'spotface 20'"))
        if found.flat and found.through:
            raise self.walk.doubt(
                whole, tr("a through hole has no bottom; leave out 'flat bottom' or give its depth")
            )

    def _percent(self, piece: LinePiece) -> None:
        """``65 %`` of a full thread."""
        percent = float(re.sub(r"[^0-9.]", "", piece.text.replace(",", ".")))
        if self.walk.found.thread is None or not 30 <= percent <= 100:
            raise self.walk.doubt(
                piece,
                tr("'{piece}' belongs to a thread, 30 to 100 of it; write 'M8 x 16, 65 %'", piece=piece.text),
            )
        self.walk.found.thread_percent = percent

    def _which_unit(self, size: LinePiece) -> None:
        """A bare whole number is no inch size of that many inches: it is asked, never guessed."""
        found = self.walk.found
        coded = found.tolerance is not None and is_code(found.tolerance)
        least = LEAST_CODED_IN if coded else LEAST_ASKED_IN
        if found.unit != "in" or found.diameter is None or not re.fullmatch(r"[0-9]+", size.text):
            return
        if found.thread is None and int(size.text) >= least:
            named = [f"{size.text} {unit}" for unit in ("mm", "in")]
            ways = tuple((name, self.walk.instead(size, name)) for name in named)
            raise self.walk.doubt(size, tr("is {size} in millimeters or inches?", size=size.text), ways)

    def _read_sign(self, piece: LinePiece) -> None:
        if piece.text == "Ø":
            if (
                self.figures.has_size()
                and self.walk.slot in ("main", "thread", "drill")
                and self.walk.found.counterbore is None
            ):
                after = self.walk.peek()
                if after is not None and after.sort == "size":
                    self.walk.slot = "counterbore"
            return
        if piece.text == "/" and self.walk.slot == "thread" and self.walk.found.thread_depth is not None:
            self.walk.slot = "drill"
            self.figures.depth_of("drill", self.walk.take_length(piece, "24 / 30"), piece)
            return
        if piece.text == "-":
            after = self.walk.peek()
            if after is None or after.sort not in ("class", "word"):
                raise self.walk.doubt(piece, tr("'-' stands alone here"))
            return
        self._read_word(piece)

    def _read_word(self, piece: LinePiece) -> None:
        found, word = self.walk.found, piece.word
        if word in THROUGH:
            self._through(piece)
        elif word in DEEP:
            if self.walk.next_is({"drill", "drilled"}):
                return
            self.figures.depth_of(self.walk.slot, self.walk.take_length(piece, f"{piece.text} 20"), piece)
        elif word in COUNTERBORE:
            self.walk.slot = "counterbore"
        elif word == "spot" and self.walk.next_is({"face", "faced"}):
            self.walk.at += 1
            self.walk.slot, found.spotface = "spotface", True
        elif word in SPOTFACE:
            self.walk.slot, found.spotface = "spotface", True
        elif word in COUNTERSINK:
            self.walk.slot = "countersink"
        elif word in CHAMFER:
            self.walk.slot = "chamfer"
        elif word in DRILL:
            self._drill()
        elif word in ("flat", "fb"):
            found.flat = True
        elif word == "taper" and self.walk.next_is({"pin"}):
            self.walk.at += 1
            self._pin_after(piece)
        elif word == "no" and self.walk.peek() is not None and self.walk.next_is({"taper"}, 1):
            number = self.walk.pieces[self.walk.at]
            self.walk.at += 3
            self.figures.pin(number, "#" + number.text)
        elif word in ASIDE:
            self._aside(piece, word)
        elif word in KEYWAY:
            found.keyway = True
        elif word in ENTRIES:
            found.entry = word
        elif word in NOT_READ:
            raise self.walk.doubt(piece, NOT_READ[word])
        elif word in COUNT and found.count > 1:
            return
        elif word == "max" and found.depth is not None:
            found.notes += (tr("the depth is a maximum"),)
        elif word not in NOISE:
            mend = (
                tr("leave it out, or put it in the name")
                if self.figures.has_size()
                else tr("write it as '18 H7 through 32'")
            )
            raise self.walk.doubt(piece, f"'{piece.text}' could not be read; {mend}")

    def _through(self, piece: LinePiece) -> None:
        found = self.walk.found
        found.through = True
        while self.walk.next_is({"all", "hole"}):
            self.walk.at += 1
        following = self.walk.peek()
        if (
            following is not None
            and following.sort == "size"
            and self.figures.has_size()
            and not self.walk.next_is(DEEP, 1)
        ):
            if found.depth is not None:
                raise self.walk.doubt(
                    following, tr("'{following}' is a second thickness; leave one out", following=following.text)
                )
            self.walk.at += 1
            found.depth = self.walk.length(following)
            if self.walk.next_is({"thick"}):
                self.walk.at += 1
        if self.walk.slot not in ("counterbore", "countersink"):
            self.walk.slot = "main" if found.thread is None else "drill"

    def _drill(self) -> None:
        """``drill 34`` after a thread is the hole's depth, or the drill when a depth follows it."""
        found = self.walk.found
        if found.thread is None:
            self.walk.slot = "main"
            return
        self.walk.slot = "drill"
        piece = self.walk.peek()
        while piece is not None and (piece.text == "Ø" or piece.word in DEEP):
            self.walk.at += 1
            piece = self.walk.peek()
        if piece is None or piece.sort != "size":
            return
        self.walk.at += 1
        length = self.walk.length(piece)
        names_drill = 0.6 * float(found.thread.major_mm) < length.mm < float(found.thread.major_mm)
        after = self.walk.peek()
        if names_drill and (
            (after is not None and after.sort in ("by", "size"))
            or (
                self.walk.next_is(DEEP | THROUGH)
                and not (
                    self.walk.next_is(DEEP)
                    and (self.walk.peek(1) is None or self.walk.pieces[self.walk.at + 1].sort != "size")
                )
            )
        ):
            found.diameter, self.walk.size_piece = length, piece
            return
        if self.walk.next_is(DEEP):
            self.walk.at += 1
        self.figures.depth_of("drill", length, piece)

    def _pin_after(self, piece: LinePiece) -> None:
        if self.walk.next_is({"no", "size"}):
            self.walk.at += 1
            number = self.walk.peek()
            if number is not None and number.sort == "size":
                self.walk.at += 1
                self.figures.pin(number, "#" + number.text.lstrip("#"))
                return
        number = self.walk.peek()
        while number is not None and number.text == "Ø":
            self.walk.at += 1
            number = self.walk.peek()
        if number is None or number.sort != "size":
            raise self.walk.doubt(piece, tr("which taper pin? Write 'taper pin 6' or 'taper pin #4'"))
        self.walk.at += 1
        self.figures.pin(number, number.text)

    def _aside(self, piece: LinePiece, word: str) -> None:
        """Finish, position, what is there already, what stands around."""
        found = self.walk.found
        if word == "ra":
            figure = self.walk.peek()
            if figure is None or figure.sort != "size":
                raise self.walk.doubt(piece, tr("'Ra' needs its figure in µm, as 'Ra 1.6'"))
            self.walk.at += 1
            text = re.sub(r"\s*[µu]m$", "", figure.text).replace(",", ".")
            if not re.fullmatch(r"[0-9]*\.?[0-9]+", text):
                raise self.walk.doubt(figure, tr("'Ra' is in µm here, as 'Ra 1.6'"))
            found.finish_ra = float(text)
        elif word in ("position", "tp", "⌖"):
            found.position = self.walk.take_length(piece, "position 0.1")
        elif word == "wall":
            found.wall = self.walk.take_length(piece, "wall 4")
        elif word == "od":
            found.outside = self.walk.take_length(piece, "od 70")
        elif word in ("round", "roundness", "cylindricity"):
            found.roundness = self.walk.take_length(piece, "round 0.01")
        elif word in ("square", "squareness", "perpendicular"):
            found.squareness = self.walk.take_length(piece, "square 0.02")
        elif word == "part":
            found.thickness = self.walk.take_length(piece, "part 40")
        else:
            found.existing = self.walk.take_length(piece, "existing 12")

    def _center(self) -> Callout:
        """``center A 3.15``, ``center bell #14``, ``ISO 6411-B 2.5/8``, ``center #4``."""
        words = r"ISO\s*6411|center|centre|drill(?:ed)?|hole|type|60\s*(?:°|deg)"
        match = _CENTER.search(re.sub(words, " ", self.walk.text, flags=re.I))
        whole = LinePiece("line", self.walk.text, 0, len(self.walk.text))
        if match is None:
            raise self.walk.doubt(
                whole, tr("which center hole? Write 'center A 3.15', 'center #4' or 'center bell #14'")
            )
        size = re.sub(r"no\.?\s*", "#", match["size"], flags=re.I).replace(" ", "").replace(",", ".")
        size = size.replace("1/2", " 1/2").replace("- ", " ") if "1/2" in size else size
        wanted = (match["type"] or ("plain" if size.startswith("#") else "A")).lower()
        center_type = wanted.upper() if len(wanted) == 1 else wanted
        if center_type in ("plain", "bell") and not size.startswith("#"):
            size = f"#{size}"
        try:
            known = center_size(center_type, size)
        except InputError as bad:
            raise self.walk.doubt(whole, bad.problem) from None
        self.walk.found.center_type, self.walk.found.center = center_type, known.size
        self.walk.found.unit = known.unit
        return self.walk.found
