"""Finding tools by size in any notation, or by words."""

from __future__ import annotations

from collections.abc import Sequence

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse
from cordwainer.core.part.callout_words import INCH_LOOK
from cordwainer.core.shop.tool import Tool

NEAR_SHARE, NEAR_MM = 0.015, 0.08


def words_of(tool: Tool) -> str:
    """Everything a tool may be found by, in small letters."""
    parts = (tool.name, tool.series, tool.drawer, tool.condition, tool.note, tool.material, tool.shank, tool.zone)
    state = tr("to get") if tool.quantity == 0 else (tr("out") if tool.out >= tool.quantity else "")
    kind = tool.kind.replace("_", " ")
    return " ".join((*parts, tr("drawer {drawer}", drawer=tool.drawer), state, kind, tr(kind))).lower()


class Haystack:
    """Tools with all that each may be found by, worked out a few at a time or when it is wanted."""

    def __init__(self, tools: Sequence[Tool]) -> None:
        self.tools = tools
        self._words: list[str] = []

    def gather(self, most: int) -> bool:
        """Work out some more; whether any are left."""
        at = len(self._words)
        self._words += [words_of(tool) for tool in self.tools[at : at + most]]
        return len(self._words) < len(self.tools)

    def find(self, text: str, unit: str) -> list[Tool]:
        """As `find_tools` does."""
        self.gather(len(self.tools))
        return find_tools(self.tools, self._words, text, unit)


def find_tools(tools: Sequence[Tool], haystacks: Sequence[str], text: str, unit: str) -> list[Tool]:
    """Tools of a size near the one written (nearest first), or those with every word in them.

    `haystacks` are the `words_of` the tools, in their order. A size is anything lengths are written in:
    ``6.8``, ``.2660``, ``17/64``, ``#7``, ``F``; bare figures are in `unit`.
    """
    shown = text.strip().lower()
    if not shown:
        return list(tools)
    if len(shown) == 1 and shown.isalpha():
        shown = f"letter {shown}"
    try:
        size = parse(shown, "in" if INCH_LOOK.search(shown) else unit).mm
    except InputError:
        drawer, wanted = None, shown.split()
        if len(wanted) > 1 and wanted[0] == "drawer":
            drawer, wanted = wanted[1], wanted[2:]
            pairs = [(t, hay) for t, hay in zip(tools, haystacks, strict=True) if t.drawer.lower() == drawer]
            return [tool for tool, hay in pairs if all(word in hay for word in wanted)]
        return [tool for tool, hay in zip(tools, haystacks, strict=True) if all(word in hay for word in wanted)]
    reach = max(NEAR_SHARE * size, NEAR_MM)
    near = [(abs(tool.diameter_mm - size), index) for index, tool in enumerate(tools)]
    return [tools[index] for off, index in sorted(near) if off <= reach]
