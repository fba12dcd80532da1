"""Finds where a film goes on at another moment though its own times run on: its clock or its progress jumps."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise
from statistics import median

import msgspec

from metrograph.watch.pages.page import Page, SkippedTime, Text

_CLOCK = re.compile(r"(?:[^\W\d]+\.? ?)?([01]?\d|2[0-3])[:.]([0-5]\d)(?:[:.][0-5]\d)?(?: ?[AaPp][Mm])?")
_EDGE = 0.08  # of the height: a clock that is the machine's own stands at the top or the bottom
_MINUTE = 60_000  # milliseconds
_DAY = 12 * 60  # minutes: half a day, as clocks may not say which half
_AGREE = 2  # pages before and after a jump whose clocks have to agree, so that no misread digit is one
_LEAST = 2 * _MINUTE  # a clock that shows minutes is right within one
_ZONE = 30  # minutes: a clock that moves by a multiple of this was set to another zone
_PERCENT = re.compile(r"(?<![\d.,])(\d{1,3}) ?%")
_SHARE = 30  # points: so much of a progress that is gone at once
_AT_ONCE = 3000  # milliseconds between the two pages
_PLACE = 8  # pixels: where a line stands that is the same one
_CLOCK_SURE, _PROGRESS_SURE = 0.8, 0.4  # progress may really jump: how much a step counts is the installer's guess


def with_jumps(pages: Sequence[Page]) -> list[Page]:
    """The pages, with a gap before each at which something of the film seems to be cut out."""
    gaps = _by_progress(pages) | _by_clock(pages)
    return [
        msgspec.structs.replace(page, gap=gaps[number]) if number in gaps and not page.gap else page
        for number, page in enumerate(pages)
    ]


def _by_clock(pages: Sequence[Page]) -> dict[int, SkippedTime]:
    """Where the machine's clock went on by more than the film did; so much is missing, give or take a minute."""
    shown = [(number, offset) for number, page in enumerate(pages) if (offset := _ahead(page)) is not None]
    found: dict[int, SkippedTime] = {}
    for place in range(_AGREE, len(shown) - _AGREE + 1):
        before = [offset for _, offset in shown[place - _AGREE : place]]
        after = [offset for _, offset in shown[place : place + _AGREE]]
        if max(before) - min(before) > _MINUTE or max(after) - min(after) > _MINUTE:
            continue
        missing = round(median(after) - median(before)) % (_DAY * _MINUTE)
        minutes = round(missing / _MINUTE)
        zone = minutes % _ZONE in {0, 1, _ZONE - 1}
        if _LEAST <= missing < _DAY * _MINUTE / 2 and not zone:
            found[shown[place][0]] = SkippedTime(missing, _MINUTE, _CLOCK_SURE)
    return found


def _ahead(page: Page) -> int | None:
    """By how many milliseconds the clock on a page is ahead of the film; None where it shows none, or several."""
    height = page.size[1]
    clocks = [
        match
        for text in page.said
        if (text.bottom <= _EDGE * height or text.top >= (1 - _EDGE) * height)
        and (match := _CLOCK.fullmatch(text.text.strip()))
    ]
    if len(clocks) != 1:
        return None
    return ((int(clocks[0][1]) % 12) * 60 + int(clocks[0][2])) * _MINUTE - page.start


def _by_progress(pages: Sequence[Page]) -> dict[int, SkippedTime]:
    """Where a percentage that had crept jumps; nobody knows how much is missing."""
    found: dict[int, SkippedTime] = {}
    crept = False
    for number, (before, page) in enumerate(pairwise(pages), 1):
        steps = [now - then for (then, now) in _percentages(before, page)]
        if len(steps) == 1 and crept and steps[0] >= _SHARE and page.start - before.at <= _AT_ONCE:
            found[number] = SkippedTime(None, 0, _PROGRESS_SURE)
        crept = len(steps) == 1 and 0 < steps[0] < _SHARE / 2
    return found


def _percentages(before: Page, page: Page) -> list[tuple[int, int]]:
    """The percentages that stand in one place on both pages."""
    return [
        (int(then[1]), int(now[1]))
        for old in before.said
        if (then := _PERCENT.search(old.text))
        for new in page.said
        if _same_place(old, new) and (now := _PERCENT.search(new.text))
    ]


def _same_place(one: Text, other: Text) -> bool:
    middles = abs(one.left + one.right - other.left - other.right) / 2
    return abs(one.top - other.top) <= _PLACE and min(middles, abs(one.left - other.left)) <= _PLACE
