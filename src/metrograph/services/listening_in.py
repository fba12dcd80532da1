"""The record taken from what was said: a talk listened to, what it states, and a draft of it."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from pathlib import Path

import msgspec

from metrograph.hearing.heard import HeardStatement, TalkDocument
from metrograph.hearing.heard_cues import PERSONAL, cue_of
from metrograph.hearing.listening import Ears, HeardTalk, listen
from metrograph.hearing.statements import THIS, Statement
from metrograph.hearing.stream.captions import read_words
from metrograph.hearing.stream.programs import KnownNames, Program, known_names, read_names
from metrograph.intake.source import Event
from metrograph.log.bodies import any_terms
from metrograph.log.cues import Cue
from metrograph.log.escapes import split_list
from metrograph.log.reader import read_log_bytes
from metrograph.log.writer import format_words
from metrograph.privacy.gate import clean
from metrograph.run.cards import Release
from metrograph.services.desk import Desk, Result, masked
from metrograph.services.seeing import Drafting, Recorded, Target, open_drafting, proposed
from metrograph.show.report.lists import heard_report
from metrograph.store.local.card_files import load_card
from metrograph.store.local.drafts import write_draft
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook, shown_path

_VERSION = re.compile(r" \d\S*$")


class Talk(msgspec.Struct, frozen=True):
    """A talk that is to be listened to, and what is known of it.

    begun: when it began; packages: the programs of the machine; names: of other programs that may be meant.
    """

    path: Path
    begun: str | None = None
    packages: Path | None = None
    names: Path | None = None


class HeardRecording(msgspec.Struct, frozen=True):
    """A talk that was listened to, as others may see it. closing: what is told of its draft; or empty."""

    result: Result
    closing: str


def hear(desk: Desk, book: Logbook | None, talk: Talk, target: Target | None, show_personal: bool) -> HeardRecording:
    """Listens to a talk, with a draft where a release is named; raises MetrographError when it cannot be read."""
    words = read_words(read_bytes(talk.path, "file of captions"), shown_path(talk.path))
    names = _names(desk, book, talk)
    release = load_card(book, Release, target.release).version if book is not None and target is not None else None
    found = listen(words, Ears(names, release=release or ""))
    groups = {each.name: each.group for each in names.programs if each.group}
    pairs = [(each, cue_of(each, groups)) for each in map(_without_secrets, found.statements)]
    closing = ""
    if book is not None and target is not None:
        closing = _draft(desk, book, talk, target, found, pairs)
    heard = masked(desk, [], _document(talk.path.name, found, pairs), show_personal)
    return HeardRecording(Result(heard, lambda _: heard_report(heard)), closing)


def _names(desk: Desk, book: Logbook | None, talk: Talk) -> KnownNames:
    """All names that may be a program's: of the machine, of a list, of the runs of the logbook."""
    machine = [] if talk.packages is None else _listed(desk.folder / talk.packages, on_machine=True)
    others = [] if talk.names is None else _listed(desk.folder / talk.names, on_machine=False)
    return known_names(machine, [*others, *(() if book is None else _of_runs(book))])


def _listed(path: Path, on_machine: bool) -> list[Program]:
    return read_names(read_bytes(path, "list of programs").decode("utf-8", "replace"), on_machine)


def _of_runs(book: Logbook) -> Iterator[Program]:
    """The programs that the runs of a logbook name."""
    for run in book.run_names():
        for cue in read_log_bytes(book.read(run), run, any_terms)[0].cues:
            if cue.verb in {"carries", "lacks"}:
                for item in split_list(cue.text):
                    yield Program(_VERSION.sub("", item), cue.name or "")


def _without_secrets(said: Statement) -> Statement:
    """A statement through the gate in: of an answer that is personal neither value nor words."""
    if said.kind in {"choose", "keep"} and said.key in PERSONAL:
        return msgspec.structs.replace(said, value="-", said="")
    words = clean(Cue(0, "note", None, said.said)).text
    return msgspec.structs.replace(said, said=words, value=clean(Cue(0, "note", None, said.value)).text)


def _draft(
    desk: Desk, book: Logbook, talk: Talk, target: Target, found: HeardTalk, pairs: Sequence[tuple[Statement, Cue]]
) -> str:
    """Writes a draft of what is said of the release itself; returns what is told of it."""
    recorded = Recorded(talk.path, begun=talk.begun)
    drafting = open_drafting(desk, book, target, recorded, round(found.seconds * 1000))
    drafting.events = list(_events(pairs))
    write_draft(book, drafting.name, drafting.header, tuple(map(proposed, drafting.events)))
    return _closing(drafting, sum(said.about != THIS and cue.verb != "than" for said, cue in pairs))


def _events(pairs: Sequence[tuple[Statement, Cue]]) -> Iterator[Event]:
    for said, cue in pairs:
        if (said.about == THIS or cue.verb == "than") and (cue.verb != "note" or cue.text):
            yield Event(cue, at=cue.at, confidence=said.sure)


def _closing(drafting: Drafting, others: int) -> str:
    beside = f" {others} of other releases are not in it." if others else ""
    return f"{drafting.closing()}.{beside}"


def _document(source: str, found: HeardTalk, pairs: Sequence[tuple[Statement, Cue]]) -> TalkDocument:
    statements = tuple(
        HeardStatement(
            at=said.at, kind=said.kind, key=said.key, value=_value(said), about=said.about, slot=said.slot,
            sure=said.sure, said=said.said, cue=format_words(cue),
        )
        for said, cue in pairs
    )  # fmt: skip
    return TalkDocument(source, found.seconds, found.system, statements)


def _value(said: Statement) -> float | str | tuple[float, float]:
    """A number, two of them, or text: what is about a number, or below one, stays text."""
    if said.kind not in {"reading", "claim", "elapsed"}:
        return said.value
    ends = said.value.split("..")
    if not all(re.fullmatch(r"\d+(\.\d+)?", end) for end in ends):
        return said.value
    return float(ends[0]) if len(ends) == 1 else (float(ends[0]), float(ends[1]))
