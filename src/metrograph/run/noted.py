"""The records of what a reviewer notes beside the way through the installer: figures, trials, software, remarks.

Every moment is a ``Range`` in seconds on the clock, counted from power-on.
"""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.core.visitor import AnswerFields, Answering
from metrograph.log.quantities.ranges import ZERO, Range

STATES = ("live", "installed", "updated")
"""The states that a run goes through; a figure may have been taken in one of a reviewer's own instead."""


class Circumstances(msgspec.Struct, frozen=True, kw_only=True):
    """The circumstances of whatever is noted.

    of: what it is said of where that is not the release as a whole: a desktop, a program, a package source.
    only: where alone it was met, an edition or a rig, though it was looked for elsewhere.
    day: when it was, in a record of months; None where its moment says it.
    heard: from whom, where it is hearsay; then it is in no figure.
    tell: ``no`` where it is not published, ``yes`` where it is though its like is not, ``first`` where it is told
        before the rest; None unless it was said.
    """

    of: str | None = None
    only: str | None = None
    heard: str | None = None
    day: str | None = None
    tell: Literal["no", "yes", "first"] | None = None


class Reading(Circumstances, frozen=True):
    """A measured figure.

    value: in bytes when unit is ``bytes``, in seconds when it is ``s``; None where only words were said.
    about: whether it was a guess.
    said: as it was said.
    state: one that the run was in, ``while NAME`` during a task, or one of the reviewer's own.
    load: rest, busy, or what was open; None when it was not said.
    against: what it was held against by whoever took it.
    total: of how much it is, in the same unit; None where that was not said.
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
    total: float | None = None


class Fact(Circumstances, Answering, frozen=True):
    """Something that is so. personal: whether it tells who or where."""

    name: str
    value: str
    at: Range
    personal: bool = False

    def answer(self) -> AnswerFields:
        """The value of the fact."""
        return AnswerFields(self.name, ("value",))


class Check(Circumstances, frozen=True):
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


class Rating(Circumstances, frozen=True):
    """A rating that stands alone, such as of looks: so many of so many; see ``RatingSaid``."""

    name: str
    part: float
    whole: float
    why: str | None
    at: Range
    in_words: bool = False


class Software(Circumstances, frozen=True, rename={"there": "carried"}):
    """Software that is on board, or that one would expect and is not.

    group: what it is, such as office; None when it was not said.
    version: None when it was not said.
    instead: what it takes the place of.
    listed: whether the list that it stands in is whole, so that what is missing from it is not there.
    """

    item: str
    version: str | None
    group: str | None
    there: bool
    source: str | None
    why: str | None
    at: Range
    instead: str | None = None
    listed: bool = True


class Todo(Circumstances, frozen=True, rename={"reader": "for"}):
    """Something left to do afterwards. reader: for whom; name: what it is ticked off by; ticked: whether it was."""

    text: str
    reader: str | None
    at: Range
    name: str | None = None
    ticked: bool = False


class Question(Circumstances, frozen=True):
    """A question that a reviewer set out with. answer: what came of it; None while it is open."""

    name: str
    text: str
    answer: str | None
    at: Range


class Remark(Circumstances, frozen=True):
    """Something that was liked, or was not, in passing."""

    thing: str
    liked: bool
    why: str | None
    at: Range


class Beside(Circumstances, frozen=True):
    """A comparison that is said and not measured, with a release that may have no run here.

    release: the other one. thing: of what; way: how this one is beside it, same, less, more, better or worse.
    """

    release: str
    thing: str
    way: str
    why: str | None
    at: Range


class SameAs(Circumstances, frozen=True):
    """All that is not said is as in another release. but: what is not."""

    release: str
    but: tuple[str, ...]
    at: Range


class Aside(msgspec.Struct, frozen=True):
    """A word said with a cue that stands for itself: why it paused, what it waited for, a field of one's own."""

    verb: str
    text: str
    at: Range


class Tweak(Circumstances, frozen=True):
    """A setting that had to be changed to be able to work."""

    what: str
    why: str | None
    commands: tuple[str, ...]
    at: Range


class Addition(Circumstances, frozen=True):
    """Software that had to be added.

    download, disk: bytes; frees: bytes set free by leaving something out; None when not noted, open when unknown.
    groups: what was ticked for it.
    instead: what it takes the place of.
    """

    software: str
    download: Range | None
    disk: Range | None
    source: str | None
    why: str | None
    at: Range
    frees: Range | None = None
    groups: str | None = None
    instead: str | None = None


class Shot(Circumstances, frozen=True):
    """A picture that shows something."""

    path: str
    sha256: str | None
    at: Range


class Note(Circumstances, frozen=True):
    """A remark worth publishing."""

    text: str
    at: Range


class Verdict(Circumstances, frozen=True, rename={"good": "for"}):
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
    questions: tuple[Question, ...] = ()
    remarks: tuple[Remark, ...] = ()
    beside: tuple[Beside, ...] = ()
    same_as: tuple[SameAs, ...] = ()
