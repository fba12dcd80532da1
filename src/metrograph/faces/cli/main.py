"""The command `metrograph`: finds the command that was asked for, loads only that, and turns errors into sentences."""

from __future__ import annotations

import os
import sys
from contextlib import suppress
from importlib import import_module
from typing import Annotated, Any, NoReturn

import typer
from typer.core import TyperGroup

from metrograph import __version__
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import own_environment, this_environment
from metrograph.store.ids import unknown

# In the order of an install day, as help shows them. To add a command, add a row and a module; a ledger is a row of
# the ledgers, and a row here.
COMMANDS = {
    "init": "setup_commands",
    "release": "card_commands",
    "rig": "card_commands",
    "settings": "setup_commands",
    "begin": "run_commands",
    "record": "run_commands",
    "cue": "cue",
    "shot": "take_commands",
    "next": "run_commands",
    "import": "take_commands",
    "undo": "run_commands",
    "mend": "run_commands",
    "status": "run_commands",
    "watch": "live_commands",
    "boot": "live_commands",
    "scan": "seen_commands",
    "hear": "seen_commands",
    "confirm": "seen_commands",
    "probe": "take_commands",
    "attach": "take_commands",
    "end": "run_commands",
    "runs": "shown_commands",
    "edit": "run_commands",
    "lint": "shown_commands",
    "show": "shown_commands",
    "compare": "shown_commands",
    "summary": "shown_commands",
    "review": "publish_commands",
    "issues": "ledger_commands",
    "effort": "ledger_commands",
    "trend": "ledger_commands",
    "kinship": "ledger_commands",
    "readings": "ledger_commands",
    "checks": "ledger_commands",
    "facts": "ledger_commands",
    "claims": "ledger_commands",
    "weight": "ledger_commands",
    "software": "ledger_commands",
    "verdicts": "ledger_commands",
    "todos": "ledger_commands",
    "readers": "setup_commands",
    "shortlist": "ledger_commands",
    "draw": "draw_commands",
    "report": "publish_commands",
    "export": "publish_commands",
    "share": "archive_commands",
    "archive": "archive_commands",
    "demo": "setup_commands",
}
"""Every command, and the module of the commands that has it."""


class LazyGroup(TyperGroup):
    """Loads a command's module when it is called, or when help lists it."""

    def list_commands(self, ctx: typer.Context) -> list[str]:  # type: ignore[override]  # noqa: ARG002
        """All names, in the order of the table."""
        return list(COMMANDS)

    def get_command(self, ctx: typer.Context, cmd_name: str) -> object:  # type: ignore[override]  # noqa: ARG002
        """The command of this name; None when there is none."""
        if cmd_name not in COMMANDS:
            return None
        module = import_module(f"metrograph.faces.cli.commands.{COMMANDS[cmd_name]}")
        command = typer.main.get_command(module.APPS[cmd_name])
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
    _open_what_is_closed()
    try:
        app(prog_name="metrograph", obj=own_environment())
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


def _open_what_is_closed() -> None:
    """Gives standard input, output and error to whoever started us without.

    Else the next file that is opened gets the number of one of them, and what is printed lands in it.
    """
    for number, name, mode in ((0, "stdin", "r"), (1, "stdout", "w"), (2, "stderr", "w")):
        try:
            os.fstat(number)
        except OSError:
            os.set_inheritable(os.open(os.devnull, os.O_RDWR), True)  # it gets the lowest free number, which is this
        if getattr(sys, name) is None:
            setattr(sys, name, open(number, mode, encoding="utf-8", closefd=False))  # noqa: SIM115 - as long as we live


def _mistake(error: Exception) -> str:
    """What is said when the program itself is wrong, and how that can be mended."""
    return (
        f"this is a mistake in metrograph {__version__}, not in your files: {type(error).__name__}: {error}."
        " Please report it with the command that you gave; METROGRAPH_DEBUG=1 before it shows where it happened"
    )


def _leave(message: str, code: int) -> NoReturn:
    with suppress(OSError):  # the exit code says it as well
        this_environment().warn(message)
    sys.exit(code)
