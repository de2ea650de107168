"""Numbers as they are said: "number seven", "quarter-twenty", "inch and a half", "two and three quarter"."""

from __future__ import annotations

import re
from dataclasses import dataclass

ONES = [
    "zero",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
    "thirteen",
    "fourteen",
    "fifteen",
    "sixteen",
]
ONES += ["seventeen", "eighteen", "nineteen"]
TENS = {
    "twenty": 20,
    "thirty": 30,
    "forty": 40,
    "fifty": 50,
    "sixty": 60,
    "seventy": 70,
    "eighty": 80,
    "ninety": 90,
}
PARTS = {
    "half": 2, "halves": 2, "third": 3, "thirds": 3, "quarter": 4, "quarters": 4, "fourth": 4, "fourths": 4,
    "eighth": 8, "eighths": 8, "sixteenth": 16, "sixteenths": 16, "thirty-second": 32, "thirty-seconds": 32,
    "thirty second": 32, "thirty seconds": 32, "thirtysecond": 32, "sixty-fourth": 64, "sixty-fourths": 64,
    "sixty fourth": 64, "sixty fourths": 64, "sixtyfourth": 64, "sixtyfourths": 64,
}  # fmt: skip
NUMBERS = {word: i for i, word in enumerate(ONES)} | TENS
SIGNS = {
    "½": "1/2",
    "¼": "1/4",
    "¾": "3/4",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅓": "1/3",
    "⅔": "2/3",
}
PLAIN = {"×": "x", "–": "-", "—": "-", "−": "-", "″": '"', "”": '"', "“": '"', "⌀": " ", "Ø": " ", "ø": " "}

_N = "(?:" + "|".join(sorted(NUMBERS, key=len, reverse=True)) + ")"
_WHOLE = rf"{_N}(?:[ -]{_N})?"
_PART = "(?:" + "|".join(sorted(PARTS, key=len, reverse=True)) + ")"
_BIG = rf"half|quarter|{_WHOLE} {_PART}"
_RULES = (
    (re.compile(rf"\b(?:(?P<big>{_BIG})|#?(?P<num>{_N}|\d+))[ -](?P<tpi>{_WHOLE})\b(?! thou)"), "thread"),
    (re.compile(rf"\b(?:number|no\.?) ?(?P<name>{_WHOLE}|\d+)\b"), "number"),
    (re.compile(rf"\b(?:an |one )?inch and (?:an? )?(?P<top>{_WHOLE} )?(?P<part>{_PART})\b"), "inch and"),
    (re.compile(rf"\b(?P<whole>{_WHOLE}|\d+) and (?:a |an )?(?P<top>{_WHOLE} )?(?P<part>{_PART})\b"), "whole and"),
    (re.compile(rf"\b(?P<top>{_WHOLE})[ -](?P<part>{_PART})\b"), "fraction"),
    (re.compile(r"\b(?:an? )?(?P<part>quarter|eighth|sixteenth|thirty-second|sixty-fourth)\b"), "fraction"),
    (re.compile(r"\b(?:an? )?(?P<part>half)(?= (?:an )?inch\b| in\b)"), "fraction"),
    (re.compile(rf"\b(?P<whole>{_WHOLE})\b(?! in a\b)"), "whole"),
)  # fmt: skip


@dataclass(frozen=True)
class Rewritten:
    """A line in figures, and for each of its letters the place in the line that was typed."""

    text: str
    places: tuple[int, ...]
    typed: str

    def place(self, at: int) -> int:
        """The place in what was typed, of a place here."""
        return self.places[min(at, len(self.places) - 1)] if self.places else 0


def _value(words: str) -> int:
    return int(words) if words.isdigit() else sum(NUMBERS[word] for word in re.split("[ -]", words))


def _thread(found: re.Match[str]) -> str | None:
    """A thread said aloud; a pair of numbers that is none is left alone."""
    if found["big"] is None:
        if found["num"].isdigit() and found["tpi"].isdigit():
            return None
        number, tpi = _value(found["num"]), _value(found["tpi"])
        common = (number, tpi) in {(4, 40), (6, 32), (8, 32), (10, 24), (10, 32), (12, 24), (5, 40), (2, 56)}
        return f"#{number}-{tpi}" if common else None
    tpi = _value(found["tpi"])
    if tpi < 4 or (found["big"] == "half" and tpi not in (13, 20)):
        return None
    words = found["big"].split(" ", 1)
    top = _value(words[0]) if len(words) == 2 else 1
    return f"{top}/{PARTS[words[-1]]}-{tpi}"


def _figures(found: re.Match[str], rule: str) -> str | None:
    if rule == "thread":
        return _thread(found)
    if rule == "number":
        return f"#{_value(found['name'])}"
    parts = found.groupdict()
    top = _value(parts["top"].strip()) if parts.get("top") else 1
    if rule == "inch and":
        return f"1-{top}/{PARTS[found['part']]} in"
    if rule == "whole and":
        return f"{_value(found['whole'])}-{top}/{PARTS[found['part']]}"
    if rule == "fraction":
        return f"{top}/{PARTS[found['part']]}"
    return str(_value(found["whole"]))


def rewritten(line: str) -> Rewritten:
    """The line in small letters and figures; lengths of words may change, their places are kept.

    >>> rewritten("number seven in a quarter-twenty").text
    '#7 in a 1/4-20'
    >>> rewritten("inch and a half").text, rewritten("two and three quarter").text
    ('1-1/2 in', '2-3/4')
    """
    letters, places = list[str](), list[int]()
    for at, letter in enumerate(line):
        plain = SIGNS.get(letter) or PLAIN.get(letter) or letter.lower()
        if letter in SIGNS and letters and letters[-1].isdigit():
            plain = "-" + plain
        letters += plain
        places += [at] * len(plain)
    text = "".join(letters)
    if not re.search(r"[a-z]{2}", text):
        return Rewritten(text, tuple(places), line)
    for pattern, rule in _RULES:
        at = 0
        while (found := pattern.search(text, at)) is not None:
            said = _figures(found, rule)
            at = found.end()
            if said is None:
                at = found.start() + 1
                continue
            start, end = found.span()
            text = text[:start] + said + text[end:]
            places = places[:start] + [places[start]] * len(said) + places[end:]
            at = start + len(said)
    return Rewritten(text, tuple(places), line)
