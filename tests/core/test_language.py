"""The catalog of texts: whole, true to its English, current, and numbers as the language writes them."""

from __future__ import annotations

import io
import json
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from babel.messages.catalog import Message
from babel.messages.pofile import read_po
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.__main__ import _take_language
from cordwainer.core import language, tables
from cordwainer.core.language import article, inner, localized, sentence, tr, trn
from cordwainer.ui.kit import typed
from tests.scripts import script

ROOT = Path(__file__).parents[2]
NAMED = re.compile(r"\{(\w+)(?:![rs])?(?::[^{}]*)?\}")


@pytest.fixture
def german() -> Iterator[None]:
    """German within a test."""
    language.take("de")
    yield
    language.take("en")


def messages() -> list[Message]:
    """The German catalog as it is written."""
    found = read_po(io.BytesIO((ROOT / "language" / "de.po").read_bytes()))
    return [message for message in found if message.id]


def both(message: Message) -> list[tuple[str, str]]:
    """English beside German, form by form."""
    english = [message.id] if isinstance(message.id, str) else list(message.id)
    given_ = [message.string] if isinstance(message.string, str) else list(message.string)
    return list(zip(english, given_, strict=True))


def test_every_text_has_its_german_with_the_same_names_in_it() -> None:
    """A name left out would lose a figure, a name too many would show the English."""
    left = []
    for message in messages():
        for number, (english, said) in enumerate(both(message)):
            if not said:
                left.append(english)
                continue
            # the text for one may leave the count out
            wanted, found = set(NAMED.findall(english)), set(NAMED.findall(said))
            assert found == wanted or (number == 0 and not isinstance(message.id, str)), (english, said)
            assert english.strip() == english or said != said.strip() or english in LOOSE, (english, said)
    assert len(left) <= 10, left  # what a stand-in of the tests types, and addresses


LOOSE = ("taper-shank ", "carbide ")  # German joins the two words


def test_the_trades_own_words_are_used() -> None:
    """Terms as DIN and the schoolbooks have them (DIN 333, DIN 338, DIN 212, DIN 335)."""
    known = dict(pair for message in messages() for pair in both(message))
    for english, said in (
        ("center drill", "Zentrierbohrer"),
        ("{series}drill", "{series}Bohrer"),
        ("Ream {zone}", "Reiben {zone}"),
        ("reamer", "Reibahle"),
        ("countersink {included_angle_deg:g}°", "Kegelsenker {included_angle_deg:g}°"),
        ("Deburr", "Entgraten"),
        ("plug gauge", "Lehrdorn"),
        ("caliper", "Messschieber"),
        ("blind", "Grundloch"),
        ("tailstock", "Reitstock"),
        ("quill", "Pinole"),
    ):
        assert known[english] == said


def test_the_catalogs_are_as_the_code_is(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """A text changed without `scripts/words` would fall back to English unseen."""
    monkeypatch.setattr("sys.argv", ["run_words.py", "--check"])
    with pytest.raises(SystemExit) as ended:
        script("run_words").main()
    assert ended.value.code == 0, capsys.readouterr().out


def test_texts_and_numbers(german: None) -> None:
    """Names are filled in, fractions get their comma, sizes by name too; files and keys are not touched."""
    assert tr("{count} tools", count=3) == "3 Werkzeuge"
    assert trn("{holes} hole", "{holes} holes", 1, holes=1) == "1 Bohrung"
    assert trn("{holes} hole", "{holes} holes", 2, holes=2) == "2 Bohrungen"
    assert tr("{minutes:.1f} min{sure}", minutes=2.54, sure="") == "2,5 min"
    assert tr("to {size}", size="6.8 mm") == "to 6,8 mm"
    assert tr("to {size}", size="shop.v1.json") == "to shop.v1.json"
    assert tr("no such text {here}", here="4.5") == "no such text 4,5"
    with language.for_files():
        assert tr("{count} tools", count=3) == "3 tools" and tr("to {size}", size="6.8 mm") == "to 6.8 mm"
    assert sentence("größte") == "Größte" and inner("Bohrung") == "Bohrung" and article("Bohrer") == "Bohrer"
    language.take("en")
    assert tr("{count} tools", count=3) == "3 tools"
    assert inner("Drill") == "drill" and inner("ISO 286") == "ISO 286" and article("end mill") == "an end mill"


def test_a_language_without_a_catalog_is_refused() -> None:
    """What is in force stays."""
    with pytest.raises(ValueError, match="no catalog for xx"):
        language.take("xx")
    assert tr("Save") == "Save"


@pytest.mark.parametrize(
    ("wanted", "found"),
    [
        ({"LANG": "de_DE.UTF-8"}, "de"),
        ({"LANG": "de_DE.UTF-8", "LC_MESSAGES": "en_US.UTF-8"}, "en"),
        ({"LANG": "C", "LANGUAGE": "fr:de_AT:en"}, "de"),
        ({"LANG": "fr_FR.UTF-8"}, "en"),
        ({}, "en"),
    ],
)
def test_the_desktop_says_the_language(
    wanted: dict[str, str], found: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """LANGUAGE before LC_ALL, LC_MESSAGES, LANG (GNU gettext manual, locale environment variables)."""
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"):
        monkeypatch.delenv(name, raising=False)
    for name, value in wanted.items():
        monkeypatch.setenv(name, value)
    assert language.desktop_language() == found


@given(st.decimals(min_value="0.001", max_value="400", places=3))
def test_what_is_shown_can_be_typed_again(value: object) -> None:
    """A length shown with a comma and typed back is the same length, three places or not."""
    language.take("de")
    try:
        shown = localized(f"{value} mm")
        assert "." not in shown
        assert typed.parse(shown).exact_mm == typed.parse(f"{value} mm").exact_mm
    finally:
        language.take("en")


def test_whole_pages_have_their_german(german: None) -> None:
    """Guide and model: the same chapters, pictures and tables."""
    for name in ("guide.md", "model.md"):
        said = tables.page(name)
        language.take("en")
        english = tables.page(name)
        language.take("de")
        assert said != english
        for mark in ("\n## ", "![", "\n| ", "\n- "):
            assert said.count(mark) == english.count(mark), (name, mark)


@pytest.mark.parametrize(
    ("settled", "lang", "found"),
    [("de", "en_US.UTF-8", "de"), ("en", "de_DE.UTF-8", "en"), ("desktop", "de_DE.UTF-8", "de"), (7, "C", "en")],
)
def test_the_window_speaks_as_settled_or_as_the_desktop(
    settled: object, lang: str, found: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The settings before the desktop; what is settled oddly counts for nothing."""
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES"):
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setenv("LANG", lang)
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    (tmp_path / "cordwainer").mkdir()
    (tmp_path / "cordwainer" / "settings.json").write_text(json.dumps({"language": settled}))
    try:
        _take_language()
        assert language.spoken() == found
    finally:
        language.take("en")


def test_a_language_changes_words_and_nothing_else() -> None:
    """Figures, counts of sentences and cautions: what was asked by a translated word would differ."""
    run = [sys.executable, "-m", "tests.core.other_language"]
    english, german = (
        json.loads(subprocess.run([*run, name], capture_output=True, text=True, check=True, cwd=ROOT).stdout)
        for name in ("en", "de")
    )
    assert len(english) > 100 and german == english
