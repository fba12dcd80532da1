"""The record taken from what was said: a talk listened to, what it states, and a draft of it."""

from __future__ import annotations

import re

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.hearing.heard import HeardStatement, TalkDocument
from metrograph.hearing.statements import Statement
from metrograph.hearing.weighing import LEAST
from metrograph.intake.source import Event, moved
from metrograph.log.cues import Log
from metrograph.log.lexicon import Lexicon
from metrograph.log.writer import format_words
from metrograph.run.cards import Release
from metrograph.services.desk import Desk, Result, masked
from metrograph.services.evidence import timing_of
from metrograph.services.seeing import Recorded, Target, open_drafting, proposed
from metrograph.services.talks import Talk, Understood, understand
from metrograph.show.report.lists import heard_report
from metrograph.store.local.card_files import load_card
from metrograph.store.local.drafts import draft_names, put_draft, read_draft, write_draft
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import find_run
from metrograph.store.reading import LogReader
from metrograph.watch.drafts.both_senses import heard_events, not_in
from metrograph.watch.drafts.heard_proposals import FAINT, of_another
from metrograph.words.figure_words import counted


class HeardRecording(msgspec.Struct, frozen=True):
    """A talk that was listened to, as others may see it. closing: what is told of its draft; or empty."""

    result: Result
    closing: str


def hear(desk: Desk, book: Logbook | None, talk: Talk, target: Target | None, show_personal: bool) -> HeardRecording:
    """Listens to a talk, with a draft where a release is named; raises MetrographError when it cannot be read."""
    version = load_card(book, Release, target.release).version if book is not None and target is not None else None
    understood = understand(desk, book, talk, version or "", LEAST if target is None else FAINT)
    closing = ""
    if book is not None and target is not None:
        closing = _draft(desk, book, talk, target, understood)
    heard = masked(desk, [], _document(talk.path.name, understood), show_personal)
    return HeardRecording(Result(heard, lambda _: heard_report(heard)), closing)


class BesideRun(msgspec.Struct, frozen=True):
    """A run that is there already, and how a talk lies on its time.

    starts, cuts: as a person says them, as for notes; see ``timing_of``.
    """

    run: str
    starts: str | None = None
    cuts: tuple[str, ...] = ()


def hear_beside(desk: Desk, book: Logbook, talk: Talk, beside: BesideRun, show_personal: bool) -> HeardRecording:
    """Listens to a talk on a run that is there, with a draft of what its log does not have.

    Raises MetrographError when there is no such run, or it cannot be read.
    """
    name = find_run(book, beside.run)
    timing = timing_of(desk.started(), beside.starts, beside.cuts)
    if timing.loose:
        raise MetrographError("--cut: how much was left out has to be exact here, as in 12:30=8:00")
    reader = LogReader(book)
    log = reader.log(name)
    desk.warn_of(reader.faults)
    talk = msgspec.structs.replace(talk, run=name)
    understood = understand(desk, book, talk, load_card(book, Release, log.header.release).version or "", FAINT)
    heard = heard_events(understood.pairs)
    end = next((cue.at for cue in log.cues if cue.verb == "end"), None)
    placed = [msgspec.structs.replace(event, at=moved(event.at or 0, timing)) for event in heard]
    within = [event for event in placed if (event.at or 0) >= 0 and (end is None or (event.at or 0) <= end)]
    count = _propose_beside(book, name, log, within, reader.lexicon)
    document = masked(desk, [reader.run(name)], _document(talk.path.name, understood), show_personal)
    return HeardRecording(
        Result(document, lambda _: heard_report(document)), _told_beside(name, count, len(heard) - len(within))
    )


def _propose_beside(book: Logbook, name: str, log: Log, heard: list[Event], lexicon: Lexicon) -> int:
    """Puts what a run's log does not say into a draft of its name, beside what waits there; how many that were."""
    proposals = [proposed(event) for event in not_in(log, heard, lexicon)]
    waiting = read_draft(book, name).cues if name in draft_names(book) else ()
    new = [cue for cue in proposals if cue not in waiting]
    if new:
        put_draft(book, name, log.header, tuple(sorted([*waiting, *new], key=lambda cue: cue.at)))
    return len(new)


def _told_beside(name: str, count: int, outside: int) -> str:
    if not count:
        return f"{name} has all of it already"
    before = f" What was said before it began or after it ended is left out: {outside}." if outside else ""
    many = f"{counted(count, 'cue')} proposed in drafts/{name}.metro"
    return f"{many}. “metrograph confirm {name}” adds them to the run.{before}"


def _draft(desk: Desk, book: Logbook, talk: Talk, target: Target, understood: Understood) -> str:
    """Writes a draft of what is said of the release itself; returns what is told of it."""
    recorded = Recorded(talk.path, begun=talk.begun)
    drafting = open_drafting(desk, book, target, recorded, round(understood.heard.seconds * 1000))
    drafting.events = heard_events(understood.pairs)
    write_draft(book, drafting.name, drafting.header, tuple(map(proposed, drafting.events)))
    others = sum(bool(of_another(event.cue)) for event in drafting.events)
    beside = (
        f" {counted(others, 'statement')} of other releases stay aside, and are never taken unasked." if others else ""
    )
    return f"{drafting.closing()}.{beside}"


def _document(source: str, understood: Understood) -> TalkDocument:
    statements = tuple(
        HeardStatement(
            at=said.at, kind=said.kind, key=said.key, value=_value(said), about=said.about, slot=said.slot,
            sure=said.sure, said=said.said, cue=format_words(cue),
        )
        for said, cue in understood.pairs if said.sure >= LEAST
    )  # fmt: skip
    return TalkDocument(source, understood.heard.seconds, understood.heard.system, statements)


def _value(said: Statement) -> float | str | tuple[float, float]:
    """A number, two of them, or text: what is about a number, or below one, stays text."""
    if said.kind not in {"reading", "claim", "elapsed"}:
        return said.value
    ends = said.value.split("..")
    if not all(re.fullmatch(r"\d+(\.\d+)?", end) for end in ends):
        return said.value
    return float(ends[0]) if len(ends) == 1 else (float(ends[0]), float(ends[1]))
