"""Writes `docs/needs.md`, the page of needs, from the table that a test walks: scripts/needs."""

from __future__ import annotations

import tomllib
from pathlib import Path

DOCS = Path(__file__).parents[1] / "docs"
HEAD = """# Where each need is answered

What a machinist asks in a day, in his own words, and where the answer is. "Ask" is the line that `/` or Ctrl+Space
opens on every stage, at the machine too; the same question goes to `cordwainer ask "..."`. Made by `scripts/needs`
from `needs.toml`, which a test walks in the real window from a fresh start.

| | need | where | for one |
| --- | --- | --- | --- |
"""


def page() -> str:
    """The page, a row a need."""
    needs = tomllib.loads((DOCS / "needs.toml").read_text())["need"]
    lines = []
    for need in needs:
        first = need["do"][0]
        shown = f"`{first.partition(' ')[2]}`"
        lines.append(f"| {need['row']} | {need['words']} | {need['where']} | {shown} |")
    return HEAD + "\n".join(lines) + "\n"


if __name__ == "__main__":
    (DOCS / "needs.md").write_text(page())
