"""Turns what was said into tokens: words without their signs, and numbers that were spoken in words as figures."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from functools import cache

import msgspec

from metrograph.hearing.stream.captions import Word


class Token(msgspec.Struct, frozen=True, gc=False):
    """A word in small letters, or a number in figures.

    at: seconds, of its last word; first, last: the places of its words in the stream.
    stop: whether a sentence ends with it, as far as signs or a pause tell.
    """

    text: str
    at: float
    first: int
    last: int
    stop: bool = False


class NumberWords(msgspec.Struct, frozen=True):
    """The words of numbers in a language.

    units: from nought to nineteen, and the like; tens; hundred; powers: thousand, million; point; joins: “and”.
    within: units that are numbers only within a word of several: “einundzwanzig”; none where words are not joined.
    fractions: numbers with a half that are one word, in figures.
    """

    units: Mapping[str, int]
    tens: Mapping[str, int]
    hundred: frozenset[str]
    powers: Mapping[str, int]
    point: frozenset[str]
    joins: frozenset[str]
    within: Mapping[str, int]
    fractions: Mapping[str, str]


_PAUSE = 0.9  # seconds after which a sentence is over
_PLAIN = re.compile(r"[^\w.'’%+/-]+|(?<!\w)[.'’/+-]+|[.'’/-]+(?!\w)", re.UNICODE)
_FIGURE = re.compile(r"\d{1,3}(?:,\d{3})+|\d+(?:[.,:]\d+)*%?")


def tokens_of(words: Sequence[Word], numbers: NumberWords) -> list[Token]:
    """The tokens of a stream of words."""
    plain: list[Token] = []
    for place, word in enumerate(words):
        pieces = word.text.casefold().replace("’", "'").split("-") if "-" in word.text else [word.text.casefold()]
        pieces = (
            pieces if all(_number_word(piece.strip(".,!?"), numbers) for piece in pieces) else [word.text.casefold()]
        )
        ends = word.text.rstrip("\"'”)").endswith((".", "!", "?", "…"))
        silent = place + 1 < len(words) and words[place + 1].pause > _PAUSE
        for piece in pieces:
            text = _in_figures(_bare(piece), numbers)
            if text:
                plain.append(Token(text, word.at, place, place, ends or silent))
    return _with_numbers(plain, numbers)


def _bare(piece: str) -> str:
    """A word without the signs around it; thousands of a figure without their commas."""
    figure = piece.strip(".,!?;:\"'“”()")
    if not _FIGURE.fullmatch(figure):
        return _PLAIN.sub("", piece)
    return figure.replace(",", "") if re.fullmatch(r"\d{1,3}(?:,\d{3})+", figure) else figure


def _in_figures(text: str, numbers: NumberWords) -> str:
    """A word in figures, where it is a number of several words that are written as one; else as it is."""
    if text in numbers.fractions:
        return numbers.fractions[text]
    if not numbers.within or text in numbers.within or _number_word(text, numbers):
        return text
    value = _joined_number(text, numbers)
    return text if value is None else str(value)


def _joined_number(text: str, numbers: NumberWords) -> int | None:
    """The number that a word is which was joined of several: thousands, hundreds, and a unit before its ten."""
    for word, size in (*numbers.powers.items(), *((each, 100) for each in numbers.hundred)):
        before, found, after = text.partition(word)
        if found:
            many = _joined_number(before, numbers) if before else 1
            rest = _joined_number(_without_join(after, numbers), numbers) if after else 0
            return None if many is None or rest is None else many * size + rest
    ones = {**numbers.units, **numbers.within}
    if text in ones or text in numbers.tens:
        return ones.get(text, numbers.tens.get(text))
    for ten, value in numbers.tens.items():
        unit = ones.get(next((text[: -len(join + ten)] for join in numbers.joins if text.endswith(join + ten)), ""))
        if unit is not None:
            return unit + value
    return None


def _without_join(text: str, numbers: NumberWords) -> str:
    return next((text[len(join) :] for join in numbers.joins if text.startswith(join)), text)


def _number_word(text: str, numbers: NumberWords) -> bool:
    return text in numbers.units or text in numbers.tens or text in numbers.hundred or text in numbers.powers


def _with_numbers(tokens: Sequence[Token], numbers: NumberWords) -> list[Token]:
    """Numbers in words become figures, one for each number that is said."""
    made: list[Token] = []
    place = 0
    while place < len(tokens):
        value, end = _number(tokens, place, numbers)
        if end == place:
            made.append(tokens[place])
            place += 1
        else:
            first, last = tokens[place], tokens[end - 1]
            made.append(Token(value, last.at, first.first, last.last, last.stop))
            place = end
    return made


def _number(tokens: Sequence[Token], start: int, numbers: NumberWords) -> tuple[str, int]:
    """The number that begins at a place, in figures, and the place behind it; the same place where none begins."""
    whole, place = _whole(tokens, start, numbers)
    if whole is None:
        return "", start
    digits = ""
    while place + 1 < len(tokens) and tokens[place].text in numbers.point and not tokens[place - 1].stop:
        part, after = _decimals(tokens, place + 1, numbers)
        if not part:
            break
        digits += f".{part}"
        place = after
    return f"{whole}{digits}", place


def _decimals(tokens: Sequence[Token], start: int, numbers: NumberWords) -> tuple[str, int]:
    """What is said behind a point: digit by digit, or as a number."""
    digits, place = "", start
    while place < len(tokens) and (value := numbers.units.get(tokens[place].text)) is not None and value < 10:
        digits += str(value)
        place += 1
        if tokens[place - 1].stop:
            break
    if digits:
        return digits, place
    if start < len(tokens) and tokens[start].text.isdigit():
        return tokens[start].text, start + 1
    whole, place = _whole(tokens, start, numbers)
    return ("" if whole is None else str(whole)), place


def _whole(tokens: Sequence[Token], start: int, numbers: NumberWords) -> tuple[int | None, int]:
    """A whole number in words, and the place behind it."""
    total: int | None = None
    current: int | None = None
    place = start
    while place < len(tokens):
        text = tokens[place].text
        after = tokens[place + 1].text if place + 1 < len(tokens) else ""
        rounded = current % 100 == 0 if current is not None else total is not None
        if text in numbers.joins and rounded and _number_word(after, numbers) and after not in numbers.powers:
            place += 1
            continue
        step = _step(text, current, numbers)
        if step is not None:
            current = step
        elif text in numbers.powers and current is not None:
            total, current = (total or 0) + current * numbers.powers[text], None
        else:
            break
        place += 1
        if tokens[place - 1].stop:
            break
    return (None, start) if total is None and current is None else ((total or 0) + (current or 0), place)


def _step(text: str, current: int | None, numbers: NumberWords) -> int | None:
    """The number so far with one more word; None where that word begins another."""
    if text in numbers.units:
        value = numbers.units[text]
        if current is None or (current and current % 100 == 0):
            return value + (current or 0)
        return current + value if current % 100 >= 20 and current % 10 == 0 and 0 < value < 10 else None
    if text in numbers.tens:
        return numbers.tens[text] + (current or 0) if current is None or (current and current % 100 == 0) else None
    if text in numbers.hundred:
        return current * 100 if current is not None and 0 < current < 100 else None
    return None


@cache
def number_words(language: str) -> NumberWords:
    """The words of numbers in a language, by its code of three letters."""
    from metrograph.languages.language_tables import tables

    table = tables("statements").get(language, {}).get("numbers", {})
    return NumberWords(
        table.get("units", {}), table.get("tens", {}), frozenset(table.get("hundred", ())), table.get("powers", {}),
        frozenset(table.get("point", ())), frozenset(table.get("joins", ())), table.get("within", {}),
        table.get("fractions", {}),
    )  # fmt: skip
