"""The world around one call: streams, folder, variables, clock. Made once at the edge; tests make their own."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from functools import cache, partial
from pathlib import Path
from typing import TYPE_CHECKING, TextIO, TypeVar

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.log.quantities.units import choose_family
from metrograph.show.safe import in_ascii, visible
from metrograph.store.clock import Instant, now, process_start
from metrograph.store.local.logbook import Logbook, find_logbook, logbook_above

if TYPE_CHECKING:
    from contextlib import AbstractContextManager

    from metrograph.log.cues import Fault
    from metrograph.log.quantities.units import Family
    from metrograph.services.desk import Result
    from metrograph.services.run_reading import Survey
    from metrograph.show.report.model import Report
    from metrograph.show.terminal.text import Medium
    from metrograph.store.preferences import Preferences

# Columns: below the least tables break, above the most lines are no longer read across.
_NARROWEST, _WIDEST, _USUAL = 80, 160, 80
T = TypeVar("T")


class Environment(msgspec.Struct, frozen=True):
    """The world around one call.

    started: gives the moment the process was started, which is the time of a cue.
    present: gives this moment.
    leave: ends the process, where the call has one of its own, without taking the interpreter apart: that takes as
        long as writing a cue, and nobody has anything of it. Only for calls that leave nothing running or open.
    """

    out: TextIO
    err: TextIO
    folder: Path
    variables: Mapping[str, str]
    started: Callable[[], Instant] = process_start
    present: Callable[[], Instant] = now
    leave: Callable[[], None] = lambda: None

    # -- what is printed -----------------------------------------------------------------------------------------------

    def say(self, text: str) -> None:
        """Prints a line about what was done; text from files is made harmless."""
        self.out.write(_fitting(visible(text), self.out) + "\n")

    def print(self, text: str) -> None:
        """Prints what was made for standard output."""
        self.out.write(text)

    def show(self, report: Report) -> None:
        """Prints a report."""
        from metrograph.show.terminal.terminal_writer import write

        text = write(report, self.medium())
        if self.is_interactive() and self._is_long(text):
            from metrograph.faces.cli.console import page

            page(text)
        else:
            self.out.write(text)

    def give(self, result: Result, json: bool = False) -> None:
        """Prints what a flow gave: as one JSON document, or for a person."""
        if json:
            self.show_json(result.document)
        else:
            self.show(result.report(self.medium()))

    def tell_faults(self, found: Survey, leave: bool = True) -> None:
        """Prints what is wrong in files; leave: whether the call ends with 1 where something is an error."""
        from metrograph.show.terminal.terminal_writer import render_faults

        self.print(render_faults(found.faults, self.medium()))
        self.warn(found.told)
        if leave and found.errors:
            raise typer.Exit(1)

    def _is_long(self, text: str) -> bool:
        """Whether a text is higher than the terminal, and a pager is wanted."""
        from metrograph.faces.cli.console import rows_of

        return (
            text.count("\n") >= rows_of()
            and self.variables.get("PAGER") not in {"", "cat"}
            and self.preferences().pager != "no"
        )

    # -- who calls -----------------------------------------------------------------------------------------------------

    def preferences(self) -> Preferences:
        """The person's own settings; those that cannot be read are complained of, and do not count."""
        from metrograph.store.preferences import Preferences, load_preferences

        try:
            return load_preferences()
        except MetrographError as error:
            self.warn(str(error))
            return Preferences()

    def warn(self, text: str) -> None:
        """Prints a line to standard error."""
        self.err.write(f"metrograph: {_fitting(visible(text), self.err)}\n")

    @contextmanager
    def once_written(self) -> Iterator[None]:
        """What follows a write: whatever goes wrong now, nobody may think that it was not made, and make it again."""
        try:
            yield
            self.out.flush()
        except (MetrographError, OSError) as error:
            if not isinstance(error, BrokenPipeError):
                what = error.strerror if isinstance(error, OSError) else error
                with suppress(OSError):
                    self.warn(f"it is written; what follows went wrong: {what}")
            if isinstance(error, OSError):  # nothing more can be said, not even on the way out
                os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())

    def write(self, output: Path | None, data: bytes, done: str = "written") -> None:
        """Writes what was asked for to where it was, standard output for none or a dash, and says that it is done."""
        from metrograph.store.local.files import write_output

        if output is None or output == Path("-"):
            self.out.flush()
            if (stream := getattr(self.out, "buffer", None)) is not None:
                stream.write(data)
                stream.flush()
            else:
                self.out.write(data.decode())
            return
        path = self.folder / output
        write_output(path, data)
        # Beside what went to a pipe or a device nothing may stand.
        (self.say if path.is_file() else self.warn)(f"{output} {done}")

    def warn_of(self, faults: Sequence[Fault]) -> None:
        """Prints what was wrong in the files that were read, a line each, to standard error."""
        if faults:
            from metrograph.show.terminal.terminal_writer import render_faults

            self.err.write(render_faults(faults, self.medium(self.err)))

    def show_json(self, record: object) -> None:
        """Prints one JSON document and nothing else."""
        from metrograph.show.files.json import document

        self.out.write(document(record, ascii_only=_is_plain(self.out)))

    # -- where things are ----------------------------------------------------------------------------------------------

    def logbook(self, named: Path | None) -> Logbook:
        """The logbook to work on; raises MetrographError when there is none."""
        variable = self.variables.get("METROGRAPH_LOGBOOK")
        book = find_logbook(self.folder, named or (Path(variable) if variable else None))
        choose_family(cache(partial(_sizes_of, book, self)))
        return book

    def logbook_or_none(self, named: Path | None) -> Logbook | None:
        """The logbook, or None where none was asked for and none is there: log files can be looked at without one."""
        asked = named is not None or bool(self.variables.get("METROGRAPH_LOGBOOK"))
        return self.logbook(named) if asked or logbook_above(self.folder) is not None else None

    # -- what the streams can show -------------------------------------------------------------------------------------

    def is_interactive(self) -> bool:
        """Whether a person sits at a terminal that can show everything."""
        terminal = sys.stdin.isatty() and self.out.isatty() and self.variables.get("TERM") != "dumb"
        return terminal and not _is_plain(self.out)

    def medium(self, stream: TextIO | None = None) -> Medium:
        """What a stream can show: standard output, unless another is given."""
        from metrograph.faces.cli.console import colours_of, columns_of
        from metrograph.show.terminal.text import Medium

        stream = stream or self.out
        terminal = stream.isatty()
        return Medium(
            width=max(_NARROWEST, min(columns_of(_USUAL), _WIDEST)) if terminal else _USUAL,
            colours=colours_of(stream, self.variables) if terminal else None,
            plain=_is_plain(stream),
            piped=not terminal,
        )

    def track(self, items: Sequence[T], what: str) -> Iterable[T]:
        """Gives the items one by one, and says on the terminal how far it is when that takes over half a second."""
        from metrograph.faces.cli.console import track

        return track(items, what, self.err)

    def progress(self, what: str) -> AbstractContextManager[Callable[[int, int], None]]:
        """Gives what is to be called with how much of how much is done; says it on a terminal after half a second."""
        from metrograph.faces.cli.console import progress

        return progress(what, self.err)


def _fitting(text: str, stream: TextIO) -> str:
    return in_ascii(text) if _is_plain(stream) else text


def _sizes_of(book: Logbook, environment: Environment) -> Family | None:
    """How sizes are to be shown; settings that cannot be read are complained of by whoever needs them."""
    try:
        sizes = book.settings().sizes
    except MetrographError:
        sizes = None
    return sizes or environment.preferences().sizes


def _is_plain(stream: TextIO) -> bool:
    """Whether a stream takes ASCII only."""
    return not (getattr(stream, "encoding", None) or "ascii").lower().startswith("utf")


def environment_of(context: typer.Context) -> Environment:
    """The environment of a call; the process's own unless a test gave another."""
    given = context.find_root().obj
    return given if isinstance(given, Environment) else this_environment()


def this_environment() -> Environment:
    """The environment of this process."""
    try:
        folder = Path.cwd()
    except FileNotFoundError:
        folder = Path()  # it is gone; what needs it will say that there is no logbook in it
    began = process_start()  # now, as later nobody could tell a start from a wait
    return Environment(sys.stdout, sys.stderr, folder, os.environ, lambda: began)


def own_environment() -> Environment:
    """The environment of a process that was started for one call, and may end with it."""
    return msgspec.structs.replace(this_environment(), leave=_leave)


def _leave() -> None:
    for stream in (sys.stdout, sys.stderr):
        stream.flush()
    os._exit(0)
