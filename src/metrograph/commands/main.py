"""The command `metrograph`: finds the command that was asked for, loads only that, and turns errors into sentences."""

from __future__ import annotations

import os
import sys
from importlib import import_module
from typing import Annotated, Any, NoReturn

import typer
from typer.core import TyperGroup

from metrograph import __version__
from metrograph.commands.environment import this_environment
from metrograph.errors import MetrographError
from metrograph.logbook.folder import unknown

# In the order of an install day, as help shows them. To add a command, add a row and a module of its name.
COMMANDS = {
    "init": "metrograph.commands.init",
    "release": "metrograph.commands.release",
    "rig": "metrograph.commands.rig",
    "begin": "metrograph.commands.begin",
    "record": "metrograph.commands.record",
    "cue": "metrograph.commands.cue",
    "shot": "metrograph.commands.shot",
    "next": "metrograph.commands.next",
    "import": "metrograph.commands.importing",
    "undo": "metrograph.commands.undo",
    "mend": "metrograph.commands.mend",
    "status": "metrograph.commands.status",
    "probe": "metrograph.commands.probe",
    "attach": "metrograph.commands.attach",
    "end": "metrograph.commands.end",
    "runs": "metrograph.commands.runs",
    "lint": "metrograph.commands.lint",
    "show": "metrograph.commands.show",
    "compare": "metrograph.commands.compare",
    "issues": "metrograph.commands.issues",
    "effort": "metrograph.commands.effort",
    "trend": "metrograph.commands.trend",
    "kinship": "metrograph.commands.kinship",
    "readings": "metrograph.commands.readings",
    "checks": "metrograph.commands.checks",
    "facts": "metrograph.commands.facts",
    "claims": "metrograph.commands.claims",
    "weight": "metrograph.commands.weight",
    "draw": "metrograph.commands.draw",
    "report": "metrograph.commands.report",
    "export": "metrograph.commands.exporting",
    "demo": "metrograph.commands.demo",
}


class LazyGroup(TyperGroup):
    """Loads a command's module when it is called, or when help lists it."""

    def list_commands(self, ctx: typer.Context) -> list[str]:  # type: ignore[override]  # noqa: ARG002
        """All names, in the order of the table."""
        return list(COMMANDS)

    def get_command(self, ctx: typer.Context, cmd_name: str) -> object:  # type: ignore[override]  # noqa: ARG002
        """The command of this name; None when there is none."""
        if cmd_name not in COMMANDS:
            return None
        command = typer.main.get_command(import_module(COMMANDS[cmd_name]).app)
        command.name = cmd_name
        return command

    def resolve_command(self, ctx: typer.Context, args: list[str]) -> Any:  # type: ignore[override]
        """The same as ever, but a name that is not known is answered with the nearest that is."""
        if args[0] not in COMMANDS and not args[0].startswith("-"):
            raise unknown("command", args[0], list(COMMANDS), "“metrograph --help” lists them")
        return super().resolve_command(ctx, args)


app = typer.Typer(
    cls=LazyGroup,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
    context_settings={"help_option_names": ["-h", "--help"]},
)


def _print_version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"metrograph {__version__}")
        raise typer.Exit


@app.callback()
def _root(
    version: Annotated[
        bool, typer.Option("--version", is_eager=True, callback=_print_version, help="Print the version.")
    ] = False,
) -> None:
    """Record Linux installations screen by screen and compare installer flows across releases.

    A first look: “metrograph demo”. A first run: init, release new, rig new, begin, cue, end.
    """


def main() -> NoReturn:
    """Runs the command line of this process and exits."""
    try:
        app(prog_name="metrograph")
    except MetrographError as error:
        _leave(str(error), error.exit_code)
    except BrokenPipeError:
        # Whoever read our output has had enough; nothing more may be written to it, not even on the way out.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(0)
    except OSError as error:
        _leave(f"{error.filename or 'the output'} cannot be written or read: {error.strerror}", 3)
    except Exception as error:
        if os.environ.get("METROGRAPH_DEBUG"):
            raise
        _leave(f"this should not have happened: {error!r}. METROGRAPH_DEBUG=1 shows where", 2)
    sys.exit(0)


def _leave(message: str, code: int) -> NoReturn:
    this_environment().warn(message)
    sys.exit(code)
