"""Commands that put into a run what was noted elsewhere: by a probe, in pictures, notes, whole logs."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, complete_run, examples, single
from metrograph.intake.whole_logs import Arrived
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_line, format_words
from metrograph.services.evidence import TakenNotes
from metrograph.words.figure_words import counted

APPS: dict[str, typer.Typer] = {}


@single(
    APPS,
    "attach",
    epilog=examples(
        "metrograph attach larkmoor-8.0-heron-1 facts.json",
        "metrograph attach larkmoor-8.0-heron-1 facts.json --at 20:15",
    ),
)
def attach(
    ctx: typer.Context,
    run: Annotated[str, typer.Argument(metavar="RUN", autocompletion=complete_run)],
    file: Annotated[
        Path, typer.Argument(metavar="FILE", help="What “metrograph probe” wrote on the installed system.")
    ],
    at: AtOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Put what a probe found into a run.

    It becomes facts, readings and the layout that is there. Its time is when the probe ran, where that lies within the
    run, or what --at says; from it comes the state that the readings were taken in: live or installed, before or after
    the update. What the run has already is not written twice.
    """
    from metrograph.services import evidence

    environment = environment_of(ctx)
    attached = evidence.attach(environment, environment.logbook(logbook), run, environment.folder / file, at)
    with environment.once_written():
        for cue in attached.cues:
            environment.say(f"{attached.run}  {format_time(cue.at)}  {format_line(cue)}")
        for what, why in attached.missing:
            environment.warn(f"not found out: {what}: {why}")
        for difference in attached.differences:
            environment.say(f"{attached.run}  not as the installer said: {difference}")


@single(
    APPS,
    "probe",
    epilog=examples(
        "metrograph probe > facts.json",
        "metrograph probe --script > probe.py    # there: python3 probe.py > facts.json",
        "metrograph attach larkmoor-8.0-heron-1 facts.json",
    ),
)
def probe(
    ctx: typer.Context,
    script: Annotated[bool, typer.Option("--script", help="Print the probe itself, to be run elsewhere.")] = False,
    root: Annotated[str, typer.Option(metavar="DIR", help="Another tree of files, such as a mounted disk.")] = "/",
) -> None:
    """Write what this system is, as JSON: facts, readings, layout.

    Runs as an ordinary user, changes nothing and needs no network. What cannot be found out is said under “missing”.
    """
    from metrograph.services.evidence import probe_here, probe_source

    environment_of(ctx).print(probe_source() if script else probe_here(root))


@single(APPS, "shot", epilog=examples("metrograph shot disk.png", "metrograph shot ~/viewer-pictures --at 4:10"))
def shot(
    ctx: typer.Context,
    path: Annotated[Path, typer.Argument(metavar="FILE", help="A picture, or a folder: its newest since the last.")],
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Keep a picture as evidence, in the logbook and in the run.

    It is copied under its checksum. Its time is that of its file where that lies within the run, and now where not.
    """
    from metrograph.services.evidence import keep_shot

    environment = environment_of(ctx)
    name, cues = keep_shot(environment, environment.logbook(logbook), run, environment.folder / path, at)
    with environment.once_written():
        for cue in cues:
            environment.say(f"{name}  {format_time(cue.at)}  {format_words(cue)}")


app = APPS["import"] = command_app("Take in what was recorded elsewhere.")
DryRunOption = Annotated[bool, typer.Option("--dry-run", help="Say what would be written, and write nothing.")]


@app.command(
    epilog=examples(
        "metrograph import notes captions.vtt --run larkmoor-8.0-heron-1",
        "metrograph import notes talk.srt --starts 0:40 --cut 12:30=8:00 --dry-run",
    )
)
def notes(
    ctx: typer.Context,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="WebVTT, SubRip, CSV, or lines with a leading time.")],
    starts: Annotated[
        str | None,
        typer.Option(metavar="TIME", help="Where on the run's time the recording begins; -1:05 if it began before."),
    ] = None,
    cut: Annotated[
        list[str] | None,
        typer.Option(metavar="AT=LENGTH", help="Real time that it leaves out: 8:00, 5:00..6:00 or ?; repeatable."),
    ] = None,
    as_notes: Annotated[
        bool, typer.Option("--as-notes", help="Take what begins like a cue and is none for a note.")
    ] = False,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show the cues and write nothing.")] = False,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Turn timed notes into cues.

    A note in the language of the run log becomes that cue; any other becomes a note, and none is left out. Where one
    begins like a cue and cannot be read, nothing is written until it is mended. What the run has already is not
    written again, also where it was mended there.
    """
    from metrograph.services.evidence import FaultyNotesError, take_notes, timing_of

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    timing = timing_of(environment.started(), starts, cut or [])
    try:
        taken = take_notes(book, run, environment.folder / file, timing, as_notes, dry_run)
    except FaultyNotesError as error:
        environment.warn_of(error.faults)
        raise
    with environment.once_written():
        for cue in taken.ingested.cues if dry_run else taken.ingested.written:
            environment.say(f"{taken.run}  {format_time(cue.at)}  {format_line(cue)}")
        for cue, there in taken.ingested.mended:
            environment.warn(
                f"{format_time(cue.at)} “{format_line(cue)}” stands in the log as “{format_line(there)}”"
                f" (line {there.line}), and stays so"
            )
        environment.warn(_summary(taken, dry_run))


def _summary(taken: TakenNotes, dry_run: bool) -> str:
    result = taken.ingested
    plain = sum(cue.verb == "note" for cue in result.cues) - taken.misread
    there = len(result.cues) - len(result.new) - len(result.mended)
    parts = [f"{counted(len(result.cues), 'note')}, {plain} of them as they are"]
    parts += [f"{taken.misread} that only begin like cues"] if taken.misread else []
    parts += [f"{there} there already"] if there else []
    done = "to write" if dry_run else "written"
    return f"{', '.join(parts)}; {counted(len(result.new), 'cue')} {done} to {taken.run}"


@app.command(epilog=examples("metrograph import json archive.json", "metrograph import json archive.json --dry-run"))
def json(
    ctx: typer.Context,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="What “metrograph export json” wrote.")],
    dry_run: DryRunOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Take in logs from a JSON document.

    A run that is there already is left as it is, and said to differ when it does.
    """
    from metrograph.services.evidence import take_document

    environment = environment_of(ctx)
    _tell(environment, take_document(environment.logbook(logbook), environment.folder / file, dry_run), dry_run)


@app.command(epilog=examples("metrograph import csv tables", "metrograph import csv tables --dry-run"))
def csv(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="DIR", help="What “metrograph export csv” wrote.")],
    dry_run: DryRunOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Take in logs from tables.

    Reads headers.csv and cues.csv. A run that is there already is left as it is, and said to differ when it does.
    """
    from metrograph.services.evidence import take_tables

    environment = environment_of(ctx)
    _tell(environment, take_tables(environment.logbook(logbook), environment.folder / folder, dry_run), dry_run)


def _tell(environment: Environment, arrived: Sequence[Arrived], dry_run: bool) -> None:
    """Says what became of each log that came."""
    from metrograph.intake.whole_logs import Fate

    for log in arrived:
        if log.fate is Fate.NEW:
            environment.say(f"{log.run}  {log.cues} cues")
        else:
            differs = ", and differs; it is left as it is" if log.fate is Fate.DIFFERS else ""
            environment.say(f"{log.run} is there already{differs}")
    new, same, differing = (sum(log.fate is fate for log in arrived) for fate in (Fate.NEW, Fate.SAME, Fate.DIFFERS))
    environment.warn(f"{new} runs {'to write' if dry_run else 'written'}, {same} there already, {differing} differ")
    if differing:
        raise typer.Exit(1)
