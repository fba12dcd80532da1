"""Keeps a draft in step with what is seen: what is shown to a person lies on the disk before."""

from __future__ import annotations

import hashlib
import time
from datetime import datetime, timedelta
from pathlib import Path

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment
from metrograph.faces.cli.recording.opening import rig_for
from metrograph.intake.notes import TimedNote, read_notes
from metrograph.intake.source import Event
from metrograph.log.cues import Cue, Header
from metrograph.run.cards import Release
from metrograph.show.safe import readable
from metrograph.store.clock import begin_time
from metrograph.store.local.cards import load_card
from metrograph.store.local.checksums import keep_picture
from metrograph.store.local.drafts import folder_of, new_draft, open_draft, read_draft, scan_key, write_draft
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook, shown_path
from metrograph.watch.drafts.confirming import was_decided
from metrograph.watch.drafts.proposals import Watched, said_at
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.drafts.seen import SURE
from metrograph.watch.screens.figures import versions_on
from metrograph.watch.screens.spans import Span
from metrograph.words.figures import counted

_PAUSE = 0.5  # seconds between two times that everything is worked out anew
_SHARE = 20  # times as long as that takes: so much longer is waited: a day costs no more than an hour


class Drafting:
    """The draft of one source."""

    def __init__(self, book: Logbook, name: str, header: Header, said: list[TimedNote], pictures: bool = True) -> None:
        self.book, self.name, self.header = book, name, header
        self._said, self._pictures = said, pictures
        self._last = self._took = 0.0
        self._proposed = 0  # pages that the draft was made of
        self.events: list[Event] = []

    def propose(self, scan: Scan, last: bool = False) -> bool:
        """Writes the draft anew when something new was seen, and not too often. Whether it did."""
        new = len(scan.pages) > self._proposed
        if not last and (not new or time.monotonic() - self._last < _PAUSE + _SHARE * self._took):
            return False
        self._proposed = len(scan.pages)
        began = time.monotonic()
        spans = scan.spans()
        watched = Watched(
            spans, self.book.settings().lexicon, self.name, self._kept(scan, spans) if last else {}, scan.ended
        )
        self.events = sorted([*watched.events(), *said_at(self._said)], key=lambda event: event.at or 0)
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
        unsure = sum(event.confidence < SURE for event in self.events)
        hint = f"; {unsure} of them are unsure" if unsure else ""
        return (
            f"\n{counted(len(self.events), 'cue')} proposed in drafts/{self.name}.metro{hint}."
            f" “metrograph confirm {self.name}” goes through them"
        )


def proposed(event: Event) -> Cue:
    """A proposal as it stands in a draft."""
    fields = (*event.cue.fields, ("sure", f"{event.confidence:.2f}"))
    if event.evidence:
        fields += (("seen", event.evidence),)
    return Cue(event.at or 0, event.cue.verb, event.cue.name, event.cue.text, fields)


def open_drafting(
    environment: Environment,
    book: Logbook,
    release: str,
    rig: str | None,
    begun: str | None,
    source: Path,
    length: int | None,
    captions: Path | None = None,
    pictures: bool = True,
) -> Drafting:
    """The draft of a recording; raises MetrographError when a card is missing or the captions cannot be read."""
    rig = rig_for(book, release, rig, environment.personal().rig)
    said = [] if captions is None else _captions(environment.folder / captions)
    header = Header(release, rig, _begun(environment, begun, source, length), _lines(source.name, scan_key(source)))
    taken = [run for run in book.run_names(release) if book.header(run).other("source") == source.name]
    if taken:
        environment.warn(f"{taken[-1]} was taken from a recording of this name already")
    name = open_draft(book, header)
    if book.has(name) or any(was_decided(cue) for cue in read_draft(book, name).cues):
        raise MetrographError(
            f"drafts/{name}.metro holds what you decided; “metrograph confirm {name}” goes on with it. Taken away, the"
            " recording can be proposed anew"
        )
    return Drafting(book, name, header, said, pictures)


def live_drafting(
    environment: Environment, book: Logbook, release: str, rig: str | None, source: str, pictures: bool
) -> tuple[Drafting, Path]:
    """The draft of what is watched from now on, and where its pages are kept."""
    rig = rig_for(book, release, rig, environment.personal().rig)
    begun = environment.present().wall
    key = hashlib.sha256(f"{source}\0{begun.isoformat()}".encode()).hexdigest()[:16]
    header = Header(release, rig, begun.replace(microsecond=0), _lines(source, key))
    return Drafting(book, new_draft(book, header), header, [], pictures), folder_of(book, key)


def _lines(source: str, key: str) -> tuple[tuple[str, str], ...]:
    return (("source", source), ("scan", key))


def _captions(path: Path) -> list[TimedNote]:
    return read_notes(read_bytes(path, "captions"), shown_path(path))


def _begun(environment: Environment, begun: str | None, source: Path, length: int | None) -> datetime:
    """When it began: as it was said, or by the file's last change, less its length."""
    if begun is not None:
        return begin_time(environment.started(), begun)
    ended = datetime.fromtimestamp(source.stat().st_mtime).astimezone()
    return (ended - timedelta(milliseconds=length or 0)).replace(microsecond=0)
