"""What was read of a drawing or list, gone through one by one: retyped, answered, taken as holes of a job."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr, trn
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.callout import read_callout
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE, Found, understood
from cordwainer.core.prints.sheets import Circle, Read
from cordwainer.core.prints.words import Box, Point
from cordwainer.files.drawing import IN_MM, LARGEST_MM, SMALLEST_MM, nice
from cordwainer.files.hole_csv import ReadHoles, free_id
from cordwainer.files.prints.read import Print

TOO_LONG = 300


@dataclass(frozen=True)
class Item:
    """One callout under review: as found, the hole it was taken as, what was typed instead.

    `entry` is a hole ready made, as a list has it; `line` what is read instead of the found one, empty for that;
    `circles` are those of a size that no callout speaks of.
    """

    found: Found
    taken: str = ""
    line: str = ""
    entry: dict[str, Any] | None = None
    circles: tuple[Circle, ...] = ()

    @property
    def state(self) -> str:
        """``sure``, ``doubt`` or ``no_hole``."""
        return self.found.state

    @property
    def shown(self) -> str:
        """The callout as it would be taken."""
        return self.line or self.found.line or self.found.text


@dataclass
class Review:
    """A drawing or list under review. `unit` is its own, `thickness` what through holes go through.

    `zero` is the sheet's point that places are counted from, in the sheet's units; `unit_mm` its unit where it has
    a scale, None for a PDF, which has none.
    """

    path: Path
    read: Read
    items: list[Item]
    unit: str
    thickness: Length | None = None
    zero: Point = (0.0, 0.0)
    unit_mm: float | None = None
    said: tuple[str, ...] = ()
    unit_said: bool = True
    settled: bool = False

    # -- what stands -------------------------------------------------------------------------------

    def counted(self) -> str:
        """How many there are of each state, and what is taken."""
        states = [item.state for item in self.items]
        parts = [tr("{count} read", count=states.count(SURE))]
        for state, words in ((DOUBT, tr("in doubt")), (NO_HOLE, tr("no hole"))):
            parts += [f"{states.count(state)} {words}"] if state in states else []
        taken = sum(1 for item in self.items if item.taken)
        return ", ".join([*parts, *([tr("{taken} taken", taken=taken)] if taken else [])])

    def sure(self) -> list[int]:
        """What may be taken without another look and is not taken yet."""
        return [k for k, item in enumerate(self.items) if item.state == SURE and not item.taken]

    # -- what is said of one -----------------------------------------------------------------------

    def retype(self, index: int, text: str) -> None:
        """Read one as typed instead; it is sure where that can be read and says how deep."""
        text = text.strip()[:TOO_LONG]
        item = self.items[index]
        if not text:
            raise InputError("", tr("nothing is written yet; write the hole as printed"))
        found = understood(text, self.unit)
        kept = replace(found, text=item.found.text, boxes=item.found.boxes, sheet=item.found.sheet)
        kept = replace(kept, places=item.found.places, line=found.line or text)
        self.items[index] = replace(item, found=kept, line=kept.line, entry=None)

    def settle(self, index: int, depth: str) -> None:
        """Answer how deep: ``through``, or a depth as typed. Raises `InputError`."""
        item = self.items[index]
        line = item.found.line or item.found.text
        if depth != "through":
            depth = f"{parse(depth, self.unit)} deep"
        self.retype(index, f"{line} {depth}")

    def accept(self, index: int) -> None:
        """Settle a doubt as it is read; one that leaves its depth open, or cannot be read, stays in doubt."""
        found = self.items[index].found
        if found.callout is None:
            raise InputError("", found.why or tr("it cannot be read as a hole"))
        if not (found.callout.through or found.callout.has_depth or found.callout.pin is not None):
            raise InputError("", tr("say first how deep it is, or that it goes through"))
        self.items[index] = replace(self.items[index], found=replace(found, state=SURE, why=""))

    def is_no_hole(self, index: int) -> None:
        """Put one aside as no hole."""
        found = self.items[index].found
        self.items[index] = replace(self.items[index], found=replace(found, state=NO_HOLE, why=tr("put aside")))

    def add(self, text: str, box: Box, sheet: int) -> int:
        """One that the reading passed over, typed or dragged over."""
        text = text.strip()[:TOO_LONG]
        found = replace(understood(text, self.unit), boxes=(box,), sheet=sheet)
        found = replace(found, line=found.line or text)
        self.items.append(Item(found, line=found.line))
        return len(self.items) - 1

    def grow(self, found: Print) -> None:
        """The other sheets, read meanwhile; what was done on the first stays done."""
        whole = of_print(found)
        touched = any(item.taken or item.line for item in self.items)
        self.read, self.said = whole.read, whole.said
        if touched:
            self.items += [item for item in whole.items if item.found.sheet > 0]
            return
        self.items, self.unit, self.unit_said = whole.items, whole.unit, whole.unit_said
        self.thickness = self.thickness or whole.thickness

    def set_unit(self, unit: str) -> None:
        """Read everything anew in another unit; what was typed is read again too."""
        self.unit, self.settled = unit, True
        if not self.unit_said and self.unit_mm is not None:
            self.unit_mm = float(IN_MM[unit])
        for index, item in enumerate(self.items):
            if item.circles and not item.taken and not item.line:
                self.items[index] = self.of_circles(item.circles, settled=True)
            elif item.entry is None and item.state != NO_HOLE and not item.taken:
                places, state = item.found.places, item.found.state
                again = understood(item.line or item.found.text, unit)
                if again.state == SURE and state == DOUBT and item.found.callout is not None and not item.line:
                    again = replace(again, state=DOUBT, why=item.found.why)
                again = replace(again, text=item.found.text, boxes=item.found.boxes, sheet=item.found.sheet)
                self.items[index] = replace(item, found=replace(again, places=places))

    def of_circles(self, circles: Sequence[Circle], settled: bool = False) -> Item:
        """Circles of one size and layer that no callout speaks of: holes through, where they are holes.

        They are sure where the drawing has no callout at all, or once its unit is `settled`, in doubt elsewhere.
        """
        own, mm = ("in" if self.unit == "in" else "mm"), (self.unit_mm or 1.0) * circles[0].diameter
        size = nice(mm, own)
        layer = tr(" on layer {layer}", layer=circles[0].layer) if circles[0].layer not in ("", "0") else ""
        text = trn(
            "{count} circle Ø{size}{layer}",
            "{count} circles Ø{size}{layer}",
            len(circles),
            count=len(circles),
            size=size,
            layer=layer,
        )
        found = understood(f"{len(circles)}x Ø{size} THRU" if len(circles) > 1 else f"Ø{size} THRU", self.unit)
        places = tuple((c.x, c.y) for c in circles)
        state, why = SURE, ""
        if any(f.state != NO_HOLE for f in self.read.found):
            state, why = DOUBT, tr("drawn without a callout: holes through, or something else?")
        if not self.unit_said and not settled:
            state, why = DOUBT, tr("the drawing does not say its unit; choose it above")
        if not SMALLEST_MM <= mm <= LARGEST_MM:
            state, why = DOUBT, tr("no drill is {mm:.4g} mm; is the unit right?", mm=mm)
        found = replace(found, text=text, state=state, why=why, places=places, count=len(circles))
        return Item(found, circles=tuple(circles))

    # -- what is taken -----------------------------------------------------------------------------

    def entry(self, index: int, present: set[str]) -> dict[str, Any]:
        """One as a hole of a job. Raises `InputError` where it is in doubt, or wants the part's thickness."""
        item = self.items[index]
        if item.entry is not None:
            return dict(item.entry)
        callout = item.found.callout
        if callout is None or item.state != SURE:
            raise InputError("", item.found.why or tr("it is in doubt"))
        entry = {key: value for key, value in callout.keys().items() if value is not None}
        entry["count"] = item.found.count or callout.count
        if callout.through and callout.depth is None:
            if self.thickness is None:
                raise InputError("thickness", tr("how thick is the part? A through hole is as deep"))
            entry["depth"] = str(self.thickness)
        if item.found.places and self.unit_mm is not None:
            own = "in" if self.unit == "in" else "mm"
            scale = self.unit_mm
            entry["places"] = [
                [nice(scale * (x - self.zero[0]), own), nice(scale * (y - self.zero[1]), own)]
                for x, y in item.found.places
            ]
            entry["count"] = len(item.found.places)
        layers = {c.layer for c in item.circles} - {"", "0"}
        if layers:
            entry["name"] = layers.pop()[:60]
        if item.found.said:
            entry["name"] = ", ".join(item.found.said)[:60]
        if item.found.boxes:
            entry["print"] = printed(self.path, item.found)
        return {"id": free_id(present)} | entry

    def take(self, which: Sequence[int], present: Sequence[str]) -> tuple[list[dict[str, Any]], list[str]]:
        """The holes of several, all under ids of their own; and why some were left."""
        names, entries, left = set(present), list[dict[str, Any]](), list[str]()
        for index in which:
            try:
                entry = self.entry(index, names)
                entry["id"] = entry["id"] if entry["id"] not in names else free_id(names)
            except CordwainerError as bad:
                left.append(f"{self.items[index].found.text}: {bad}")
                continue
            names.add(entry["id"])
            entries.append(entry)
            self.items[index] = replace(self.items[index], taken=entry["id"])
        return entries, left

    def taken_stand(self, present: set[str]) -> None:
        """What is no longer in the job, by undo or removal, is free to be taken again."""
        self.items = [replace(item, taken="") if item.taken not in present else item for item in self.items]


def printed(path: Path, found: Found) -> dict[str, Any]:
    """Where on its drawing a hole was read, as a job keeps it."""
    box = found.box
    place = [round(v, 2) for v in (box.x, box.y, box.width, box.height, box.angle_deg)]
    return {"file": str(path), "sheet": found.sheet + 1, "box": place, "text": found.text[:TOO_LONG]}


def of_print(found: Print) -> Review:
    """A drawing to be gone through."""
    read, unit_mm = found.read, None
    if found.drawn is not None:
        unit_mm = float(IN_MM[found.drawn.drawing.unit or read.unit])
    items = [Item(each) for each in read.found]
    thick = parse(read.notes.thickness, read.unit) if read.notes.thickness else None
    review = Review(found.path, read, items, read.unit, thick, unit_mm=unit_mm, said=read.said)
    if found.drawn is not None:
        review.zero = found.drawn.zero or (0.0, 0.0)
        review.unit_said = found.drawn.drawing.unit is not None or read.notes.unit is not None
        groups: dict[tuple[str, float], list[Circle]] = {}
        for circle in read.free:
            groups.setdefault((circle.layer, round(circle.diameter, 6)), []).append(circle)
        review.items += [review.of_circles(groups[key]) for key in sorted(groups, key=lambda k: (k[1], k[0]))]
    return review


def of_list(path: Path, read: ReadHoles, unit: str) -> Review:
    """A list of holes to be gone through: what was read, and each line that was not, with why."""
    items = []
    for entry, line in zip(read.entries, read.lines, strict=True):
        items.append(Item(Found(line, (), SURE, line=line, callout=_callout(line, unit)), entry=entry))
    for refused in read.refused:
        text = ", ".join(cell for cell in refused.cells if cell)
        items.append(
            Item(
                Found(
                    text,
                    (),
                    DOUBT,
                    why=tr("line {line}: {reason}", line=refused.line, reason=refused.reason),
                    line=text,
                )
            )
        )
    return Review(path, Read((), tuple(i.found for i in items)), items, unit)


def _callout(line: str, unit: str) -> Any:
    try:
        return read_callout(line, unit)
    except CordwainerError:
        return None
