"""Logs as an open document: header and cues of any number of runs, out as JSON and back in as the same logs."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import datetime
from typing import Annotated, Any

import msgspec

from metrograph.errors import MetrographError
from metrograph.model.cues import Cue, Header, Log

FORMAT = 1
"""The version of the document; it grows when a program that knows the last one would read the new one wrong."""

_VALUED = frozenset({"keep", "choose", "enter", "fact"})  # verbs whose text is the value of a key


class ArchivedCue(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A cue. at: milliseconds since ``begun``; name, text: see the run log; fields: keys with values, in order."""

    at: Annotated[int, msgspec.Meta(ge=0, description="milliseconds since the run was begun")]
    verb: str
    name: str | None = None
    text: str = ""
    fields: tuple[tuple[str, str], ...] = ()


class ArchivedRun(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A run. others: all other lines of its header, in order; cues: in the order they were written."""

    run: str
    release: str
    rig: str
    begun: datetime | None
    others: tuple[tuple[str, str], ...]
    cues: tuple[ArchivedCue, ...]


class Archive(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The whole document. format: the version of its shape."""

    format: Annotated[int, msgspec.Meta(description="the version of this shape")]
    runs: tuple[ArchivedRun, ...]


def archive(logs: Iterable[tuple[str, Log]]) -> Archive:
    """The document that holds these logs, each under the name of its run."""
    return Archive(FORMAT, tuple(_archived(run, log) for run, log in logs))


def masked(document: Archive, is_personal: Callable[[str], bool]) -> tuple[Archive, int]:
    """The same without the values of answers and facts that tell who or where, and how many cues had such.

    is_personal: whether the values of a key do.
    """
    runs, hidden = [], 0
    for run in document.runs:
        cues = tuple(_masked(cue, is_personal) for cue in run.cues)
        hidden += sum(clean != cue for clean, cue in zip(cues, run.cues, strict=True))
        runs.append(msgspec.structs.replace(run, cues=cues))
    return msgspec.structs.replace(document, runs=tuple(runs)), hidden


def schema() -> dict[str, Any]:
    """The JSON Schema of the document."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema"} | msgspec.json.schema(Archive)


def read_archive(data: bytes, file: str) -> list[tuple[str, Log]]:
    """The logs of a document; raises MetrographError, with the path to what is wrong, when it holds anything else."""
    try:
        found = msgspec.json.decode(data, type=Archive)
    except (msgspec.MsgspecError, RecursionError) as error:
        raise MetrographError(f"{file}: {error}; expected a document that “metrograph export json” wrote") from error
    if found.format != FORMAT:
        raise MetrographError(f"{file}: it is of format {found.format}; this program reads format {FORMAT}")
    return to_logs(found)


def to_logs(document: Archive) -> list[tuple[str, Log]]:
    """The logs that a document holds, each with the name of its run."""
    return [(each.run, _log(each)) for each in document.runs]


def _archived(run: str, log: Log) -> ArchivedRun:
    head = log.header
    cues = tuple(ArchivedCue(cue.at, cue.verb, cue.name, cue.text, cue.fields) for cue in log.cues)
    return ArchivedRun(run, head.release, head.rig, head.begun, head.others, cues)


def _masked(cue: ArchivedCue, is_personal: Callable[[str], bool]) -> ArchivedCue:
    if cue.verb not in _VALUED or cue.name is None or not is_personal(cue.name):
        return cue
    text = f"[{cue.name}]" if cue.text else ""
    fields = tuple((key, f"[{cue.name}]" if key in {"was", "offered"} else value) for key, value in cue.fields)
    return msgspec.structs.replace(cue, text=text, fields=fields)


def _log(run: ArchivedRun) -> Log:
    cues = tuple(Cue(each.at, each.verb, each.name, each.text, each.fields) for each in run.cues)
    return Log(run.run, Header(run.release, run.rig, run.begun, run.others), cues)
