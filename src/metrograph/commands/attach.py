"""Puts what a probe found into a run."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.analysis.fold import fold
from metrograph.analysis.layouts import differences
from metrograph.capture.probed import LARGEST, Probed, read_probed, to_cues
from metrograph.commands.environment import AtOption, LogbookOption, command_app, complete_run, environment_of, examples
from metrograph.errors import MetrographError
from metrograph.language.times import format_time, show_moment
from metrograph.language.writer import format_line
from metrograph.logbook.clock import Instant, elapsed
from metrograph.logbook.files import read_bytes
from metrograph.logbook.folder import unknown
from metrograph.logbook.journal import record_all
from metrograph.logbook.moments import cue_time
from metrograph.logbook.selection import Reader, shown_path
from metrograph.model.cues import Cue, Log
from metrograph.model.lexicon import Lexicon, is_after_restart

app = command_app()


@app.command(
    epilog=examples(
        "metrograph attach larkmoor-8.0-heron-1 facts.json",
        "metrograph attach larkmoor-8.0-heron-1 facts.json --at 20:15",
    )
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
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    if not book.log(run).is_file():
        raise unknown("run", run, book.run_names(), "“metrograph runs” lists them")
    path = environment.folder / file
    probed = _read(path)
    reader = Reader(book)

    def make(log: Log) -> list[Cue]:
        moment = cue_time(log, environment.started(), at) if at is not None else _taken(log, probed)
        _check_state(log, probed, moment, reader.lexicon)
        there = {msgspec.structs.replace(cue, at=0) for cue in log.cues if cue.at == moment}
        return [msgspec.structs.replace(cue, at=moment) for cue in to_cues(probed) if cue not in there]

    written = record_all(book, run, make)
    for cue in written:
        environment.say(f"{run}  {format_time(cue.at)}  {format_line(cue)}")
    for missing in probed.missing:
        environment.warn(f"not found out: {missing.what}: {missing.why}")
    folded = reader.run(run, book.log(run))
    if folded.layout is not None and folded.found is not None:
        for sentence in differences(folded.layout, folded.found):
            environment.say(f"{run}  not as the installer said: {sentence}")


def _read(path: Path) -> Probed:
    if path.is_file() and path.stat().st_size > LARGEST:
        raise MetrographError(f"{shown_path(path)} is larger than {LARGEST >> 20} MiB; what a probe writes is not")
    return read_probed(read_bytes(path, "probe's file"), shown_path(path))


def _taken(log: Log, probed: Probed) -> int:
    """When the probe ran, on the run's time; raises MetrographError when that was outside the run."""
    moment = elapsed(log.header, Instant(probed.taken.astimezone(), boot="", ticks=0.0)) or 0
    end = next((cue.at for cue in log.cues if cue.verb == "end"), moment)
    if not 0 <= moment <= end:
        when = f"{show_moment(moment / 1000)} on its clock"
        raise MetrographError(f"the probe did not run within the run ({when}); --at TIME says when in it that was")
    return moment


def _check_state(log: Log, probed: Probed, moment: int, lexicon: Lexicon) -> None:
    """A figure must not get a state that it was not taken in."""
    before = msgspec.structs.replace(log, cues=tuple(cue for cue in log.cues if cue.at <= moment))
    state = "installed" if is_after_restart(fold(before, "", lexicon).stand.phase) else "live"
    if probed.state is not None and probed.state != state:
        raise MetrographError(
            f"the probe ran on a system that is {probed.state}, and at {format_time(moment)} the run is {state};"
            " --at TIME says when it was"
        )
