"""Knows which words on a screen make a button, and which tell of waiting or trouble."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from functools import cache, lru_cache
from typing import Literal, get_args
from unicodedata import combining, normalize

import msgspec
from rapidfuzz import fuzz

from metrograph.languages.language_tables import tables

_MISREAD = (
    88  # of 100: one letter of eight may be another; buttons are short words, so that less takes other words for them
)
_SHORTEST = 5  # letters from which a word may be misread; “back” and “bank” are two words

Button = Literal["forward", "back", "cancel", "answer", "aside"]


class ScreenWords(msgspec.Struct, frozen=True):
    """The words of all languages, in small letters.

    buttons: whole lines by what they do; packages: what is counted; the rest: beginnings of words, or phrases.
    """

    buttons: dict[Button, tuple[str, ...]]
    waiting: tuple[str, ...]
    trouble: tuple[str, ...]
    remaining: tuple[str, ...]
    packages: tuple[str, ...]
    download: tuple[str, ...]


@cache
def screen_words() -> ScreenWords:
    """The words that come with the program."""
    every = tables("screens")

    def joined(part: str, key: str) -> tuple[str, ...]:
        return tuple(dict.fromkeys(word for table in every.values() for word in table.get(part, {}).get(key, ())))

    return ScreenWords(
        buttons={button: joined("buttons", button) for button in get_args(Button)},
        waiting=joined("lines", "waiting"),
        trouble=joined("lines", "trouble"),
        remaining=joined("lines", "remaining"),
        packages=joined("lines", "packages"),
        download=joined("lines", "download"),
    )


@lru_cache(16384)  # the lines of a film are compared with each other again and again
def plain(text: str) -> str:
    """Small letters without signs around words: ``<Go Back>`` is ``go back``."""
    return " ".join(re.findall(r"[^\W_]+(?:['’.-][^\W_]+)*", text.casefold().replace("’", "'")))


@cache
def button_of(text: str) -> Button | None:
    """What a line does if it is a button; None where it is none."""
    said = plain(text)
    if not said or len(said) > 32:
        return None
    for button, words in screen_words().buttons.items():
        if said in words:
            return button
    if len(said) < _SHORTEST:
        return None
    for button, words in screen_words().buttons.items():
        if any(len(word) >= _SHORTEST and fuzz.ratio(said, word) >= _MISREAD for word in words):
            return button
    return None


@cache
def tells_of_waiting(text: str) -> bool:
    """Whether a line says that the machine is at work."""
    return _begins(text, screen_words().waiting) or bool(re.search(r"\b\d{1,3} ?%", text))


@cache
def tells_of_trouble(text: str) -> bool:
    """Whether a line says that something went wrong, or that an answer is refused."""
    return _begins(text, screen_words().trouble)


def words_in(table: object) -> Iterator[str]:
    """Every single word that stands anywhere in a language's table, in small letters."""
    if isinstance(table, str):
        yield from plain(table).split()
    elif isinstance(table, dict):
        for inner in table.values():
            yield from words_in(inner)
    elif isinstance(table, list | tuple):
        for inner in table:
            yield from words_in(inner)


def without_accents(text: str) -> str:
    """The letters alone: accents are what a reader of pictures misses first."""
    return "".join(sign for sign in normalize("NFKD", text) if not combining(sign))


def _begins(text: str, words: Iterable[str]) -> bool:
    said = f" {plain(text)} "
    return any(f" {word}" in said for word in words)
