"""Goes through a source, keeps what was found as it goes, and goes on where it stopped."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path

import msgspec

from metrograph.core.errors import UNDECODABLE, MetrographError
from metrograph.log.lexicon import Lexicon
from metrograph.store.local.files import read_own
from metrograph.watch.drafts.looks import Looks, recognised
from metrograph.watch.drafts.proposals import UNKNOWN, sure_of
from metrograph.watch.drafts.seen import Seen, SeenChoice, SeenSpan
from metrograph.watch.pages.page import Page
from metrograph.watch.pages.page_gate import PRIVATE_KINDS, PageGate
from metrograph.watch.pages.pictures import picture_of
from metrograph.watch.pages.watching import FoundPage
from metrograph.watch.screens.page_groups import SHORTEST, titles_on
from metrograph.watch.screens.spans import GrowingSpans, Span
from metrograph.watch.screens.static_regions import StaticRegions

_PAGES = "pages.jsonl"


class KeptPage(msgspec.Struct, frozen=True):
    """A page as it is kept: what has passed the gate.

    blanked: whether all but titles, labels and buttons was held back; learnt: whether something was typed on it.
    """

    page: Page
    blanked: bool = False
    learnt: bool = False


class Scan:
    """A source as far as it was gone through.

    looks: what a person has confirmed before.
    folder: where pages and pictures are kept from call to call; None to keep pages in memory only, and no pictures.
    """

    def __init__(
        self, lexicon: Lexicon, folder: Path | None = None, pictures: bool = True, looks: Looks | None = None
    ) -> None:
        self._lexicon, self._folder, self._pictures = lexicon, folder, pictures
        self._looks, self._gate = looks or Looks(), PageGate(lexicon)
        self._found = GrowingSpans(lexicon)
        self._blanked: set[int] = set()
        self.pages: list[Page] = []
        self.end = 0
        self.ended = False
        if folder is not None:
            folder.mkdir(parents=True, exist_ok=True)
            self._go_on(folder)

    def _go_on(self, folder: Path) -> None:
        """Takes what was found before; a line that was cut off is taken away, so that what follows stands by itself.

        From where something was typed on, the source is read again: what that was is kept nowhere.
        """
        whole = 0
        for kept, line in _kept_lines(folder):
            if kept.learnt:
                break
            self._take(kept)
            whole += len(line)
        with suppress(FileNotFoundError):
            os.truncate(folder / _PAGES, whole)

    @property
    def since(self) -> int:
        """Up to where it was gone through before, in milliseconds."""
        return self.pages[-1].at if self.pages else 0

    @property
    def stands(self) -> bool:
        """Whether the page in front has been there for as long as a screen is."""
        return bool(self.pages) and self.end - self.pages[-1].start >= SHORTEST

    def take(self, pages: Iterable[FoundPage]) -> Iterator[Page]:
        """Every page that was found, without what is private, kept before it is given."""
        for found in pages:
            read = msgspec.structs.replace(found.page, number=len(self.pages))
            titles = [title.text for title in titles_on(read, self._lexicon, StaticRegions())]
            page, blanking, learnt = self._gate.passed(read, titles)
            if self._pictures and self._folder is not None and found.still is not None and blanking and page.said:
                with suppress(OSError):  # a picture that cannot be kept is no reason to lose the rest
                    picture = picture_of(found.still.colour, blanking)
                    (self._folder / f"{page.number}.webp").write_bytes(picture)
            self._write(KeptPage(page, blanking is None or blanking.all_but, learnt))
            yield page

    def spans(self, goes_on: bool = False) -> list[Span]:
        """The screens and waits on all pages that have come so far. goes_on: whether more is to come soon."""
        return recognised(self._found.spans(self.pages, self.end, goes_on), self.pages, self._looks)

    def picture(self, span: Span) -> Path | None:
        """The picture of a span; None where none was to be kept, or what is personal on it could not be bounded."""
        if self._folder is None or (span.kind in PRIVATE_KINDS and span.page not in self._blanked):
            return None
        path = self._folder / f"{span.page}.webp"
        return path if path.exists() else None

    def _take(self, kept: KeptPage) -> None:
        self.pages.append(kept.page)
        self.end = max(self.end, kept.page.at)
        if kept.blanked:
            self._blanked.add(kept.page.number)

    def _write(self, kept: KeptPage) -> None:
        if self._folder is not None:
            with (self._folder / _PAGES).open("ab") as file:
                file.write(msgspec.json.encode(kept) + b"\n")
        self._take(kept)


def read_kept(folder: Path) -> Iterator[KeptPage]:
    """The pages of a folder that can be read; the last may have been cut off."""
    return (kept for kept, _ in _kept_lines(folder))


def _kept_lines(folder: Path) -> Iterator[tuple[KeptPage, bytes]]:
    with suppress(MetrographError):
        for number, line in enumerate(read_own(folder / _PAGES, "kept pages").splitlines(keepends=True)):
            try:
                kept = msgspec.json.decode(line, type=KeptPage)
            except UNDECODABLE:
                return
            if not line.endswith(b"\n"):
                return
            yield msgspec.structs.replace(kept, page=msgspec.structs.replace(kept.page, number=number)), line


def seen_of(source: str, spans: list[Span], end: int, lexicon: Lexicon) -> Seen:
    """The document of some spans.

    end: of the source, in milliseconds; lexicon: knows which screens ask who somebody is.
    """
    found = tuple(_seen(span, span.kind if lexicon.asks_who(span.kind) else "") for span in spans)
    return Seen(source, end / 1000, round(sum(span.end - span.start for span in found if span.waiting), 3), found)


def _seen(span: Span, asks_who: str) -> SeenSpan:
    sure = sure_of(span)
    choices = tuple(SeenChoice(pick.value, pick.was, pick.sure, pick.offered, asks_who) for pick in span.choices)
    known = bool(span.title) and sure >= UNKNOWN
    return SeenSpan(
        span.start / 1000, span.end / 1000, span.waiting, span.title if known else "", span.kind, sure,
        span.returns and known, span.error, span.dialog, span.question, span.name if known else "",
        sure if known else 0.0, span.trouble, choices,
    )  # fmt: skip
