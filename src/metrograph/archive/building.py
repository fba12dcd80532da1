"""Folds the logs of an archive into its tables, on the cores of this machine or on those of a cluster.

A task makes one part from some logs and puts it there. Nothing is handed from task to task, so that it does not matter
who does which, how often, or in which order; what was not finished is found missing the next time.
"""

from __future__ import annotations

import hashlib
import io
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

import msgspec

from metrograph.archive.parts import ArchivePart, PartFile, catalogue, part_name, put_part, table_path
from metrograph.archive.place import EXTRA, ArchivePlace
from metrograph.archive.shared_logs import circumstances, log_names, read_log, taken_back
from metrograph.archive.tables import SCHEMA, TABLES, Row, arrow, rows_of
from metrograph.core.errors import MetrographError, needs
from metrograph.core.pool import spread
from metrograph.log.lexicon import load_lexicon
from metrograph.privacy.mask import Mask
from metrograph.run.folding.fold import fold

PART = 500  # logs of a part

Track = Callable[[Sequence[tuple[str, ...]], str], Any]


class Built(msgspec.Struct, frozen=True):
    """What came of building: how many logs have rows now that had none, and those that cannot be read, and why."""

    logs: int
    bad: dict[str, str] = {}


def build(
    place: ArchivePlace,
    cluster: str | None = None,
    cores: int | None = None,
    track: Track | None = None,
    size: int = PART,
) -> Built:
    """Makes rows of all logs that have none yet.

    cluster: the address of a scheduler; None for the cores of this machine, of which ``cores`` says how many.
    track: goes through tasks and may say how far it is. size: how many logs a part has at most.
    """
    needs("pyarrow", EXTRA)
    known = catalogue(place)
    new = sorted(set(log_names(place)) - known.logs - known.bad.keys() - taken_back(place))
    tasks = [tuple(new[start : start + size]) for start in range(0, len(new), size)]
    done = spread(cluster, cores)(partial(make_part, place.url), tasks)
    parts = [next(done) for _ in (track(tasks, "building") if track else tasks)]
    bad = {log: why for part in parts for log, why in part.bad.items()}
    return Built(sum(len(part.logs) for part in parts), bad)


def make_part(url: str, logs: tuple[str, ...]) -> ArchivePart:
    """Makes the part of some logs, and puts it into an archive."""
    place, name = ArchivePlace(url), part_name(logs)
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
    part = ArchivePart(SCHEMA, tuple(good), files, bad)
    put_part(place, name, part, data)
    return part


def rows_of_log(place: ArchivePlace, name: str) -> dict[str, list[Row]]:
    """What a log has in each table; raises MetrographError where it cannot be read."""
    log, _ = read_log(place, name)
    if log.header.begun is None or not log.header.release:
        raise MetrographError("its header says neither what was installed nor when")
    run = fold(log, log.header.other("shared-as") or name[:12], load_lexicon())
    # Whoever shares masks; what came here in another way, or with an older mask, is masked all the same.
    return rows_of(name, Mask([run]).apply(run), *circumstances(log))


def to_parquet(table: Any) -> bytes:
    """A table as the bytes of a file, the same for the same rows."""
    parquet = needs("pyarrow.parquet", EXTRA)
    buffer = io.BytesIO()
    parquet.write_table(table, buffer, compression="zstd")
    return buffer.getvalue()
