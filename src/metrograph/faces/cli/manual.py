"""Writes the manual page, `docs/metrograph.1`, from what every command says of itself; `make man` calls it."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from typing import Any

import typer

from metrograph import __version__
from metrograph.faces.cli.main import app

_FILES = (
    ("metrograph.toml", "what holds for a logbook"),
    ("~/.config/metrograph/settings.toml", "what holds for you; see metrograph settings"),
)
_VARIABLES = (
    ("METROGRAPH_LOGBOOK", "the logbook, where none is named"),
    ("METROGRAPH_DISPLAY_PASSWORD", "the password of a display that is watched"),
    ("NO_COLOR", "no colours, whatever its value"),
    ("PAGER", "what long output goes through; empty for nothing"),
    ("VISUAL, EDITOR", "what metrograph edit opens"),
)
_CODES = (
    ("0", "all went well"),
    ("1", "faults were found, or differences that were asked for as a check"),
    ("2", "the call or what it reads cannot be used; nothing was written"),
    ("3", "something could not be written"),
    ("70", "a mistake in the program itself"),
)


def manual() -> str:
    """The whole page, in the macros that every ``man`` knows."""
    return "\n".join(_lines()) + "\n"


def _lines() -> Iterator[str]:
    group: Any = typer.main.get_command(app)
    yield f'.TH METROGRAPH 1 "" "metrograph {__version__}" "User Commands"'
    yield from (".SH NAME", "metrograph \\- record installations screen by screen, and compare installer flows")
    yield from (".SH SYNOPSIS", ".B metrograph", "COMMAND [OPTIONS] [ARGUMENTS]")
    yield from (".SH DESCRIPTION", _safe(group.help or ""))
    yield ".SH COMMANDS"
    context = typer.Context(group, info_name="metrograph")
    for name in group.list_commands(context):
        if (command := group.get_command(context, name)) is not None:
            yield from _command(command, (name,), context)
    for heading, pairs in (("FILES", _FILES), ("ENVIRONMENT", _VARIABLES), ("EXIT STATUS", _CODES)):
        yield f".SH {heading}"
        for name, told in pairs:
            yield from (".TP", f".B {_safe(name)}", _safe(told))


def _command(command: Any, words: tuple[str, ...], above: typer.Context) -> Iterator[str]:
    """A command, or all commands of a group."""
    context = typer.Context(command, info_name=words[-1], parent=above)
    if hasattr(command, "list_commands"):
        for name in command.list_commands(context):
            if (inner := command.get_command(context, name)) is not None:
                yield from _command(inner, (*words, name), context)
        return
    usage = " ".join(command.collect_usage_pieces(context))
    yield from (f".SS metrograph {_safe(' '.join(words))} {_safe(usage)}", _safe(command.help or ""))
    for parameter in command.get_params(context):
        record = parameter.get_help_record(context)
        if record is not None and parameter.name != "help":
            yield from (".TP", f".B {_safe(record[0])}", _safe(record[1]))


def _safe(text: str) -> str:
    """Text that is nothing but text: no line of it is a macro."""
    lines = " ".join(text.replace("\b", "").split()).replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{lines}" if lines.startswith((".", "'")) else lines


if __name__ == "__main__":
    sys.stdout.write(manual())
