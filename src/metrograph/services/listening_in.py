"""The record taken from what was said: a talk listened to, what it states, and a draft of it."""

from __future__ import annotations

import re

import msgspec

from metrograph.hearing.heard import HeardStatement, TalkDocument
from metrograph.hearing.statements import Statement
from metrograph.log.writer import format_words
from metrograph.run.cards import Release
from metrograph.services.desk import Desk, Result, masked
from metrograph.services.seeing import Recorded, Target, open_drafting, proposed
from metrograph.services.talks import Talk, Understood, understand
from metrograph.show.report.lists import heard_report
from metrograph.store.local.card_files import load_card
from metrograph.store.local.drafts import write_draft
from metrograph.store.local.logbook import Logbook
from metrograph.watch.drafts.both_senses import heard_events


class HeardRecording(msgspec.Struct, frozen=True):
    """A talk that was listened to, as others may see it. closing: what is told of its draft; or empty."""

    result: Result
    closing: str


def hear(desk: Desk, book: Logbook | None, talk: Talk, target: Target | None, show_personal: bool) -> HeardRecording:
    """Listens to a talk, with a draft where a release is named; raises MetrographError when it cannot be read."""
    version = load_card(book, Release, target.release).version if book is not None and target is not None else None
    understood = understand(desk, book, talk, version or "")
    closing = ""
    if book is not None and target is not None:
        closing = _draft(desk, book, talk, target, understood)
    heard = masked(desk, [], _document(talk.path.name, understood), show_personal)
    return HeardRecording(Result(heard, lambda _: heard_report(heard)), closing)


def _draft(desk: Desk, book: Logbook, talk: Talk, target: Target, understood: Understood) -> str:
    """Writes a draft of what is said of the release itself; returns what is told of it."""
    recorded = Recorded(talk.path, begun=talk.begun)
    drafting = open_drafting(desk, book, target, recorded, round(understood.heard.seconds * 1000))
    drafting.events = heard_events(understood.pairs)
    write_draft(book, drafting.name, drafting.header, tuple(map(proposed, drafting.events)))
    others = len(understood.pairs) - len(drafting.events)
    beside = f" {others} of other releases are not in it." if others else ""
    return f"{drafting.closing()}.{beside}"


def _document(source: str, understood: Understood) -> TalkDocument:
    statements = tuple(
        HeardStatement(
            at=said.at, kind=said.kind, key=said.key, value=_value(said), about=said.about, slot=said.slot,
            sure=said.sure, said=said.said, cue=format_words(cue),
        )
        for said, cue in understood.pairs
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
