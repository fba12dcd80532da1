"""Remembers how confirmed screens looked, so that the next installer of the same look is known by its own words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from contextlib import suppress

import msgspec
from rapidfuzz import fuzz

from metrograph.core.errors import UNDECODABLE
from metrograph.store.local.drafts import add_look_lines, look_lines
from metrograph.store.local.logbook import Logbook
from metrograph.watch.pages.page import Page
from metrograph.watch.pages.sameness import says_the_same
from metrograph.watch.reading.words import plain
from metrograph.watch.screens.spans import Span

_NEAR = 0.02  # of the height: a line of the same look moves by less
_COMMON = 0.5  # of all looks: a line on more of them surrounds the screens, and tells none from another
_KNOWN = 0.5  # of what is a look's own: so much has to be there
_AHEAD = 0.1  # by so much the best has to be ahead of the next with another title
_MISREAD = 60  # of 100: a line that says about as much of a title is the title, badly read
_LINES = 40  # lines of a look that are kept: a list of all countries is not needed
_SURE = 0.98
"""How sure the title of a look is that a person has confirmed."""


class LookLine(msgspec.Struct, frozen=True):
    """A line of a look. across, down: where it begins, as parts of width and height."""

    across: float
    down: float
    text: str


class Look(msgspec.Struct, frozen=True):
    """A screen as it looked when a person confirmed it.

    title: empty where the person said that it was no screen.
    titled: which of its marks says the title, well read or not; None where none does.
    """

    title: str
    kind: str
    marks: tuple[LookLine, ...]
    titled: int | None = None


def look_of(page: Page, title: str, kind: str) -> Look:
    """The look of a page, to be known again."""
    width, height = page.size
    marks = [
        LookLine(round(text.left / width, 3), round(text.top / height, 3), text.text) for text in page.said[:_LINES]
    ]
    said = [fuzz.ratio(plain(title), plain(mark.text)) for mark in marks]
    titled = max(range(len(marks)), key=said.__getitem__, default=None) if title else None
    return Look(title, kind, tuple(marks), titled if titled is not None and said[titled] >= _MISREAD else None)


class Looks:
    """All looks that a logbook knows."""

    def __init__(self, looks: Sequence[Look] = ()) -> None:
        self._looks = looks
        often = Counter(key for look in looks for key in {_key(mark) for mark in look.marks})
        many = _COMMON * len({look.title for look in looks})
        self._common = {key for key, count in often.items() if count > max(many, 2)}
        self._found: dict[Page, Look | None] = {}

    def known(self, page: Page) -> Look | None:
        """The look that a page has; None where none is alike, or two are."""
        if self._looks and page not in self._found:
            self._found[page] = self._like(page)
        return self._found.get(page)

    def _like(self, page: Page) -> Look | None:
        marks = look_of(page, "", "").marks
        ranked = sorted(((self._alike(look, marks), look) for look in self._looks), key=lambda pair: -pair[0])
        if not ranked or ranked[0][0] < _KNOWN:
            return None
        other = next((alike for alike, look in ranked if look.title != ranked[0][1].title), 0.0)
        return ranked[0][1] if ranked[0][0] - other >= _AHEAD else None

    def _alike(self, look: Look, marks: Sequence[LookLine]) -> float:
        # A screen that was renamed looks like what it was; its old title would be a lie.
        if look.titled is not None and not any(_same(look.marks[look.titled], other) for other in marks):
            return 0.0
        own = [mark for mark in look.marks if _key(mark) not in self._common]
        there = [mark for mark in marks if _key(mark) not in self._common]
        if not own or not there:
            return 0.0
        found = sum(any(_same(mark, other) for other in there) for mark in own)
        return found / max(min(len(own), len(there)), 2)


def recognised(spans: Sequence[Span], pages: Sequence[Page], looks: Looks) -> list[Span]:
    """The spans, with titles and kinds of looks that are known; neighbours that turn out to be one screen are one."""
    found: list[Span] = []
    for span in spans:
        # What lies under a dialog is still to be seen, so that the page of a dialog looks like that of its screen.
        look = None if span.dialog or (span.waiting and not span.title) else looks.known(pages[span.page])
        if look is not None:
            span = _as_known(span, look)  # noqa: PLW2901 - it is the same span, better known
        before = found[-1] if found else None
        if before and look and before.name == span.name and before.end >= span.start and before.dialog == span.dialog:
            found[-1] = msgspec.structs.replace(before, end=span.end, error=before.error or span.error)
        else:
            found.append(span)
    return found


def _as_known(span: Span, look: Look) -> Span:
    waiting = span.waiting or not look.title
    return msgspec.structs.replace(span, title=look.title, shared=False, kind=look.kind, waiting=waiting, known=_SURE)


def _key(mark: LookLine) -> tuple[float, str]:
    return round(mark.down / _NEAR), plain(mark.text)


def _same(mark: LookLine, other: LookLine) -> bool:
    near = abs(mark.down - other.down) <= _NEAR and abs(mark.across - other.across) <= _NEAR
    return near and says_the_same(mark.text, other.text)


def load_looks(book: Logbook) -> list[Look]:
    """The looks that a logbook knows; a line that cannot be read is left out, as each stands for itself."""
    looks = []
    for line in look_lines(book):
        with suppress(*UNDECODABLE):
            looks.append(msgspec.json.decode(line, type=Look))
    return looks


def keep_looks(book: Logbook, looks: Iterable[Look]) -> None:
    """Adds looks to those that a logbook knows."""
    add_look_lines(book, map(msgspec.json.encode, looks))
