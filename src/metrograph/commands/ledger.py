"""What the ledgers have in common: which runs they are made from, and how they are shown."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Annotated, TypeVar

import typer

from metrograph.analysis.digests import digest
from metrograph.analysis.ledgers import group
from metrograph.commands.environment import Environment, complete_side
from metrograph.logbook.cards import load_releases
from metrograph.logbook.digests import all_digests
from metrograph.logbook.selection import Reader
from metrograph.model.ledgers import Digest
from metrograph.views.paper import Paper

NamesArgument = Annotated[
    list[str] | None,
    typer.Argument(metavar="[A B...]", autocompletion=complete_side, help="Releases or runs; all unless said."),
]
T = TypeVar("T")


class Sources:
    """The runs that a ledger is made from, with the cards of their releases.

    Those that are named are held against each other; of a whole logbook, only releases of one line.
    """

    def __init__(self, environment: Environment, logbook: Path | None, names: Sequence[str] | None) -> None:
        self.environment = environment
        self.reader = Reader(environment.logbook(logbook))
        self.cards = load_releases(self.reader.logbook)
        self.group = group(self._digests(names), self.cards, one_line=bool(names))
        environment.warn_of(self.reader.faults)

    def _digests(self, names: Sequence[str] | None) -> list[Digest]:
        book = self.reader.logbook
        if not names and book is not None:
            return all_digests(book, self.reader, self.environment.track)
        sides = [self.reader.side(name) for name in names or ()]
        return list({run.run: digest(run) for side in sides for run in side.runs}.values())

    def show(self, ledger: T, json: bool, render: Callable[[T, Paper], str]) -> None:
        """Prints a ledger, as a table or as JSON."""
        if json:
            self.environment.show_json(ledger)
        else:
            self.environment.show(render(ledger, self.environment.paper()))
