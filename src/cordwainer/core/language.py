"""The program's words in the language of its user, and its numbers as that language writes them.

Every text that a person reads goes through `tr` or `trn`, written in English. A catalog of GNU gettext
(``data/language/<language>.mo``) gives it in another language; what a catalog lacks
stays English. The language is taken once, before the modules that hold texts are imported: many texts are
made at import. Command line and files speak English, with a decimal point, since programs read them.
"""

from __future__ import annotations

import gettext
import os
import re
import string
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

import cordwainer

FOLDER = os.path.join(os.path.dirname(cordwainer.__file__), "data", "language")
LANGUAGES = {"en": "English", "de": "Deutsch"}
_POINT = re.compile(r"(?<=\d)\.(?=\d)")
_SIZE = re.compile(r"[A-Z]{0,2} ?\d+\.\d+(?: mm| in)?")  # a size by its name: 6.8 mm, A 2.5


class _Language:
    """What is spoken: a catalog, or none for English, and the decimal sign."""

    def __init__(self) -> None:
        self.name = "en"
        self.catalog: gettext.NullTranslations | None = None
        self.comma = False


_spoken = _Language()
_for_files: ContextVar[bool] = ContextVar("for files", default=False)


@contextmanager
def for_files() -> Iterator[None]:
    """English and a decimal point for what is written into a file meanwhile, on this thread."""
    token = _for_files.set(True)
    try:
        yield
    finally:
        _for_files.reset(token)


def _catalog() -> gettext.NullTranslations | None:
    """The catalog in force, None where texts are given as they are written."""
    return None if _spoken.catalog is None or _for_files.get() else _spoken.catalog


class _Comma(string.Formatter):
    """Fills a text in, fractions with a decimal comma."""

    def format_field(self, value: Any, format_spec: str) -> str:
        text = str(super().format_field(value, format_spec))
        if isinstance(value, str):
            return localized(text) if _SIZE.fullmatch(text) else text
        return text if isinstance(value, int) else localized(text)


_COMMA = _Comma()


def take(language: str, *, comma: bool | None = None) -> None:
    """Speaks `language` ("en", "de") from here on, with a decimal comma where it has one or `comma` says so.

    A language without a catalog is a `ValueError`.
    """
    if language not in LANGUAGES:
        raise ValueError(f"no catalog for {language}")
    catalog = None
    if language != "en":
        with open(os.path.join(FOLDER, f"{language}.mo"), "rb") as file:
            catalog = gettext.GNUTranslations(file)
    _spoken.name, _spoken.catalog = language, catalog
    _spoken.comma = catalog is not None if comma is None else comma


def desktop_language() -> str:
    """The first language of the desktop there is a catalog for: LANGUAGE, LC_ALL, LC_MESSAGES or LANG."""
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"):
        if wanted := os.environ.get(name):
            for one in wanted.split(":"):
                if (short := re.split(r"[_.@]", one)[0].lower()) in LANGUAGES:
                    return short
            return "en"
    return "en"


def spoken() -> str:
    """The language in force."""
    return "en" if _for_files.get() else _spoken.name


def comma() -> bool:
    """Whether fractions are written with a decimal comma."""
    return _spoken.comma and not _for_files.get()


def tr(text: str, /, **values: object) -> str:
    """A text in the language in force, its ``{names}`` filled in from `values`.

    Without values nothing is filled in, so that a text may hold braces of its own.
    """
    catalog = _catalog()
    spoken_text = text if catalog is None or not text else catalog.gettext(text)
    return _filled(spoken_text, values) if values else spoken_text


def trn(one: str, many: str, count: int, /, **values: object) -> str:
    """As `tr`, the text for one or that for `count`."""
    catalog = _catalog()
    spoken_text = (one if count == 1 else many) if catalog is None else catalog.ngettext(one, many, count)
    return _filled(spoken_text, values) if values else spoken_text


def _filled(text: str, values: dict[str, object]) -> str:
    return _COMMA.vformat(text, (), values) if comma() else text.format(**values)


def localized(text: str) -> str:
    """A text with figures, their decimal points as the language in force writes them."""
    return _POINT.sub(",", text) if comma() else text


def sentence(text: str) -> str:
    """A clause as the beginning of a sentence: its first letter large, the rest as it is."""
    return text[:1].upper() + text[1:]


def inner(text: str) -> str:
    """A heading within a sentence: its first letter small where the language has nouns so."""
    return text if spoken() == "de" or text[1:2].isupper() else text[:1].lower() + text[1:]


def article(noun: str) -> str:
    """A noun with its indefinite article, where the language in force has one that suits every noun."""
    if spoken() != "en":
        return noun
    return f"{'an' if noun[:1].lower() in 'aeiou' else 'a'} {noun}"
