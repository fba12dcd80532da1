"""The arguments and options that several commands share, their completion, and the form of their help."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Annotated, Any

import typer
from typer.core import TyperCommand

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of


def _complete(context: typer.Context, groups: tuple[str, ...], beginning: str) -> list[str]:
    """Names in the logbook that begin so; none when anything is wrong, for completion must never complain."""
    try:
        logbook = environment_of(context).logbook(context.params.get("logbook"))
        names = [
            name for group in groups for name in (logbook.run_names() if group == "runs" else logbook.card_names(group))
        ]
    except (MetrographError, OSError):
        return []
    return [name for name in names if name.startswith(beginning)]


def complete_run(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes the name of a run."""
    return _complete(ctx, ("runs",), incomplete)


def complete_release(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes the id of a release."""
    return _complete(ctx, ("releases",), incomplete)


def complete_rig(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes the id of a rig."""
    return _complete(ctx, ("rigs",), incomplete)


def complete_side(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes what can be compared: a release or a run."""
    return _complete(ctx, ("releases", "runs"), incomplete)


def complete_reader(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes the name of a reader."""
    from metrograph.store.local.reader_settings import load_readers

    try:
        names = load_readers(environment_of(ctx).logbook(ctx.params.get("logbook")))[0]
    except (MetrographError, OSError):
        return []
    return [name for name in names if name.startswith(incomplete)]


def complete_figure(incomplete: str) -> list[str]:
    """Completes the name of a figure that every run has; readings go by names of their own."""
    from metrograph.services.following import figure_names

    return [name for name in figure_names() if name.startswith(incomplete)]


ArchiveOption = Annotated[
    str | None,
    typer.Option("--archive", metavar="URL", help="A shared archive that is asked what others say; else your setting."),
]
ClusterOption = Annotated[
    str | None,
    typer.Option(metavar="ADDRESS", help="Of a Dask scheduler: tcp://127.0.0.1:8786; else all cores."),
]
LogbookOption = Annotated[
    Path | None,
    typer.Option("--logbook", metavar="DIR", help="The logbook; else the folder here or above, or METROGRAPH_LOGBOOK."),
]
JsonOption = Annotated[bool, typer.Option("--json", help="Print one JSON document and nothing else.")]
RunOption = Annotated[
    str | None,
    typer.Option("--run", metavar="RUN", help="The run, where several are open.", autocompletion=complete_run),
]
AtOption = Annotated[
    str | None,
    typer.Option(
        "--at",
        metavar="TIME",
        help="When it was: 12:30 since the start, -2:00 (two minutes ago), or a date and time with offset.",
    ),
]
RunArgument = Annotated[
    str | None, typer.Argument(metavar="[RUN]", autocompletion=complete_run, help="The open run unless said.")
]
OnlyRigOption = Annotated[
    str | None,
    typer.Option("--only-rig", metavar="RIG", autocompletion=complete_rig, help="Count runs on this rig only."),
]
PersonalOption = Annotated[
    bool, typer.Option("--show-personal", help="Names, hosts and addresses as they are, not masked.")
]
NamesArgument = Annotated[
    list[str] | None,
    typer.Argument(metavar="[A B...]", autocompletion=complete_side, help="Releases or runs; all unless said."),
]
OneOrMore = Annotated[
    list[str], typer.Argument(metavar="A [B...]", autocompletion=complete_side, help="Releases, runs, or logs' paths.")
]
TwoOrMore = Annotated[
    list[str],
    typer.Argument(metavar="A B [C...]", autocompletion=complete_side, help="Releases, runs, or logs' paths."),
]
ForOption = Annotated[
    str | None,
    typer.Option(
        "--for", metavar="READER", autocompletion=complete_reader, help="The reader; the only one unless said."
    ),
]
ReleasesArgument = Annotated[
    list[str] | None,
    typer.Argument(metavar="[RELEASE...]", autocompletion=complete_release, help="All that have runs unless said."),
]
BaselineOption = Annotated[
    str | None,
    typer.Option(metavar="NAME", autocompletion=complete_side, help="The one to hold others against, not the first."),
]
LineUpOption = Annotated[
    str | None, typer.Option(metavar="PHASE", help="The phase that begins at one place in all lanes.")
]
WholeOption = Annotated[
    bool, typer.Option("--whole", help="Draw what is done after an installation as large as the installation.")
]
StateOption = Annotated[str | None, typer.Option(metavar="STATE", help="Of a reading: live, installed or updated.")]
EverythingOption = Annotated[
    bool, typer.Option("--everything", help="Hold all releases against each other, over lines and distributions.")
]
FigureArgument = Annotated[
    str,
    typer.Argument(metavar="FIGURE", autocompletion=complete_figure, help="desktop, hands-on, screens, memory ..."),
]


def whole_number(text: str) -> int:
    """A count, or the number of a line; refused in our words."""
    if re.fullmatch(r"[1-9][0-9]{0,8}", text) is None:
        raise typer.BadParameter(f"“{text}” cannot be read; expected: a whole number from 1")
    return int(text)


def refuse_unknown_options(words: Sequence[str]) -> None:
    """A misspelt option must not end up in the log as text."""
    for word in words:
        if word.startswith("--") and word[2:3].isalpha():
            raise MetrographError(
                f"there is no option {word.partition('=')[0]}; text that begins so goes in quotes with its verb"
            )


class PlainCommand(TyperCommand):
    """A command whose usage line says what is needed as it stands, and in brackets what may be left out."""

    def collect_usage_pieces(self, ctx: Any) -> list[str]:
        """The pieces without the braces around what is needed."""
        return [piece.removeprefix("{").removesuffix("}") for piece in super().collect_usage_pieces(ctx)]


class CommandApp(typer.Typer):
    """An application that a module hangs its commands on."""

    def command(self, *words: Any, **options: Any) -> Any:
        """Adds a command; see ``typer.Typer.command``."""
        return super().command(*words, **({"cls": PlainCommand} | options))


def command_app(about: str | None = None) -> typer.Typer:
    """An application that a module hangs its commands on.

    about: what a group of commands is for; None for a single command.
    """
    return CommandApp(help=about, no_args_is_help=about is not None, rich_markup_mode=None, add_completion=False)


def single(apps: dict[str, typer.Typer], name: str, **options: Any) -> Callable[[Callable[..., None]], Any]:
    """Hangs up a command that is no group of commands, among those that a module has."""
    apps[name] = command_app()
    return apps[name].command(name, **options)


def examples(*lines: str) -> str:
    """The end of a command's help, with lines to try."""
    return "\b\nExamples:\n" + "\n".join(f"  {line}" for line in lines)
