"""The runs that ledgers are made from, and what their releases are called."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec

from metrograph.core.pool import spread
from metrograph.faces.cli.environment import Environment
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.groups import Group, group, read_side
from metrograph.store.local.cards import load_releases, load_rigs
from metrograph.store.names import split_run
from metrograph.store.reading import LogReader
from metrograph.words.names import full_name, named, names_of


class Runs:
    """The runs that a ledger is made from, with the cards of their releases.

    Those that are named are held against each other; of a whole logbook, only releases of one line.

    each: whether every run is wanted, and not only what a release's come to; over: what much work is spread over.
    """

    def __init__(
        self,
        environment: Environment,
        logbook: Path | None,
        names: Sequence[str] | None,
        each: bool = False,
        cluster: str | None = None,
    ) -> None:
        self.environment = environment
        self.each, self.over = each, spread(cluster)
        self.book = environment.logbook(logbook)
        self.reader = LogReader(self.book)
        self.digests = self._digests(names)
        self.group: Group = group(self.digests, load_releases(self.book), one_line=bool(names))
        # A name that one run tells stands in what others say: all runs of these releases are asked whose it is.
        of = {digest.release for digest in self.digests}
        self.known = digests_of(self.reader, self.book, environment.track, of) if names else self.digests
        environment.warn_of(self.reader.faults)

    def named(self, ledger: Any) -> Any:
        """A ledger with human names: whole ones of a logbook; of releases that were named, what is left of each."""
        releases = self.group.releases
        runs = [digest.run for release in releases for digest in self.group.runs[release]]
        common, names = names_of(releases, self.group.cards, runs)
        if any(self.group.lines):
            whole = {release: full_name(release, self.group.cards.get(release)) for release in releases}
            names = (
                {each: _in_full(each, whole) for each in (*releases, *runs)}
                if len(set(whole.values())) == len(whole)
                else {}
            )
        elif hasattr(ledger, "lines"):
            ledger = msgspec.structs.replace(ledger, lines=(common,) * len(ledger.lines))
        rigs = {rig: card.name for rig, card in load_rigs(self.book).items() if card.name}
        return named(ledger, rigs | names)

    def _digests(self, names: Sequence[str] | None) -> list[Digest]:
        if not names:
            return digests_of(self.reader, self.book, self.environment.track)
        sides = [read_side(self.reader, self.book, name) for name in names]
        return list({run.run: digest(run) for side in sides for run in side.runs}.values())


def _in_full(name: str, whole: dict[str, str]) -> str:
    """A release, or one of its runs, by its whole name."""
    release, number = split_run(name)
    return whole[name] if name in whole else f"{whole[release]}, run {number}"
