"""Shows what the program does, on made-up data."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import command_app, examples
from metrograph.store.local.logbook import Logbook, shown_path

app = command_app()
_SHOWN = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")
_FILMED = "larkmoor-9.0-heron"
_BESIDE = ("larkmoor-8.0-heron", "larkmoor-9.0-beta-heron", _FILMED)


@app.command(epilog=examples("metrograph demo", "metrograph demo /tmp/workshop --force", "metrograph demo --no-scan"))
def demo(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="[DIR]", help="Where to put it.")] = Path("metrograph-demo"),
    force: Annotated[bool, typer.Option("--force", help="Write over the files of an earlier demo.")] = False,
    scan: Annotated[bool, typer.Option("--scan/--no-scan", help="Go through the recording in it as well.")] = True,
) -> None:
    """Make a made-up logbook and compare three releases in it.

    One of them is taken from a recording, in front of you. That needs the extra for watching; without it,
    only releases are compared that were written down.
    """
    from metrograph.demo import copy_demo
    from metrograph.watch.inputs.opening import is_there

    environment = environment_of(ctx)
    book = copy_demo(environment.folder / folder, force)
    where = shown_path(book.path)
    environment.say(f"{where}: a logbook with {len(book.run_names())} recorded installations, all made up")
    if scan and is_there():
        _scan_film(environment, book, where)
        _compare(environment, book, where, _BESIDE)
        return
    if scan:
        environment.warn("to see it take a run from a recording: pip install 'metrograph[watch]'")
    _compare(environment, book, where, _SHOWN)


def _scan_film(environment: Environment, book: Logbook, where: str) -> None:
    """Goes through the film in front of the user, and takes what is sure."""
    from metrograph.demo import RECORDINGS
    from metrograph.faces.cli.watching.scan import Recorded, go_through
    from metrograph.show.report.lists import seen_report
    from metrograph.watch.drafts.review import Review
    from metrograph.watch.drafts.scanning import seen_of
    from metrograph.watch.drafts.seen import SURE

    film = book.path / RECORDINGS / f"{_FILMED}.mp4"
    captions = film.with_suffix(".vtt")
    environment.say(f"metrograph scan {shown_path(film)} {_FILMED} --rig bench-vm --captions {shown_path(captions)}")
    environment.out.flush()
    recorded = Recorded(film, begun="2026-11-14T10:02:00+00:00", captions=captions)
    drafting, found = go_through(environment, book, recorded, _FILMED, "bench-vm")
    environment.print("\n")
    environment.show(seen_report(seen_of(film.name, found.spans(), found.end)))
    if drafting is None:
        return
    review = Review(book, drafting.name)
    written, left = review.finish(SURE, environment.started())
    environment.print("\n")
    environment.say(f"metrograph confirm {drafting.name} --accept {SURE:g} --logbook {where}")
    environment.say(f"{drafting.name}: {written} cues written, {left} that are less sure stay in its draft")
    environment.print("\n")


def _compare(environment: Environment, book: Logbook, where: str, names: Sequence[str]) -> None:
    """Compares releases on the terminal and draws their timelines."""
    from metrograph.faces.cli.reviewing.compare import show_comparison
    from metrograph.faces.cli.reviewing.sides import read_compared
    from metrograph.ledgers.comparison import compare
    from metrograph.show.charts.layouts.board import as_lanes, lay_board
    from metrograph.show.charts.registry import CHARTS, paper_for
    from metrograph.store.local.files import replace_bytes
    from metrograph.words.names import named

    compared = read_compared(environment, book.path, names)
    comparison = compare(compared.sides, compared.background)
    board = lay_board(compared.sides, comparison)
    _, human = compared.names
    paper = paper_for("lanes", CHARTS["lanes"].caption, named(comparison, human), compared.title)
    replace_bytes(book.path / "lanes.png", CHARTS["lanes"].draw(named(board, human), paper, "png"))
    environment.say(f"{where}/lanes.png: the same timelines as below, drawn")
    environment.say(f"metrograph compare {' '.join(names)} --logbook {where}")
    environment.print("\n")
    # In the middle of what is said a pager would be a riddle.
    unpaged = msgspec.structs.replace(environment, variables=dict(environment.variables) | {"PAGER": ""})
    show_comparison(unpaged, comparison, as_lanes(board), compared.names)
    environment.print("\n")
    environment.say(f"Go on with: metrograph show {book.run_names()[-1]} --logbook {where}")
