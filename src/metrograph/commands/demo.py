"""Shows what the program does, on made-up data."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.commands.environment import command_app, environment_of, examples
from metrograph.logbook.selection import shown_path

app = command_app()
_SHOWN = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")


@app.command(epilog=examples("metrograph demo", "metrograph demo /tmp/workshop --force"))
def demo(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="[DIR]", help="Where to put it.")] = Path("metrograph-demo"),
    force: Annotated[bool, typer.Option("--force", help="Write over the files of an earlier demo.")] = False,
) -> None:
    """Make a made-up logbook and compare two releases in it."""
    from metrograph.analysis.compare import compare
    from metrograph.analysis.lanes import lay_lanes
    from metrograph.commands.gathering import gather
    from metrograph.demo import copy_demo
    from metrograph.logbook.files import replace_bytes
    from metrograph.views.compare_text import render_comparison
    from metrograph.views.registry import FIGURES

    environment = environment_of(ctx)
    book = copy_demo(environment.folder / folder, force)
    gathered = gather(environment, book.path, _SHOWN)
    lanes = lay_lanes(gathered.runs)
    replace_bytes(book.path / "lanes.png", FIGURES["lanes"].draw(lanes, " against ".join(_SHOWN), "png"))
    where = shown_path(book.path)
    environment.say(f"{where}: a logbook with {len(book.run_names())} recorded installations, all made up")
    environment.say(f"{where}/lanes.png: the same timelines as below, drawn")
    environment.say(f"metrograph compare {' '.join(_SHOWN)} --logbook {where}")
    environment.show("\n")
    environment.show(render_comparison(compare(gathered.sides, gathered.known), lanes, environment.paper()))
    environment.show("\n")
    environment.say(f"Go on with: metrograph show {book.run_names()[-1]} --logbook {where}")
