"""Goes through a recording and proposes its log."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import msgspec
import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, command_app, complete_release, examples
from metrograph.faces.cli.recording.opening import BegunOption, RigOption
from metrograph.faces.cli.watching.drafting import Drafting, open_drafting
from metrograph.faces.cli.watching.interrupts import interruptible
from metrograph.log.lexicon import load_lexicon
from metrograph.log.quantities.times import show_moment
from metrograph.store.local.drafts import scan_folder
from metrograph.store.local.logbook import Logbook
from metrograph.watch.inputs.opening import check_watch

if TYPE_CHECKING:
    from metrograph.watch.drafts.scanning import Scan
    from metrograph.watch.inputs.opening import Recording

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
    """Go through a recording, and propose its log.

    It says what was on the screen: titles, times, waiting.

    With a RELEASE, it is proposed as a draft in the logbook, which “metrograph confirm” turns into a run; a draft is
    in no comparison. Interrupted, it keeps what it has found, and goes on there the next time.
    """
    from metrograph.show.report.lists import seen_report
    from metrograph.watch.drafts.scanning import seen_of

    environment = environment_of(ctx)
    path = environment.folder / file
    book = environment.logbook(logbook) if release is not None else environment.logbook_or_none(logbook)
    recorded = Recorded(path, None if timing is None else environment.folder / timing, begun, captions, pictures, anew)
    drafting, scan = go_through(environment, book, recorded, release, rig)
    seen = seen_of(file.name, scan.spans(), scan.end)
    if json:
        environment.show_json(seen)
        return
    environment.show(seen_report(seen))
    if drafting:
        if (mismatch := drafting.mismatch(scan)) is not None:
            environment.warn(mismatch)
        environment.say(drafting.closing())


class Recorded(msgspec.Struct, frozen=True):
    """What is to be gone through, and how.

    timing: what lies beside a file of ``script``; begun, captions: what is known of it.
    pictures: whether they are kept.
    anew: from its beginning, whatever was found before.
    """

    path: Path
    timing: Path | None = None
    begun: str | None = None
    captions: Path | None = None
    pictures: bool = True
    anew: bool = False


def go_through(
    environment: Environment, book: Logbook | None, recorded: Recorded, release: str | None, rig: str | None
) -> tuple[Drafting | None, Scan]:
    """Goes through a recording, with a draft where a release is named; raises MetrographError when it cannot be."""
    check_watch()
    from metrograph.watch.drafts.looks import Looks, load_looks
    from metrograph.watch.drafts.scanning import Scan
    from metrograph.watch.inputs.opening import open_source

    source = open_source(recorded.path, recorded.timing)
    drafting = folder = None
    if book is not None and release is not None:
        drafting = open_drafting(
            environment,
            book,
            release,
            rig,
            recorded.begun,
            recorded.path,
            source.length,
            recorded.captions,
            recorded.pictures,
        )
        folder = scan_folder(book, recorded.path, recorded.anew)
    lexicon = book.settings().lexicon if book else load_lexicon()
    scan = Scan(lexicon, folder, recorded.pictures, Looks(load_looks(book)) if book else None)
    _go_through(environment, source, scan, recorded.path.name, drafting)
    return drafting, scan


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
