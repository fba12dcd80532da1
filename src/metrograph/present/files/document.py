"""Logs as an open document: header and cues of any number of runs, to be written as JSON."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import msgspec

from metrograph.log.cues import Log
from metrograph.sources.document import FORMAT, ArchivedCue, ArchivedRun, Document


def document(logs: Iterable[tuple[str, Log]]) -> Document:
    """The document that holds these logs, each under the name of its run."""
    return Document(FORMAT, tuple(_archived(run, log) for run, log in logs))


def schema() -> dict[str, Any]:
    """The JSON Schema of the document."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema"} | msgspec.json.schema(Document)


def _archived(run: str, log: Log) -> ArchivedRun:
    head = log.header
    cues = tuple(ArchivedCue(cue.at, cue.verb, cue.name, cue.text, cue.fields) for cue in log.cues)
    return ArchivedRun(run, head.release, head.rig, head.begun, head.others, cues)
