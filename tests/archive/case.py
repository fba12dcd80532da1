"""Archives for tests: a folder with shared logs of the demo, and what is in their tables."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest import mock

from metrograph.archive.building import Workers
from metrograph.archive.deriving import rows_of_log
from metrograph.archive.place import ArchivePlace
from metrograph.archive.querying import query
from metrograph.archive.shared_logs import put, shared_text
from metrograph.archive.tables import TABLES
from metrograph.log.reader import read_log
from metrograph.run.cards import Release, Rig
from tests.helpers import DEMO

RIG = Rig(kind="virtual", firmware="uefi", memory=4 << 30, disk=25 << 30, processors=2)
RUNS = sorted(path.stem for path in (DEMO / "runs").glob("*.metro"))


ONE = Workers(cores=1)


@contextmanager
def another_program() -> Iterator[None]:
    """As if rows were derived by another version, which counts each reading as 7."""

    def older(data: bytes, name: str) -> dict[str, list[tuple[Any, ...]]]:
        rows = rows_of_log(data, name)
        return rows | {"figures": [(log, figure, unit, 7.0, 7.0) for log, figure, unit, _, _ in rows["figures"]]}

    with (
        mock.patch("metrograph.archive.parts.DERIVATION", "0" * 64),
        mock.patch("metrograph.archive.building.rows_of_log", older),
    ):
        yield


def shared(run: str, reviewer: str = "Wren Ashby", rig: Rig = RIG) -> bytes:
    """A run of the demo as it is shared."""
    log, _ = read_log((DEMO / f"runs/{run}.metro").read_text())
    return shared_text(log, run, reviewer, rig, Release(run.partition("-")[0].title()))


def share(place: ArchivePlace, runs: Iterable[str], reviewer: str = "Wren Ashby") -> list[str]:
    """Shares runs of the demo; the names of their logs."""
    return [put(place, shared(run, reviewer))[0] for run in runs]


def contents(place: ArchivePlace) -> dict[str, list[Any]]:
    """All rows of all tables, sorted: what an archive says, whatever its files are."""
    return {table: sorted(map(repr, query(place, f"SELECT * FROM {table}", 1_000_000).rows)) for table in TABLES}


class ArchiveCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.place = ArchivePlace(str(self.folder / "archive"))
