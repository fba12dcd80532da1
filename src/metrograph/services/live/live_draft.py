"""The draft of a machine that is watched while it installs: what is seen and said so far, as it goes."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from pathlib import Path

import msgspec

from metrograph.intake.source import Event
from metrograph.log.cues import Header
from metrograph.services.desk import Desk
from metrograph.services.live.growing_talk import GrowingTalk
from metrograph.services.preparing import rig_for
from metrograph.services.seeing import Drafting, SpokenPart, Target, interruptible, source_lines
from metrograph.store.local.drafts import folder_of, new_draft
from metrograph.store.local.logbook import Logbook
from metrograph.watch.drafts.looks import Looks, load_looks
from metrograph.watch.drafts.machine_told import MachineTold
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.opening import Input, check_watch, open_live


class Watching(msgspec.Struct, frozen=True):
    """A display that is to be watched.

    password: of it; pictures: whether they are kept; captions: a file that grows while somebody talks.
    """

    source: str
    target: Target
    password: str | None = None
    pictures: bool = True
    captions: Path | None = None


def watch_live(desk: Desk, book: Logbook, watching: Watching, tell: Callable[[Sequence[Event]], None]) -> Drafting:
    """Watches a machine until a person interrupts, or the source ends. Returns the draft.

    tell: is given what is proposed, whenever there is more; it lies in the draft before.
    """
    check_watch()
    live = open_live(watching.source, watching.password, desk.warn)
    desk.warn(f"watching {watching.source}; interrupt when the installation is over")
    return follow(desk, book, watching, live, tell)


class AskedBeside:
    """What is asked at every look besides the display: nothing, where there is only that. facts: for the header."""

    facts: tuple[tuple[str, str], ...] = ()

    def told(self) -> MachineTold | None:
        """What the machine told of itself so far; None where it cannot be asked."""
        return None

    def is_over(self) -> bool:
        """Whether there is nothing more to be seen."""
        return False


def follow(
    desk: Desk,
    book: Logbook,
    watching: Watching,
    live: Input,
    tell: Callable[[Sequence[Event]], None],
    beside: AskedBeside | None = None,
) -> Drafting:
    """Follows what is open until a person interrupts, or it ends. Returns the draft."""
    beside = beside or AskedBeside()
    drafting, folder = _live_drafting(desk, book, watching, beside.facts)
    scanned = Scan(book.settings().lexicon, folder, watching.pictures, Looks(load_looks(book)))
    captions = watching.captions
    talk = None if captions is None else GrowingTalk(desk, book, watching.target.release, captions)
    with interruptible() as asked:

        def going(at: int) -> bool:
            scanned.end = max(scanned.end, at)
            drafting.told = beside.told()
            # At every look, not at every page: after the last page nothing may come for an hour.
            if talk is not None and talk.grown():
                drafting.hear(talk.events)
            propose()
            asked.give_time()  # what was seen and waits to be read still is
            return not (asked or beside.is_over())

        def propose() -> None:
            if drafting.propose(scanned):
                tell(drafting.events)

        for _ in scanned.take(live.found(0, going)):
            propose()
    if talk is not None and talk.grown(patient=False):
        drafting.hear(talk.events)
    drafting.told = beside.told()
    scanned.ended = drafting.told is not None  # a machine of ours ends with its draft
    drafting.propose(scanned, last=True)
    tell(drafting.events)
    return drafting


def _live_drafting(
    desk: Desk, book: Logbook, watching: Watching, facts: tuple[tuple[str, str], ...]
) -> tuple[Drafting, Path]:
    """The draft of what is watched from now on, and where its pages are kept."""
    target, source = watching.target, watching.source
    rig = rig_for(book, target.release, target.rig, desk.preferences().rig)
    begun = desk.present().wall
    key = hashlib.sha256(f"{source}\0{begun.isoformat()}".encode()).hexdigest()[:16]
    header = Header(target.release, rig, begun.replace(microsecond=0), (*source_lines(source, key), *facts))
    return Drafting(book, new_draft(book, header), header, SpokenPart(), watching.pictures), folder_of(book, key)
