"""Asks a shared archive what others say, where one was named or set."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, TypeVar

import msgspec

from metrograph.archive.answers import Like, Others, others
from metrograph.archive.place import ArchivePlace, archive_at
from metrograph.core.errors import MetrographError
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.run.cards import Rig
from metrograph.run.records import Run
from metrograph.services.desk import Desk
from metrograph.show.report.model import Lines, Report, section
from metrograph.words.others_words import NOBODY, told

T = TypeVar("T")


def asked(desk: Desk, archive: str | None, ask: Callable[[ArchivePlace, str], T]) -> T | None:
    """What an archive answers to somebody; None where none was named or set, or the one that is set cannot be asked.

    ask: given the place, and who asks, whose runs are not those of others.

    Raises MetrographError where one was named that cannot be asked.
    """
    personal = desk.preferences()
    url = archive or personal.archive
    if url is None:
        return None
    try:
        return ask(archive_at(url, desk.warn), personal.reviewer or "")
    except MetrographError as error:
        if archive is not None:
            raise
        desk.warn(f"others could not be asked: {error}")
        return None


def others_of(
    desk: Desk, archive: str | None, comparison: Comparison, runs: Sequence[Run], cards: Mapping[str, Rig]
) -> Others | None:
    """What others say to the latest release of a comparison, of which these are the runs; see ``asked``."""
    rigs = {run.rig for run in comparison.selection.of(runs)}
    rig = cards.get(rigs.pop()) if len(rigs) == 1 else None
    figures = {name: spread.median for name, spread in comparison.figures[-1].items()}
    issues = {row.name: row.summary for row in comparison.issues if row.name}
    release = comparison.releases[-1]
    return asked(desk, archive, lambda place, own: others(place, release, figures, issues, Like.of(rig), own))


def like_of(of: ReleaseGroup, rigs: Mapping[str, Rig]) -> Like:
    """Runs like those of some releases: on rigs like theirs, where all were installed on one."""
    used = {run.rig for runs in of.measured.values() for run in runs}
    return Like.of(rigs.get(used.pop()) if len(used) == 1 else None)


def beside_others(report: Report, said: Any, nothing: str | None = None) -> Report:
    """A report with what others say at its end. nothing: what is said where they say nothing."""
    return msgspec.structs.replace(
        report, parts=(*report.parts, *section("Beside others", Lines(tuple(told(said, nothing or NOBODY)))))
    )
