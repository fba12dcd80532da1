"""What a draft knows of a proposal that was said: its words, of which release, and what it may be instead."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

from metrograph.log.cues import Cue

SAID = "x-said"
"""The field of the words that a proposal rests on; it stays in the draft, and only as long as that is undecided."""
_WITHOUT_WORDS = "-"
OF = "x-of"
"""The field of the release that something was said of, where that is another than the draft's."""
ANOTHER = "another release"
"""What stands there where a person says that it is none of the draft's."""
FAINT = 0.15
"""Below it nothing that was said stands in a draft at all."""
ASKED = 0.6
"""Below it what was only said is not asked about, unless a person wants to listen to it."""

_VERBS = {"carries": "lacks", "lacks": "carries", "choose": "keep", "keep": "choose", "todo": "note", "note": "todo"}
_OUTCOMES = ("pass", "partly", "fail")
_SEVERITIES = ("minor", "major", "blocker")
_MEASURES: tuple[tuple[str, ...], ...] = (
    ("memory", "disk used", "disk free", "update download", "download"),
    ("boot time", "install time", "copying time", "update time", "download time", "other time"),
    ("packages", "updates", "processes"),
)
"""Measures that a figure may be of, by its unit: bytes, a length of time, a count."""


def words_of(cue: Cue) -> str:
    """The words that a proposal rests on; empty where it was seen alone, or no single words say it."""
    return (cue.field(SAID) or "").removeprefix(_WITHOUT_WORDS)


def with_words(cue: Cue, words: str) -> Cue:
    """A proposal that was heard, with its words; what tells who or where has none."""
    return msgspec.structs.replace(cue, fields=(*cue.fields, (SAID, words or _WITHOUT_WORDS)))


def of_another(cue: Cue) -> str:
    """The other release that a proposal is of; empty where it is of the draft's."""
    return cue.field(OF) or ""


def is_only_heard(cue: Cue) -> bool:
    """Whether nothing but words speaks for a proposal."""
    return cue.field(SAID) is not None and cue.field("seen") is None


def said_of(cue: Cue, release: str) -> Cue:
    """A proposal that is of another release; of the draft's own where none is named."""
    fields = tuple(pair for pair in cue.fields if pair[0] != OF)
    return msgspec.structs.replace(cue, fields=(*fields, (OF, release)) if release else fields)


def as_next_kind(cue: Cue) -> Cue | None:
    """A proposal as the next kind that the same words may be; None where they may be nothing else."""
    if cue.verb in _VERBS:
        return msgspec.structs.replace(cue, verb=_VERBS[cue.verb])
    if cue.verb == "check" and cue.text in _OUTCOMES:
        return msgspec.structs.replace(cue, text=_behind(cue.text, _OUTCOMES))
    if cue.verb == "issue":
        fields = {**dict(cue.fields), "severity": _behind(cue.field("severity") or _SEVERITIES[-1], _SEVERITIES)}
        return msgspec.structs.replace(cue, fields=_in_order(cue, fields))
    if cue.verb == "reading" and cue.name is not None:
        measures = next((each for each in _MEASURES if cue.name in each), None)
        return None if measures is None else msgspec.structs.replace(cue, name=_behind(cue.name, measures))
    return None


def _behind(one: str, others: tuple[str, ...]) -> str:
    return others[(others.index(one) + 1) % len(others)] if one in others else others[0]


def _in_order(cue: Cue, fields: Mapping[str, str]) -> tuple[tuple[str, str], ...]:
    known = [key for key, _ in cue.fields]
    return tuple((key, fields[key]) for key in (*known, *(key for key in fields if key not in known)))
