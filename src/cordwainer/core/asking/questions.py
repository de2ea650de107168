"""The questions there are, as data, and which of them a line asks."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache

from cordwainer.core.asking.quantities import Quantity, Scanned, vocabulary
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.tables import packaged

THOU_FROM = 100
LARGEST_BARE_IN = 9


@dataclass(frozen=True)
class Takes:
    """One thing a question takes: its kinds, the marks it may carry, whether it may be left out.

    `only` is set where one of its marks has to be there; `thou` where a bare whole number of an inch shop may be
    thousandths, as pins are named.
    """

    name: str
    kinds: tuple[str, ...]
    marks: tuple[str, ...]
    only: bool
    optional: bool
    thou: bool


@dataclass(frozen=True)
class AskForm:
    """One question: what it takes, the words it wants and allows, and ways of writing it."""

    id: str
    title: str
    group: str
    slots: tuple[Takes, ...]
    must: frozenset[str]
    words: frozenset[str]
    material: str
    examples: tuple[str, ...]


@dataclass(frozen=True)
class Filled:
    """A question a line asks, with its slots filled, the words left over, and how well it fits."""

    question: AskForm
    slots: dict[str, Quantity]
    words: frozenset[str]
    unit: str
    score: float


def _slot(text: str) -> Takes:
    """A slot as the table writes it: ``name? kind|kind ~ !mark mark``."""
    name, kinds, *marks = text.split()
    thou = "~" in marks
    marks = [mark for mark in marks if mark != "~"]
    only = any(mark.startswith("!") for mark in marks)
    plain = tuple(mark.removeprefix("!") for mark in marks)
    return Takes(name.removesuffix("?"), tuple(kinds.split("|")), plain, only, name.endswith("?"), thou)


@cache
def questions() -> tuple[AskForm, ...]:
    """All questions, in the order of the table."""
    data = tomllib.loads(packaged("asking.toml").decode())
    known = {mark for mark in vocabulary().meanings.values() if mark}
    found = []
    for entry in data["question"]:
        slots = tuple(_slot(text) for text in entry["takes"])
        must, words = frozenset(entry.get("must", [])), frozenset(entry.get("words", []))
        strange = {mark for slot in slots for mark in slot.marks} | must | words
        assert strange <= known, (entry["id"], strange - known)
        found.append(
            AskForm(
                entry["id"], entry["title"], entry["group"], slots, must, words | must,
                entry.get("material", "no"), tuple(entry["examples"]),
            )
        )  # fmt: skip
    return tuple(found)


def unit_of(quantities: tuple[Quantity, ...], default: str) -> str:
    """The unit bare lengths of a line are in: the one another length is written in, else what they look like.

    A metric thread or an ISO zone stands beside millimeters; a figure that begins with its point is in inches, a
    bare one of more than `LARGEST_BARE_IN` in an inch shop in millimeters. What was taken is shown.
    """
    named = {"mm": "mm", "in": "in", "in?": "in", "thou": "in", "µm": "mm"}
    written = {named[q.unit] for q in quantities if q.kind == "length" and q.unit in named and q.unit != "in?"}
    written |= {"mm" if q.unit[0] == "M" else "in" for q in quantities if q.kind == "thread"}
    written |= {"mm" if q.unit[0] in "ABR" else "in" for q in quantities if q.kind == "center"}
    written = written or {"in" for q in quantities if q.unit == "in?"}
    if written:
        return written.pop() if len(written) == 1 else default
    if any(q.kind == "zone" for q in quantities):
        return "in" if any(q.text.startswith(".") for q in quantities) else "mm"
    bare = [q for q in quantities if q.kind == "number"]
    if any(q.text.startswith(".") for q in bare):
        return "in"
    if default == "in" and any(q.low > LARGEST_BARE_IN and "." in q.text for q in bare):
        return "mm"
    return default


def asked(line: Scanned, default_unit: str) -> Filled | None:
    """The question a line asks best, or None where nothing takes all that was typed."""
    best: Filled | None = None
    for place, (quantities, words) in enumerate(line.ways):
        unit = unit_of(quantities, default_unit)
        for question in questions():
            found = _fit(question, quantities, words, line.material, unit)
            if found is None:
                continue
            slots, score, left = found
            score -= 0.1 * place
            if best is None or score > best.score + 1e-9:
                best = Filled(question, slots, left, unit, score)
    return best


def _fit(
    question: AskForm, quantities: tuple[Quantity, ...], words: frozenset[str], material: str, unit: str
) -> tuple[dict[str, Quantity], float, frozenset[str]] | None:
    marks = frozenset(q.mark for q in quantities if q.mark)
    if question.must and not question.must & (words | marks):
        return None
    if words - question.words:
        return None
    if (material and question.material == "no") or (not material and question.material == "must"):
        return None
    needed = sum(not slot.optional for slot in question.slots)
    if not needed <= len(quantities) <= len(question.slots):
        return None
    kinds = {q.kind for q in quantities}
    if any(not kinds & _may_become(slot.kinds) for slot in question.slots if not slot.optional):
        return None
    best: tuple[dict[str, Quantity], float] | None = None
    for slots, score in _fillings(question.slots, quantities, unit, question.words):
        if best is None or score > best[1] + 1e-9:
            best = slots, score
    if best is None:
        return None
    speeds = [q for q in best[0].values() if q.kind == "rpm"]
    if (
        speeds
        and not any(q.unit for q in speeds)
        and not any(q.kind in ("feed", "rate") for q in best[0].values())
    ):
        return None
    score = best[1] + 3 * bool(question.must) + (1 if material else 0)
    dropped = frozenset(q.mark for q in best[0].values() if q.mark)
    return best[0], score, words | dropped


@cache
def _may_become(kinds: tuple[str, ...]) -> frozenset[str]:
    """Kinds of figures that can fill a slot of these kinds."""
    more = {"length": ("number",), "feed": ("number", "length"), "share": ("number", "length")}
    more |= dict.fromkeys(("angle", "price", "count", "rpm"), ("number",))
    return frozenset([*kinds, *(other for kind in kinds for other in more.get(kind, ()))])


def _fillings(
    slots: tuple[Takes, ...], quantities: tuple[Quantity, ...], unit: str, words: frozenset[str]
) -> Iterator[tuple[dict[str, Quantity], float]]:
    """Every way of putting each figure into a slot of its own."""
    if not quantities:
        if all(slot.optional for slot in slots):
            yield {}, 0.0
        return
    first, rest = quantities[0], quantities[1:]
    for place, slot in enumerate(slots):
        fits = _suits(slot, first, unit, words)
        if fits is None:
            continue
        own, worth = fits
        for filled, score in _fillings(slots[:place] + slots[place + 1 :], rest, unit, words):
            yield {slot.name: own, **filled}, score + worth - 0.01 * place


def _suits(slot: Takes, quantity: Quantity, unit: str, words: frozenset[str]) -> tuple[Quantity, float] | None:
    """The figure as the slot takes it, and how well it goes in."""
    if quantity.mark in slot.marks:
        worth = 2.0
    elif quantity.unit == "drill" and not quantity.mark and "drill" in slot.marks:
        worth = 1.5
    elif slot.only or (quantity.mark and quantity.mark not in words and quantity.mark != "to"):
        return None
    elif quantity.mark:
        worth = -0.5
    else:
        worth = 0.0
    for kind in slot.kinds:
        if (own := converted(quantity, kind, unit, slot.thou)) is not None:
            exact = quantity.kind == kind and quantity.unit != "in?"
            return own, worth + (3.0 if exact else 2.5 if quantity.kind == kind else 2.0)
    return None


def converted(quantity: Quantity, kind: str, unit: str, thou: bool = False) -> Quantity | None:
    """A figure as the kind a slot takes: bare ones in the line's unit, fractions as shares; else None."""
    if quantity.kind == kind:
        if quantity.unit == "?":  # a chamfer's width as written before x 45
            scale = INCH_MM if unit == "in" or "/" in quantity.text else 1.0
            return replace(quantity, low=quantity.low * scale, high=quantity.high * scale, unit=unit)
        return quantity
    low, high = quantity.low, quantity.high
    if quantity.kind == "length" and quantity.unit == "in?" and kind == "share" and low <= INCH_MM:
        return replace(quantity, kind=kind, low=low / INCH_MM, high=high / INCH_MM)
    if quantity.kind == "length" and kind == "feed" and quantity.mark == "feed":
        return replace(quantity, kind=kind)
    if quantity.kind != "number":
        return None
    whole = re.fullmatch(r"\d+", quantity.text) is not None
    if kind in ("length", "feed"):
        if kind == "feed" and quantity.mark != "feed":
            return None
        scale = INCH_MM if unit == "in" else 1.0
        if thou and unit == "in" and whole and low >= THOU_FROM:
            scale = INCH_MM / 1000
        return replace(quantity, kind=kind, low=low * scale, high=high * scale, unit=unit)
    if (kind == "angle" and 30 <= low <= 180) or (kind == "share" and 0 < low <= 1) or kind == "price":
        return replace(quantity, kind=kind)
    if kind in ("count", "rpm") and whole and low >= 1:
        return replace(quantity, kind=kind)
    return None
