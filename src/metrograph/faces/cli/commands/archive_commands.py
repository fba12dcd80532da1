"""Commands for the runs of many reviewers: shared, built into tables, checked, asked, taken from."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
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
    from metrograph.services.sharing_out import put_shared, to_share

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
    from metrograph.services import sharing_out

    environment = environment_of(ctx)
    built = sharing_out.build(environment, url, cluster, cores)
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
    from metrograph.services.sharing_out import checked

    environment = environment_of(ctx)
    found = checked(url)
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
    from metrograph.services import sharing_out

    environment = environment_of(ctx)
    done = sharing_out.compact(url, sweep)
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
    from metrograph.services.sharing_out import answer_result

    environment_of(ctx).give(answer_result(url, sql), json)


@app.command(
    "list", epilog=examples("metrograph archive list /srv/archive", "metrograph archive list /srv/archive --json")
)
def list_(ctx: typer.Context, url: UrlArgument, json: JsonOption = False) -> None:
    """List the releases of an archive: how many runs, of how many reviewers."""
    from metrograph.services.sharing_out import releases_in

    environment = environment_of(ctx)
    listed = releases_in(url)
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
    from metrograph.services import sharing_out

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
    from metrograph.services.sharing_out import take_back

    environment = environment_of(ctx)
    new = take_back(environment, url, log, why)
    environment.say(f"{log[:12]} is taken back" + ("" if new else " already"))
