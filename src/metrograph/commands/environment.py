"""Everything a command needs of the world around it, made once at the edge; tests make their own."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, TextIO, TypeVar

import msgspec
import typer

from metrograph.errors import MetrographError
from metrograph.logbook.clock import Instant, now, process_start
from metrograph.logbook.folder import MARK, Logbook, find_logbook
from metrograph.views.safe import in_ascii, visible

if TYPE_CHECKING:
    from rich.color import ColorSystem

    from metrograph.model.cues import Fault
    from metrograph.views.paper import Paper

_NARROWEST, _WIDEST, _USUAL = 80, 160, 80
_PATIENCE = 0.5  # seconds before it is said how far a long work is
_BETWEEN = 0.1  # seconds between two words on that
T = TypeVar("T")


class Environment(msgspec.Struct, frozen=True):
    """The world around one call.

    started: gives the moment the process was started, which is the time of a cue.
    present: gives this moment.
    """

    out: TextIO
    err: TextIO
    folder: Path
    variables: Mapping[str, str]
    started: Callable[[], Instant] = process_start
    present: Callable[[], Instant] = now

    def say(self, text: str) -> None:
        """Prints a line about what was done; text from files is made harmless."""
        self.out.write(self._fit(visible(text), self.out) + "\n")

    def show(self, text: str) -> None:
        """Prints what a view made."""
        self.out.write(text)

    def warn(self, text: str) -> None:
        """Prints a line to standard error."""
        self.err.write(f"metrograph: {self._fit(visible(text), self.err)}\n")

    def warn_of(self, faults: list[Fault]) -> None:
        """Prints what was wrong in the files that were read, a line each, to standard error."""
        if faults:
            from metrograph.views.lists import render_faults

            self.err.write(render_faults(faults, self.paper(self.err)))

    def show_json(self, record: object) -> None:
        """Prints one JSON document and nothing else."""
        from metrograph.exchange.json import to_json

        self.out.write(to_json(record, ascii_only=_is_plain(self.out)))

    def logbook(self, named: Path | None) -> Logbook:
        """The logbook to work on; raises MetrographError when there is none."""
        variable = self.variables.get("METROGRAPH_LOGBOOK")
        return find_logbook(self.folder, named or (Path(variable) if variable else None))

    def logbook_or_none(self, named: Path | None) -> Logbook | None:
        """The same, or None where none was asked for and none is there: log files can be looked at without one."""
        asked = named is not None or bool(self.variables.get("METROGRAPH_LOGBOOK"))
        here = any((folder / MARK).is_file() for folder in (self.folder, *self.folder.parents))
        return self.logbook(named) if asked or here else None

    def is_interactive(self) -> bool:
        """Whether a person sits at a terminal that can show everything."""
        terminal = sys.stdin.isatty() and self.out.isatty() and self.variables.get("TERM") != "dumb"
        return terminal and not _is_plain(self.out)

    def paper(self, stream: TextIO | None = None) -> Paper:
        """What a stream can show: standard output, unless another is given."""
        from metrograph.views.paper import Paper

        stream = stream or self.out
        terminal = stream.isatty()
        return Paper(
            width=max(_NARROWEST, min(self._columns() if terminal else _USUAL, _WIDEST)),
            colours=self._colours() if terminal else None,
            plain=_is_plain(stream),
            piped=not terminal,
        )

    @staticmethod
    def _fit(text: str, stream: TextIO) -> str:
        return in_ascii(text) if _is_plain(stream) else text

    def track(self, items: Sequence[T], what: str) -> Iterator[T]:
        """Gives the items one by one, and says on the terminal how far it is when that takes over half a second."""
        started, said = time.monotonic(), ""
        for done, item in enumerate(items):
            if self.err.isatty() and time.monotonic() - started > _PATIENCE and done % 10 == 0:
                said = f"{what}: {done} of {len(items)}"
                self.err.write(f"\r{said}")
                self.err.flush()
            yield item
        self.err.write("\r" + " " * len(said) + "\r" if said else "")

    @contextmanager
    def progress(self, what: str) -> Iterator[Callable[[int, int], None]]:
        """Gives what is to be called with how much of how much is done; says it on a terminal after half a second."""
        started, said, last = time.monotonic(), "", 0.0

        def tell(done: int, whole: int) -> None:
            nonlocal said, last
            now = time.monotonic()
            if self.err.isatty() and now - started > _PATIENCE and now - last > _BETWEEN:
                share, last = done / max(whole, 1), now
                left = (now - started) * (1 - share) / max(share, 1e-6)
                said = f"{what}  [{'#' * round(share * 20):.<20}] {share:4.0%}, {left:.0f} s left "
                self.err.write(f"\r{said}")
                self.err.flush()

        yield tell
        self.err.write("\r" + " " * len(said) + "\r" if said else "")

    def _columns(self) -> int:
        import shutil

        return shutil.get_terminal_size((_USUAL, 24)).columns

    def _colours(self) -> ColorSystem | None:
        from rich.color import ColorSystem

        if self.variables.get("NO_COLOR") or self.variables.get("TERM") == "dumb":
            return None
        if self.variables.get("COLORTERM", "").lower() in {"truecolor", "24bit"}:
            return ColorSystem.TRUECOLOR
        return ColorSystem.EIGHT_BIT if "256color" in self.variables.get("TERM", "") else ColorSystem.STANDARD


def _is_plain(stream: TextIO) -> bool:
    """Whether a stream takes ASCII only."""
    return not (getattr(stream, "encoding", None) or "ascii").lower().startswith("utf")


def environment_of(context: typer.Context) -> Environment:
    """The environment of a call; the process's own unless a test gave another."""
    given = context.find_root().obj
    return given if isinstance(given, Environment) else this_environment()


def this_environment() -> Environment:
    """The process's own."""
    import os

    try:
        folder = Path.cwd()
    except FileNotFoundError:
        folder = Path()  # it is gone; what needs it will say that there is no logbook in it
    return Environment(sys.stdout, sys.stderr, folder, os.environ)


def _complete(context: typer.Context, groups: tuple[str, ...], beginning: str) -> list[str]:
    """Names in the logbook that begin so; none when anything is wrong, for completion must never complain."""
    try:
        logbook = environment_of(context).logbook(context.params.get("logbook"))
        names = [
            name for group in groups for name in (logbook.run_names() if group == "runs" else logbook.cards(group))
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


def complete_figure(incomplete: str) -> list[str]:
    """Completes the name of a figure that every run has; readings go by names of their own."""
    from metrograph.model.figures import FIGURES

    return [name for name in FIGURES if name.startswith(incomplete)]


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


def command_app(about: str | None = None) -> typer.Typer:
    """What a module hangs its commands on.

    about: what a group of commands is for; None for a single command.
    """
    return typer.Typer(help=about, no_args_is_help=about is not None, rich_markup_mode=None, add_completion=False)


def examples(*lines: str) -> str:
    """The end of a command's help, with lines to try."""
    return "\b\nExamples:\n" + "\n".join(f"  {line}" for line in lines)
