"""Keeps the recorder open, with what watches and asks beside it, and says in the end what has to be said."""

from __future__ import annotations

from metrograph.core.errors import NotWritableError
from metrograph.faces.cli.environment import Environment
from metrograph.faces.recorder.app import Recorder
from metrograph.faces.recorder.panels import HUES, hues_of
from metrograph.log.quantities.times import format_time, show_duration
from metrograph.log.writer import format_line
from metrograph.services.live.beside import hearing_of, watcher_of
from metrograph.services.live.session import Session
from metrograph.store.local.logbook import Logbook


def keep_open(environment: Environment, book: Logbook, run: str, watch: str | None, archive: str | None) -> None:
    """Records a run on one screen until a person leaves.

    watch: a source that is watched beside it; archive: a shared one that is asked what others take.
    """
    session = Session(book, run, environment.present)
    if watch is not None:
        session.watcher = watcher_of(environment, session, watch)
    session.hearing = hearing_of(environment, session, archive)
    HUES.set(hues_of(environment.preferences().theme, environment.variables.get("COLORFGBG", "")))
    beside = [each for each in (session.watcher, session.hearing) if each is not None]
    for each in beside:
        each.start()
    recorder = Recorder(session)
    recorder.run()
    kept, withheld = session.keep_lines(recorder.line.left)
    if session.watcher is not None:
        session.watcher.stop()
    for each in beside:
        if each.trouble:
            environment.warn(each.trouble)
    if kept:
        environment.say(f"typed and not written, kept for the next time: {'; '.join(kept)}")
    if withheld:
        environment.warn("what else was typed and not written may hold a secret, and is not kept")
    _take_leave(environment, session)
    if recorder.failure is not None:
        raise recorder.failure


def _take_leave(environment: Environment, session: Session) -> None:
    """Says how the run stands, and prints the cues that the disk has not taken, so that they are not lost."""
    status = session.status()
    state = f"ended: {status.ended}" if status.ended else "still open; “metrograph record” goes on with it"
    environment.say(f"{session.name}: {show_duration(status.clock.on_clock)} on the clock, {state}")
    if session.unwritten:
        for cue in session.unwritten:
            environment.say(f"metrograph cue --run {session.name} --at {format_time(cue.at)} '{format_line(cue)}'")
        raise NotWritableError(f"these cues are not in the log: {session.trouble}")
