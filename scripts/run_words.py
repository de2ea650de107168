"""Keeps the catalogs of texts: collects them from code and tables, merges what is new, compiles.

scripts/words            collect, merge into every language, compile, say what is missing
scripts/words --check    only say whether the catalogs are as code and tables are (for the tests)
"""

from __future__ import annotations

import ast
import io
import sys
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from cordwainer.core import tables
from cordwainer.core.diagnosis.knowledge import questions
from cordwainer.core.language import FOLDER

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "cordwainer"
LANGUAGE = ROOT / "language"
LANGUAGES = ("de",)
DAY = datetime(2026, 1, 1, tzinfo=UTC)  # no day of its own: the same texts make the same file
KEYS = (
    *(
        "left",
        "right",
        "upper",
        "lower",
        "face",
        "after",
        "touch",
        "stop",
        "done",
        "skipped",
        "assumed",
        "derived",
    ),
    *("common practice", "cutting", "measuring", "by hand", "changing parts", "changing tools", "changing speeds"),
    *(
        "setting up",
        "price",
        "holes",
        "again",
        "drawing kept",
        "small agreement",
        "engineering agreement",
        "scrap",
    ),
)


def texts_of(path: Path) -> list[tuple[str | tuple[str, str], int]]:
    """The texts in calls of `tr` and `trn` in a module, with their lines."""
    found: list[tuple[str | tuple[str, str], int]] = []
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("tr", "trn")):
            continue
        given = [a.value for a in node.args[:2] if isinstance(a, ast.Constant) and isinstance(a.value, str)]
        if node.func.id == "trn" and len(given) == 2:
            found.append(((given[0], given[1]), node.lineno))
        elif node.func.id == "tr" and given:
            found.append((given[0], node.lineno))
    return found


def collected() -> Catalog:
    """Every text of the program: code, tables, and the names that are made of identifiers."""
    catalog = Catalog(project="cordwainer", version="1", charset="utf-8", fuzzy=False)
    for path in sorted(SOURCE.rglob("*.py")):
        where = str(path.relative_to(ROOT))
        for text, _ in texts_of(path):
            if text:
                catalog.add(text, locations=[(where, 0)])
    for table, columns in tables.WORDS.items():
        for row in tables.rows(table):
            for column in columns:
                if text := row.text(column):
                    catalog.add(text, locations=[(f"data/{table}.csv", 0)])
    for text in named():
        catalog.add(text, locations=[("identifiers", 0)])
    return catalog


def named() -> list[str]:
    """Identifiers that are shown as words: kinds, series, conditions, answers, and what checks need."""
    from cordwainer.core.part import hole
    from cordwainer.core.shop import catalog, gauge, identify, tool
    from cordwainer.core.shop.machine import SCALE_KINDS
    from cordwainer.core.shop.material import materials
    from cordwainer.core.training.exercise import MEASUREMENTS
    from cordwainer.files.crib import CONDITIONS

    found = {*tool.KINDS, *hole.KINDS, *hole.ENTRIES, *hole.UNDER, *hole.EXITS, *SCALE_KINDS, *gauge.WORDS}
    found |= {*CONDITIONS, *identify.SYSTEMS, *materials(), *KEYS}
    found |= {one.series for one in catalog.catalog_shop().tools if not any(c.isdigit() for c in one.series)}
    found |= {measurement.with_ for measurement in MEASUREMENTS.values()}
    for question in questions().values():
        found |= {question.needs, *(a for a in question.answers if not any(c.isdigit() for c in a))}
    found |= {entry["name"] for entry in tables.document("machine_kinds.json")["machines"]}
    found |= {lesson["name"] for lesson in tables.document("training/course.json")["lessons"]}
    return sorted(text.replace("_", " ") for text in found if text)


def merged(language: str, template: Catalog) -> Catalog:
    """A language's catalog with the texts of `template`: what is known keeps its translation."""
    path = LANGUAGE / f"{language}.po"
    known = read_po(io.BytesIO(path.read_bytes())) if path.exists() else Catalog(locale=language)
    new = Catalog(
        locale=language, project="cordwainer", version="1", charset="utf-8", fuzzy=False,
        creation_date=DAY, revision_date=DAY,
    )  # fmt: skip
    for message in template:
        if not message.id:
            continue
        old = known.get(message.id)
        new.add(message.id, old.string if old else None, locations=message.locations)
    return new


def po_bytes(catalog: Catalog) -> bytes:
    """A catalog as it is written down: by text, without dates, so that it changes only where a text does."""
    catalog.header_comment = "# Texts of the program; the code's own language is English.\n"
    out = io.BytesIO()
    write_po(out, catalog, sort_output=True, omit_header=False, width=110, no_location=True)
    lines = out.getvalue().decode("utf-8").splitlines(keepends=True)
    dated = ('"POT-Creation-Date', '"PO-Revision-Date', '"Generated-By', '"Last-Translator', '"Language-Team')
    return "".join(line for line in lines if not line.startswith(dated)).encode("utf-8")


def mo_bytes(catalog: Catalog) -> bytes:
    """A catalog as the program reads it."""
    out = io.BytesIO()
    write_mo(out, catalog)
    return out.getvalue()


def missing(catalog: Catalog) -> list[str]:
    """The texts without a translation."""
    return [
        m.id if isinstance(m.id, str) else m.id[0]
        for m in catalog
        if m.id and not (all(m.string) if isinstance(m.string, tuple | list) else m.string)
    ]


def main() -> None:
    """Collects, merges, compiles; with `--check` nothing is written and a difference ends with 1."""
    check = "--check" in sys.argv[1:]
    template = collected()
    LANGUAGE.mkdir(exist_ok=True)
    wanted = {LANGUAGE / "cordwainer.pot": po_bytes(template)}
    for language in LANGUAGES:
        catalog = merged(language, template)
        wanted[LANGUAGE / f"{language}.po"] = po_bytes(catalog)
        wanted[Path(FOLDER) / f"{language}.mo"] = mo_bytes(catalog)
        left = missing(catalog)
        print(f"{language}: {len(catalog)} texts, {len(left)} not translated")
        if "--left" in sys.argv[1:]:
            for text in left:
                print(f"  {text!r}")
    stale = [path for path, new in wanted.items() if not path.exists() or path.read_bytes() != new]
    if check:
        for path in stale:
            print(f"{path.relative_to(ROOT)} is not as the code is; run scripts/words")
        sys.exit(1 if stale else 0)
    for path in stale:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(wanted[path])


if __name__ == "__main__":
    main()
