"""Says what somebody probably meant by a line that begins with no verb, by the sense of its words and its letters."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterable, Iterator
from functools import cache
from pathlib import Path

from metrograph.log.faults import Unreadable, near_misses
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.quantity import parse_quantity
from metrograph.log.verbs import VERBS

_MOST = 3  # as many as are read at a glance


@cache
def senses() -> dict[str, list[str]]:
    """Other words that lead to a verb, by what they mean."""
    return tomllib.loads(Path(__file__).with_name("senses.toml").read_text("utf-8"))


def verbs_meant(word: str) -> str:
    """The verbs that a word may have stood for, at most three; how to find them all where none comes to mind."""
    plain = word.casefold().strip(".,:;!?")
    by_sense = [verb for verb, words in senses().items() if plain in words]
    meant = list(dict.fromkeys([*by_sense, *near_misses(word, VERBS)]))[:_MOST]
    return " or ".join(meant) or "a verb such as screen, choose or note; “metrograph cue --help” lists them"


def line_meant(line: str, terms: Callable[[], Lexicon]) -> str:
    """The cue that a line without a verb may have been: ``kernel 6.8`` was a fact; empty where none comes to mind."""
    return " or ".join(f"“{cue}”" for cue in list(dict.fromkeys(_cues(line, terms())))[:_MOST])


_SMALL = frozenset({"the", "a", "an", "is", "was", "it", "its", "my"})
_FACTS = (
    "kernel", "desktop", "base", "version", "display server", "package manager", "file manager", "init", "shell",
    "file system", "theme", "browser", "architecture", "code name", "installer", "boot loader", "login manager",
)  # fmt: skip
"""What is often noted as a fact."""


def _cues(line: str, lexicon: Lexicon) -> Iterator[str]:
    words = [word for word in line.replace("=", " ").replace(":", " ").split() if word.casefold() not in _SMALL]
    for count in range(min(len(words) - 1, 3), 0, -1):
        name, value = " ".join(words[:count]), " ".join(words[count:])
        if (known := _known(name, lexicon.measures)) and _is_figure(value, lexicon, known):
            yield f"reading {known} = {value}"
        if (fact := _known(name, _FACTS)) is not None:
            yield f"fact {fact} = {value}"
    results = VERBS["check"].rule
    for count in (3, 2, 1):
        name, result = " ".join(words[:-count]), " ".join(words[-count:]).casefold()
        if name and (result in results.alike or result in results.words):
            yield f"check {name}: {results.alike.get(result, result)}"
            return


def _known(name: str, names: Iterable[str]) -> str | None:
    plain = name.casefold().strip()
    return next((each for each in names if each == plain), None)


def _is_figure(text: str, lexicon: Lexicon, name: str) -> bool:
    try:
        return parse_quantity(text, lexicon.measures[name].unit, name).amount is not None
    except Unreadable:
        return False
