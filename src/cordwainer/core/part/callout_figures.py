"""Threads and sizes of a line: which figure is a diameter, which a depth, which a count."""

from __future__ import annotations

import re

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.callout_parts import COUNT, DEEP
from cordwainer.core.part.callout_walk import Walk
from cordwainer.core.part.callout_words import Piece, limit_texts, unified_name
from cordwainer.core.part.pin import pin_size
from cordwainer.core.part.screw import head_of
from cordwainer.core.part.thread import read_thread


class Figures(Walk):
    """Reads threads, limits and sizes."""

    def _read_metric(self, piece: Piece) -> None:
        self._thread(piece, re.sub(r"\s", "", piece.text).replace("*", "x"))

    def _read_unified(self, piece: Piece) -> None:
        self._thread(piece, unified_name(piece.text))

    def _thread(self, piece: Piece, name: str) -> None:
        if self._next_is({"socket"}) or (self.slot == "counterbore" and self.found.counterbore is None):
            self._screw(piece, name.removeprefix("M"))
            return
        if self.found.thread is not None:
            raise self._doubt(piece, f"'{piece.text}' is a second thread; write one hole on a line")
        if self.found.diameter is not None:
            raise self._doubt(
                piece, f"'{piece.text}' and a size before it: which is the hole? Write the thread first"
            )
        try:
            self.found.thread = read_thread(name)
        except InputError as bad:
            raise self._doubt(piece, bad.problem) from None
        self.slot = "thread"

    def _screw(self, piece: Piece, name: str) -> None:
        """``M8 socket head`` or ``cbore for M8``: clearance hole and counterbore by the table."""
        try:
            head = head_of(("M" if piece.text.upper().startswith("M") else "") + name)
        except InputError as bad:
            raise self._doubt(piece, bad.problem) from None
        found = self.found
        if found.diameter is None:
            found.diameter, self.size_piece = head.clearance, piece
        found.counterbore, found.counterbore_depth = head.counterbore, head.depth
        self.slot = "main"

    def _read_class(self, piece: Piece) -> None:
        if self.found.thread is None:
            raise self._doubt(piece, f"'{piece.text}' is a thread's class, and no thread stands before it")
        wanted = "6H" if self.found.thread.system == "metric" else "2B"
        if piece.text.upper() != wanted:
            raise self._doubt(
                piece,
                f"class {piece.text} is not worked out here, {wanted} is",
                ((f"take {wanted}", self._instead(piece, wanted)),),
            )
        self.found.thread_class = wanted

    def _read_limits(self, piece: Piece) -> None:
        low, high = limit_texts(piece.text) or (piece.text, piece.text)
        if self.found.diameter is not None or self.slot != "main":
            raise self._doubt(piece, f"'{piece.text}' looks like two limits, and a size stands before it")
        pair = sorted((parse(part, self.found.unit) for part in (low, high)), key=lambda size: size.exact_mm)
        self.found.limits = (pair[0], pair[1])
        self.found.diameter, self.size_piece = pair[0], piece

    def _read_by(self, piece: Piece) -> None:
        after = self._peek()
        if after is None or after.sort in ("sign", "metric", "unified", "word"):
            return
        if after.sort == "angle":
            return
        if after.sort != "size":
            raise self._doubt(piece, "'x' needs a figure after it")
        if self._peek(1) is not None and self._next_is({"thick"}, 1):
            return
        self.at += 1
        if self.slot == "thread" and self.found.thread_depth is None:
            self._thread_deep(after)
        else:
            self._depth_of(self.slot, self._length(after), after)
        if self._next_is(DEEP):
            self.at += 1

    def _read_size(self, piece: Piece) -> None:
        found = self.found
        following = self._peek()
        if self._is_count(piece):
            found.count = int(piece.text)
            self.at += 1
            return
        if self.slot == "thread" and self.found.thread_depth is None and not self._next_is({"thick"}):
            self._thread_deep(piece)
            if self._next_is(DEEP) and not self._next_is({"↧"}):
                self.at += 1
            return
        length = self._length(piece)
        if self._next_is({"taper"}) and self._next_is({"pin"}, 1) and found.diameter is None:
            self.at += 2
            self._pin(piece, piece.text)
            return
        angle = self._peek(1)
        is_45 = angle is not None and angle.sort == "angle" and float(re.sub(r"[^0-9.]", "", angle.text)) == 45
        if is_45 and following is not None and following.sort == "by" and self._has_size():
            self.at += 2
            found.chamfer, self.slot = length, "chamfer"
            return
        after = self._peek(1)
        depth_follows = self._next_is({"↧"}) or (after is not None and after.sort == "size" and self._takes_size())
        if self._next_is(DEEP) and not depth_follows:
            self.at += 1
            self._depth_of(self.slot, length, piece)
        elif self._next_is({"thick"}):
            self.at += 1
            self._thick(length)
        elif self._takes_size():
            self._size(length, piece)
        elif self.slot in ("counterbore", "spotface") and found.counterbore_depth is None:
            found.counterbore_depth = length
        elif self.slot == "main" and found.depth is None and not found.through:
            ways = (
                (f"{piece.text} deep", self._instead(piece, f"{piece.text} deep")),
                (f"through {piece.text}", self._instead(piece, f"through {piece.text}")),
            )
            raise self._doubt(piece, f"is {piece.text} the depth, or the thickness it goes through?", ways)
        else:
            raise self._doubt(piece, f"'{piece.text}' has no place here; say what it is, as '{piece.text} deep'")

    def _thread_deep(self, piece: Piece) -> None:
        """Depth of full threads; ``24/30`` is threads over hole where no inch fraction can be meant."""
        over = re.fullmatch(r"([0-9]+)/([0-9]+)", piece.text)
        if over and int(over[2]) & (int(over[2]) - 1):
            self.found.thread_depth = parse(over[1], self.found.unit)
            self.found.depth = parse(over[2], self.found.unit)
            return
        self.found.thread_depth = self._length(piece)

    def _is_count(self, piece: Piece) -> bool:
        """``4x Ø9``, ``4 holes``: a whole figure before the size, joined by an x or a word."""
        if self._has_size() or not piece.text.isdigit() or not 0 < int(piece.text) < 10_000:
            return False
        if self._next_is(COUNT):
            return True
        after, then = self._peek(), self._peek(1)
        if after is None or after.sort != "by" or then is None:
            return False
        if then.sort in ("metric", "unified", "word") or then.text == "Ø":
            return True
        if then.sort != "size" or self._next_is(DEEP, 2):
            return False
        if after.start == piece.end and then.start > after.end:
            return True
        if after.start > piece.end and self._peek(2) is None:
            return False
        tail = self.text[then.start :]
        raise self._doubt(
            piece,
            f"are these {piece.text} holes, or one of {piece.text}?",
            (
                (f"{piece.text} holes of {then.text}", f"{piece.text}x Ø{tail}"),
                (f"Ø{piece.text}, {then.text} deep", f"Ø{piece.text}, {then.text} deep{self.text[then.end :]}"),
            ),
        )

    def _has_size(self) -> bool:
        return self.found.diameter is not None or self.found.thread is not None or self.found.pin is not None

    def _takes_size(self) -> bool:
        """Whether the next bare figure is the diameter of what is being written."""
        found = self.found
        if self.slot == "main":
            return not self._has_size()
        if self.slot in ("counterbore", "spotface"):
            return found.counterbore is None
        if self.slot == "countersink":
            return found.countersink is None
        return self.slot == "chamfer" and found.chamfer is None

    def _size(self, length: Length, piece: Piece) -> None:
        found = self.found
        if self.slot == "main":
            found.diameter, self.size_piece = length, piece
        elif self.slot in ("counterbore", "spotface"):
            found.counterbore = length
        elif self.slot == "countersink":
            found.countersink = length
            found.countersink_angle = found.countersink_angle or (82.0 if length.unit == "in" else 90.0)
        else:
            found.chamfer = length

    def _thick(self, length: Length) -> None:
        if self.found.depth is not None and not self.found.through:
            self.found.thickness = length
        else:
            self.found.depth, self.found.through = length, True

    def _depth_of(self, slot: str, length: Length, piece: Piece) -> None:
        found = self.found
        if slot == "thread":
            if found.thread_depth is not None:
                raise self._doubt(piece, f"'{piece.text}' is a second thread depth; write 'drill {piece.text}'")
            found.thread_depth = length
        elif slot in ("counterbore", "spotface"):
            found.counterbore_depth = length
        elif slot in ("countersink", "chamfer"):
            raise self._doubt(piece, f"'{piece.text}' deep: a cone is said by its diameter, as 'csk 12 x 90°'")
        else:
            if found.depth is not None:
                raise self._doubt(piece, f"'{piece.text}' is a second depth; leave one out")
            found.depth = length

    def _pin(self, piece: Piece, text: str) -> None:
        try:
            size = pin_size(text, None)
        except InputError as bad:
            raise self._doubt(piece, bad.problem) from None
        self.found.pin, self.found.taper = size.size, size.taper
        self.slot = "main"
