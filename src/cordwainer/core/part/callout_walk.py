"""The walk over a line's pieces: what stands next, what is in doubt, what a tolerance belongs to."""

from __future__ import annotations

import re
from fractions import Fraction

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.callout_parts import Callout
from cordwainer.core.part.callout_words import INCH_LOOK, Doubt, LinePiece, cut
from cordwainer.core.part.tolerance import is_code, written_limits


class Walk:
    """Walks the pieces once; `slot` is the feature the next figure speaks of."""

    def __init__(self, text: str, default_unit: str) -> None:
        self.text = text
        self.pieces = cut(text)
        self.at = 0
        self.slot = "main"
        self.size_piece: LinePiece | None = None
        self.found = Callout(unit=self._line_unit(default_unit))

    def _line_unit(self, default_unit: str) -> str:
        """The unit of bare figures: what the first figure that shows one shows, else the default."""
        for piece in self.pieces:
            if piece.sort in ("metric", "unified"):
                return "mm" if piece.sort == "metric" else "in"
            if piece.sort in ("size", "limits", "two", "both"):
                if re.search(r"mm$", piece.text, re.I):
                    return "mm"
                inch = re.search(r"(in|inch|inches|\"|″)$", piece.text, re.I)
                if inch or (piece.sort in ("size", "limits") and INCH_LOOK.search(piece.text)):
                    return "in"
        return default_unit

    # -- helpers -------------------------------------------------------------------------------

    def peek(self, ahead: int = 0) -> LinePiece | None:
        place = self.at + ahead
        return self.pieces[place] if place < len(self.pieces) else None

    def next_is(self, words: set[str], ahead: int = 0) -> bool:
        piece = self.peek(ahead)
        return piece is not None and piece.sort in ("word", "sign") and piece.word in words

    def length(self, piece: LinePiece) -> Length:
        try:
            return parse(piece.text, self.found.unit)
        except InputError as bad:
            raise self.doubt(piece, bad.problem) from None

    def take_length(self, what: LinePiece, example: str) -> Length:
        """The length after a word, past a diameter sign or a 'by'."""
        while (piece := self.peek()) is not None and (
            piece.text == "Ø" or piece.sort == "by" or piece.word == "dia"
        ):
            self.at += 1
        if piece is None or piece.sort != "size":
            raise self.doubt(
                what, tr("'{what}' needs a figure; write '{example}'", what=what.text, example=example)
            )
        self.at += 1
        return self.length(piece)

    def doubt(self, piece: LinePiece, problem: str, ways: tuple[tuple[str, str], ...] = ()) -> Doubt:
        return Doubt(problem, piece.start, piece.end, ways)

    def instead(self, piece: LinePiece, words: str) -> str:
        return (self.text[: piece.start] + words + self.text[piece.end :]).strip()

    def read_ratio(self, piece: LinePiece) -> None:
        self.found.taper = re.sub(r"\s", "", piece.text)
        if self.found.taper not in ("1:48", "1:50"):
            raise self.doubt(
                piece, tr("'{piece}' is no taper pin's; write '1:48' (inch) or '1:50' (metric)", piece=piece.text)
            )

    def read_angle(self, piece: LinePiece) -> None:
        degrees = float(re.sub(r"[^0-9.]", "", piece.text.replace(",", ".")))
        if self.slot == "chamfer" and degrees == 45:
            return
        if self.slot == "countersink" and 30 <= degrees <= 150:
            self.found.countersink_angle = degrees
            return
        raise self.doubt(
            piece,
            tr("'{piece}' belongs to nothing here; write 'csk 12 x 90°' or 'cham 0.5 x 45°'", piece=piece.text),
        )

    def read_both(self, piece: LinePiece) -> None:
        self.tolerance(piece, piece.text)

    def read_two(self, piece: LinePiece) -> None:
        self.tolerance(piece, piece.text)

    def tolerance(self, piece: LinePiece, text: str) -> None:
        if not re.search(r"[a-zµ\"″]$", text, re.I):
            text = f"{text} {self.found.unit}"
        if self.slot == "counterbore":
            self.found.counterbore_tolerance = text
            return
        if self.slot == "position" or self.found.diameter is None or self.slot not in ("main", "drill"):
            raise self.doubt(
                piece, tr("'{piece}' stands beside no diameter; write it after the size", piece=piece.text)
            )
        if self.found.tolerance is not None and is_code(self.found.tolerance):
            self._agrees(piece, self.found.diameter, self.found.tolerance, text)
            return
        if self.found.tolerance is not None or self.found.limits is not None:
            raise self.doubt(piece, tr("'{piece}' is a second tolerance; leave one out", piece=piece.text))
        self.found.tolerance = text

    def _agrees(self, piece: LinePiece, size: Length, code: str, text: str) -> None:
        """Limits in brackets after a code must be that code's."""
        try:
            coded, written = written_limits(size.exact_mm, code), written_limits(size.exact_mm, text)
        except InputError as bad:
            raise self.doubt(piece, bad.problem) from None
        if max(abs(coded.lower - written.lower), abs(coded.upper - written.upper)) > Fraction(1, 1000):
            raise self.doubt(
                piece,
                tr(
                    "'{piece}' is not what {code} says at {size}; leave one out",
                    piece=piece.text,
                    code=code,
                    size=size,
                ),
            )

    def read_code(self, piece: LinePiece) -> None:
        code = piece.text.split("/")[0].strip()
        if self.slot == "counterbore":
            self.found.counterbore_tolerance = code
            return
        if self.found.diameter is None:
            raise self.doubt(piece, tr("'{piece}' stands before any size; write '18 H7'", piece=piece.text))
        if self.found.tolerance is not None or self.found.limits is not None:
            raise self.doubt(piece, tr("'{piece}' is a second tolerance; leave one out", piece=piece.text))
        try:
            written_limits(self.found.diameter.exact_mm, code)
        except InputError as bad:
            ways: tuple[tuple[str, str], ...] = ()
            if code[0].islower() and code != code.upper():
                ways = ((tr("{code}, a hole", code=code.upper()), self.instead(piece, code.upper())),)
            raise self.doubt(piece, bad.problem, ways) from None
        self.found.tolerance = code
        if "/" in piece.text:
            self.found.notes += (tr("{split} is the shaft's zone", split=piece.text.split("/")[1].strip()),)
