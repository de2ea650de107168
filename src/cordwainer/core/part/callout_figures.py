"""Threads and sizes of a line: which figure is a diameter, which a depth, which a count."""

from __future__ import annotations

import re

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.callout_parts import COUNT, DEEP
from cordwainer.core.part.callout_walk import Walk
from cordwainer.core.part.callout_words import LinePiece, limit_texts, unified_name
from cordwainer.core.part.pin import pin_size
from cordwainer.core.part.screw import head_of
from cordwainer.core.part.thread import read_thread


class Figures:
    """Reads threads, limits and sizes off a walk."""

    def __init__(self, walk: Walk) -> None:
        self.walk = walk

    def read_metric(self, piece: LinePiece) -> None:
        self._thread(piece, re.sub(r"\s", "", piece.text).replace("*", "x"))

    def read_unified(self, piece: LinePiece) -> None:
        self._thread(piece, unified_name(piece.text))

    def _thread(self, piece: LinePiece, name: str) -> None:
        if self.walk.next_is({"socket"}) or (
            self.walk.slot == "counterbore" and self.walk.found.counterbore is None
        ):
            self._screw(piece, name.removeprefix("M"))
            return
        if self.walk.found.thread is not None:
            raise self.walk.doubt(
                piece, tr("'{piece}' is a second thread; write one hole on a line", piece=piece.text)
            )
        if self.walk.found.diameter is not None:
            raise self.walk.doubt(
                piece,
                tr("'{piece}' and a size before it: which is the hole? Write the thread first", piece=piece.text),
            )
        try:
            self.walk.found.thread = read_thread(name)
        except InputError as bad:
            raise self.walk.doubt(piece, bad.problem) from None
        self.walk.slot = "thread"

    def _screw(self, piece: LinePiece, name: str) -> None:
        """``M8 socket head`` or ``cbore for M8``: clearance hole and counterbore by the table."""
        try:
            head = head_of(("M" if piece.text.upper().startswith("M") else "") + name)
        except InputError as bad:
            raise self.walk.doubt(piece, bad.problem) from None
        found = self.walk.found
        if found.diameter is None:
            found.diameter, self.walk.size_piece = head.clearance, piece
        found.counterbore, found.counterbore_depth = head.counterbore, head.depth
        self.walk.slot = "main"

    def read_class(self, piece: LinePiece) -> None:
        if self.walk.found.thread is None:
            raise self.walk.doubt(
                piece, tr("'{piece}' is a thread's class, and no thread stands before it", piece=piece.text)
            )
        wanted = "6H" if self.walk.found.thread.system == "metric" else "2B"
        if piece.text.upper() != wanted:
            raise self.walk.doubt(
                piece,
                tr("class {piece} is not worked out here, {wanted} is", piece=piece.text, wanted=wanted),
                ((tr("take {wanted}", wanted=wanted), self.walk.instead(piece, wanted)),),
            )
        self.walk.found.thread_class = wanted

    def read_limits(self, piece: LinePiece) -> None:
        low, high = limit_texts(piece.text) or (piece.text, piece.text)
        if self.walk.found.diameter is not None and self.walk.next_is(DEEP):
            self.walk.at += 1
            unit = self.walk.found.unit
            self._window(parse(low, unit), parse(high, unit), piece)
            return
        if self.walk.found.diameter is not None or self.walk.slot != "main":
            raise self.walk.doubt(
                piece, tr("'{piece}' looks like two limits, and a size stands before it", piece=piece.text)
            )
        pair = sorted((parse(part, self.walk.found.unit) for part in (low, high)), key=lambda size: size.exact_mm)
        self.walk.found.limits = (pair[0], pair[1])
        self.walk.found.diameter, self.walk.size_piece = pair[0], piece

    def _depth_window(self, piece: LinePiece) -> bool:
        """``5/8-3/4 deep``, ``5/8 to 3/4 deep``: any depth between the two will do."""
        between, other = self.walk.peek(), self.walk.peek(1)
        if between is None or other is None or other.sort != "size" or not self.walk.next_is(DEEP, 2):
            return False
        if between.text not in ("-", "to") or self.walk.found.diameter is None:
            return False
        self.walk.at += 3
        self._window(self.walk.length(piece), self.walk.length(other), piece)
        return True

    def _window(self, one: Length, other: Length, piece: LinePiece) -> None:
        least, most = sorted((one, other), key=lambda length: length.exact_mm)
        if least.exact_mm == most.exact_mm:
            raise self.walk.doubt(piece, tr("both ends of the depth are the same; write it once"))
        self.depth_of(self.walk.slot, least, piece)
        self.walk.found.depth_to = most

    def read_by(self, piece: LinePiece) -> None:
        after = self.walk.peek()
        if after is None or after.sort in ("sign", "metric", "unified", "word"):
            return
        if after.sort == "angle" or (after.sort == "limits" and self.walk.next_is(DEEP, 1)):
            return
        if after.sort != "size":
            raise self.walk.doubt(piece, tr("'x' needs a figure after it"))
        if self.walk.peek(1) is not None and self.walk.next_is({"thick"}, 1):
            return
        self.walk.at += 1
        if self._depth_window(after):
            return
        if self.walk.slot == "thread" and self.walk.found.thread_depth is None:
            self._thread_deep(after)
        else:
            self.depth_of(self.walk.slot, self.walk.length(after), after)
        if self.walk.next_is(DEEP):
            self.walk.at += 1

    def read_size(self, piece: LinePiece) -> None:
        found = self.walk.found
        following = self.walk.peek()
        if self._is_count(piece):
            found.count = int(piece.text)
            self.walk.at += 1
            return
        if self._depth_window(piece):
            return
        if (
            self.walk.slot == "thread"
            and self.walk.found.thread_depth is None
            and not self.walk.next_is({"thick"})
        ):
            self._thread_deep(piece)
            if self.walk.next_is(DEEP) and not self.walk.next_is({"↧"}):
                self.walk.at += 1
            return
        length = self.walk.length(piece)
        if self.walk.next_is({"taper"}) and self.walk.next_is({"pin"}, 1) and found.diameter is None:
            self.walk.at += 2
            self.pin(piece, piece.text)
            return
        angle = self.walk.peek(1)
        is_45 = angle is not None and angle.sort == "angle" and float(re.sub(r"[^0-9.]", "", angle.text)) == 45
        if is_45 and following is not None and following.sort == "by" and self.has_size():
            self.walk.at += 2
            found.chamfer, self.walk.slot = length, "chamfer"
            return
        after = self.walk.peek(1)
        depth_follows = self.walk.next_is({"↧"}) or (
            after is not None and after.sort == "size" and self._takes_size()
        )
        if self.walk.next_is(DEEP) and not depth_follows:
            self.walk.at += 1
            self.depth_of(self.walk.slot, length, piece)
        elif self.walk.next_is({"thick"}):
            self.walk.at += 1
            self._thick(length)
        elif self._takes_size():
            self._size(length, piece)
        elif self.walk.slot in ("counterbore", "spotface") and found.counterbore_depth is None:
            found.counterbore_depth = length
        elif self.walk.slot == "main" and found.depth is None and not found.through:
            ways = (
                (tr("{piece} deep", piece=piece.text), self.walk.instead(piece, f"{piece.text} deep")),
                (tr("through {piece}", piece=piece.text), self.walk.instead(piece, f"through {piece.text}")),
            )
            raise self.walk.doubt(
                piece, tr("is {piece} the depth, or the thickness it goes through?", piece=piece.text), ways
            )
        else:
            raise self.walk.doubt(
                piece, tr("'{piece}' has no place here; say what it is, as '{piece} deep'", piece=piece.text)
            )

    def _thread_deep(self, piece: LinePiece) -> None:
        """Depth of full threads; ``24/30`` is threads over hole where no inch fraction can be meant."""
        over = re.fullmatch(r"([0-9]+)/([0-9]+)", piece.text)
        if over and int(over[2]) & (int(over[2]) - 1):
            self.walk.found.thread_depth = parse(over[1], self.walk.found.unit)
            self.walk.found.depth = parse(over[2], self.walk.found.unit)
            return
        self.walk.found.thread_depth = self.walk.length(piece)

    def _is_count(self, piece: LinePiece) -> bool:
        """``4x Ø9``, ``4 holes``: a whole figure before the size, joined by an x or a word."""
        if self.has_size() or not piece.text.isdigit() or not 0 < int(piece.text) < 10_000:
            return False
        if self.walk.next_is(COUNT):
            return True
        after, then = self.walk.peek(), self.walk.peek(1)
        if after is None or after.sort != "by" or then is None:
            return False
        if then.sort in ("metric", "unified", "word") or then.text == "Ø":
            return True
        if then.sort != "size" or self.walk.next_is(DEEP, 2):
            return False
        if after.start == piece.end and then.start > after.end:
            return True
        if after.start > piece.end and self.walk.peek(2) is None:
            return False
        tail = self.walk.text[then.start :]
        raise self.walk.doubt(
            piece,
            tr("are these {piece} holes, or one of {piece}?", piece=piece.text),
            (
                (tr("{piece} holes of {then}", piece=piece.text, then=then.text), f"{piece.text}x Ø{tail}"),
                (
                    tr("Ø{piece}, {then} deep", piece=piece.text, then=then.text),
                    f"Ø{piece.text}, {then.text} deep{self.walk.text[then.end :]}",
                ),
            ),
        )

    def has_size(self) -> bool:
        return (
            self.walk.found.diameter is not None
            or self.walk.found.thread is not None
            or self.walk.found.pin is not None
        )

    def _takes_size(self) -> bool:
        """Whether the next bare figure is the diameter of what is being written."""
        found = self.walk.found
        if self.walk.slot == "main":
            return not self.has_size()
        if self.walk.slot in ("counterbore", "spotface"):
            return found.counterbore is None
        if self.walk.slot == "countersink":
            return found.countersink is None
        return self.walk.slot == "chamfer" and found.chamfer is None

    def _size(self, length: Length, piece: LinePiece) -> None:
        found = self.walk.found
        if self.walk.slot == "main":
            found.diameter, self.walk.size_piece = length, piece
        elif self.walk.slot in ("counterbore", "spotface"):
            found.counterbore = length
        elif self.walk.slot == "countersink":
            found.countersink = length
            found.countersink_angle = found.countersink_angle or (82.0 if length.unit == "in" else 90.0)
        else:
            found.chamfer = length

    def _thick(self, length: Length) -> None:
        if self.walk.found.depth is not None and not self.walk.found.through:
            self.walk.found.thickness = length
        else:
            self.walk.found.depth, self.walk.found.through = length, True

    def depth_of(self, slot: str, length: Length, piece: LinePiece) -> None:
        found = self.walk.found
        if slot == "thread":
            if found.thread_depth is not None:
                raise self.walk.doubt(
                    piece, tr("'{piece}' is a second thread depth; write 'drill {piece}'", piece=piece.text)
                )
            found.thread_depth = length
        elif slot in ("counterbore", "spotface"):
            found.counterbore_depth = length
        elif slot in ("countersink", "chamfer"):
            raise self.walk.doubt(
                piece, tr("'{piece}' deep: a cone is said by its diameter, as 'csk 12 x 90°'", piece=piece.text)
            )
        else:
            if found.depth is not None:
                raise self.walk.doubt(piece, tr("'{piece}' is a second depth; leave one out", piece=piece.text))
            found.depth = length

    def pin(self, piece: LinePiece, text: str) -> None:
        try:
            size = pin_size(text, None)
        except InputError as bad:
            raise self.walk.doubt(piece, bad.problem) from None
        self.walk.found.pin, self.walk.found.taper = size.size, size.taper
        self.walk.slot = "main"
