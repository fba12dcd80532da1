"""Asks what a terminal can show, and tells how far a long work is; loaded only when something is shown."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import cached_property
from typing import TYPE_CHECKING, TextIO, TypeVar

if TYPE_CHECKING:
    from rich.color import ColorSystem
    from rich.progress import Progress

_PATIENCE = 0.5  # seconds before it is said how far a long work is
T = TypeVar("T")


def columns_of(usual: int) -> int:
    """The width of the terminal."""
    return shutil.get_terminal_size((usual, 24)).columns


def colours_of(stream: TextIO, variables: Mapping[str, str]) -> ColorSystem | None:
    """How many colours a terminal has; None where none are wanted."""
    from rich.console import COLOR_SYSTEMS, Console

    console = Console(file=stream, force_terminal=True, _environ=dict(variables))
    if console.no_color or console.color_system is None:
        return None
    return COLOR_SYSTEMS[console.color_system]


def track(items: Sequence[T], what: str, stream: TextIO) -> Iterable[T]:
    """Gives the items one by one, and says how far it is."""
    with progress(what, stream) as tell:
        for done, item in enumerate(items):
            tell(done, len(items))
            yield item


@contextmanager
def progress(what: str, stream: TextIO) -> Iterator[Callable[[int, int], None]]:
    """Gives what is to be called with how much of how much is done; says it on a terminal after half a second."""
    started, bar = time.monotonic(), _ProgressBar(what, stream)

    def tell(done: int, whole: int) -> None:
        if stream.isatty() and time.monotonic() - started > _PATIENCE:
            bar.show(done, whole)

    try:
        yield tell
    finally:
        bar.close()


class _ProgressBar:
    """The line that says how far it is; drawn, and its drawing loaded, only when there is something to wait for."""

    def __init__(self, what: str, stream: TextIO) -> None:
        self.what, self.stream = what, stream

    @cached_property
    def drawn(self) -> Progress:
        """The line itself, from the first time it is wanted."""
        from rich.console import Console
        from rich.progress import BarColumn, Progress, TaskProgressColumn, TextColumn, TimeRemainingColumn

        columns = (TextColumn("{task.description}"), BarColumn(), TaskProgressColumn(), TimeRemainingColumn())
        line = Progress(*columns, console=Console(file=self.stream), transient=True)
        line.add_task(self.what)
        line.start()
        return line

    def show(self, done: int, whole: int) -> None:
        """So much of the whole is done."""
        self.drawn.update(self.drawn.task_ids[0], completed=done, total=max(whole, 1))

    def close(self) -> None:
        """Takes the line away, where there is one."""
        if "drawn" in vars(self):
            self.drawn.stop()


def rows_of() -> int:
    """The height of the terminal."""
    return shutil.get_terminal_size((80, 24)).lines


def page(text: str) -> None:
    """Shows a long text through the pager that the person has; where there is none, as it is."""
    import pydoc

    os.environ.setdefault("LESS", "FRX")  # colours as they are, and nothing to be left where all fits
    pydoc.pager(text)
