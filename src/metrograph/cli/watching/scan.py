"""Goes through a recording and proposes its log."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from metrograph.cli.environment import Environment, environment_of
from metrograph.cli.options import JsonOption, LogbookOption, command_app, complete_release, examples
from metrograph.cli.recording.opening import BegunOption, RigOption
from metrograph.cli.watching.drafting import Drafting, open_drafting
from metrograph.cli.watching.interrupts import interruptible
from metrograph.log.lexicon import load_lexicon
from metrograph.log.quantities.times import show_moment
from metrograph.sources.watch.needs import check_watch
from metrograph.store.local.scans import scan_folder

if TYPE_CHECKING:
    from metrograph.sources.watch.open_source import Recording
    from metrograph.sources.watch.scanning import Scan

app = command_app()


@app.command(
    epilog=examples(
        "metrograph scan install.mkv",
        "metrograph scan install.mkv larkmoor-9.0-heron --rig bench-vm --captions install.vtt",
        "metrograph scan console.cast --json",
    )
)
def scan(
    ctx: typer.Context,
    file: Annotated[
        Path, typer.Argument(metavar="FILE", help="A film, a folder of pictures, or a terminal's recording.")
    ],
    release: Annotated[
        str | None,
        typer.Argument(metavar="[RELEASE]", autocompletion=complete_release, help="Write a draft for this release."),
    ] = None,
    rig: RigOption = None,
    begun: BegunOption = None,
    captions: Annotated[
        Path | None, typer.Option("--captions", metavar="FILE", help="Captions of the recording: WebVTT or SubRip.")
    ] = None,
    timing: Annotated[
        Path | None, typer.Option("--timing", metavar="FILE", help="The times beside what “script” recorded.")
    ] = None,
    pictures: Annotated[bool, typer.Option("--pictures/--no-pictures", help="Keep a small picture a screen.")] = True,
    anew: Annotated[bool, typer.Option("--anew", help="Begin again, not where it was stopped.")] = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Go through a recording and say what was on the screen: titles, times, waiting.

    With a RELEASE, it is proposed as a draft in the logbook, which “metrograph confirm” turns into a run; a draft is
    in no comparison. Interrupted, it keeps what it has found, and goes on there the next time.
    """
    check_watch()
    from metrograph.sources.watch.looks import Looks, load_looks
    from metrograph.sources.watch.open_source import open_source
    from metrograph.sources.watch.scanning import Scan
    from metrograph.sources.watch.seen import seen_of

    environment = environment_of(ctx)
    path = environment.folder / file
    source = open_source(path, None if timing is None else environment.folder / timing)
    book = environment.logbook(logbook) if release is not None else environment.logbook_or_none(logbook)
    drafting = None
    if book is not None and release is not None:
        drafting = open_drafting(environment, book, release, rig, begun, path, source.length, captions, pictures)
    lexicon = book.settings().lexicon if book else load_lexicon()
    folder = scan_folder(book, path, anew) if drafting and book else None
    scan = Scan(lexicon, folder, pictures, Looks(load_looks(book)) if book else None)
    _go_through(environment, source, scan, file.name, drafting)
    spans = scan.spans()
    if json:
        environment.show_json(seen_of(file.name, spans, scan.end))
        return
    from metrograph.present.report.seen import seen_report

    environment.show(seen_report(seen_of(file.name, spans, scan.end)))
    if drafting:
        environment.say(drafting.closing())


def _go_through(environment: Environment, source: Recording, scan: Scan, name: str, drafting: Drafting | None) -> None:
    """From where it was left to the end, or until a person interrupts; the draft follows."""
    with interruptible() as asked, environment.progress(f"Going through {name}") as tell:

        def going(at: int) -> bool:
            scan.end = max(scan.end, at)
            tell(at, max(source.length or at, at))
            return not asked

        for _ in scan.take(source.found(scan.since, going)):
            if drafting:
                drafting.propose(scan)
        scan.ended = not asked
        if scan.ended:
            scan.end = max(scan.end, source.length or 0)
        if drafting:
            drafting.propose(scan, last=True)
    if asked:
        environment.warn(f"{name} was gone through to {show_moment(scan.end / 1000)}; the same command goes on there")
