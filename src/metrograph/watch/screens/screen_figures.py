"""Finds what a screen itself says in figures: how long it will take, what is updated, how large things are."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence

import msgspec

from metrograph.watch.pages.page import Page, Text
from metrograph.watch.reading.words import plain, screen_words
from metrograph.watch.screens.static_regions import StaticRegions

_SIZE = re.compile(r"(?<![\w.,])(\d{1,4}(?:[.,]\d{1,2})?) ?([KMGT]i?B)\b")
_COUNT = re.compile(r"(?<![\w.,])(\d{1,5}) (?=[^\W\d])")
_VERSION = re.compile(r"(?<![\w.])\d+(?:\.\d+)+(?![\w.])")
_SUMMED_UP = frozenset({"summary", "partitions"})
_OFTEN = 3  # pages: a version that is named on fewer may be that of a program
_MOST = 4  # lines of a summary that are kept; of more, the picture says it better


class Said(msgspec.Struct, frozen=True):
    """A figure as a screen says it.

    at: milliseconds, when it came up; line: the whole line.
    measure: what it is a figure of, with its quantity; None where the line stands for itself.
    """

    at: int
    line: str
    measure: tuple[str, str] | None = None


def figures_on(pages: Sequence[Page], kind: str, waiting: bool, regions: StaticRegions) -> tuple[Said, ...]:
    """What the pages of one screen say, each only when it first comes up."""
    if waiting:
        return tuple(_first(_remaining(pages, regions)))
    if kind == "updates":
        return tuple(_first(_updates(pages, regions)))
    if kind in _SUMMED_UP:
        return tuple(_first(_sizes(pages, regions)))[:_MOST]
    return ()


def _lines(pages: Sequence[Page], regions: StaticRegions) -> Iterator[tuple[Page, Text]]:
    return ((page, text) for page in pages for text in regions.own(page) if not text.button)


def _remaining(pages: Sequence[Page], regions: StaticRegions) -> Iterator[Said]:
    """How long the machine expects to take, when it first says so: later it only counts down."""
    words = screen_words().remaining
    found = (
        Said(page.start, text.text)
        for page, text in _lines(pages, regions)
        if _COUNT.search(text.text) and any(word in plain(text.text) for word in words)
    )
    if (first := next(found, None)) is not None:
        yield first


def _updates(pages: Sequence[Page], regions: StaticRegions) -> Iterator[Said]:
    words = screen_words()
    for page, text in _lines(pages, regions):
        said = plain(text.text)
        for match in _COUNT.finditer(text.text):
            if any(plain(text.text[match.end() :]).startswith(word) for word in words.packages):
                yield Said(page.start, text.text, ("updates", match[1]))
        sizes = _SIZE.findall(text.text)
        if len(sizes) == 1 and any(word in said for word in words.download):
            yield Said(page.start, text.text, ("update download", " ".join(sizes[0])))


def _sizes(pages: Sequence[Page], regions: StaticRegions) -> Iterator[Said]:
    return (Said(page.start, text.text) for page, text in _lines(pages, regions) if _SIZE.search(text.text))


def _first(found: Iterable[Said]) -> Iterator[Said]:
    known: set[object] = set()
    for said in found:
        key = said.measure[0] if said.measure else said.line
        if key not in known:
            known.add(key)
            yield said


def versions_on(pages: Sequence[Page]) -> list[str]:
    """Lines with a version number that stand on several pages, the most frequent first: banners name the release."""
    counts: dict[str, int] = {}
    for page in pages:
        for line in {text.text for text in page.said if _VERSION.search(text.text)}:
            counts[line] = counts.get(line, 0) + 1
    return sorted((line for line, count in counts.items() if count >= _OFTEN), key=lambda line: -counts[line])
