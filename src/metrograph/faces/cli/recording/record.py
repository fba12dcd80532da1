"""Opens the live recorder."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

import typer

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    ArchiveOption,
    LogbookOption,
    RunOption,
    command_app,
    complete_release,
    examples,
)
from metrograph.faces.cli.recording.opening import (
    BegunOption,
    LikeOption,
    ReviewerOption,
    RigOption,
    WayOption,
    open_run,
)
from metrograph.log.quantities.times import format_time, show_duration
from metrograph.log.writer import format_line
from metrograph.store.memory import find_run

if TYPE_CHECKING:
    from metrograph.faces.recorder.beside import Hearing, Watcher
    from metrograph.faces.recorder.session import Session
    from metrograph.store.local.logbook import Logbook

app = command_app()


@app.command(
    epilog=examples(
        "metrograph record",
        "metrograph record larkmoor-8.0-heron --rig bench-vm --like larkmoor-7.0-heron",
    )
)
def record(
    ctx: typer.Context,
    release: Annotated[
        str | None,
        typer.Argument(metavar="[RELEASE]", autocompletion=complete_release, help="Opens a run; else the open one."),
    ] = None,
    rig: RigOption = None,
    like: LikeOption = None,
    begun: BegunOption = None,
    way: WayOption = "fresh",
    reviewer: ReviewerOption = None,
    run: RunOption = None,
    watch: Annotated[
        str | None,
        typer.Option("--watch", metavar="SOURCE", help="Offer what is seen there, as “metrograph watch” takes it."),
    ] = None,
    archive: ArchiveOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Record a run live, on one screen: clocks, plan, log, a line.

    The line takes what “cue” takes, completes it with Tab, and says what Enter will do before it does it. A time in
    front of it (2:10, or -0:30 for half a minute ago) sets another moment.

    \b
    Enter      on an empty line: the most likely thing, which is said beside it
    F1 ?       help: the keys, and how cues are written
    F2 Ctrl+N  the plan's next screen, with the choices of last time
    F3 Ctrl+T  the machine works, or is done
    F4 Ctrl+P  pause, or resume
    F5 Ctrl+Z  undo: take the last cue back; its words come to the line
    F6 Ctrl+B  an issue, at this moment
    F7 Ctrl+O  put this moment in front of the line, then type at leisure
    Ctrl+Q     leave; the run stays open
    """
    environment = environment_of(ctx)
    if not environment.is_interactive():
        raise MetrographError("the recorder needs a terminal that shows UTF-8; “metrograph cue” works everywhere")
    book = environment.logbook(logbook)
    if release is not None and run is not None:
        raise MetrographError("name a release to begin a run of it, or an open run with --run, not both")
    if release is None:
        name = _open_one(book, run)
    else:
        name, _ = open_run(environment, book, release, rig, begun, like, way, reviewer)
    from metrograph.faces.recorder.session import Session

    session = Session(book, name, environment.present)
    if watch is not None:
        session.watcher = _watcher(environment, session, watch)
    session.hearing = _hearing(environment, session, archive)
    _record(environment, session)


def _open_one(book: Logbook, run: str | None) -> str:
    """The run that goes on."""
    if not book.open_runs() and run is None:
        raise MetrographError("no run is open; “metrograph record RELEASE --rig RIG” begins one")
    return find_run(book, run)


def _record(environment: Environment, session: Session) -> None:
    """Keeps the recorder open, with what watches and asks beside it, and says in the end what has to be said."""
    from metrograph.faces.recorder.app import Recorder
    from metrograph.faces.recorder.panels import HUES, hues_of

    HUES.set(hues_of(environment.personal().theme, environment.variables.get("COLORFGBG", "")))
    beside = [each for each in (session.watcher, session.hearing) if each is not None]
    for each in beside:
        each.start()
    recorder = Recorder(session)
    recorder.run()
    if session.watcher is not None:
        session.watcher.stop()
    for each in beside:
        if each.trouble:
            environment.warn(each.trouble)
    _take_leave(environment, session)
    if recorder.failure is not None:
        raise recorder.failure


def _watcher(environment: Environment, session: Session, source: str) -> Watcher:
    """What looks at the screen beside the recorder; raises MetrographError when it cannot be watched."""
    from metrograph.watch.inputs.opening import check_watch

    check_watch()
    from metrograph.faces.recorder.beside import Watcher
    from metrograph.watch.drafts.looks import Looks, load_looks
    from metrograph.watch.drafts.scanning import Scan
    from metrograph.watch.inputs.opening import open_live

    live = open_live(source, environment.variables.get("METROGRAPH_DISPLAY_PASSWORD"), lambda _: None)
    lexicon = session.reader.lexicon
    return Watcher(live, Scan(lexicon, looks=Looks(load_looks(session.book))), lexicon, session.now())


def _hearing(environment: Environment, session: Session, archive: str | None) -> Hearing | None:
    """What others take on each screen, asked beside the recorder; None where no archive was named or set."""
    personal = environment.personal()
    url = archive or personal.archive
    if url is None:
        return None
    from metrograph.archive.answers import Like, usual_in
    from metrograph.archive.place import archive_at
    from metrograph.faces.recorder.beside import Hearing
    from metrograph.run.cards import parts_of
    from metrograph.store.local.cards import load_releases, load_rigs

    header, own = session.log.header, personal.reviewer or ""
    card, rig = load_releases(session.book).get(header.release), load_rigs(session.book).get(header.rig)
    distribution = parts_of(header.release, card).distribution
    return Hearing(lambda: usual_in(archive_at(url), distribution, Like.of(rig), own))


def _take_leave(environment: Environment, session: Session) -> None:
    """Says how the run stands, and prints the cues that the disk has not taken, so that they are not lost."""
    status = session.status()
    state = f"ended: {status.ended}" if status.ended else "still open; “metrograph record” goes on with it"
    environment.say(f"{session.name}: {show_duration(status.clock.on_clock)} on the clock, {state}")
    if session.unwritten:
        for cue in session.unwritten:
            environment.say(f"metrograph cue --run {session.name} --at {format_time(cue.at)} '{format_line(cue)}'")
        raise NotWritableError(f"these cues are not in the log: {session.trouble}")
