"""Folds the logs of an archive into its tables, on the cores of this machine or on those of a cluster.

A task makes one part from some logs and puts it there. Nothing is handed from task to task, so that it does not matter
who does which, how often, or in which order; what was not finished is found missing the next time.
"""

from __future__ import annotations

import hashlib
import io
import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from multiprocessing import current_process, get_context
from typing import Any

import msgspec

from metrograph.archive.logs import circumstances, log_names, read_log, taken_back
from metrograph.archive.parts import Part, PartFile, catalogue, part_name, put_part, table_path
from metrograph.archive.place import Place, needs
from metrograph.archive.tables import SCHEMA, TABLES, Row, arrow, rows_of
from metrograph.errors import MetrographError
from metrograph.log.lexicon import load_lexicon
from metrograph.run.folding.fold import fold

PART = 500  # logs of a part
_RETRIES = 5  # of a task whose worker died

Track = Callable[[Sequence[tuple[str, ...]], str], Any]


class Built(msgspec.Struct, frozen=True):
    """What came of building: how many logs have rows now that had none, and those that cannot be read, and why."""

    logs: int
    bad: dict[str, str] = {}


def build(
    place: Place,
    cluster: str | None = None,
    cores: int | None = None,
    track: Track | None = None,
    size: int = PART,
) -> Built:
    """Makes rows of all logs that have none yet.

    cluster: the address of a scheduler; None for the cores of this machine, of which ``cores`` says how many.
    track: goes through tasks and may say how far it is. size: how many logs a part has at most.
    """
    needs("pyarrow")
    known = catalogue(place)
    new = sorted(set(log_names(place)) - known.logs - known.bad.keys() - taken_back(place))
    tasks = [tuple(new[start : start + size]) for start in range(0, len(new), size)]
    done = _on_cluster(place.url, tasks, cluster) if cluster else _here(place.url, tasks, cores or os.cpu_count() or 1)
    parts = [next(done) for _ in (track(tasks, "building") if track else tasks)]
    bad = {log: why for part in parts for log, why in part.bad.items()}
    return Built(sum(len(part.logs) for part in parts), bad)


def _here(url: str, tasks: Sequence[tuple[str, ...]], cores: int) -> Iterator[Part]:
    if cores < 2 or len(tasks) < 2 or current_process().daemon:  # such a process may have no others
        yield from map(partial(make_part, url), tasks)
        return
    with ProcessPoolExecutor(min(cores, len(tasks)), get_context("spawn")) as pool:
        yield from pool.map(partial(make_part, url), tasks)


def _on_cluster(url: str, tasks: Sequence[tuple[str, ...]], address: str) -> Iterator[Part]:
    distributed = needs("distributed", "cluster")
    try:
        client = distributed.Client(address, timeout="10s")
    except (OSError, ValueError) as error:
        raise MetrographError(f"there is no scheduler at {address}: {error}") from error
    with client:
        futures = client.map(partial(make_part, url), tasks, retries=_RETRIES, pure=False)
        for _, part in distributed.as_completed(futures, with_results=True):
            yield part


def make_part(url: str, logs: tuple[str, ...]) -> Part:
    """Makes the part of some logs, and puts it into an archive."""
    place, name = Place(url), part_name(logs)
    rows: dict[str, list[Row]] = {table: [] for table in TABLES}
    good, bad = [], {}
    for log in logs:
        try:
            for table, more in rows_of_log(place, log).items():
                rows[table] += more
        except MetrographError as error:
            bad[log] = str(error)
        else:
            good.append(log)
    data = {table: to_parquet(arrow(table, rows[table])) for table in TABLES}
    files = tuple(
        PartFile(table, table_path(table, name), hashlib.sha256(data[table]).hexdigest(), len(rows[table]))
        for table in TABLES
    )
    part = Part(SCHEMA, tuple(good), files, bad)
    put_part(place, name, part, data)
    return part


def rows_of_log(place: Place, name: str) -> dict[str, list[Row]]:
    """What a log has in each table; raises MetrographError where it cannot be read."""
    log, _ = read_log(place, name)
    if log.header.begun is None or not log.header.release:
        raise MetrographError("its header says neither what was installed nor when")
    run = fold(log, log.header.other("shared-as") or name[:12], load_lexicon())
    return rows_of(name, run, *circumstances(log))


def to_parquet(table: Any) -> bytes:
    """A table as the bytes of a file, the same for the same rows."""
    parquet = needs("pyarrow.parquet")
    buffer = io.BytesIO()
    parquet.write_table(table, buffer, compression="zstd")
    return buffer.getvalue()
