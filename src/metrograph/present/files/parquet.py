"""The tables as Parquet, typed, a folder each and in it one for each release, so that any engine can query them."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from metrograph.errors import MetrographError, NotWritableError
from metrograph.present.files.tables import TABLES, ExportTable
from metrograph.run.records import Run


def write_parquet(runs: Sequence[Run], folder: Path) -> int:
    """Writes all tables below a folder, ``TABLE/release=ID/part-0.parquet``; returns how many rows there are.

    Raises MetrographError when pyarrow is not installed, NotWritableError when the folder cannot be written to.
    """
    try:
        from pyarrow import dataset
    except ImportError as error:
        raise MetrographError(
            "Parquet needs pyarrow, which is not installed: pip install 'metrograph[parquet]'"
        ) from error
    count = 0
    for name, table in TABLES.items():
        made = _arrow(table, runs)
        count += made.num_rows
        try:
            dataset.write_dataset(
                made, folder / name, format="parquet", partitioning=["release"], partitioning_flavor="hive",
                existing_data_behavior="delete_matching",
            )  # fmt: skip
        except OSError as error:
            raise NotWritableError(f"{folder / name} cannot be written: {error}") from error
    return count


def _arrow(table: ExportTable, runs: Sequence[Run]) -> Any:
    """One of the tables in columns of its types."""
    import pyarrow as pa

    types = {
        "text": pa.string(), "whole": pa.int64(), "number": pa.float64(),
        "moment": pa.timestamp("ms", tz="UTC"), "truth": pa.bool_(),
    }  # fmt: skip
    columns = list(zip(*(row for run in runs for row in table.rows(run)), strict=True)) or [()] * len(table.columns)
    made = {
        name: pa.array(values, types[kind]) for (name, kind), values in zip(table.columns.items(), columns, strict=True)
    }
    return pa.table(made)
