"""A draft under review: what a person decides about each proposal, kept at once, and the run that comes of it."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.bodies import any_terms
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.lexicon import is_untitled
from metrograph.log.reader import read_log_bytes
from metrograph.store.clock import Instant, When
from metrograph.store.local.drafts import drop_draft, folder_of, read_draft, write_draft
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook
from metrograph.watch.drafts import confirming
from metrograph.watch.drafts.confirming import is_confirmed
from metrograph.watch.drafts.heard_proposals import is_only_heard, of_another
from metrograph.watch.drafts.listener_habits import Decision, keep_decision, kind_of
from metrograph.watch.drafts.looks import keep_looks, load_looks, look_of
from metrograph.watch.drafts.proposals import PAGE
from metrograph.watch.drafts.scanning import read_kept
from metrograph.watch.drafts.seen import SURE
from metrograph.watch.pages.page import Page


class PlacedWords(msgspec.Struct, frozen=True):
    """Words of a page. across, down: where they begin, as parts of its size; button: whether they are one."""

    across: float
    down: float
    text: str
    button: bool = False


class WordsInFront(msgspec.Struct, frozen=True):
    """The words of a page, from top to bottom. number: of the page."""

    number: int
    words: tuple[PlacedWords, ...]


def _is_as(cue: Cue, was: Cue) -> bool:
    """Whether a decision leaves a proposal what it was heard as."""
    return kind_of(cue) == kind_of(was) and not of_another(cue)


class Review:
    """One draft."""

    def __init__(self, book: Logbook, name: str) -> None:
        """Raises MetrographError when there is no such draft, or it cannot be read."""
        self.book, self.name = book, name
        log = read_draft(book, name)
        self.header: Header = log.header
        self.cues: list[Cue] = log.by_time()
        self.lexicon = book.settings().lexicon
        self._before: list[tuple[list[Cue], Decision | None]] = []

    # -- deciding ------------------------------------------------------------------------------------------------------

    def decide(self, place: int, cue: Cue | None) -> None:
        """Puts what a person decided in the place of a proposal; None takes it away, so that the one before goes on."""
        was = self.cues[place]
        heard = is_only_heard(was) and not is_confirmed(was)
        decision = Decision(kind_of(was), confirming.sure(was), cue is not None and _is_as(cue, was)) if heard else None
        self._before.append((list(self.cues), decision))
        self.cues[place : place + 1] = [] if cue is None else [cue]
        self._save()
        if decision is not None:
            keep_decision(self.book, decision)

    def undo(self) -> bool:
        """Takes the last decision back; whether there was one."""
        if not self._before:
            return False
        self.cues, decision = self._before.pop()
        self._save()
        if decision is not None:
            keep_decision(self.book, msgspec.structs.replace(decision, counts=-decision.counts))
        return True

    def _save(self) -> None:
        write_draft(self.book, self.name, self.header, tuple(self.cues))

    # -- what is there -------------------------------------------------------------------------------------------------

    @property
    def titles(self) -> list[str]:
        """Titles of this draft, and of screens that were confirmed before."""
        confirmed = {look.title for look in load_looks(self.book) if look.title}
        return sorted(confirmed | {cue.text for cue in self.cues if cue.verb == "screen"})

    def picture(self, cue: Cue) -> Path | None:
        """The picture that a proposal rests on, or what was in front when it was said; None where none was kept."""
        seen = cue.field("seen") or (self._in_front(cue.at) if is_only_heard(cue) else None)
        path = None if seen is None else (self.book.path / seen).resolve()
        # What a draft says may come from anywhere: nothing outside the logbook's pictures is opened.
        if path is None or path.parent != (self.book.path / "shots").resolve() or not path.is_file():
            return None
        return path

    def _in_front(self, at: int) -> str | None:
        """The picture of the screen that was in front at a moment."""
        seen = [(cue.at, cue.field("seen")) for cue in self.cues if cue.verb == "screen"]
        return max(((when, path) for when, path in [*seen, *self._shots] if path and when <= at), default=(0, None))[1]

    @cached_property
    def _shots(self) -> list[tuple[int, str | None]]:
        """The pictures that the run has already, with their moments."""
        if not self.book.has(self.name):
            return []
        log, _ = read_log_bytes(self.book.read(self.name), self.name, any_terms)
        return [(cue.at, cue.text) for cue in log.cues if cue.verb == "shot"]

    def recording(self, given: Path | None) -> Path | None:
        """The recording that a draft is of: as it was given, or by its name here or in the logbook; None elsewhere."""
        if given is not None:
            return given
        # A draft says a name, and what it says may come from anywhere: no path of it is followed.
        name = Path(self.header.other("source") or "").name
        folders = (Path.cwd(), self.book.path, self.book.path / "recordings")
        return next((each / name for each in folders if name and (each / name).is_file()), None)

    def words_in_front(self, cue: Cue) -> WordsInFront | None:
        """The words of the page that a proposal rests on, or that was in front when it was said; None without any."""
        page = self._page(cue)
        if page is None:
            return None
        width, height = max(page.size[0], 1), max(page.size[1], 1)
        return WordsInFront(
            page.number,
            tuple(
                PlacedWords(each.left / width, each.top / height, each.text, bool(each.button)) for each in page.said
            ),
        )

    def _page(self, cue: Cue) -> Page | None:
        page = self._pages.get(cue.field(PAGE) or "")
        if page is None and is_only_heard(cue):
            before = [each for each in self._pages.values() if each.start <= cue.at and each.said]
            page = max(before, key=lambda each: each.start, default=None)
        return page

    def lines(self, cue: Cue) -> list[str]:
        """What was read on the page that a screen was proposed from; a small picture cannot show it."""
        page = self._pages.get(cue.field(PAGE) or "")
        return [] if page is None else [text.text for text in page.said if text.text != cue.text]

    def open(self, bound: float = SURE) -> int:
        """How many proposals are less sure than that, and worth to be looked at."""
        return sum(confirming.is_asked(cue) and confirming.sure(cue) < bound for cue in self.cues)

    def unasked(self) -> int:
        """How many proposals nobody is asked about: hardly heard, or of another release."""
        return sum(map(confirming.is_unasked, self.cues))

    # -- writing -------------------------------------------------------------------------------------------------------

    def finish(self, bound: float, present: Instant) -> tuple[int, int]:
        """Makes a run of what is at least so sure; how many cues it got, and how many proposals stay in the draft.

        Raises MetrographError when none is, or a cue is refused; the draft stays as it is then.
        """
        taken, left = confirming.accepted(self.cues, bound)
        if not taken:
            raise MetrographError(f"no proposal of {self.name} is sure to {bound:g}; nothing was written")
        cues = confirming.as_run(taken, self._checksums(taken))
        if self.book.has(self.name):
            self._add_to_run(cues, When(present, given=True))
        else:
            cues = sorted([*cues, *confirming.standing_in(left, self.lexicon)], key=lambda cue: cue.at)
            others = tuple(pair for pair in self.header.others if pair[0] != "scan")
            header = Header(self.header.release, self.header.rig, self.header.begun, others)
            self.book.add(self.name, Log(self.name, header, tuple(cues)))
        self._remember(taken)
        if left:
            write_draft(self.book, self.name, self.header, tuple(left))
        else:
            drop_draft(self.book, self.name)
        return len(cues), len(left)

    def _add_to_run(self, cues: list[Cue], when: When) -> None:
        """Adds what was decided later; a screen that stood in for one of them gives it its place."""
        untitled = {
            cue.at
            for cue in read_log_bytes(self.book.read(self.name), self.name, any_terms)[0].cues
            if cue.verb == "screen" and is_untitled(cue.text)
        }
        for cue in cues:
            if cue.verb == "screen" and cue.at in untitled:
                # Lines move with every change, so that each is looked for anew.
                self.book.change(self.name, self._line(cue.at), cue, None)
        rest = [cue for cue in cues if not (cue.verb == "screen" and cue.at in untitled)]
        self.book.append(self.name, rest, when, only_new=True)

    def _line(self, at: int) -> int:
        log, _ = read_log_bytes(self.book.read(self.name), self.name, any_terms)
        return next(cue.line for cue in log.cues if cue.at == at and is_untitled(cue.text))

    def _checksums(self, cues: list[Cue]) -> dict[str, str]:
        import hashlib

        paths = {cue.field("seen"): self.picture(cue) for cue in cues if cue.field("seen")}
        return {
            seen: hashlib.sha256(read_bytes(path, "picture")).hexdigest()
            for seen, path in paths.items()
            if seen and path
        }

    def _remember(self, cues: list[Cue]) -> None:
        """Keeps how the screens looked, for the next recording of this installer."""
        pages = self._pages
        shown = [(cue, pages.get(cue.field(PAGE) or "")) for cue in cues if cue.verb == "screen"]
        keep_looks(
            self.book,
            [
                look_of(page, cue.text, cue.field("kind") or self.lexicon.kind_of(cue.text))
                for cue, page in shown
                if page is not None and not is_untitled(cue.text)
            ],
        )

    @cached_property
    def _pages(self) -> dict[str, Page]:
        key = self.header.other("scan")
        if key is None or not key.isalnum():
            return {}
        return {str(kept.page.number): kept.page for kept in read_kept(folder_of(self.book, key))}
