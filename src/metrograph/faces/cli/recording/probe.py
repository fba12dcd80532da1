"""Tells what the system is that it runs on."""

from __future__ import annotations

import subprocess
import sys
from importlib import resources
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import command_app, examples

app = command_app()


@app.command(
    epilog=examples(
        "metrograph probe > facts.json",
        "metrograph probe --script > probe.py    # there: python3 probe.py > facts.json",
        "metrograph attach larkmoor-8.0-heron-1 facts.json",
    )
)
def probe(
    ctx: typer.Context,
    script: Annotated[bool, typer.Option("--script", help="Print the probe itself, to be run elsewhere.")] = False,
    root: Annotated[str, typer.Option(metavar="DIR", help="Another tree of files, such as a mounted disk.")] = "/",
) -> None:
    """Write what this system is, as JSON: facts, readings, layout.

    Runs as an ordinary user, changes nothing and needs no network. What cannot be found out is said under “missing”.
    """
    environment = environment_of(ctx)
    source = resources.files("metrograph.intake").joinpath("probe.py").read_text("utf-8")
    if script:
        environment.print(source)
        return
    done = subprocess.run(  # noqa: S603 - our own file, run as it is run elsewhere
        [sys.executable, "-I", "-", "--root", root], input=source, capture_output=True, text=True, check=False
    )
    if done.returncode:
        raise MetrographError(f"the probe failed: {done.stderr.strip().rpartition('error: ')[2]}")
    environment.print(done.stdout)
