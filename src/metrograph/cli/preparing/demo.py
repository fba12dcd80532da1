"""Shows what the program does, on made-up data."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.cli.environment import environment_of
from metrograph.cli.options import command_app, examples
from metrograph.store.local.logbook import shown_path

app = command_app()
_SHOWN = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")


@app.command(epilog=examples("metrograph demo", "metrograph demo /tmp/workshop --force"))
def demo(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="[DIR]", help="Where to put it.")] = Path("metrograph-demo"),
    force: Annotated[bool, typer.Option("--force", help="Write over the files of an earlier demo.")] = False,
) -> None:
    """Make a made-up logbook and compare three releases in it."""
    from metrograph.cli.reviewing.compare import show_comparison
    from metrograph.cli.reviewing.sides import read_compared
    from metrograph.demo import copy_demo
    from metrograph.ledgers.comparison import compare
    from metrograph.present.charts.layouts.lanes import lay_lanes
    from metrograph.present.charts.registry import CHARTS
    from metrograph.store.local.files import replace_bytes

    environment = environment_of(ctx)
    book = copy_demo(environment.folder / folder, force)
    compared = read_compared(environment, book.path, _SHOWN)
    lanes = lay_lanes(compared.runs)
    replace_bytes(book.path / "lanes.png", CHARTS["lanes"].draw(lanes, " against ".join(_SHOWN), "png"))
    where = shown_path(book.path)
    environment.say(f"{where}: a logbook with {len(book.run_names())} recorded installations, all made up")
    environment.say(f"{where}/lanes.png: the same timelines as below, drawn")
    environment.say(f"metrograph compare {' '.join(_SHOWN)} --logbook {where}")
    environment.print("\n")
    show_comparison(environment, compare(compared.sides, compared.background), lanes, compared.names)
    environment.print("\n")
    environment.say(f"Go on with: metrograph show {book.run_names()[-1]} --logbook {where}")
