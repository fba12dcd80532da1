"""Asks the tables of an archive in SQL, without any way to write, to read other files, or to reach out."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import Any

import msgspec

from metrograph.archive.parts import ArchivePart, Catalogue, catalogue, overlapping, table_folder, table_path
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
    "temp_directory": "",  # what lies in the folder that one stands in is nobody's to ask
}


class QueryResult(msgspec.Struct, frozen=True):
    """The answer to a question. left_out: how many rows there are beyond those that are shown."""

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
        known = _readable(place, catalogue(place), {"runs", *tables})
        if not place.is_folder:
            connection.register_filesystem(place.fs)
        connection.execute(f"SET allowed_directories = [{_listed([place.address('tables')])}]")
        gone = _names(connection, "_gone", taken_back(place))
        doubled = _doubled(connection, place, known)
        for table in tables:
            conditions = [f"reviewer IS DISTINCT FROM {_quoted(own)}"] if own and table == "runs" else []
            conditions += [f"log NOT IN (SELECT log FROM {gone})"] if gone else []  # noqa: S608 - a name of ours
            _view(connection, table, _sources(place, known, table, doubled), conditions)
        for macro in _MACROS:
            connection.execute(f"CREATE MACRO {macro}")
        connection.execute("SET enable_external_access = false")
        connection.execute("SET lock_configuration = true")
        yield connection
    except duckdb.InterruptException as error:
        raise KeyboardInterrupt from error
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
        except duckdb.InterruptException as error:
            raise KeyboardInterrupt from error
        except duckdb.Error as error:
            raise MetrographError(f"this cannot be answered: {str(error).splitlines()[0]}") from error
        return QueryResult(tuple(column[0] for column in done.description), tuple(map(tuple, rows)), left)


def _readable(place: ArchivePlace, known: Catalogue, tables: Collection[str]) -> dict[str, ArchivePart]:
    """The parts whose files are there, in the order in which they count; of what is left out it complains."""
    there = {path for table in tables for path in place.names(table_folder(table))}
    parts = {
        name: part
        for name, part in known.counted.items()
        if all(table_path(table, part.files[table].sha256) in there for table in tables)
    }
    missing = len(known.counted) - len(parts)
    wrong = [f"{missing} parts lack files"] if missing else []
    wrong += [known.complaint] if known.complaint else []
    if wrong:
        place.warn(f"{place.url}: {' and '.join(wrong)}, and are left out; “metrograph archive check” says more")
    return parts


def _doubled(connection: Any, place: ArchivePlace, known: Mapping[str, ArchivePart]) -> dict[str, str]:
    """For each part of whose logs some count in a part before it: a table that has the names of those."""
    names = overlapping(known)
    if not names:
        return {}
    runs = {place.address(table_path("runs", known[name].files["runs"].sha256)): name for name in names}
    connection.execute("CREATE TABLE _order (file VARCHAR, place INTEGER)")
    connection.execute("INSERT INTO _order SELECT unnest(?), unnest(?)", [list(runs), list(range(len(runs)))])
    connection.execute(
        f"""CREATE TABLE _again AS SELECT log, place FROM read_parquet([{_listed(runs)}], filename = true)
        JOIN _order ON file = filename QUALIFY row_number() OVER (PARTITION BY log ORDER BY place) > 1"""  # noqa: S608
    )
    tables = {}
    for (at,) in connection.execute("SELECT DISTINCT place FROM _again").fetchall():
        connection.execute(f"CREATE TABLE _again_{at} AS SELECT log FROM _again WHERE place = {int(at)}")  # noqa: S608
        tables[names[at]] = f"_again_{at}"
    return tables


def _view(connection: Any, table: str, sources: Iterable[str], conditions: Sequence[str]) -> None:
    """A table as it is asked: of each log once, and of none that does not count."""
    columns = ", ".join(TABLES[table])
    where = f" WHERE {' AND '.join(conditions)}" if conditions else ""
    union = " UNION ALL BY NAME ".join(f"SELECT * FROM {source}" for source in sources)  # noqa: S608 - names of ours
    connection.execute(f"CREATE VIEW {table} AS SELECT {columns} FROM ({union}){where}")  # noqa: S608 - the same


def _sources(
    place: ArchivePlace, known: Mapping[str, ArchivePart], table: str, doubled: Mapping[str, str]
) -> Iterator[str]:
    """What a view reads: all files at once, but those of parts of which some logs count elsewhere, one by one."""
    # An archive without rows answers, too: the empty table brings all columns.
    columns = ", ".join(f"NULL::{_TYPES[kind]} AS {name}" for name, kind in TABLES[table].items())
    yield f"(SELECT {columns} WHERE false)"
    files = {name: part.files[table] for name, part in known.items() if part.files[table].rows}
    paths = {name: place.address(table_path(table, file.sha256)) for name, file in files.items()}
    whole = [path for name, path in paths.items() if name not in doubled]
    if whole:
        yield f"read_parquet([{_listed(whole)}])"
    for name in paths.keys() & doubled.keys():
        yield (
            f"(SELECT * FROM read_parquet([{_listed([paths[name]])}])"  # noqa: S608 - names of ours
            f" WHERE log NOT IN (SELECT log FROM {doubled[name]}))"
        )


def _names(connection: Any, table: str, logs: Collection[str]) -> str:
    """A table of names of logs; empty where there are none."""
    if not logs:
        return ""
    connection.execute(f"CREATE TABLE {table} (log VARCHAR)")
    connection.execute(f"INSERT INTO {table} SELECT unnest(?)", [list(logs)])
    return table


def _listed(texts: Iterable[str]) -> str:
    return ", ".join(map(_quoted, texts))


def _quoted(text: str) -> str:
    return "'" + text.replace("'", "''") + "'"
