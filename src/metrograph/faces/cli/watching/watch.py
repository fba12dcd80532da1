"""Watches a machine while it installs, and proposes its log as it goes."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import LogbookOption, command_app, complete_release, examples
from metrograph.faces.cli.recording.opening import RigOption
from metrograph.faces.cli.watching.drafting import live_drafting
from metrograph.faces.cli.watching.interrupts import interruptible
from metrograph.intake.source import Event
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_words
from metrograph.store.local.files import read_bytes
from metrograph.watch.inputs.opening import check_watch

app = command_app()
_PASSWORD = "METROGRAPH_DISPLAY_PASSWORD"  # noqa: S105 - the name of a variable


@app.command(
    epilog=examples(
        "metrograph watch rfb://localhost:5900 larkmoor-9.0-heron --rig bench-vm",
        "metrograph watch v4l2:/dev/video0 larkmoor-9.0-heron --rig loan-laptop",
        "metrograph watch serial:/dev/ttyUSB0 osterby-2026.1 --rig loan-laptop",
    )
)
def watch(
    ctx: typer.Context,
    source: Annotated[
        str,
        typer.Argument(metavar="SOURCE", help="rfb://HOST:PORT, v4l2:DEVICE, x11:DISPLAY, folder:DIR, serial:PATH."),
    ],
    release: Annotated[
        str, typer.Argument(metavar="RELEASE", autocompletion=complete_release, help="What is being installed.")
    ],
    rig: RigOption = None,
    password_file: Annotated[
        Path | None,
        typer.Option("--password-file", metavar="FILE", help=f"The display's password; else {_PASSWORD} holds it."),
    ] = None,
    pictures: Annotated[bool, typer.Option("--pictures/--no-pictures", help="Keep a small picture a screen.")] = True,
    logbook: LogbookOption = None,
) -> None:
    """Watch a machine while it installs, and propose the log.

    A display, a capture card, a folder of pictures or a serial line can be watched.
    It only looks: no key and no pointer is ever sent. Every proposal lies in the draft before it is shown. Interrupt it
    when the installation is over; “metrograph confirm” makes a run of the draft.
    """
    check_watch()
    from metrograph.watch.drafts.looks import Looks, load_looks
    from metrograph.watch.drafts.scanning import Scan
    from metrograph.watch.inputs.opening import open_live

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    live = open_live(source, _password(environment, password_file), environment.warn)
    drafting, folder = live_drafting(environment, book, release, rig, source, pictures)
    scan = Scan(book.settings().lexicon, folder, pictures, Looks(load_looks(book)))
    environment.warn(f"watching {source}; interrupt when the installation is over")
    told = _Told(environment)
    with interruptible() as asked:

        def going(at: int) -> bool:
            scan.end = max(scan.end, at)
            # At every look, not at every page: after the last page nothing may come for an hour.
            if drafting.propose(scan):
                told.tell(drafting.events)
            return not asked

        for _ in scan.take(live(going)):
            pass
        drafting.propose(scan, last=True)
        told.tell(drafting.events)
    environment.say(drafting.closing())


def _password(environment: Environment, file: Path | None) -> str | None:
    if file is None:
        return environment.variables.get(_PASSWORD)
    return read_bytes(environment.folder / file, "password file").decode("utf-8", "replace").strip("\r\n")


class _Told:
    """What was shown already, so that only what is new or better known is shown."""

    def __init__(self, environment: Environment) -> None:
        self._environment = environment
        self._known: set[tuple[int, str]] = set()

    def tell(self, events: list[Event]) -> None:
        for event in events:
            words = format_words(event.cue)
            if (event.at or 0, words) not in self._known:
                self._known.add((event.at or 0, words))
                self._environment.say(
                    f"{format_time((event.at or 0) // 1000 * 1000):>8}  {event.confidence:.2f}  {words}"
                )
                self._environment.out.flush()
