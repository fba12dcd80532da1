"""Commands that put into a run what was noted elsewhere: by a probe, in pictures, notes, whole logs."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, complete_run, examples, single
from metrograph.intake.source import bare
from metrograph.intake.whole_logs import Arrived
from metrograph.log.cues import Cue
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
    cues: Annotated[
        bool, typer.Option("--cues", help="Take a line in the language of the run log for the cue that it says.")
    ] = False,
    as_notes: Annotated[
        bool, typer.Option("--as-notes", help="Take what begins like a cue and is none for a note.")
    ] = False,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show the cues and write nothing.")] = False,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Take timed notes into a run.

    Each becomes a note. With --cues, or where the first line of the file says “metrograph cues”, a line in the language
    of the run log becomes that cue; one that begins like a cue and cannot be read is told and left out until it is
    mended. Taken in again after an edit, what was changed in the file is changed in the run; what you have mended in
    the run stays.
    """
    from metrograph.services.evidence import TakenFor, take_notes, timing_of

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    timing = timing_of(environment.started(), starts, cut or [])
    taken = take_notes(book, run, environment.folder / file, timing, TakenFor(cues, as_notes), dry_run)
    with environment.once_written():
        for old, new in taken.ingested.changed:
            said = "taken out, as its line is gone" if new is None else f"now {format_time(new.at)}  {_words(new)}"
            environment.say(f"{taken.run}  {format_time(old.at)}  {_words(old)}: {said}")
        for cue in taken.ingested.cues if dry_run else taken.ingested.written:
            environment.say(f"{taken.run}  {format_time(cue.at)}  {_words(cue)}")
        for cue, there in taken.ingested.mended:
            environment.warn(
                f"{format_time(cue.at)} “{_words(cue)}” stands in the log as “{_words(there)}”"
                f" (line {there.line}), and stays so"
            )
        environment.warn_of(taken.faults)
        environment.warn(_summary(taken, dry_run))
        if taken.faults:
            raise typer.Exit(1)


def _words(cue: Cue) -> str:
    """A cue as it would be typed, without the line of notes that it came from."""
    return format_line(bare(cue))


def _summary(taken: TakenNotes, dry_run: bool) -> str:
    """How many lines became what, and what is to be done about the others."""
    result = taken.ingested
    notes = sum(cue.verb == "note" for cue in result.new)
    kinds = [counted(len(result.new) - notes, "cue")] if len(result.new) > notes else []
    kinds += [counted(notes, "note")] if notes or not kinds else []
    there = len(result.cues) - len(result.new) - len(result.mended) - sum(new is not None for _, new in result.changed)
    parts = [f"{' and '.join(kinds)} {'to write' if dry_run else 'written'} to {taken.run}"]
    parts += [f"{len(result.changed)} changed as {'its line was' if len(result.changed) == 1 else 'their lines were'}"]
    parts = parts if result.changed else parts[:1]
    parts += [f"{there} there already"] if there else []
    if taken.faults:
        parts.append(
            f"{counted(len(taken.faults), 'line')} left out that only begin like cues; mend them and take the file in"
            " again, or take them for notes with --as-notes"
        )
    elif not taken.as_cues and (cues := sum(_looks_like_cue(cue) for cue in result.new)):
        parts.append(f"{cues} of the notes could be read as cues; --cues takes them so")
    return "; ".join(parts)


def _looks_like_cue(cue: Cue) -> bool:
    from metrograph.log.faults import Unreadable
    from metrograph.log.reader import parse_line

    try:
        return bool(parse_line(cue.text, shortened=False))
    except Unreadable:
        return False


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
