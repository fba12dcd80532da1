"""Asks the tables of an archive in SQL, without any way to write, to read other files, or to reach out."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from contextlib import contextmanager
from typing import Any

import msgspec

from metrograph.archive.parts import Catalogue, catalogue
from metrograph.archive.place import EXTRA, ArchivePlace
from metrograph.archive.shared_logs import taken_back
from metrograph.archive.tables import TABLES
from metrograph.core.errors import MetrographError, needs

_TYPES = {
    "string": "VARCHAR", "int32": "INTEGER", "int64": "BIGINT", "float64": "DOUBLE", "bool": "BOOLEAN",
    "timestamp": "TIMESTAMP WITH TIME ZONE",
}  # fmt: skip
"""What the types of columns are called in SQL."""

_MACROS = (
    "middle(low, high) AS (low + coalesce(high, low)) / 2",  # half-way, or the lower bound where the upper is open
    "voice(reviewer, log) AS coalesce(reviewer, log)",  # a reviewer once, however many runs; of who does not say, each
)
_MEMORY = "1500MB"
_CONFIG = {
    "autoinstall_known_extensions": "false",
    "autoload_known_extensions": "false",
    "python_enable_replacements": "false",
    "memory_limit": _MEMORY,
}


class QueryResult(msgspec.Struct, frozen=True):
    """What came of a question. left_out: how many rows there are beyond those that are shown."""

    columns: tuple[str, ...]
    rows: tuple[tuple[Any, ...], ...]
    left_out: int = 0


@contextmanager
def opened(place: ArchivePlace, own: str = "", tables: Collection[str] = TABLES) -> Iterator[Any]:
    """A connection to the tables, each a view of its name, closed at the end.

    own: the reviewer whose runs are left out, as what others say is asked; empty for nobody.
    tables: those that are asked; each that is there takes its time.
    """
    duckdb = needs("duckdb", EXTRA)
    connection = duckdb.connect(config=dict(_CONFIG))
    try:
        known, gone = catalogue(place), taken_back(place)
        if place.is_folder:
            _set(connection, "allowed_directories", f"['{_quoted(place.root)}/tables']")
        for table in tables:
            _view(connection, place, known, gone, table, own if table == "runs" else "")
        for macro in _MACROS:
            connection.execute(f"CREATE MACRO {macro}")
        connection.execute("SET enable_external_access = false")
        connection.execute("SET lock_configuration = true")
        yield connection
    except duckdb.Error as error:
        why = str(error).splitlines()[0]
        raise MetrographError(f"{place.url} cannot be asked; “metrograph archive check” says more: {why}") from error
    finally:
        connection.close()


def tables_in(sql: str) -> list[str]:
    """The tables that a question may be about: those that it names."""
    return [table for table in TABLES if table in sql.lower()]


def query(place: ArchivePlace, sql: str, most: int = 1000, values: Sequence[str] = ()) -> QueryResult:
    """The answer to one question, in which ``values`` stand for its question marks.

    Raises MetrographError for what is no question, or cannot be answered.
    """
    duckdb = needs("duckdb", EXTRA)
    with opened(place, tables=tables_in(sql)) as connection:
        try:
            statements = duckdb.extract_statements(sql)
            if len(statements) != 1 or statements[0].type != duckdb.StatementType.SELECT:
                raise MetrographError("this is not one question; expected: SELECT ... FROM runs, figures, screens ...")
            done = connection.execute(statements[0], list(values))
            rows = done.fetchmany(most)
            left = 0
            while more := done.fetchmany(most):
                left += len(more)
        except duckdb.Error as error:
            raise MetrographError(f"this cannot be answered: {str(error).splitlines()[0]}") from error
        return QueryResult(tuple(column[0] for column in done.description), tuple(map(tuple, rows)), left)


def _view(connection: Any, place: ArchivePlace, known: Catalogue, gone: frozenset[str], table: str, own: str) -> None:
    """A table without the rows of logs that were taken back, or are one's own, and of each log once."""
    columns = ", ".join(TABLES[table])
    conditions = [f"reviewer IS DISTINCT FROM '{_quoted(own)}'"] if own else []
    if gone:
        _names(connection, "_gone", gone)
        conditions.append("log NOT IN (SELECT a FROM _gone)")
    where = f" WHERE {' AND '.join(conditions)}" if conditions else ""
    sources = _sources(connection, place, known, table)
    union = " UNION ALL BY NAME ".join(f"SELECT * FROM {source}" for source in sources)  # noqa: S608 - names of ours
    connection.execute(f"CREATE VIEW {table} AS SELECT {columns} FROM ({union}){where}")  # noqa: S608 - the same


def _sources(connection: Any, place: ArchivePlace, known: Catalogue, table: str) -> Iterator[str]:
    """What a view reads: all files at once, but those of parts of which some logs count elsewhere, one by one."""
    # A file from before a column came has nothing there: the empty table brings all columns.
    columns = ", ".join(f"NULL::{_TYPES[kind]} AS {name}" for name, kind in TABLES[table].items())
    yield f"(SELECT {columns} WHERE false)"
    doubled = {file.name: logs for name, logs in known.doubled.items() for file in known.parts[name].files}
    whole = [file for file in known.files(table) if file not in doubled]
    if whole:
        yield _read(connection, place, f"_{table}_files", whole)
    for number, name in enumerate(file for file in known.files(table) if file in doubled):
        _names(connection, f"_doubled_{table}_{number}", doubled[name])
        source = _read(connection, place, f"_{table}_{number}", [name])
        yield f"(SELECT * FROM {source} WHERE log NOT IN (SELECT a FROM _doubled_{table}_{number}))"  # noqa: S608


def _read(connection: Any, place: ArchivePlace, name: str, files: Sequence[str]) -> str:
    """Some files: themselves in a folder, and elsewhere what fsspec gives of them."""
    paths = [place.path(file) for file in files]
    if place.is_folder:
        listed = ", ".join(f"'{_quoted(path)}'" for path in paths)
        return f"read_parquet([{listed}], union_by_name = true)"
    dataset = needs("pyarrow.dataset", EXTRA)
    connection.register(name, dataset.dataset(paths, format="parquet", filesystem=place.fs))
    return name


def _names(connection: Any, table: str, logs: Iterable[str]) -> None:
    """A table of names of logs."""
    pa = needs("pyarrow", EXTRA)
    connection.register("_given", pa.table({"a": pa.array(list(logs), pa.string())}))
    connection.execute(f"CREATE OR REPLACE TABLE {table} AS SELECT * FROM _given")  # noqa: S608 - a name of ours
    connection.unregister("_given")


def _set(connection: Any, name: str, value: str) -> None:
    connection.execute(f"SET {name} = {value}")


def _quoted(text: str) -> str:
    return text.replace("'", "''")
