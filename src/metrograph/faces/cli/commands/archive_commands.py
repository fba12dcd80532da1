"""Commands for the runs of many reviewers: shared, built into tables, checked, asked, taken from."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    ClusterOption,
    JsonOption,
    LogbookOption,
    command_app,
    complete_side,
    examples,
    single,
)
from metrograph.words.figure_words import counted

APPS: dict[str, typer.Typer] = {}


@single(
    APPS,
    "share",
    epilog=examples(
        "metrograph share larkmoor-8.0-heron --to /srv/archive --dry-run",
        "metrograph share larkmoor-8.0-heron-1 --to s3://bucket/archive",
    ),
)
def share(
    ctx: typer.Context,
    names: Annotated[list[str], typer.Argument(metavar="RUN...", autocompletion=complete_side)],
    to: Annotated[str, typer.Option("--to", metavar="URL", help="A folder, or s3://BUCKET/FOLDER.")],
    dry_run: Annotated[
        bool, typer.Option("--dry-run", help="Show what would leave the house, and send nothing.")
    ] = False,
    logbook: LogbookOption = None,
) -> None:
    """Put runs into a shared archive, masked and signed.

    Personal values are masked, pictures stay at home. A log is named by what is in it, so that sharing twice adds
    nothing. The signature is a name and no proof: anybody could have written it.
    """
    from metrograph.services.outward.sharing_out import put_shared, to_share

    environment = environment_of(ctx)
    shared = to_share(environment, logbook, names)
    if dry_run:
        for each in shared:
            environment.say(f"{each.run}: {len(each.text)} bytes, masked in {counted(each.hidden, 'place')}")
            environment.print(each.text.decode())
        return
    new = put_shared(to, shared)
    there = len(shared) - new
    environment.say(f"{to}: {counted(new, 'run')} shared" + (f", {there} were there already" if there else ""))


app = APPS["archive"] = command_app("Shared archives: runs of many reviewers, in one place.")
UrlArgument = Annotated[str, typer.Argument(metavar="URL", help="A folder, or s3://BUCKET/FOLDER.")]


CoresOption = Annotated[
    int | None, typer.Option("--cores", metavar="COUNT", min=1, help="How many cores; all unless said.")
]
QuickOption = Annotated[
    bool, typer.Option("--quick", help="Compare checksums only; do not derive the rows anew from the logs.")
]


@app.command(
    epilog=examples(
        "metrograph archive build /srv/archive", "metrograph archive build /srv/archive --cluster tcp://127.0.0.1:8786"
    )
)
def build(
    ctx: typer.Context,
    url: UrlArgument,
    cluster: ClusterOption = None,
    cores: CoresOption = None,
    json: JsonOption = False,
) -> None:
    """Fold all logs that have no rows yet into the tables.

    Rows that another version of the program has derived are derived anew. Killing it, or a worker, loses nothing: run
    it again. Logs that cannot be read are listed, and stop nothing.
    """
    from metrograph.services.outward import sharing_out

    environment = environment_of(ctx)
    built = sharing_out.build(url, sharing_out.workers(environment, cluster, cores))
    if json:
        environment.show_json(built)
        return
    _tell_built(environment, url, built.logs, built.bad)


@app.command(epilog=examples("metrograph archive check /srv/archive", "metrograph archive check /srv/archive --quick"))
def check(
    ctx: typer.Context,
    url: UrlArgument,
    quick: QuickOption = False,
    cluster: ClusterOption = None,
    cores: CoresOption = None,
    json: JsonOption = False,
) -> None:
    """Check every log, table and list of an archive, and whether the rows are those that the logs say.

    Names what is changed, missing, forged, foreign or half-written. Exits with 1 where an answer may suffer from it.
    """
    from metrograph.services.outward import sharing_out

    environment = environment_of(ctx)
    found = sharing_out.checked(url, sharing_out.workers(environment, cluster, cores), quick)
    harmful = [each for each in found.found if not each.harmless]
    if json:
        environment.show_json(found)
    else:
        for each in found.found:
            detail = f": {each.detail}" if each.detail else ""
            environment.say(f"{each.file} is {each.damage}{detail}" + (" (harmless)" if each.harmless else ""))
        logs, parts = counted(found.logs, "log"), counted(found.parts, "part")
        environment.warn(f"{logs}, {found.taken_back} taken back, {parts}, {counted(len(harmful), 'damage')}")
    if harmful:
        raise typer.Exit(1)


@app.command(epilog=examples("metrograph archive repair /srv/archive"))
def repair(
    ctx: typer.Context,
    url: UrlArgument,
    quick: QuickOption = False,
    cluster: ClusterOption = None,
    cores: CoresOption = None,
    json: JsonOption = False,
) -> None:
    """Derive anew what is damaged, forged or of an older version, and take away what nobody needs.

    No log is thrown away: one whose bytes are not those that it was named by is set aside, and can be shared again.
    Files that nobody knows of go when they are an hour old. Nobody should be asking meanwhile.
    """
    from metrograph.services.outward import sharing_out

    environment = environment_of(ctx)
    done = sharing_out.repair(url, sharing_out.workers(environment, cluster, cores), quick)
    if json:
        environment.show_json(done)
        return
    for path in done.aside:
        environment.say(f"{path} is set aside")
    environment.say(f"{url}: {counted(len(done.removed), 'file')} taken away")
    _tell_built(environment, url, done.built.logs, done.built.bad)


def _tell_built(environment: Environment, url: str, logs: int, bad: Mapping[str, str]) -> None:
    environment.say(f"{url}: {counted(logs, 'log')} folded")
    for log, why in bad.items():
        environment.warn(f"{log[:12]} cannot be read: {why}")


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
    from metrograph.services.outward.sharing_out import answer_result

    environment = environment_of(ctx)
    environment.give(answer_result(environment, url, sql), json)


@app.command(
    "list", epilog=examples("metrograph archive list /srv/archive", "metrograph archive list /srv/archive --json")
)
def list_(ctx: typer.Context, url: UrlArgument, json: JsonOption = False) -> None:
    """List the releases of an archive: how many runs, of how many reviewers."""
    from metrograph.services.outward.sharing_out import releases_in

    environment = environment_of(ctx)
    listed = releases_in(environment, url)
    environment.give(listed.result, json)
    if listed.waiting and not json:
        waiting = counted(listed.waiting, "log")
        environment.warn(f"{waiting} without rows yet; “metrograph archive build {url}” makes them")


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
    from metrograph.intake.whole_logs import Fate
    from metrograph.services.outward import sharing_out

    environment = environment_of(ctx)
    arrived = sharing_out.fetch(environment.logbook(logbook), url, release)
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
    from metrograph.services.outward.sharing_out import take_back

    environment = environment_of(ctx)
    new = take_back(environment, url, log, why)
    environment.say(f"{log[:12]} is taken back" + ("" if new else " already"))
