"""Print `docs/neighbors.md`: for every cause its nearest ones and the evidence that parts them."""

from __future__ import annotations

from cordwainer.core.diagnosis.knowledge import causes, questions
from cordwainer.core.diagnosis.neighbors import PARTS, in_words, neighbors

HEAD = """# Causes easily taken for one another, and what parts them

Printed by `scripts/neighbors`. For every cause the three it is most like, each in the kind of hole where
the two are most alike, with the three pieces of evidence that part them best. Bits: how far, of 1, one answer is
expected to tell the two apart when both are equally likely. Numbers are those of the holes each would make of a
usual plan.
"""


def main() -> None:
    """The table, then the pairs that nothing parts."""
    print(HEAD)
    print("| cause | taken for | in a hole | parted by (bits) |")
    print("| --- | --- | --- | --- |")
    weak = set()
    for cause, near in neighbors().items():
        for pair in near:
            other = pair.second if pair.first == cause else pair.first
            by = "; ".join(f"{in_words(name, questions())} {bits:.2f}" for name, bits in pair.by)
            print(f"| {causes()[cause].name} | {causes()[other].name} | {pair.where} | {by} |")
            if pair.by[0][1] < PARTS:
                weak.add((causes()[pair.first].name, causes()[pair.second].name, pair.by[0][1]))
    print(f"\nPairs parted by nothing over {PARTS} bits: {len(weak) or 'none'}.")
    for one, two, bits in sorted(weak):
        print(f"- {one}, {two}: {bits:.2f}")


if __name__ == "__main__":
    main()
