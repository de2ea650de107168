"""A stranger's text: seen whole, never acting; what is figures stays figures."""

from __future__ import annotations

import csv
import io
import unicodedata

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from cordwainer.files.lists import Refused, refused_text, rows_of
from cordwainer.files.places import name_for
from cordwainer.files.shown import HIDDEN, cell, lines, shown, uncelled
from cordwainer.ui.kit.plain import in_title, on_menu, on_tip

ANY = st.text(st.characters(blacklist_categories=()), max_size=400)


@given(ANY)
@example("\u202e\u2066\ud800\x00\x1b[31m")
def test_nothing_hidden_is_left_and_nothing_is_too_long(text: str) -> None:
    found = shown(text, 80)
    hidden = [c for c in found if unicodedata.category(c) in HIDDEN and c not in "\u200c\u200d"]
    assert not hidden and len(found) <= 80 and "\n" not in found
    found.encode("utf-8")
    assert shown(found, 80) == found  # what has been shown is shown alike again


@given(ANY)
def test_no_cell_is_a_formula_and_it_reads_back(text: str) -> None:
    made = cell(text)
    assert made[:1] not in ("=", "@", "\t") and (made[:1] not in "+-" or made[1:2].isdigit() or not made)
    out = io.StringIO(newline="")
    csv.writer(out).writerow([made, "x"])
    (row,) = csv.reader(io.StringIO(out.getvalue(), newline=""))
    assert row[0] == made and (uncelled(made) == lines(text) or text[:1] == "'")


@pytest.mark.parametrize("text", ["-0.5", "-12.5 mm", "+1-1/8 in", "-1-1/8", "+.0012", "3x 6.8"])
def test_figures_with_a_sign_stay_figures(text: str) -> None:
    assert cell(text) == text or text == "+.0012"


def test_rows_refused_are_harmless_in_a_spreadsheet() -> None:
    out = refused_text(["kind", "note"], [Refused(2, "=cmd|x", ("@sum", "=HYPERLINK(1)"))])
    assert '"=' not in out and ",=" not in out and ",@" not in out
    assert rows_of(out)[1][1][1:] == ["@sum", "=HYPERLINK(1)"]


@given(ANY)
def test_words_do_nothing_where_qt_would_read_something_into_them(text: str) -> None:
    assert "&" not in on_menu(text).replace("&&", "") and "[*]" not in in_title(text)
    tip = on_tip(text)
    assert "<" not in tip.removeprefix("<span>").removesuffix("</span>")


@given(ANY, ANY)
def test_names_made_for_texts_are_short_and_apart(one: str, other: str) -> None:
    first, second = name_for(one), name_for(other)
    assert len(first.encode("utf-8", "surrogatepass")) <= 180 and "/" not in first
    if len(one) > 200 and len(other) > 200 and one != other:
        assert first != second
