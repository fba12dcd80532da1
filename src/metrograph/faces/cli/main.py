"""The command `metrograph`: finds the command that was asked for, loads only that, and turns errors into sentences."""

from __future__ import annotations

import os
import sys
from importlib import import_module
from typing import Annotated, Any, NoReturn

import typer
from typer.core import TyperGroup

from metrograph import __version__
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import this_environment
from metrograph.store.names import unknown

# In the order of an install day, as help shows them. To add a command, add a row and a module; a ledger is a row of
# the ledgers, and a row here.
COMMANDS = {
    "init": "preparing.init",
    "release": "preparing.release",
    "rig": "preparing.rig",
    "settings": "preparing.settings",
    "begin": "recording.begin",
    "record": "recording.record",
    "cue": "recording.cue",
    "shot": "recording.shot",
    "next": "recording.next",
    "import": "logs.importing",
    "undo": "recording.undo",
    "mend": "logs.mend",
    "status": "recording.status",
    "watch": "watching.watch",
    "scan": "watching.scan",
    "confirm": "watching.confirm",
    "probe": "recording.probe",
    "attach": "recording.attach",
    "end": "recording.end",
    "runs": "logs.runs",
    "edit": "recording.edit",
    "lint": "logs.lint",
    "show": "reviewing.show",
    "compare": "reviewing.compare",
    "summary": "reviewing.summary",
    "issues": "reviewing.ledgers",
    "effort": "reviewing.ledgers",
    "trend": "reviewing.trend",
    "kinship": "reviewing.ledgers",
    "readings": "reviewing.ledgers",
    "checks": "reviewing.ledgers",
    "facts": "reviewing.ledgers",
    "claims": "reviewing.ledgers",
    "weight": "reviewing.weight",
    "software": "reviewing.ledgers",
    "verdicts": "reviewing.ledgers",
    "todos": "reviewing.ledgers",
    "readers": "preparing.readers",
    "shortlist": "reviewing.shortlist",
    "draw": "reviewing.draw",
    "report": "reviewing.report",
    "export": "logs.exporting",
    "share": "sharing.share",
    "archive": "sharing.archive",
    "demo": "preparing.demo",
}
"""Every command, and the module of this package that has it."""


class LazyGroup(TyperGroup):
    """Loads a command's module when it is called, or when help lists it."""

    def list_commands(self, ctx: typer.Context) -> list[str]:  # type: ignore[override]  # noqa: ARG002
        """All names, in the order of the table."""
        return list(COMMANDS)

    def get_command(self, ctx: typer.Context, cmd_name: str) -> object:  # type: ignore[override]  # noqa: ARG002
        """The command of this name; None when there is none."""
        if cmd_name not in COMMANDS:
            return None
        module = import_module(f"metrograph.faces.cli.{COMMANDS[cmd_name]}")
        command = typer.main.get_command(module.APPS[cmd_name] if hasattr(module, "APPS") else module.app)
        command.name = cmd_name
        return command

    def resolve_command(self, ctx: typer.Context, args: list[str]) -> Any:  # type: ignore[override]
        """The command that was named; a name that is not known is answered with the nearest that is."""
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


MISTAKE = 70
"""The exit code of a mistake in the program itself, which never looks like a user's error."""


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
        _leave(_mistake(error), MISTAKE)
    sys.exit(0)


def _mistake(error: Exception) -> str:
    """What is said when the program itself is wrong, and how that can be mended."""
    return (
        f"this is a mistake in metrograph {__version__}, not in your files: {type(error).__name__}: {error}."
        " Please report it with the command that you gave; METROGRAPH_DEBUG=1 before it shows where it happened"
    )


def _leave(message: str, code: int) -> NoReturn:
    this_environment().warn(message)
    sys.exit(code)
