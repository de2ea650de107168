"""How many callouts of drawings with known holes are read right, left in doubt, and taken wrong silently."""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections import Counter
from pathlib import Path
from typing import Any

from cordwainer.core.errors import CordwainerError
from cordwainer.core.lengths import Length
from cordwainer.core.part.callout_parts import Callout
from cordwainer.core.part.tolerance import written_limits
from cordwainer.core.prints.callouts import NO_HOLE, SURE, Found
from cordwainer.core.prints.sheets import Read

NEAR = 0.02
PARTS = ("kind", "count", "diameter", "limits", "depth", "through", "thread", "thread_depth", "counterbore",
         "counterbore_depth", "countersink")  # fmt: skip


def mm(length: Length | None) -> float | None:
    """A length as a figure."""
    return None if length is None else length.mm


def said(callout: Callout, count: int | None) -> dict[str, Any]:
    """What a callout says, in the terms of the truth."""
    limits = tuple(z.mm for z in callout.limits) if callout.limits else None
    if callout.tolerance and callout.diameter is not None:
        found = written_limits(callout.diameter.exact_mm, callout.tolerance)
        limits = (float(found.lower_mm), float(found.upper_mm))
    return {
        "kind": callout.kind,
        "count": count or callout.count,
        "diameter": mm(callout.diameter),
        "limits": limits,
        "depth": mm(callout.depth),
        "through": callout.through,
        "thread": callout.thread.name if callout.thread else None,
        "thread_depth": mm(callout.thread_depth),
        "counterbore": mm(callout.counterbore),
        "counterbore_depth": mm(callout.counterbore_depth),
        "countersink": mm(callout.countersink),
    }


def wanted(hole: dict[str, Any]) -> dict[str, Any]:
    """The truth in the same terms."""
    limits = hole["limits"]
    if hole["tolerance"]:
        from fractions import Fraction

        found = written_limits(Fraction(hole["diameter"]).limit_denominator(10_000), hole["tolerance"])
        limits = (float(found.lower_mm), float(found.upper_mm))
    return {key: hole[key] for key in PARTS} | {"limits": limits}


def differs(one: dict[str, Any], other: dict[str, Any]) -> list[str]:
    """The parts in which two sayings differ."""

    def same(a: Any, b: Any) -> bool:
        if isinstance(a, (tuple, list)) and isinstance(b, (tuple, list)):
            return len(a) == len(b) and all(abs(x - y) <= 0.0006 for x, y in zip(a, b, strict=True))
        if isinstance(a, float) and isinstance(b, float):
            return abs(a - b) <= NEAR
        return bool(a == b)

    return [key for key in PARTS if not same(one[key], other[key])]


def judge(read: Read, truth: dict[str, Any], tally: Counter[str], name: str, verbose: bool, kind: str) -> None:
    """Count one drawing's callouts."""
    left: list[Found] = list(read.found)
    for hole in truth["holes"]:
        x, y = hole["at"]
        tally["asked"] += 1
        near = min(left, key=lambda f: f.box.away((x, y)), default=None)
        reach = 12 if kind == "pdf" else 12 * near.boxes[0].height if near is not None else 0
        if near is None or near.box.away((x, y)) > reach:
            tally["missed"] += 1
            told = "missed", ""
        else:
            left.remove(near)
            wrong = differs(said(near.callout, near.count), wanted(hole)) if near.callout else ["unread"]
            if near.state == NO_HOLE:
                told = "called no hole", near.why
            elif not wrong:
                told = ("right" if near.state == SURE else "right, in doubt"), near.why
            else:
                told = ("WRONG SILENTLY" if near.state == SURE else "wrong, in doubt"), f"{wrong} {near.why}"
            tally[told[0]] += 1
            if kind == "dxf" and near.callout is not None and not wrong:
                tally["placed" if len(near.places) == hole["count"] else "NOT PLACED"] += 1
        if verbose and not told[0].startswith("right"):
            shown = repr(near.text) if near is not None else "-"
            print(f"{name}: {told[0]}: {shown} -> {told[1]}   {[v for v in hole.values() if v]}")
    for extra in left:
        if extra.state == SURE:
            tally["TAKEN THOUGH NO HOLE"] += 1
            if verbose:
                print(f"{name}: taken though no hole: {extra.text!r}")


def read_any(path: Path, unit: str) -> Read:
    """A drawing read by its kind."""
    from cordwainer.files.prints.read import read_print

    return read_print(path, unit).read


def main() -> int:
    """Judge the drawings of a folder."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("-v", "--verbose", action="store_true")
    told = parser.parse_args()
    for kind in ("pdf", "dxf"):
        tally, longest, begun = Counter[str](), 0.0, time.monotonic()
        paths = sorted(told.folder.glob(f"*.{kind}"))
        for path in paths:
            truth = json.loads(path.with_name(path.name + ".json").read_text())
            started = time.monotonic()
            try:
                judge(read_any(path, "mm"), truth, tally, path.stem, told.verbose, kind)
            except CordwainerError as bad:
                tally["refused"] += 1
                print(f"{path.name}: {bad}")
            longest = max(longest, time.monotonic() - started)
        if not paths:
            continue
        right = tally["right"] + tally["right, in doubt"]
        print(f"{kind}: {len(paths)} drawings in {time.monotonic() - begun:.1f} s, longest {longest:.2f} s")
        print(f"  {right} of {tally['asked']} read right ({100 * right / max(tally['asked'], 1):.1f} %)")
        print("  " + ", ".join(f"{count} {what}" for what, count in tally.most_common() if what != "asked"))
    return 0


if __name__ == "__main__":
    sys.exit(main())
