"""The records of what a reviewer notes beside the way through the installer: figures, trials, software, remarks.

Every moment is a ``Range`` in seconds on the clock, counted from power-on.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from metrograph.log.cues import Cue
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.quantity import Share, parse_quantity, parse_share
from metrograph.log.quantities.units import BYTES

if TYPE_CHECKING:
    from metrograph.run.folding.timeline import CuePlace

import msgspec

from metrograph.core.visitor import AnswerFields, Answering
from metrograph.log.quantities.ranges import ZERO, Range

STATES = ("live", "installed", "updated")
"""The states that a run goes through; a figure may have been taken in one of a reviewer's own instead."""


class Reading(msgspec.Struct, frozen=True):
    """A measured figure.

    value: in bytes when unit is ``bytes``, in seconds when it is ``s``; None where only words were said.
    about: whether it was a guess.
    said: as it was said.
    state: one that the run was in, ``while NAME`` during a task, or one of the reviewer's own.
    load: rest, busy, or what was open; None when it was not said.
    against: what it was held against by whoever took it.
    """

    name: str
    value: Range | None
    unit: str
    state: str
    load: str | None
    how: str | None
    at: Range
    about: bool = False
    said: str = ""
    against: str | None = None


class Fact(Answering, frozen=True):
    """Something that is so. personal: whether it tells who or where."""

    name: str
    value: str
    at: Range
    personal: bool = False

    def answer(self) -> AnswerFields:
        """The value of the fact."""
        return AnswerFields(self.name, ("value",))


class Check(msgspec.Struct, frozen=True):
    """One trial of the reviewer's list: pass, fail, partly or skipped.

    condition: what it was tried with; None when nothing was said.
    """

    name: str
    result: str
    detail: str | None
    at: Range
    condition: str | None = None


class Task(msgspec.Struct, frozen=True):
    """Work that goes on by itself beside whatever is in front.

    start: on the clock; length: None while it is not over.
    how: how it went.
    """

    name: str
    what: str | None
    phase: str
    start: Range
    length: Range | None = None
    how: str | None = None


class Rating(msgspec.Struct, frozen=True):
    """A rating that stands alone, such as of looks: so many of so many."""

    name: str
    part: float
    whole: float
    why: str | None
    at: Range


class Software(msgspec.Struct, frozen=True, rename={"there": "carried"}):
    """Software that is on board, or that one would expect and is not.

    group: what it is, such as office; None when it was not said.
    version: None when it was not said.
    """

    item: str
    version: str | None
    group: str | None
    there: bool
    source: str | None
    why: str | None
    at: Range


class Todo(msgspec.Struct, frozen=True, rename={"reader": "for"}):
    """Something left to do afterwards. reader: for whom."""

    text: str
    reader: str | None
    at: Range


class Aside(msgspec.Struct, frozen=True):
    """A word said with a cue that stands for itself: why it paused, what it waited for, a field of one's own."""

    verb: str
    text: str
    at: Range


class Tweak(msgspec.Struct, frozen=True):
    """A setting that had to be changed to be able to work."""

    what: str
    why: str | None
    commands: tuple[str, ...]
    at: Range


class Addition(msgspec.Struct, frozen=True):
    """Software that had to be added.

    download, disk: bytes; frees: bytes set free by leaving something out; None when not noted, open when unknown.
    groups: what was ticked for it.
    """

    software: str
    download: Range | None
    disk: Range | None
    source: str | None
    why: str | None
    at: Range
    frees: Range | None = None
    groups: str | None = None


class Shot(msgspec.Struct, frozen=True):
    """A picture that shows something."""

    path: str
    sha256: str | None
    at: Range


class Note(msgspec.Struct, frozen=True):
    """A remark worth publishing."""

    text: str
    at: Range


class Verdict(msgspec.Struct, frozen=True, rename={"good": "for"}):
    """The reviewer's judgement. whom: the readers that it is for."""

    text: str
    good: str | None = None
    against: str | None = None
    score: str | None = None
    whom: tuple[str, ...] = ()
    at: Range = ZERO


class Noted(msgspec.Struct, frozen=True, kw_only=True):
    """All that a reviewer noted beside the way, in the order it was noted."""

    readings: tuple[Reading, ...] = ()
    facts: tuple[Fact, ...] = ()
    checks: tuple[Check, ...] = ()
    tweaks: tuple[Tweak, ...] = ()
    added: tuple[Addition, ...] = ()
    shots: tuple[Shot, ...] = ()
    notes: tuple[Note, ...] = ()
    tasks: tuple[Task, ...] = ()
    ratings: tuple[Rating, ...] = ()
    software: tuple[Software, ...] = ()
    todos: tuple[Todo, ...] = ()
    asides: tuple[Aside, ...] = ()
    verdicts: tuple[Verdict, ...] = ()


def _fact(cue: Cue, place: CuePlace, lexicon: Lexicon) -> Fact:
    return Fact(cue.name or "", cue.text, place.clock, lexicon.is_personal(cue.name or ""))


def _check(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Check:
    return Check(cue.name or "", cue.text, cue.field("detail"), place.clock, cue.field("with"))


def _tweak(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Tweak:
    return Tweak(cue.text, cue.field("why"), cue.every("command"), place.clock)


def _addition(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Addition:
    download, disk, frees = (_data(cue.field(key)) for key in ("download", "disk", "frees"))
    return Addition(
        cue.text, download, disk, cue.field("from"), cue.field("why"), place.clock, frees, cue.field("groups")
    )


def _data(text: str | None) -> Range | None:
    """Bytes as they were said; None where nothing was."""
    return None if text is None else parse_quantity(text, BYTES).amount


def _rating(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Rating:
    share = parse_share(cue.text) or Share(0, 1)
    return Rating(cue.name or "", share.part, share.whole, cue.field("why"), place.clock)


def _todo(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Todo:
    return Todo(cue.text, cue.field("for"), place.clock)


def _shot(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Shot:
    return Shot(cue.text, cue.field("sha256"), place.clock)


def _note(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Note:
    return Note(cue.text, place.clock)


def _verdict(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Verdict:
    return Verdict(cue.text, cue.field("for"), cue.field("against"), cue.field("score"), cue.every("whom"), place.clock)


MADE: dict[str, tuple[str, Callable[[Cue, CuePlace, Lexicon], Any]]] = {
    "facts": ("fact", _fact),
    "checks": ("check", _check),
    "tweaks": ("tweak", _tweak),
    "added": ("add", _addition),
    "shots": ("shot", _shot),
    "notes": ("note", _note),
    "ratings": ("rate", _rating),
    "todos": ("todo", _todo),
    "verdicts": ("verdict", _verdict),
}
"""Each field of ``Noted`` that the cues of one verb fill, one record a cue, and how that is made of it."""
