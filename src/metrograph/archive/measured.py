"""What others have measured, or tried, of a release: beside what is published, and where one's own record is open."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import Any

import msgspec

from metrograph.archive.answers import Like, rounded
from metrograph.archive.place import ArchivePlace
from metrograph.archive.querying import opened, tables_in
from metrograph.ledgers.claims import ClaimLedger
from metrograph.measures.catalogue import MEASURES


class ThingKind(StrEnum):
    """Where an archive has a thing."""

    FIGURE = "figure"
    READING = "reading"
    TRIAL = "trial"
    SOFTWARE = "software"
    RIG = "rig"


class Thing(msgspec.Struct, frozen=True):
    """Something that can be asked of a release.

    what: how it is called by whoever asks; name: as the log has it.
    state: of a reading at rest, such as ``installed``, empty for any; of a trial the condition.
    """

    release: str
    what: str
    kind: ThingKind
    name: str = ""
    state: str = ""


class Heard(msgspec.Struct, frozen=True):
    """The answer of others about a thing.

    middle: the median of the medians of reviewers, in ``unit``, of rigs the least; None for what is no figure.
    good: of a trial the runs in which it passed, of software those that have it; None for a figure.
    runs, reviewers: all that say anything of it.
    """

    thing: Thing
    unit: str
    middle: float | None
    good: int | None
    runs: int
    reviewers: int
    like: Like


_AMOUNT = """
WITH voices AS (
    SELECT voice(r.reviewer, r.log) AS voice, any_value(f.unit) AS unit, median(middle(f.low, f.high)) AS middle,
        count(DISTINCT r.log) AS runs
    FROM {source} f JOIN runs r USING (log) WHERE f.name = ? AND r.release = ? AND {condition} GROUP BY ALL
)
SELECT any_value(unit), median(middle), NULL, sum(runs), count(*) FROM voices
"""
_COUNTED = """
SELECT NULL, NULL, count(*) FILTER (good), count(*), count(DISTINCT voice(r.reviewer, r.log)) FROM (
    SELECT r.log, r.reviewer, bool_or(good) AS good FROM {source} f JOIN runs r USING (log)
    WHERE f.name = ? AND r.release = ? AND {condition} GROUP BY ALL
) r
"""
_LEAST = """
SELECT 'bytes', min(memory), NULL, count(*), count(DISTINCT voice(reviewer, log)) FROM runs r
WHERE ? = '' AND memory IS NOT NULL AND r.release = ? AND {condition}
"""
_ASKED: Mapping[ThingKind, tuple[str, str]] = {
    ThingKind.FIGURE: (_AMOUNT, "figures"),
    ThingKind.READING: (
        _AMOUNT,
        "(SELECT * FROM readings WHERE state = coalesce(nullif(?, ''), state) AND low IS NOT NULL"
        " AND coalesce(load, 'rest') = 'rest')",
    ),
    ThingKind.TRIAL: (
        _COUNTED,
        "(SELECT log, name, result = 'pass' AS good FROM checks WHERE condition IS NOT DISTINCT FROM nullif(?, ''))",
    ),
    ThingKind.SOFTWARE: (_COUNTED, "(SELECT log, lower(item) AS name, there AS good FROM software)"),
    ThingKind.RIG: (_LEAST, ""),
}
"""How each kind of thing is asked for, and of what."""


def heard(connection: Any, thing: Thing, like: Like) -> Heard | None:
    """What others on rigs that are alike have of a thing; None where nobody says anything of it."""
    condition, values = like.condition
    question, source = _ASKED[thing.kind]
    name = thing.name.lower() if thing.kind is ThingKind.SOFTWARE else thing.name
    given = [*([thing.state] if "?" in source else []), name, thing.release, *values]
    asked = question.format(source=source, condition=condition)
    unit, middle, good, runs, reviewers = connection.execute(asked, given).fetchone()
    return Heard(thing, unit or "", rounded(middle), good, int(runs), reviewers, like) if runs else None


def heard_in(place: ArchivePlace, things: Iterable[Thing], like: Like, own: str) -> tuple[Heard, ...]:
    """What others have of some things; of what nobody says anything there is nothing. See ``opened``."""
    things = tuple(things)
    tables = tables_in(" ".join(["runs", *(_ASKED[thing.kind][1] for thing in things)]))
    with opened(place, own, tables) as connection:
        # That it ran somewhere does not depend on where one's own did.
        found = [heard(connection, each, Like() if each.kind is ThingKind.RIG else like) for each in things]
    return tuple(each for each in found if each is not None)


def claimed(ledger: ClaimLedger) -> tuple[Thing, ...]:
    """What can be asked beside a ledger of claims: each figure once, and on how little memory each release ran."""
    things = []
    for row in ledger.rows:
        known = row.measure in MEASURES
        kind, state = (ThingKind.FIGURE, "") if known else (ThingKind.READING, "installed")
        things.append(Thing(row.release, row.what if known else row.measure, kind, row.measure, state))
    releases = dict.fromkeys([*(row.release for row in ledger.rows), *(ran.release for ran in ledger.ran_on)])
    return (*dict.fromkeys(things), *(Thing(release, "memory", ThingKind.RIG) for release in releases))
