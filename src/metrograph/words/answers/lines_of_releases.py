"""Names releases by the line that they continue, where several lines stand side by side in one ledger."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Protocol


class HasReleases(Protocol):
    """A ledger of releases, or anything else that has several of several lines."""

    @property
    def releases(self) -> tuple[str, ...]:
        """Their names, oldest first within each line."""

    @property
    def lines(self) -> tuple[str, ...]:
        """The line that each release continues, in the same order."""


def lines_of(ledger: HasReleases) -> Iterator[tuple[str, list[int]]]:
    """Each line, and the places of its releases."""
    for line in dict.fromkeys(ledger.lines):
        yield line, [place for place, of in enumerate(ledger.lines) if of == line]


def in_line(line: str, release: str, ledger: HasReleases) -> str:
    """A release with its line where there are several."""
    return f"{line} {release}" if len(set(ledger.lines)) > 1 and not release.startswith(line or "\0") else release


def short(line: str, release: str) -> str:
    """A release where its line has been said."""
    return release.removeprefix(f"{line} ")
