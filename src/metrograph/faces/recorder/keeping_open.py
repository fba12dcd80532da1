"""Keeps the recorder open, with what watches and asks beside it, and says in the end what has to be said."""

from __future__ import annotations

from pathlib import Path

import msgspec

from metrograph.core.errors import NotWritableError
from metrograph.faces.cli.environment import Environment
from metrograph.faces.recorder.app import Recorder
from metrograph.faces.recorder.panels import HUES, hues_of
from metrograph.log.quantities.times import format_time, show_duration
from metrograph.log.writer import format_line
from metrograph.services.live.beside import others_asked_of, watcher_of
from metrograph.services.live.growing_talk import listener_of
from metrograph.services.live.session import Session
from metrograph.store.local.logbook import Logbook


class RecorderHelpers(msgspec.Struct, frozen=True):
    """What helps beside the recorder.

    watch: a source that is watched; captions: a growing file of what is said; archive: a shared one that is asked what
    others take.
    """

    watch: str | None = None
    captions: Path | None = None
    archive: str | None = None


def keep_open(environment: Environment, book: Logbook, run: str, helpers: RecorderHelpers) -> None:
    """Records a run on one screen until a person leaves."""
    session = Session(book, run, environment.present)
    _let_help(environment, session, helpers)
    HUES.set(hues_of(environment.preferences().theme, environment.variables.get("COLORFGBG", "")))
    beside = [each for each in (session.watcher, session.listener, session.others) if each is not None]
    for each in beside:
        each.start()
    recorder = Recorder(session)
    recorder.run()
    kept, withheld = session.keep_lines(recorder.line.left)
    for helper in (session.watcher, session.listener):
        if helper is not None:
            helper.stop()
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


def _let_help(environment: Environment, session: Session, helpers: RecorderHelpers) -> None:
    """Gives a session those that help; raises MetrographError where one cannot."""
    if helpers.watch is not None:
        session.watcher = watcher_of(environment, session, helpers.watch)
    if helpers.captions is not None:
        session.listener = listener_of(environment, session, helpers.captions)
    session.others = others_asked_of(environment, session, helpers.archive)


def _take_leave(environment: Environment, session: Session) -> None:
    """Says how the run stands, and prints the cues that the disk has not taken, so that they are not lost."""
    status = session.status()
    state = f"ended: {status.ended}" if status.ended else "still open; “metrograph record” goes on with it"
    environment.say(f"{session.name}: {show_duration(status.clock.on_clock)} on the clock, {state}")
    if session.unwritten:
        for cue in session.unwritten:
            environment.say(f"metrograph cue --run {session.name} --at {format_time(cue.at)} '{format_line(cue)}'")
        raise NotWritableError(f"these cues are not in the log: {session.trouble}")
