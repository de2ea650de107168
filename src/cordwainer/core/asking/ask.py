"""One line asked, one answer: read it, find the question, answer it, and say what could not be read."""

from __future__ import annotations

import math
from collections.abc import Callable

from cordwainer.core.asking.answer import Given, Here, Reply, Said, length
from cordwainer.core.asking.answers import batch, centers, depths, feeds, sizes, speeds, threads, walls
from cordwainer.core.asking.quantities import Quantity, Scanned, Unread, read, vocabulary
from cordwainer.core.asking.questions import Filled, asked
from cordwainer.core.errors import CordwainerError
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.shop.material import material

POSITIVE = ("length", "rpm", "surface", "feed", "rate", "minutes", "count", "tpi", "share", "price", "ratio")
MAY_BE_ZERO = ("start", "over", "wear", "change", "first")
Answering = Callable[[Given], list[Said]]
ANSWERS: dict[str, Answering] = {}
for _group in (batch, centers, depths, feeds, sizes, speeds, threads, walls):
    ANSWERS |= _group.ANSWERS


def ask(text: str, here: Here | None = None) -> Reply:
    """Answer one line. Nothing typed raises: what cannot be read or answered is said in the reply.

    >>> ask("1/2 + 3/8 deep from").answered
    False
    >>> [line.text for line in ask("3/8 deep from 1/2", Here("in")).lines][:1]
    ['7/8 in = .8750 in']
    """
    here = here or Here()
    if not text.strip():
        return Reply(text, "", "", ())
    line = read(text)
    found = asked(line, here.unit)
    if found is None:
        return Reply(text, "", _parts(line, here), (), line.doubts or _unclear(line, text))
    for name, quantity in found.slots.items():
        if quantity.kind in POSITIVE and quantity.low <= 0 and name not in MAY_BE_ZERO:
            start = line.line.place(quantity.start)
            end = line.line.place(max(quantity.end - 1, quantity.start)) + 1
            doubt = Unread(text[start:end], start, end, "more than zero is wanted here")
            return Reply(text, found.question.id, "", (), (doubt,))
    made_of = material(line.material) if line.material else here.material
    given = Given(found.slots, found.words, made_of, here, found.unit)
    try:
        lines = ANSWERS[found.question.id](given)
    except CordwainerError as bad:
        return Reply(text, found.question.id, _understood(found, given), (), (_whole(text, str(bad)),))
    except (ArithmeticError, ValueError):
        return Reply(text, found.question.id, _understood(found, given), (), (_whole(text, "no such figures"),))
    if not all(math.isfinite(said.use.value) for said in lines if said.use):
        return Reply(text, found.question.id, _understood(found, given), (), (_whole(text, "no such figures"),))
    return Reply(text, found.question.id, _understood(found, given), tuple(lines), line.doubts)


def _whole(text: str, why: str) -> Unread:
    return Unread(text, 0, len(text), why)


def _unclear(line: Scanned, text: str) -> tuple[Unread, ...]:
    """The figure or word no question takes together with the rest: the last one typed."""
    quantities, words = line.ways[0]
    if not quantities:
        why = "a figure is wanted" if words else "nothing could be read"
        return (_whole(text, why),)
    last = max(quantities, key=lambda quantity: quantity.end)
    start, end = line.line.place(last.start), line.line.place(max(last.end - 1, last.start)) + 1
    return (Unread(text[start:end], start, end, "no question takes this together with the rest"),)


def shown(quantity: Quantity, unit: str) -> str:
    """A figure as it was understood, with the unit it was taken in."""
    if quantity.kind == "length":
        own = "mm" if quantity.unit == "mm" else "in" if quantity.unit in ("in", "in?", "thou") else unit
        name = f"{quantity.text} = " if quantity.unit == "drill" else ""
        ends = [quantity.low] if quantity.low == quantity.high else [quantity.low, quantity.high]
        figures = " to ".join(length(end, own, exact=True) for end in ends)
        return f"{name}{figures}"
    if quantity.kind == "angle":
        return f"{quantity.low:g}°"
    if quantity.kind in ("center", "thread", "zone"):
        return quantity.unit.upper() if quantity.kind == "center" else quantity.unit or quantity.text
    if quantity.kind == "zone":
        return quantity.text.upper()
    if quantity.kind == "feed" and not quantity.unit.endswith("rev"):
        return f"{quantity.low / INCH_MM:.4f} in/rev" if unit == "in" else f"{quantity.low:g} mm/rev"
    if quantity.kind in ("rpm", "share") and not quantity.unit:
        return f"{quantity.low:g} rev/min" if quantity.kind == "rpm" else quantity.text
    return quantity.text


def _understood(found: Filled, given: Given) -> str:
    names = vocabulary().names
    said = [f"{names[name]} {shown(quantity, found.unit)}" for name, quantity in found.slots.items()]
    if given.material is not None and found.question.material != "no":
        said.append(given.material.name)
    return f"{found.question.title}: {', '.join(said)}" if said else found.question.title


def _parts(line: Scanned, here: Here) -> str:
    """What was read of a line that is no question yet."""
    quantities, _ = line.ways[0]
    return ", ".join(shown(quantity, here.unit) for quantity in quantities)
