"""The record taken from what is there already: recordings gone through, machines watched, drafts kept and confirmed."""

from __future__ import annotations

import signal
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime, timedelta
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.hearing.weighing import LEAST
from metrograph.intake.notes import TimedNote, read_notes
from metrograph.intake.source import Event
from metrograph.log.cues import Cue, Header
from metrograph.log.lexicon import load_lexicon
from metrograph.log.quantities.times import show_moment
from metrograph.log.writer import format_words
from metrograph.run.cards import Release
from metrograph.services.desk import Desk, Result, masked
from metrograph.services.preparing import rig_for
from metrograph.services.talks import Talk, can_hear, understand
from metrograph.show.report.lists import seen_report
from metrograph.show.safe import readable
from metrograph.store.clock import begin_time
from metrograph.store.local.card_files import load_card
from metrograph.store.local.checksums import keep_picture
from metrograph.store.local.drafts import (
    find_draft,
    open_draft,
    read_draft,
    scan_folder,
    scan_key,
    write_draft,
)
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook, shown_path
from metrograph.watch.drafts.both_senses import heard_events, joined
from metrograph.watch.drafts.confirming import as_run, is_asked, is_unasked, sure, was_decided
from metrograph.watch.drafts.heard_proposals import FAINT, words_of
from metrograph.watch.drafts.looks import Looks, load_looks
from metrograph.watch.drafts.machine_told import MachineTold
from metrograph.watch.drafts.proposals import Watched, said_at
from metrograph.watch.drafts.review import Review
from metrograph.watch.drafts.scanning import Scan, seen_of
from metrograph.watch.drafts.seen import SURE
from metrograph.watch.opening import Input, check_watch, is_there, open_recording
from metrograph.watch.screens.screen_figures import versions_on
from metrograph.watch.screens.spans import Span
from metrograph.words.figure_words import counted

_PAUSE = 0.5  # seconds between two times that everything is worked out anew
_SHARE = 4  # times as long as that takes: so much longer is waited, so that the rest of the time is there to read in


class Target(msgspec.Struct, frozen=True):
    """The release that a draft is for, and the rig it goes on, where there is not one only."""

    release: str
    rig: str | None = None


class SpokenPart(msgspec.Struct, frozen=True):
    """What was said while it was recorded: word for word, and what was understood of it."""

    notes: tuple[TimedNote, ...] = ()
    heard: tuple[Event, ...] = ()


class Drafting:
    """The draft of one source."""

    def __init__(self, book: Logbook, name: str, header: Header, said: SpokenPart, pictures: bool = True) -> None:
        self.book, self.name, self.header = book, name, header
        self._said, self._pictures = said, pictures
        self._last = self._took = 0.0
        self._proposed = 0  # pages that the draft was made of
        self.events: list[Event] = []
        self.told: MachineTold | None = None

    def hear(self, events: Sequence[Event]) -> None:
        """Takes what was said so far in the place of what was said before."""
        self._said = SpokenPart(self._said.notes, tuple(events))
        self._proposed = -1  # that there is more to propose is no matter of pages

    def propose(self, scan: Scan, last: bool = False) -> bool:
        """Writes the draft anew when something new was seen, and not too often. Whether it did."""
        # What has just come may be on its way to something else.
        stood = len(scan.pages) if scan.stands else max(len(scan.pages) - 1, 0)
        new = stood > self._proposed
        if not last and (not new or time.monotonic() - self._last < _PAUSE + _SHARE * self._took):
            return False
        self._proposed = stood
        began = time.monotonic()
        spans = scan.spans(goes_on=not last)
        lexicon = self.book.settings().lexicon
        watched = Watched(spans, lexicon, self.name, self._kept(scan, spans) if last else {}, scan.ended, self.told)
        seen = [*watched.events(), *said_at(self._said.notes, bool(self._said.heard))]
        self.events = joined(seen, self._said.heard, lexicon)
        write_draft(self.book, self.name, self.header, tuple(map(proposed, self.events)))
        self._last = time.monotonic()
        self._took = self._last - began
        return True

    def _kept(self, scan: Scan, spans: list[Span]) -> dict[int, str]:
        if not self._pictures:
            return {}
        paths = {span.page: scan.picture(span) for span in spans if span.title or not span.waiting}
        return {page: keep_picture(self.book, path).path for page, path in paths.items() if path is not None}

    def mismatch(self, scan: Scan) -> str | None:
        """What speaks against its being the release that was named: a banner that names another version of it."""
        card = load_card(self.book, Release, self.header.release)
        if not card.distribution or not card.version:
            return None
        named = [line for line in versions_on(scan.pages) if card.distribution.casefold() in line.casefold()]
        if not named or any(card.version.casefold() in line.casefold() for line in named):
            return None
        return f"the screens say “{readable(named[0])}”, and the draft is for {self.header.release} ({card.version})"

    def closing(self) -> str:
        """What is said when all was gone through."""
        cues = [proposed(event) for event in self.events]
        unsure = sum(is_asked(cue) and sure(cue) < SURE for cue in cues)
        unasked = sum(map(is_unasked, cues))
        hint = f"; {unsure} of them are unsure" if unsure else ""
        more = f"; l shows {unasked} more that may have been said" if unasked else ""
        return (
            f"{counted(len(cues) - unasked, 'cue')} proposed in drafts/{self.name}.metro{hint}."
            f" “metrograph confirm {self.name}” goes through them{more}"
        )

    def heard_in_words(self) -> str:
        """What was heard while it was recorded, in a sentence."""
        heard = [event for event in self.events if words_of(event.cue) and event.confidence >= LEAST]
        told = [format_words(as_run([event.cue], {})[0]) for event in heard if event.confidence >= SURE]
        which = f": {'; '.join(told[:_TOLD])}" if told else ""
        return f"heard in its captions: {counted(len(heard), 'statement')}, {len(told)} of them sure{which}"


_TOLD = 5  # statements that a sentence names


def proposed(event: Event) -> Cue:
    """A proposal as it stands in a draft."""
    fields = (*event.cue.fields, ("sure", f"{event.confidence:.2f}"))
    if event.evidence:
        fields += (("seen", event.evidence),)
    return Cue(event.at or 0, event.cue.verb, event.cue.name, event.cue.text, fields)


class Recorded(msgspec.Struct, frozen=True):
    """A recording that is to be gone through, and how.

    timing: what lies beside a file of ``script``; begun, captions: what is known of it; speech: the folder of a model
    that understands its sound, where there are no captions.
    pictures: whether they are kept.
    anew: from its beginning, whatever was found before.
    """

    path: Path
    timing: Path | None = None
    begun: str | None = None
    captions: Path | None = None
    pictures: bool = True
    anew: bool = False
    speech: Path | None = None


def open_drafting(desk: Desk, book: Logbook, target: Target, recorded: Recorded, length: int | None) -> Drafting:
    """The draft of a recording; raises MetrographError when a card is missing or the captions cannot be read.

    length: of the recording, in milliseconds; None where that is not known.
    """
    rig = rig_for(book, target.release, target.rig, desk.preferences().rig)
    source = recorded.path
    said = _said(desk, book, target, recorded)
    begun = _begun(desk, recorded.begun, source, length)
    header = Header(target.release, rig, begun, source_lines(source.name, scan_key(source)))
    taken = [run for run in book.run_names(target.release) if book.header(run).other("source") == source.name]
    if taken:
        desk.warn(f"{taken[-1]} was taken from a recording of this name already")
    name = open_draft(book, header)
    if book.has(name) or any(was_decided(cue) for cue in read_draft(book, name).cues):
        raise MetrographError(
            f"drafts/{name}.metro holds what you decided; “metrograph confirm {name}” goes on with it. Taken away, the"
            " recording can be proposed anew"
        )
    return Drafting(book, name, header, said, recorded.pictures)


def source_lines(source: str, key: str) -> tuple[tuple[str, str], ...]:
    """What a draft's header says of its source: what it is called, and under which key its pages lie."""
    return (("source", source), ("scan", key))


def _said(desk: Desk, book: Logbook, target: Target, recorded: Recorded) -> SpokenPart:
    """What was said in a recording, and what that states where it can be understood."""
    version = load_card(book, Release, target.release).version or ""
    if recorded.speech is not None:
        talk = Talk(recorded.path, speech=recorded.speech)
        return SpokenPart((), tuple(heard_events(understand(desk, book, talk, version, FAINT).pairs)))
    if recorded.captions is None:
        return SpokenPart()
    path = desk.folder / recorded.captions
    notes = read_notes(read_bytes(path, "captions"), shown_path(path))
    if not can_hear():
        return SpokenPart(tuple(notes))
    return SpokenPart(tuple(notes), tuple(heard_events(understand(desk, book, Talk(path), version, FAINT).pairs)))


def _begun(desk: Desk, begun: str | None, source: Path, length: int | None) -> datetime:
    """When it began: as it was said, or by the file's last change, less its length."""
    if begun is not None:
        return begin_time(desk.started(), begun)
    ended = datetime.fromtimestamp(source.stat().st_mtime).astimezone()
    return (ended - timedelta(milliseconds=length or 0)).replace(microsecond=0)


class Interruption:
    """Whether a person has interrupted."""

    def __init__(self) -> None:
        self._asked = False

    def __bool__(self) -> bool:
        return self._asked

    def ask(self) -> None:
        """A person interrupts: a moment is left to come to an end in."""
        self._asked = True
        self.give_time()

    def give_time(self) -> None:
        """Gives who comes to an end another moment, as it was heard of."""
        if self._asked:
            signal.setitimer(signal.ITIMER_REAL, _GRACE)


@contextmanager
def interruptible() -> Iterator[Interruption]:
    """Gives what is false until a person interrupts; a second time ends at once.

    What does not look at it in time, as it waits for a folder or draws what a terminal was sent, is broken off.
    """
    asked = Interruption()

    def ask(_number: int, _frame: object) -> None:
        asked.ask()
        signal.signal(signal.SIGINT, before)

    def break_off(_number: int, _frame: object) -> None:
        raise _BrokenOff

    before = signal.signal(signal.SIGINT, ask)
    ended = signal.signal(signal.SIGTERM, ask)
    alarm = signal.signal(signal.SIGALRM, break_off)
    try:
        yield asked
    except _BrokenOff:
        pass
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
        signal.signal(signal.SIGINT, before)
        signal.signal(signal.SIGTERM, ended)
        signal.signal(signal.SIGALRM, alarm)


_GRACE = 0.7  # seconds that looking goes on for after somebody has interrupted


class _BrokenOff(BaseException):
    """Whoever watches takes too long to hear that nobody wants it to."""


class ScannedRecording(msgspec.Struct, frozen=True):
    """A recording that was gone through, as others may see it. mismatch: what speaks against its release."""

    result: Result
    drafting: Drafting | None
    mismatch: str | None


def scan(
    desk: Desk, book: Logbook | None, recorded: Recorded, target: Target | None, show_personal: bool
) -> ScannedRecording:
    """Goes through a recording, with a draft where a release is named; raises MetrographError when it cannot be."""
    check_watch()
    source = open_recording(recorded.path, recorded.timing)
    drafting = folder = None
    if book is not None and target is not None:
        drafting = open_drafting(desk, book, target, recorded, source.length)
        folder = scan_folder(book, recorded.path, recorded.anew)
    lexicon = book.settings().lexicon if book else load_lexicon()
    scanned = Scan(lexicon, folder, recorded.pictures, Looks(load_looks(book)) if book else None)
    _go_through(desk, source, scanned, recorded.path.name, drafting)
    seen = seen_of(recorded.path.name, scanned.spans(), scanned.end, lexicon)
    shown = masked(desk, [], seen, show_personal)
    mismatch = None if drafting is None else drafting.mismatch(scanned)
    return ScannedRecording(Result(shown, lambda _: seen_report(shown)), drafting, mismatch)


def _go_through(desk: Desk, source: Input, scanned: Scan, name: str, drafting: Drafting | None) -> None:
    """From where it was left to the end, or until a person interrupts; the draft follows."""
    with interruptible() as asked, desk.progress(f"Going through {name}") as tell:

        def going(at: int) -> bool:
            scanned.end = max(scanned.end, at)
            tell(at, max(source.length or at, at))
            return not asked

        for _ in scanned.take(source.found(scanned.since, going)):
            if drafting:
                drafting.propose(scanned)
        scanned.ended = not asked
        if scanned.ended:
            scanned.end = max(scanned.end, source.length or 0)
        if drafting:
            drafting.propose(scanned, last=True)
    if asked:
        desk.warn(f"{name} was gone through to {show_moment(scanned.end / 1000)}; the same command goes on there")


def can_watch() -> bool:
    """Whether all that watching needs is installed."""
    return is_there()


def reviewed(book: Logbook, draft: str | None) -> Review:
    """A draft to be gone through; raises MetrographError when there is none, or several and none is named."""
    check_watch()
    return Review(book, find_draft(book, draft))
