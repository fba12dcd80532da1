"""Folds the logs of an archive into its tables, on the cores of this machine or on those of a cluster.

A task makes one part from some logs and puts it there. Nothing is handed from task to task, so that it does not matter
who does which, how often, or in which order; what was not finished is found missing the next time, and so is what was
derived by another program.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from typing import Any, NamedTuple

import msgspec

from metrograph.archive.deriving import name_of, rows_of_log
from metrograph.archive.parts import (
    ArchivePart,
    TableFile,
    catalogue,
    list_path,
    made_part,
    put_part,
    table_path,
)
from metrograph.archive.place import EXTRA, LARGEST_TABLE, ArchivePlace
from metrograph.archive.shared_logs import log_names, log_path, taken_back
from metrograph.archive.tables import TABLES, Row, arrow, to_parquet
from metrograph.core.errors import MetrographError, needs
from metrograph.core.pool import spread

SMALLEST, LARGEST = 500, 20_000  # logs of a part, if there are as many; of many parts it takes long to open each
_PARTS = 16  # that are made of many logs, for as many workers as there may be
_MANY = 64  # parts of less than half the largest, from which on one is made of them
_READ_AT_ONCE = 16  # logs
_BATCH = 500  # logs whose rows are held before they are packed

Track = Callable[[Sequence[Any], str], Iterable[Any]]


class Built(msgspec.Struct, frozen=True):
    """The result of a build: how many logs have rows now that had none, and those that cannot be read, and why."""

    logs: int
    bad: dict[str, str] = {}


class Workers(msgspec.Struct, frozen=True):
    """Who does the work, and who is told how far it is.

    cluster: the address of a scheduler; None for the cores of this machine, of which ``cores`` says how many.
    track: goes through tasks and may say how far it is.
    """

    cluster: str | None = None
    cores: int | None = None
    track: Track | None = None

    def each(self, work: Callable[[Any], Any], tasks: Sequence[Any], what: str) -> list[Any]:
        """What comes of each task, in any order. what: what is done, for whoever looks on."""
        done = spread(self.cluster, self.cores)(work, tasks)
        return [next(done) for _ in (self.track(tasks, what) if self.track else tasks)]


ALL_CORES = Workers()


def build(place: ArchivePlace, workers: Workers = ALL_CORES, size: int | None = None) -> Built:
    """Makes rows of all logs of which this program has derived none yet. size: how many logs a part has at most."""
    needs("pyarrow", EXTRA)
    beside = frozenset(_own(place))
    new = waiting(place)
    done = _made(place, workers, new, size or max(SMALLEST, min(LARGEST, -(-len(new) // _PARTS))), beside)
    _join_small(place, workers)
    return Built(sum(each.logs for each in done), {log: why for each in done for log, why in each.bad.items()})


def _made(place: ArchivePlace, workers: Workers, logs: Sequence[str], size: int, beside: frozenset[str]) -> list[Built]:
    """Makes parts of logs, in the order of their names, so that few parts have to be asked for doubles."""
    tasks = [tuple(logs[start : start + size]) for start in range(0, len(logs), size)]
    return workers.each(partial(make_part, place.url, beside=beside), tasks, "building")


def _join_small(place: ArchivePlace, workers: Workers) -> None:
    """Derives many small parts anew as few, and takes their lists away; whoever reads their files still can."""
    own = _own(place)
    small = {name: part for name, part in own.items() if part.logs < LARGEST // 2}
    if len(small) <= _MANY:
        return
    gone = taken_back(place)
    logs = sorted({log for part in small.values() for log in logs_of(place, part)} - gone)
    _made(place, workers, logs, LARGEST, frozenset(own.keys() - small.keys()))
    # Nobody takes away what came after the list was read: two that do this at once keep the parts of one another.
    larger = {log for name, part in _own(place).items() if name not in small for log in logs_of(place, part)}
    for name, part in small.items():
        if larger.issuperset(set(logs_of(place, part)) - gone):
            place.remove(list_path(name))


def _own(place: ArchivePlace) -> dict[str, ArchivePart]:
    """The parts that this program has derived, or would derive alike."""
    return {name: part for name, part in catalogue(place).counted.items() if part.is_own}


def waiting(place: ArchivePlace) -> list[str]:
    """The logs of which this program has derived no rows yet, sorted."""
    known = {log for part in _own(place).values() for log in logs_of(place, part)}
    return sorted(set(log_names(place)) - known - taken_back(place))


def logs_of(place: ArchivePlace, part: ArchivePart) -> list[str]:
    """The names of the logs that a part has rows of; raises MetrographError where its file cannot be read."""
    parquet, pa = needs("pyarrow.parquet", EXTRA), needs("pyarrow", EXTRA)
    name = table_path("runs", part.files["runs"].sha256)
    try:
        table = parquet.read_table(io.BytesIO(place.read(name, LARGEST_TABLE)), columns=["log"])
    except (pa.ArrowException, OSError, ValueError) as error:
        raise MetrographError(f"{place.url}: {name} is no table: {error}") from error
    return [str(log) for log in table["log"].to_pylist()]


def make_part(url: str, logs: Sequence[str], beside: frozenset[str] = frozenset()) -> Built:
    """Makes the part of some logs, and puts it into an archive. beside: parts that have none of them."""
    place = ArchivePlace(url)
    made = derive(place, logs)
    if made.logs:
        put_part(place, made_part(made.logs, made.files, beside), made.data)
    return Built(len(made.logs), made.bad)


class Derived(NamedTuple):
    """The tables of some logs, as bytes.

    logs: those that can be read; data, files: by table; bad: those that cannot, and why.
    """

    logs: list[str]
    data: dict[str, bytes]
    files: dict[str, TableFile]
    bad: dict[str, str]


def derive(place: ArchivePlace, logs: Sequence[str]) -> Derived:
    """The tables of some logs, the same bytes for the same logs in the same order."""
    batches = [_derived_batch(place, logs[start : start + _BATCH]) for start in range(0, max(len(logs), 1), _BATCH)]
    pa = needs("pyarrow", EXTRA)
    tables = {table: pa.concat_tables([batch.tables[table] for batch in batches]).combine_chunks() for table in TABLES}
    data = {table: to_parquet(each) for table, each in tables.items()}
    files = {table: TableFile(name_of(data[table]), each.num_rows) for table, each in tables.items()}
    good = [log for batch in batches for log in batch.logs]
    return Derived(good, data, files, {log: why for batch in batches for log, why in batch.bad.items()})


class _Batch(NamedTuple):
    logs: list[str]
    tables: dict[str, Any]
    bad: dict[str, str]


def _derived_batch(place: ArchivePlace, logs: Sequence[str]) -> _Batch:
    rows: dict[str, list[Row]] = {table: [] for table in TABLES}
    good, bad = [], {}
    # Small files far apart, on a disk or in a store: what takes time is to wait for each of them.
    with ThreadPoolExecutor(_READ_AT_ONCE) as reading:
        for log, read in zip(logs, [reading.submit(place.read, log_path(log)) for log in logs], strict=True):
            try:
                more = rows_of_log(read.result(), log)
            except MetrographError as error:
                bad[log] = str(error)
                continue
            good.append(log)
            for table, each in more.items():
                rows[table] += each
    return _Batch(good, {table: arrow(table, rows[table]) for table in TABLES}, bad)
