"""Shared archives: built, checked, compacted, asked, listed, and taken from."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from metrograph.archive.building import build as build_tables
from metrograph.archive.checking import check as check_archive
from metrograph.archive.compacting import compact as compact_archive
from metrograph.archive.logs import SHARED_AS, Tombstone, is_name, log_names, read_log, take_back
from metrograph.archive.parts import catalogue
from metrograph.archive.place import archive_at
from metrograph.archive.querying import Answer
from metrograph.archive.querying import query as query_archive
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import ClusterOption, JsonOption, LogbookOption, command_app, examples
from metrograph.intake.logs import Fate, take_in
from metrograph.words.figures import counted

app = command_app("Shared archives: runs of many reviewers, in one place.")
_LOGS, _MOST = "SELECT log FROM runs WHERE release = ? ORDER BY log", 100_000
UrlArgument = Annotated[str, typer.Argument(metavar="URL", help="A folder, or s3://BUCKET/FOLDER.")]
_RELEASES = """
SELECT release, any_value(distribution) AS distribution, any_value(version) AS version, count(*) AS runs,
    count(DISTINCT reviewer) AS reviewers FROM runs GROUP BY release ORDER BY release
"""


@app.command(
    epilog=examples(
        "metrograph archive build /srv/archive", "metrograph archive build /srv/archive --cluster tcp://127.0.0.1:8786"
    )
)
def build(
    ctx: typer.Context,
    url: UrlArgument,
    cluster: ClusterOption = None,
    cores: Annotated[int | None, typer.Option(metavar="COUNT", min=1, help="How many cores; all unless said.")] = None,
    json: JsonOption = False,
) -> None:
    """Fold all logs that have no rows yet into the tables.

    Killing it, or a worker, loses nothing: run it again. Logs that cannot be read are listed, and stop nothing.
    """
    environment = environment_of(ctx)
    built = build_tables(archive_at(url), cluster, cores, environment.track)
    if json:
        environment.show_json(built)
        return
    environment.say(f"{url}: {counted(built.logs, 'log')} folded")
    for log, why in built.bad.items():
        environment.warn(f"{log[:12]} cannot be read: {why}")


@app.command(epilog=examples("metrograph archive check /srv/archive", "metrograph archive check /srv/archive --json"))
def check(ctx: typer.Context, url: UrlArgument, json: JsonOption = False) -> None:
    """Check every log, table and list of an archive.

    Names what is changed, missing, doubled, foreign or half-written. Exits with 1 where an answer may suffer from it.
    """
    environment = environment_of(ctx)
    checked = check_archive(archive_at(url))
    harmful = [found for found in checked.found if not found.harmless]
    if json:
        environment.show_json(checked)
    else:
        for found in checked.found:
            detail = f": {found.detail}" if found.detail else ""
            environment.say(f"{found.file} is {found.damage}{detail}" + (" (harmless)" if found.harmless else ""))
        logs, parts = counted(checked.logs, "log"), counted(checked.parts, "part")
        environment.warn(f"{logs}, {checked.taken_back} taken back, {parts}, {counted(len(harmful), 'damage')}")
    if harmful:
        raise typer.Exit(1)


@app.command(
    epilog=examples("metrograph archive compact /srv/archive", "metrograph archive compact /srv/archive --sweep")
)
def compact(
    ctx: typer.Context,
    url: UrlArgument,
    sweep: Annotated[
        bool, typer.Option("--sweep", help="Take away what has been replaced; nobody should be reading.")
    ] = False,
) -> None:
    """Make few large parts of many small ones, so that questions are answered sooner."""
    environment = environment_of(ctx)
    done = compact_archive(archive_at(url), sweep)
    removed = f", {counted(done.removed, 'file')} taken away" if sweep else ""
    environment.say(f"{url}: {counted(done.before, 'part')} before, {done.after} now{removed}")


@app.command(
    epilog=examples(
        "metrograph archive query /srv/archive 'SELECT release, count(*) FROM runs GROUP BY 1'",
        "metrograph archive query /srv/archive 'SELECT * FROM figures LIMIT 3' --json",
    )
)
def query(
    ctx: typer.Context,
    url: UrlArgument,
    sql: Annotated[str, typer.Argument(metavar="SQL", help="One SELECT over the tables of docs/archive.md.")],
    json: JsonOption = False,
) -> None:
    """Ask the tables of an archive in SQL.

    Nothing can be written, no other file read, nothing reached.
    """
    environment = environment_of(ctx)
    answer = query_archive(archive_at(url), sql)
    if json:
        environment.show_json(answer)
        return
    environment.show(_report(answer))


@app.command(
    "list", epilog=examples("metrograph archive list /srv/archive", "metrograph archive list /srv/archive --json")
)
def list_(ctx: typer.Context, url: UrlArgument, json: JsonOption = False) -> None:
    """List the releases of an archive: how many runs, of how many reviewers."""
    environment = environment_of(ctx)
    place = archive_at(url)
    answer = query_archive(place, _RELEASES, _MOST)
    waiting = len(set(log_names(place)) - catalogue(place).logs - catalogue(place).bad.keys())
    if json:
        releases = [dict(zip(answer.columns, row, strict=True)) for row in answer.rows]
        environment.show_json(
            {"runs": sum(each["runs"] for each in releases), "releases": releases, "waiting": waiting}
        )
        return
    environment.show(_report(answer))
    if waiting:
        environment.warn(f"{counted(waiting, 'log')} without rows yet; “metrograph archive build {url}” makes them")


@app.command(epilog=examples("metrograph archive fetch /srv/archive larkmoor-8.0-heron"))
def fetch(
    ctx: typer.Context,
    url: UrlArgument,
    release: Annotated[
        str, typer.Argument(metavar="RELEASE|LOG", help="All runs of a release, or one log by its name.")
    ],
    logbook: LogbookOption = None,
) -> None:
    """Take the logs of others into your logbook, through the same gate as everything.

    A run whose name is taken in your logbook stays out.
    """
    environment = environment_of(ctx)
    book, place = environment.logbook(logbook), archive_at(url)
    found = () if is_name(release) else query_archive(place, _LOGS, _MOST, (release,)).rows
    names = [release] if is_name(release) else [row[0] for row in found]
    if not names:
        raise MetrographError(f"{url} has no runs of “{release}”; “metrograph archive list {url}” lists its releases")
    logs = [read_log(place, name)[0] for name in names]
    arrived = take_in(
        book, [(log.header.other(SHARED_AS) or name[:12], log) for name, log in zip(names, logs, strict=True)]
    )
    for each in arrived:
        environment.say(f"{each.run}: {each.fate.value}")
    if any(each.fate is Fate.NEW for each in arrived):
        environment.say("metrograph runs")


@app.command("take-back", epilog=examples("metrograph archive take-back /srv/archive LOG --why 'The wrong image'"))
def take_back_(
    ctx: typer.Context,
    url: UrlArgument,
    log: Annotated[str, typer.Argument(metavar="LOG", help="The log's name, 64 digits.")],
    why: Annotated[str, typer.Option(help="Why, for others to read.")] = "",
) -> None:
    """Mark a log as taken back: no answer counts it any longer."""
    environment = environment_of(ctx)
    if not is_name(log):
        raise MetrographError(f"“{log}” is no name of a log; expected: 64 digits, as “archive query” shows them")
    new = take_back(archive_at(url), log, Tombstone(environment.personal().reviewer or "", why))
    environment.say(f"{log[:12]} is taken back" + ("" if new else " already"))


def _report(answer: Answer) -> Any:
    from metrograph.show.report import model as m

    columns = tuple(m.Column(name, gives=True) for name in answer.columns)
    rows = tuple(m.Row(m.texts(*("" if value is None else str(value) for value in row))) for row in answer.rows)
    more = m.Lines((f"{answer.left_out} more rows are left out.",) if answer.left_out else ())
    return m.Report(parts=m.section("", m.Table(columns, rows), more), empty="no rows")
