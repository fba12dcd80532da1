"""Logs as an open document: header and cues of any number of runs. Its shape, and how it is read back."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec

from metrograph.errors import MetrographError
from metrograph.log.bodies import verb_word
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.faults import Unreadable
from metrograph.visitor import Answer, Answering

FORMAT = 1
"""The version of the document; it grows when a program that knows the last one would read the new one wrong."""

_VALUED = frozenset({"keep", "choose", "enter", "fact"})  # verbs whose text is the value of a key


class ArchivedCue(Answering, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A cue. at: milliseconds since ``begun``; name, text: see the run log; fields: keys with values, in order."""

    at: Annotated[int, msgspec.Meta(ge=0, description="milliseconds since the run was begun")]
    verb: str
    name: str | None = None
    text: str = ""
    fields: tuple[tuple[str, str], ...] = ()

    def answer(self) -> Answer:
        """What was answered, and in the fields what had been pre-set and offered."""
        return Answer(self.name if self.verb in _VALUED else None, ("text",), pairs={"fields": ("was", "offered")})


class ArchivedRun(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A run. others: all other lines of its header, in order; cues: in the order they were written."""

    run: str
    release: str
    rig: str
    begun: datetime | None
    others: tuple[tuple[str, str], ...]
    cues: tuple[ArchivedCue, ...]


class Document(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The whole document. format: the version of its shape."""

    format: Annotated[int, msgspec.Meta(description="the version of this shape")]
    runs: tuple[ArchivedRun, ...]


def read_document(data: bytes, file: str) -> list[tuple[str, Log]]:
    """The logs of a document; raises MetrographError, with the path to what is wrong, when it holds anything else."""
    try:
        document = msgspec.json.decode(data, type=Document)
    except (msgspec.MsgspecError, RecursionError) as error:
        raise MetrographError(f"{file}: {error}; expected a document that “metrograph export json” wrote") from error
    if document.format != FORMAT:
        raise MetrographError(f"{file}: it is of format {document.format}; this program reads format {FORMAT}")
    return to_logs(document)


def to_logs(document: Document) -> list[tuple[str, Log]]:
    """The logs that a document holds, each with the name of its run."""
    return [(run.run, _log(run)) for run in document.runs]


def _log(run: ArchivedRun) -> Log:
    cues = tuple(_cue(run.run, number, cue) for number, cue in enumerate(run.cues, 1))
    return Log(run.run, Header(run.release, run.rig, run.begun, run.others), cues)


def _cue(run: str, number: int, cue: ArchivedCue) -> Cue:
    try:
        return Cue(cue.at, verb_word(cue.verb), cue.name, cue.text, cue.fields)
    except Unreadable as wrong:
        raise MetrographError(f"cue {number} of {run}: {wrong.sentence}") from wrong
