"""Listens to captions that a recogniser writes while somebody talks: understood anew as they grow."""

from __future__ import annotations

import threading
import time
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from metrograph.core.errors import MetrographError, needs
from metrograph.hearing.stream.programs import EXTRA
from metrograph.plan.prediction import Offer
from metrograph.services.desk import Desk
from metrograph.services.talks import Talk, understand
from metrograph.store.local.card_files import load_releases
from metrograph.store.local.logbook import Logbook
from metrograph.watch.drafts.both_senses import heard_events, not_in
from metrograph.watch.drafts.confirming import as_run
from metrograph.watch.drafts.heard_proposals import ASKED, of_another

if TYPE_CHECKING:
    from metrograph.intake.source import Event
    from metrograph.services.live.session import Session

_PAUSE = 1.0  # seconds between two looks at the file
_SHARE = 10  # times as long as understanding took it waits at least: a core is not for listening alone
_RECENT = 90_000  # milliseconds in which something that was said is offered


class GrowingTalk:
    """A file of captions that grows. Its times count from ``begun``, in milliseconds on the run's time."""

    def __init__(self, desk: Desk, book: Logbook, release: str, path: Path, begun: int = 0) -> None:
        """Raises MetrographError when the extra is missing; that the file is not there yet is no fault."""
        needs("wordfreq", EXTRA)
        card = load_releases(book).get(release)
        self._desk, self._book, self._path, self._begun = desk, book, path, begun
        self._version = (card.version if card is not None else None) or ""
        self._size = self._took = self._last = 0.0
        self.events: Sequence[Event] = ()

    def grown(self, patient: bool = True) -> bool:
        """Listens again where there is more; whether there was. patient: not too often."""
        if patient and time.monotonic() - self._last < _PAUSE + _SHARE * self._took:
            return False
        try:
            size = float(self._path.stat().st_size)
        except OSError:
            return False
        if size == self._size:
            return False
        began = time.monotonic()
        self._size = size
        try:
            understood = understand(self._desk, self._book, Talk(self._path), self._version)
        except MetrographError:
            return False  # the first words are half written; with the next ones it can be read
        finally:
            self._last = time.monotonic()
            self._took = self._last - began
        self.events = [
            msgspec.structs.replace(event, at=(event.at or 0) + self._begun) for event in heard_events(understood.pairs)
        ]
        return True


class TalkListener(threading.Thread):
    """A growing talk that is listened to in its own thread, beside the recorder."""

    def __init__(self, talk: GrowingTalk) -> None:
        super().__init__(daemon=True)
        self._talk, self._stopped = talk, threading.Event()
        self.trouble = ""

    def run(self) -> None:
        """Goes on until it is stopped."""
        while not self._stopped.wait(_PAUSE):
            self._talk.grown()

    def stop(self) -> None:
        """Asks the listener to end."""
        self._stopped.set()

    def offer(self, session: Session) -> Offer | None:
        """The newest thing that was said of this release and that the log does not have; None where there is none."""
        now = session.now()
        recent = [event for event in self._talk.events if now - _RECENT <= (event.at or 0) <= now]
        own = [event for event in recent if not of_another(event.cue)]
        for event in reversed(not_in(session.whole, own, session.reader.lexicon)):
            if event.confidence >= ASKED and (event.cue.verb, event.cue.name) not in session.skipped:
                (cue, *_) = as_run([event.cue], {})
                return Offer(
                    msgspec.structs.replace(cue, at=event.at or 0), at=event.at, sure=event.confidence, sense="said"
                )
        return None


def listener_of(desk: Desk, session: Session, path: Path) -> TalkListener:
    """What listens beside the recorder from now on; raises MetrographError when it cannot."""
    return TalkListener(GrowingTalk(desk, session.book, session.log.header.release, path, session.now()))
