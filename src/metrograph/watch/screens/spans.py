"""From pages to spans: the screens of a source, each with its times, title, kind, and what is special about it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import msgspec

from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.watch.pages.one_size import in_one_size
from metrograph.watch.pages.page import Page, SkippedTime
from metrograph.watch.pages.sameness import same_title, says_the_same
from metrograph.watch.reading.words import tells_of_trouble
from metrograph.watch.screens.choices import Picked, picked_on
from metrograph.watch.screens.dialogs import at_work
from metrograph.watch.screens.jumps import with_jumps
from metrograph.watch.screens.page_groups import Grouping, PageGroup, joined, screens_of, turned
from metrograph.watch.screens.page_kinds import kind_by_words, kind_of, stands_alone
from metrograph.watch.screens.questions import ASKS, question_of, said_below, same_question
from metrograph.watch.screens.screen_figures import Said, figures_on
from metrograph.watch.screens.static_regions import StaticRegions
from metrograph.watch.screens.stretches import Stretches

_ALONE = {"desktop": "Desktop", "greeter": "Login"}
"""What is called by what it is: nobody would take a user's name or an icon for its title."""
_ALONE_POINTS = 1.5
_GROWN = 1.2  # times its pages: what is constant changes little when a source has grown by less
_NO_ANSWER = frozenset({"summary", "partitions", "copying", "warning", "desktop", "greeter"})
"""Kinds of screens that show what was answered or is done: a marked line on them is no answer."""


class Span(msgspec.Struct, frozen=True):
    """A screen, or a wait, as it was seen.

    start, end: milliseconds; waiting: whether the machine was at work.
    title: its heading, empty where unknown; question: what is asked below it; kind: what it is for.
    below: what is asked, or the first sentence where nothing is.
    shared: whether its heading stands over several questions, so that both together are its name.
    pressed: whether there was a button on it.
    points, margin: how much speaks for the title, and how much more than for the next line.
    read: how sure the reading of the title is, 0 to 1.
    returns: whether it was in front before; dialog: whether it lay over another.
    error: whether trouble was told on it; trouble, trouble_at: in which words, and when they came up.
    page: number of the page that shows it best; gap: what is missing before it, None where nothing is.
    console: whether a machine was seen to start; choices: what seems to be picked on it; figures: what it says in them.
    known: how sure a title is that a person has confirmed before; None where it was not.
    """

    start: int
    end: int
    title: str
    kind: str
    question: str = ""
    below: str = ""
    shared: bool = False
    waiting: bool = False
    returns: bool = False
    error: bool = False
    trouble: str = ""
    trouble_at: int = 0
    dialog: bool = False
    pressed: bool = True
    points: float = 0.0
    margin: float = 0.0
    read: float = 0.0
    page: int = 0
    gap: SkippedTime | None = None
    console: bool = False
    choices: tuple[Picked, ...] = ()
    figures: tuple[Said, ...] = ()
    known: float | None = None

    @property
    def name(self) -> str:
        """How it is called: by its heading, or where that is not its own, by heading and question."""
        return f"{self.title}: {self.question.rstrip(' :：')}" if self.shared and self.question else self.title


def find_spans(pages: Sequence[Page], lexicon: Lexicon, end: int | None = None) -> list[Span]:
    """The spans of a source, in the order in which they came up.

    end: where the source ended, in milliseconds; where the last page was read when it is not known.
    """
    return GrowingSpans(lexicon).spans(pages, end)


class GrowingSpans:
    """The spans of a source that may go on.

    It is gone through several times: what is constant on all screens is known only at the end. While it goes on, that
    is worked out anew when it has grown by a part, so that a new page costs the same after an hour as after a minute.
    """

    def __init__(self, lexicon: Lexicon) -> None:
        self._lexicon = lexicon
        self._pages: list[Page] = []
        self._settled = 0
        self._stretches, self._regions = Stretches(), StaticRegions()
        self._grouping = Grouping(lexicon, self._regions)

    def spans(self, pages: Sequence[Page], end: int | None = None, goes_on: bool = False) -> list[Span]:
        """The spans on all pages that have come, in order.

        end: where the source is, in milliseconds; where the last page was read when it is not known.
        goes_on: whether more is to come, so that it need not be exact yet.
        """
        if not pages:
            return []
        pages = with_jumps(in_one_size(pages))
        known = len(self._pages)
        if not goes_on or len(pages) > _GROWN * self._settled or pages[:known] != self._pages:
            self._settle(pages)
        else:
            self._stretches.take(pages[known:])
            self._grouping.take(pages[known:])
        self._pages = pages
        end = pages[-1].at if end is None else max(end, pages[-1].at)
        return _spans(joined(self._grouping.ended(end), self._regions), end, self._lexicon, self._regions)

    def _settle(self, pages: Sequence[Page]) -> None:
        """Works out what surrounds the screens of all pages, and these by it."""
        self._settled = len(pages)
        self._stretches = Stretches(pages)
        regions = StaticRegions(turned(pages), self._stretches)
        for _ in range(2):
            screens = screens_of(Grouping(self._lexicon, regions).take(pages).groups)
            regions = StaticRegions(screens, self._stretches)
        self._regions = regions
        self._grouping = Grouping(self._lexicon, regions).take(pages)


def _spans(groups: Sequence[PageGroup], end: int, lexicon: Lexicon, regions: StaticRegions) -> list[Span]:
    found: list[Span] = []
    for number, group in enumerate(groups):
        after = groups[number + 1].pages[0].start if number + 1 < len(groups) else end
        until = group.until if group.dialog or any(other.is_over(group) for other in groups) else after
        span = _span(group, max(until, group.pages[0].start), lexicon, regions)
        goes_on = bool(span.gap and found) and _is_again(span, found[-1])
        returns = bool(span.title) and not goes_on and any(_is_again(span, other) for other in found)
        found.append(msgspec.structs.replace(span, returns=returns and not span.dialog))
    return _named_apart(_seen_again(found), lexicon)


def _named_apart(spans: list[Span], lexicon: Lexicon) -> list[Span]:
    """Those whose heading stands over several questions, called by both; the question tells what each is for."""
    asked: dict[int, list[str]] = {}
    for number, span in enumerate(spans):
        if span.title and not span.dialog and not span.waiting:
            asked[number] = [
                other.question for other in spans if same_title(other.title, span.title) and other.question
            ]
    return [
        msgspec.structs.replace(span, shared=True, kind=_kind_of_shared(span, lexicon))
        if span.question and any(not same_question(span.question, other) for other in asked.get(number, ()))
        else span
        for number, span in enumerate(spans)
    ]


def _kind_of_shared(span: Span, lexicon: Lexicon) -> str:
    """What one of several screens under a heading is for: its question tells, where that says anything."""
    kind = kind_by_words((span.question,), lexicon)
    return span.kind if kind == OTHER else kind


def _seen_again(spans: list[Span]) -> list[Span]:
    """What was read better at one of several times is as sure at the others."""
    best: dict[str, Span] = {}
    for span in spans:
        if span.title and (
            span.title not in best or best[span.title].points + best[span.title].margin < span.points + span.margin
        ):
            best[span.title] = span
    return [
        msgspec.structs.replace(
            span, points=best[span.title].points, margin=best[span.title].margin, read=best[span.title].read
        )
        if span.title
        else span
        for span in spans
    ]


def _is_again(span: Span, other: Span) -> bool:
    """Whether a screen was in front before: one heading may stand over several questions."""
    if other.dialog or not same_title(span.title, other.title) or span.waiting != other.waiting:
        return False
    return not span.below or not other.below or same_question(span.below, other.below)


class _Called(NamedTuple):
    """What a screen is called, and what speaks for that: as in ``Span``."""

    title: str
    question: str
    below: str
    points: float
    margin: float
    read: float


def _span(group: PageGroup, end: int, lexicon: Lexicon, regions: StaticRegions) -> Span:
    called, page = _called(group, lexicon, regions)
    trouble, trouble_at = _trouble(group, called.title)
    alone = "" if group.silent or group.dialog else stands_alone(page, lexicon)
    busy = sum(at_work(page, regions) for page in group.pages) * 2 > len(group.pages)
    waiting = group.silent or (busy and not alone)
    if alone:
        called = called._replace(title=_ALONE[alone], question="", points=_ALONE_POINTS, margin=_ALONE_POINTS, read=1.0)
    kind = alone or kind_of(called.title, called.question, regions.own(page), lexicon, called.below)
    answers = not (waiting or group.dialog or kind in _NO_ANSWER)
    named = (called.title, called.question)
    return Span(
        group.pages[0].start, end, called.title, kind, called.question, called.below,
        waiting=waiting and not group.dialog,
        error=bool(trouble), trouble=trouble, trouble_at=trouble_at, dialog=bool(group.dialog),
        pressed=_pressed(group),
        points=called.points,
        margin=called.margin,
        read=called.read,
        page=page.number,
        gap=group.pages[0].gap,
        console=any(page.console for page in group.pages),
        choices=picked_on(group.pages[0], group.last, regions, named) if answers else (),
        figures=() if group.dialog else figures_on(group.pages, kind, waiting, regions),
    )  # fmt: skip


def _called(group: PageGroup, lexicon: Lexicon, regions: StaticRegions) -> tuple[_Called, Page]:
    """What a screen is called by its words, and the page that shows these best."""
    best = group.best()
    title, points, read = best[0] if best else ("", 0.0, 0.0)
    page = max(group.pages, key=lambda page: (any(text.text == title for text in page.said), len(page.said)))
    own = regions.own(page)
    place = next((text for text in page.said if text.text == title), None)
    heading = place if place in own else None
    question = question_of(own, heading)
    if not _pressed(group) and lexicon.kind_of(title) == OTHER and not question.endswith(ASKS):
        question = ""  # words of a page on which nothing can be pressed ask nothing
    margin = points - (best[1][1] if len(best) > 1 else 0.0)
    return _Called(title, question, said_below(own, heading), points, margin, read), page


def _pressed(group: PageGroup) -> bool:
    """Whether there was a button on a screen."""
    return any(page.asks or any(text.button for text in page.said) for page in group.pages)


def _trouble(group: PageGroup, title: str) -> tuple[str, int]:
    """The line that tells of trouble, and when it came: in a dialog or a title, or while the screen was in front."""
    start = group.pages[0].start
    if group.dialog:
        return next((text.text for text in group.dialog if tells_of_trouble(text.text)), ""), start
    if tells_of_trouble(title):
        return title, start
    first = group.pages[0].said
    for page in group.pages[1:]:
        for text in page.said:
            if tells_of_trouble(text.text) and not any(says_the_same(text.text, other.text) for other in first):
                return text.text, page.start
    return "", 0
