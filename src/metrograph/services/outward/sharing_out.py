"""Runs in a shared archive: put there masked and signed, built into tables, checked, asked, taken from."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import msgspec

from metrograph.archive.building import Built, Workers, waiting
from metrograph.archive.building import build as build_tables
from metrograph.archive.checking import Checked
from metrograph.archive.checking import check as check_archive
from metrograph.archive.deriving import SHARED_AS
from metrograph.archive.place import ArchivePlace, archive_at
from metrograph.archive.querying import QueryResult
from metrograph.archive.querying import query as query_archive
from metrograph.archive.repairing import Repaired
from metrograph.archive.repairing import repair as repair_archive
from metrograph.archive.shared_logs import Tombstone, is_name, put, read_log, shared_text
from metrograph.archive.shared_logs import take_back as put_tombstone
from metrograph.core.errors import MetrographError
from metrograph.intake.whole_logs import Arrived, document, take_in, to_logs
from metrograph.ledgers.digests.cache import digests_of
from metrograph.privacy.mask import SHARED_LINES, Mask, with_header
from metrograph.run.audience import published_log
from metrograph.services.desk import Desk, Result
from metrograph.show.report.model import Column, Lines, Report, Row, Table, section, texts
from metrograph.store.local.card_files import load_releases, load_rigs
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import select
from metrograph.store.reading import LogReader

_LOGS, _MOST = "SELECT log FROM runs WHERE release = ? ORDER BY log", 100_000
_RELEASES = """
SELECT release, any_value(distribution) AS distribution, any_value(version) AS version, count(*) AS runs,
    count(DISTINCT reviewer) AS reviewers FROM runs GROUP BY release ORDER BY release
"""


class Shared(msgspec.Struct, frozen=True):
    """A log as it leaves the house. hidden: in how many places it is masked."""

    run: str
    text: bytes
    hidden: int


def to_share(desk: Desk, logbook: Path | None, names: Sequence[str]) -> list[Shared]:
    """The logs of runs, masked and signed; raises MetrographError when nobody signs, or a run is not over."""
    book = desk.logbook(logbook)
    reader, reviewer = LogReader(book), desk.preferences().reviewer or ""
    if not reviewer:
        raise MetrographError("say who shares them: “metrograph settings reviewer NAME”")
    rigs, releases = load_rigs(book), load_releases(book)
    runs = dict.fromkeys(run for name in names for run in select(book, name).runs)
    shared = []
    # A name that one run tells stands in what others say: all runs of the logbook are asked whose it is.
    known = digests_of(reader, book, desk.track)
    for run in runs:
        log, folded = reader.log(run), reader.run(run)
        if folded.ended is None:
            raise MetrographError(f"{run} is not over yet, and a log is never changed once it is shared")
        cues = tuple(cue for cue in published_log(log).cues if cue.verb != "shot")
        without = msgspec.structs.replace(with_header(log, SHARED_LINES), cues=cues)
        mask = Mask([folded, *known])
        clean = to_logs(mask.apply(document([(run, without)])))[0][1]
        card = releases.get(folded.release)
        text = shared_text(clean, run, reviewer, rigs.get(folded.rig), card)
        shared.append(Shared(run, text, mask.hidden))
    desk.warn_of(reader.faults)
    return shared


def put_shared(url: str, shared: Sequence[Shared]) -> int:
    """Puts logs into an archive; how many were not there."""
    place = ArchivePlace(url)
    return sum(put(place, each.text)[1] for each in shared)


def workers(desk: Desk, cluster: str | None, cores: int | None) -> Workers:
    """Those of a cluster, or cores here; whoever waits is told how far they are."""
    return Workers(cluster, cores, desk.track)


def build(url: str, by: Workers) -> Built:
    """Folds all logs that have no rows yet into the tables."""
    return build_tables(archive_at(url), by)


def repair(url: str, by: Workers, quick: bool) -> Repaired:
    """Derives anew what is damaged or of another version."""
    return repair_archive(archive_at(url), by, quick)


def checked(url: str, by: Workers, quick: bool) -> Checked:
    """Every damage of an archive."""
    return check_archive(archive_at(url), by, quick)


def answer_result(desk: Desk, url: str, sql: str) -> Result:
    """What the tables of an archive answer to one question in SQL."""
    answer = query_archive(archive_at(url, desk.warn), sql)
    return Result(answer, lambda _: _report(answer))


class Listed(msgspec.Struct, frozen=True):
    """The releases of an archive. waiting: logs without rows yet."""

    result: Result
    waiting: int


def releases_in(desk: Desk, url: str) -> Listed:
    """The releases of an archive: how many runs, of how many reviewers."""
    place = archive_at(url, desk.warn)
    answer = query_archive(place, _RELEASES, _MOST)
    without = len(waiting(place))
    releases = [dict(zip(answer.columns, row, strict=True)) for row in answer.rows]
    document = {"runs": sum(each["runs"] for each in releases), "releases": releases, "waiting": without}
    return Listed(Result(document, lambda _: _report(answer)), without)


def fetch(book: Logbook, url: str, name: str) -> list[Arrived]:
    """Takes the logs of others into a logbook: all of a release, or one by its name of 64 digits."""
    place = archive_at(url)
    found = () if is_name(name) else query_archive(place, _LOGS, _MOST, (name,)).rows
    names = [name] if is_name(name) else [row[0] for row in found]
    if not names:
        raise MetrographError(f"{url} has no runs of “{name}”; “metrograph archive list {url}” lists its releases")
    logs = [read_log(place, each)[0] for each in names]
    return take_in(
        book, [(log.header.other(SHARED_AS) or each[:12], log) for each, log in zip(names, logs, strict=True)]
    )


def take_back(desk: Desk, url: str, log: str, why: str) -> bool:
    """Marks a log as taken back; whether it was not yet."""
    if not is_name(log):
        raise MetrographError(f"“{log}” is no name of a log; expected: 64 digits, as “archive query” shows them")
    return put_tombstone(archive_at(url), log, Tombstone(desk.preferences().reviewer or "", why))


def _report(answer: QueryResult) -> Report:
    columns = tuple(Column(name, gives=True) for name in answer.columns)
    rows = tuple(Row(texts(*("" if value is None else str(value) for value in row))) for row in answer.rows)
    more = Lines((f"{answer.left_out} more rows are left out.",) if answer.left_out else ())
    return Report(parts=section("", Table(columns, rows), more), empty="no rows")
