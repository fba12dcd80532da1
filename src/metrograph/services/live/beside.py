"""Helpers beside the recorder: an archive that is asked what others take, and a watcher that offers what is seen."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

import msgspec

from metrograph.archive.answers import Like, ScreenName, Usual, usual_in
from metrograph.archive.place import archive_at
from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Log
from metrograph.log.lexicon import Lexicon, is_after_restart, is_untitled
from metrograph.log.verbs import VERBS, Trait
from metrograph.plan.prediction import Offer
from metrograph.run.cards import parts_of
from metrograph.services.desk import Desk
from metrograph.services.live.session import Session
from metrograph.store.local.card_files import load_releases, load_rigs
from metrograph.watch.drafts.looks import Looks, load_looks
from metrograph.watch.drafts.proposals import PAGE, Watched
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.opening import check_watch, open_live


class OthersAsked(threading.Thread):
    """An archive that is asked once, in its own thread.

    ask: gives what others take on each screen; trouble: why it could not, empty where it could.
    """

    def __init__(self, ask: Callable[[], Mapping[ScreenName, Usual]]) -> None:
        super().__init__(daemon=True)
        self._ask = ask
        self._known: Mapping[ScreenName, Usual] = {}
        self.trouble = ""

    def run(self) -> None:
        """Asks; what goes wrong is kept to be said."""
        try:
            self._known = self._ask()
        except MetrographError as error:
            self.trouble = f"others could not be asked: {error}"

    def on(self, title: str | None, phase: str) -> Usual | None:
        """What others take on the screen in front; None where nobody says, or the answer is still to come."""
        return None if title is None else self._known.get((title.lower(), is_after_restart(phase)))


if TYPE_CHECKING:
    from metrograph.intake.source import Event
    from metrograph.watch.opening import Input


class Watcher(threading.Thread):
    """A source that is watched in its own thread.

    begun: where the watching begins on the run's time, in milliseconds.
    """

    def __init__(self, live: Input, scan: Scan, lexicon: Lexicon, begun: int) -> None:
        super().__init__(daemon=True)
        self._live, self._scan, self._lexicon, self._begun = live, scan, lexicon, begun
        self._stopped = threading.Event()
        self._events: Sequence[Event] = ()
        self.trouble = ""

    def run(self) -> None:
        """Goes on until it is stopped, or the source ends; what goes wrong is kept to be said."""
        try:
            for _ in self._scan.take(self._live.found(0, self._going)):
                self._events = list(Watched(self._scan.spans(), self._lexicon, "the screen", ended=False).events())
        except MetrographError as error:
            self.trouble = str(error)

    def stop(self) -> None:
        """Asks the watcher to end."""
        self._stopped.set()

    def offer(self, log: Log, front: str | None) -> Offer | None:
        """The newest thing that was seen and that the log does not have yet; None where there is none.

        front: the title of the screen that is in front by the log.
        """
        last = max((cue.at for cue in log.cues), default=0)
        for event in reversed(self._events):
            cue, at = event.cue, self._begun + (event.at or 0)
            if at <= last:
                return None
            if Trait.SEEN in VERBS[cue.verb].traits and not is_untitled(cue.text) and cue.text != (front or ""):
                return Offer(_plain(cue, at), at=at, sure=event.confidence)
        return None

    def _going(self, at: int) -> bool:
        self._scan.end = max(self._scan.end, at)
        return not self._stopped.is_set()


def _plain(cue: Cue, at: int) -> Cue:
    fields = tuple(pair for pair in cue.fields if pair[0] != PAGE)
    return msgspec.structs.replace(cue, at=at, fields=fields)


def watcher_of(desk: Desk, session: Session, source: str) -> Watcher:
    """What looks at the screen beside the recorder; raises MetrographError when it cannot be watched."""

    check_watch()

    live = open_live(source, desk.variables.get("METROGRAPH_DISPLAY_PASSWORD"), lambda _: None)
    lexicon = session.reader.lexicon
    return Watcher(live, Scan(lexicon, looks=Looks(load_looks(session.book))), lexicon, session.now())


def others_asked_of(desk: Desk, session: Session, archive: str | None) -> OthersAsked | None:
    """What others take on each screen, asked beside the recorder; None where no archive was named or set."""
    personal = desk.preferences()
    url = archive or personal.archive
    if url is None:
        return None

    header, own = session.log.header, personal.reviewer or ""
    card, rig = load_releases(session.book).get(header.release), load_rigs(session.book).get(header.rig)
    distribution = parts_of(header.release, card).distribution
    return OthersAsked(lambda: usual_in(archive_at(url), distribution, Like.of(rig), own))
