"""What the runs of others say to a question of one's own: like is held against like, and nobody outweighs all."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import msgspec

from metrograph.archive.place import ArchivePlace
from metrograph.archive.querying import opened
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import unit_of
from metrograph.run.cards import Rig

_MEMORY = 0.1  # by how much the memory of rigs may differ that are alike


class Like(msgspec.Struct, frozen=True):
    """Which runs of others are held against one's own.

    kind, memory: of the rig, in bytes; None where nobody says.
    """

    kind: str | None = None
    memory: int | None = None

    @classmethod
    def of(cls, rig: Rig | None) -> Like:
        """The circumstances that a rig has."""
        return cls(rig.kind, rig.memory) if rig is not None else cls()

    @property
    def condition(self) -> tuple[str, list[Any]]:
        """What a run of others has to fulfil, and the values that stand in it."""
        asked = ["ended"]
        values: list[Any] = []
        if self.kind is not None:
            asked.append("rig_kind = ?")
            values.append(self.kind)
        if self.memory is not None:
            asked.append("memory BETWEEN ? AND ?")
            values += [round(self.memory * (1 - _MEMORY)), round(self.memory * (1 + _MEMORY))]
        return " AND ".join(asked), values


def rounded(middle: float | None) -> float | None:
    """A median without the digits that no log carries."""
    return None if middle is None else round(middle, 3)


class Standing(msgspec.Struct, frozen=True):
    """How a figure stands among the runs of others.

    more, less: runs whose figure lies below it, and above it, as a whole; the rest cannot be told apart from it.
    runs, reviewers: all that are alike and have the figure; middle: the median of the medians of reviewers.
    """

    name: str
    value: Range
    more: int
    less: int
    runs: int
    reviewers: int
    middle: float | None
    like: Like


class Met(msgspec.Struct, frozen=True):
    """Who else has met an issue of this name.

    summary: how it is worded by whoever asks; runs: of all, how many have; cures: with how many it helped.
    """

    name: str
    summary: str
    runs: int
    of: int
    reviewers: int
    kinds: tuple[str, ...]
    cures: tuple[tuple[str, int], ...]


class Others(msgspec.Struct, frozen=True):
    """The answers of an archive to a comparison."""

    release: str
    standings: tuple[Standing, ...]
    met: tuple[Met, ...]


class OthersFigure(msgspec.Struct, frozen=True):
    """A figure of one release among others: the median of the medians of reviewers."""

    release: str
    name: str
    unit: str
    middle: float
    runs: int
    reviewers: int


_STANDING = """
WITH alike AS (
    SELECT voice(reviewer, r.log) AS voice, f.low, coalesce(f.high, 'infinity'::DOUBLE) AS high,
        middle(f.low, f.high) AS middle
    FROM figures f JOIN runs r USING (log) WHERE f.name = ? AND {condition}
), voices AS (SELECT voice, median(middle) AS middle FROM alike GROUP BY voice)
SELECT count(*) FILTER (high < ?), count(*) FILTER (low > ?), count(*), count(DISTINCT voice),
    (SELECT median(middle) FROM voices) FROM alike
"""


def standing(connection: Any, name: str, value: Range, like: Like) -> Standing:
    """How a figure stands among those of others on rigs that are alike."""
    condition, values = like.condition
    most = value.low if value.high is None else value.high
    asked = _STANDING.format(condition=condition)
    more, less, runs, reviewers, middle = connection.execute(asked, [name, *values, value.low, most]).fetchone()
    return Standing(name, value, more, less, runs, reviewers, rounded(middle), like)


_MET = """
SELECT count(*) FILTER (met), count(*), count(DISTINCT voice(reviewer, log)) FILTER (met),
    list(DISTINCT rig_kind ORDER BY rig_kind) FILTER (met AND rig_kind IS NOT NULL)
FROM (
    SELECT r.log, r.reviewer, r.rig_kind, r.log IN (SELECT log FROM issues WHERE name = ?) AS met FROM runs r
    WHERE told
)
"""
_CURES = """
SELECT fix, count(DISTINCT voice(reviewer, i.log)) AS times FROM issues i JOIN runs r ON r.log = i.log
WHERE i.name = ? AND fix IS NOT NULL GROUP BY fix ORDER BY times DESC, fix LIMIT 3
"""


def met(connection: Any, name: str, summary: str = "") -> Met:
    """Who of the others has met an issue of this name, of those who said anything of how it went."""
    runs, of, reviewers, kinds = connection.execute(_MET, [name]).fetchone()
    cures = connection.execute(_CURES, [name]).fetchall()
    return Met(name, summary, runs, of, reviewers, tuple(kinds or ()), tuple((fix, times) for fix, times in cures))


_FOLLOWED = """
WITH voices AS (
    SELECT release, voice(reviewer, r.log) AS voice, median(middle(f.low, f.high)) AS middle, count(*) AS runs
    FROM figures f JOIN runs r USING (log) WHERE f.name = ? AND r.release IN ({}) AND ended GROUP BY ALL
)
SELECT release, median(middle), sum(runs), count(*) FROM voices GROUP BY release ORDER BY release
"""


def followed(connection: Any, name: str, releases: Sequence[str]) -> tuple[OthersFigure, ...]:
    """A figure of some releases, as others had it."""
    marks = ", ".join("?" * len(releases))
    rows = connection.execute(_FOLLOWED.format(marks), [name, *releases]).fetchall() if releases else []
    return tuple(
        OthersFigure(release, name, str(unit_of(name)), round(middle, 3), int(runs), voices)
        for release, middle, runs, voices in rows
    )


FIGURES = ("installed", "desktop", "updated", "hands-on")
"""The figures of a release that are held against those of others."""


def followed_in(place: ArchivePlace, name: str, releases: Sequence[str], own: str) -> tuple[OthersFigure, ...]:
    """A figure of some releases as others had it."""
    with opened(place, own, ("runs", "figures")) as connection:
        return followed(connection, name, releases)


def met_in(place: ArchivePlace, issues: Mapping[str, str], own: str) -> tuple[Met, ...]:
    """Which of some issues, by their names with how they are worded, others have met. See ``opened``."""
    with opened(place, own, ("runs", "issues")) as connection:
        known = [met(connection, name, summary) for name, summary in issues.items()]
    return tuple(each for each in known if each.runs)


def software_in(place: ArchivePlace, own: str) -> tuple[tuple[str, str], ...]:
    """The programs that others have met, each with what it is for, the usual ones first. See ``opened``."""
    with opened(place, own, ("runs", "software")) as connection:
        rows = connection.execute(_SOFTWARE).fetchall()
    return tuple((item, group or "") for item, group in rows)


_SOFTWARE = """
    SELECT item, any_value(kind) AS of_group FROM software GROUP BY item ORDER BY count(*) DESC, item LIMIT 5000
"""


def others(
    place: ArchivePlace, release: str, figures: Mapping[str, Range], issues: Mapping[str, str], like: Like, own: str
) -> Others:
    """What others say to the figures and the issues of a release; see ``opened``."""
    with opened(place, own, ("runs", "figures", "issues")) as connection:
        stood = [standing(connection, name, figures[name], like) for name in FIGURES if name in figures]
        known = [met(connection, name, summary) for name, summary in issues.items()]
    return Others(release, tuple(each for each in stood if each.runs), tuple(each for each in known if each.runs))


class Usual(msgspec.Struct, frozen=True):
    """How long others take, in seconds: of the medians of reviewers the quartiles, and how many there are."""

    low: float
    middle: float
    high: float
    reviewers: int


ScreenName = tuple[str, bool]
"""The title of a screen in small letters, and whether it comes after the restart."""

_USUAL = """
WITH voices AS (
    SELECT lower(s.title) AS title, s.late, voice(r.reviewer, r.log) AS voice,
        median(middle(on_clock_low, on_clock_high)) AS took
    FROM screens s JOIN runs r USING (log) WHERE r.distribution = ? AND on_clock_low > 0 AND {condition} GROUP BY ALL
)
SELECT title, late, quantile_cont(took, 0.25), median(took), quantile_cont(took, 0.75), count(*)
FROM voices GROUP BY ALL
"""


def usual_in(place: ArchivePlace, distribution: str, like: Like, own: str) -> Mapping[ScreenName, Usual]:
    """What others take on each screen of a distribution's installer; empty where nobody is alike. See ``opened``."""
    condition, values = like.condition
    with opened(place, own, ("runs", "screens")) as connection:
        rows = connection.execute(_USUAL.format(condition=condition), [distribution, *values]).fetchall()
    return {(row[0], bool(row[1])): Usual(float(row[2]), float(row[3]), float(row[4]), row[5]) for row in rows}
