"""Puts what a probe found into a run."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, command_app, complete_run, examples
from metrograph.intake.probed import LARGEST, Probed, ProbeFile, check_state, read_probed
from metrograph.intake.source import Timing, cues_on_run_time, ingest
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_line
from metrograph.run.disks import layout_differences
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import shown_path
from metrograph.store.memory import find_run
from metrograph.store.reading import LogReader
from metrograph.words.runs import layout_difference

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
    name = find_run(book, run)
    probed = _read(environment.folder / file)
    source, timing, reader = ProbeFile(probed), Timing(environment.started(), at), LogReader(book)
    log = reader.log(name)
    for cue in cues_on_run_time(source, log, timing)[:1]:
        check_state(probed, log, cue.at, reader.lexicon)
    taken = ingest(book, name, source, timing)
    with environment.once_written():
        for cue in taken.written:
            environment.say(f"{name}  {format_time(cue.at)}  {format_line(cue)}")
        for missing in probed.missing:
            environment.warn(f"not found out: {missing.what}: {missing.why}")
        folded = reader.run(name)
        if folded.layout is not None and folded.found is not None:
            for difference in layout_differences(folded.layout, folded.found):
                environment.say(f"{name}  not as the installer said: {layout_difference(difference)}")


def _read(path: Path) -> Probed:
    if path.is_file() and path.stat().st_size > LARGEST:
        raise MetrographError(f"{shown_path(path)} is larger than {LARGEST >> 20} MiB; what a probe writes is not")
    return read_probed(read_bytes(path, "probe's file"), shown_path(path))
