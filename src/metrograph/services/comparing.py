"""Releases or runs side by side: what was named is read, compared, explained, and told in a few sentences."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from metrograph.compare.align.explain import why
from metrograph.compare.align.merge import merged_flow
from metrograph.compare.flow_records import Affects, Side
from metrograph.core.errors import MetrographError
from metrograph.ledgers.card_ledger import CardLedger, cards_ledger
from metrograph.ledgers.comparison import Background, Comparison, Neighbours, compare
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.release_groups import begun, read_side
from metrograph.log.faults import suggest
from metrograph.run.audience import published
from metrograph.run.cards import line_of
from metrograph.services.asking_others import others_of
from metrograph.services.desk import Desk, Result, masked
from metrograph.show.charts.layouts.board_layout import as_lanes, lay_board
from metrograph.show.charts.layouts.lanes_layout import at_full_width, lay_lanes
from metrograph.show.files.documents import comparison_document, finding_documents
from metrograph.show.report.card_report import cards_report
from metrograph.show.report.comparing.change_sections import why_report
from metrograph.show.report.comparing.comparison_report import ROOM, brief_report, comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing, Report
from metrograph.show.terminal.text import Medium, room_for
from metrograph.store.ids import split_run, unknown
from metrograph.store.local.card_files import load_releases, load_rigs
from metrograph.store.reading import LogReader
from metrograph.words.answers.comparison_answers import answer, tellings
from metrograph.words.ledger_words import of_cards
from metrograph.words.names import named, names_of

if TYPE_CHECKING:
    from metrograph.compare.align.merge import Merged
    from metrograph.ledgers.digests.digest import Digest
    from metrograph.run.cards import Release
    from metrograph.run.records import Run
    from metrograph.show.charts.layouts.lanes_layout import Lanes
    from metrograph.store.local.logbook import Logbook

_FEW_RUNS = 3
"""Runs of a side below which the repeats of other releases are looked at as well."""


class ComparisonRequest(msgspec.Struct, frozen=True):
    """A comparison that is asked for. Masking and the archive hold for whatever is made of it.

    names: releases, runs, or logs' paths; empty for the two latest of the line that was installed last.
    baseline: what the others are held against; None for the first that was named.
    only_rig: the only rig whose runs count. least: how many have to be named.
    published: whether others will see it, so that what is private is left out.
    """

    logbook: Path | None = None
    names: tuple[str, ...] = ()
    baseline: str | None = None
    only_rig: str | None = None
    archive: str | None = None
    show_personal: bool = False
    least: int = 2
    published: bool = False


class Compared(msgspec.Struct, frozen=True, dict=True):
    """Sides, oldest first; what is known beside them; the name of the one that the others are held against.

    telling: all runs with whatever tells who or where in them, also where it is not published.
    """

    sides: tuple[Side, ...]
    background: Background
    baseline: str
    book: Path | None = None
    telling: tuple[Run, ...] = ()

    @cached_property
    def comparison(self) -> Comparison:
        """The comparison of these sides, not masked."""
        return compare(self.sides, self.background, self.baseline)

    @property
    def title(self) -> str:
        """The names of what is compared, in one line."""
        common, names = self.names
        return f"{common} {' against '.join(names.get(side.name, side.name) for side in self.sides)}".strip()

    @cached_property
    def names(self) -> tuple[str, dict[str, str]]:
        """What their human names have in common, and what is left of each, of runs too."""
        common, names = names_of(
            [side.name for side in self.sides], self.background.cards, [run.run for run in self.runs]
        )
        rigs = {rig: card.name for rig, card in self.background.rigs.items() if card.name}
        return common, rigs | names

    @property
    def runs(self) -> list[Run]:
        """All runs, side by side."""
        return [run for side in self.sides for run in side.runs]

    def runs_of(self, side: str) -> tuple[Run, ...]:
        """The runs of a side by its name."""
        return next(each.runs for each in self.sides if each.name == side)


class ComparisonOutcome(msgspec.Struct, frozen=True):
    """A comparison as others may see it. incomparable: what takes the ground from comparing times."""

    result: Result
    incomparable: tuple[str, ...]


def comparison_of(
    desk: Desk,
    asked: ComparisonRequest,
    everything: bool = False,
    each_run: bool = False,
    line_up: str | None = None,
    whole: bool = False,
) -> ComparisonOutcome:
    """Compares what was named.

    everything: whether all is told, and not only what matters most.
    each_run: whether every run has a lane; one a release is enough to see what differs.
    whole: whether lanes show what somebody does after an installation like the installation itself.
    line_up: the phase that begins at one place in all lanes; raises MetrographError where a run has none of it.
    """
    if (cards := _cards_alone(desk, asked)) is not None:
        return ComparisonOutcome(Result(cards, lambda _: cards_report(cards)), ())
    compared = read_compared(desk, asked)
    lanes = _lanes(compared, each_run or line_up is not None, line_up)
    lanes = at_full_width(lanes) if whole else lanes
    comparison, shown = masked(desk, compared.telling, (compared.comparison, lanes), asked.show_personal)
    said = others_of(
        desk, asked.archive, comparison, compared.runs_of(comparison.releases[-1]), compared.background.rigs
    )
    common, human = compared.names

    def report(medium: Medium) -> Report:
        material = Material(
            named(comparison, human), (Drawing("runs", named(shown, human)),), common=common, others=said
        )
        return (comparison_report if everything else brief_report)(material, room_for(ROOM, medium))

    document = comparison_document(comparison) | {"findings": finding_documents(comparison, named(comparison, human))}
    document |= {"others": said} if said is not None else {}
    reasons = [str(caveat.what) for caveat in comparison.caveats if caveat.affects is Affects.TIMES]
    return ComparisonOutcome(Result(document, report), tuple(reasons))


def _cards_alone(desk: Desk, asked: ComparisonRequest) -> CardLedger | None:
    """The cards of what was named, where one of them has a card and no run; None where all have runs."""
    book = desk.logbook_or_none(asked.logbook)
    if book is None or not asked.names:
        return None
    cards, installed = load_releases(book), {split_run(run)[0] for run in book.run_names()}
    without = [name for name in asked.names if name in cards and name not in installed]
    if not without or not all(name in cards for name in asked.names):
        return None
    desk.warn(f"no run of {' and '.join(without)} was recorded; these are their cards")
    return cards_ledger({name: cards[name] for name in dict.fromkeys(asked.names)})


def _lanes(compared: Compared, each_run: bool, line_up: str | None) -> Lanes:
    if each_run:
        return lay_lanes(compared.runs, line_up)
    return as_lanes(lay_board(compared.sides, compared.comparison))


def reasons_for(desk: Desk, asked: ComparisonRequest, row: str) -> Result:
    """What led to one row of aligned screens, by its number or one of its titles.

    Raises MetrographError where there is no such row.
    """
    compared = read_compared(desk, asked)
    rulings = compared.background.rulings
    merged = merged_flow(compared.sides, rulings)
    reasons = why(compared.sides, merged, _row_of(row, merged), rulings)
    shown = masked(desk, compared.telling, reasons, asked.show_personal)
    return Result(shown, lambda _: why_report(named(shown, compared.names[1])))


def _row_of(name: str, merged: Merged) -> int:
    """The index of a row by its number or one of its titles; raises MetrographError when there is no such row."""
    titles = {title.casefold(): index for index, row in enumerate(merged.rows) for title in row.titles}
    if name.isdecimal() and 0 < int(name) <= len(merged.rows):
        return int(name) - 1
    if name.casefold() in titles:
        return titles[name.casefold()]
    if not merged.rows:
        raise MetrographError("none of these runs has a screen, so there are no rows")
    known = [title for row in merged.rows for title in row.titles]
    raise unknown("row", name, known, f"rows go from 1 to {len(merged.rows)}; “metrograph compare” numbers them")


def summary_of(desk: Desk, asked: ComparisonRequest, length: str = "post") -> tuple[dict[str, object], list[str]]:
    """What changed, in a few sentences: as a program gets it, and as text to be pasted, a paragraph a pair.

    length: ``short`` for two sentences a pair, ``post`` for a few, ``article`` for all that there are.
    """
    if (cards := _cards_alone(desk, asked)) is not None:
        said = list(of_cards(cards))
        return {"sentences": said, "cards": cards}, [" ".join(said)]
    compared = read_compared(desk, msgspec.structs.replace(asked, published=True))
    common, human = compared.names
    ids = masked(desk, compared.telling, compared.comparison, asked.show_personal)
    comparison = named(ids, human)
    pairs = zip(compared.comparison.neighbours, comparison.neighbours, strict=True)
    answers = [(one, _in_full(answer(comparison, pair), pair, common)) for one, pair in pairs]
    every = [{"from": one.earlier, "to": one.later, "sentences": told} for one, told in answers]
    # Those of the latest come first.
    document: dict[str, object] = {
        "sentences": answers[-1][1],
        "answers": every,
        "findings": finding_documents(ids, comparison),
    }
    if length == "article":
        paragraphs = [
            " ".join(_in_full(tuple(each.text for each in tellings(comparison, pair)) or told, pair, common))
            for pair, (_, told) in zip(comparison.neighbours, answers, strict=True)
        ]
        return document, paragraphs
    return document, [" ".join(told[: _SHORT if length == "short" else None]) for _, told in answers]


_SHORT = 2  # sentences


def _in_full(sentences: tuple[str, ...], pair: Neighbours, common: str) -> tuple[str, ...]:
    """The release by its whole name where it is first named, as nothing stands above it."""
    if not common:
        return sentences
    for name in (pair.later, pair.earlier):
        for place, text in enumerate(sentences):
            if found := _name_in(name, text):
                full = f"{text[: found.start()]}{common} {text[found.start() :]}"
                return (*sentences[:place], full, *sentences[place + 1 :])
    return sentences


def _name_in(name: str, text: str) -> re.Match[str] | None:
    return re.search(rf"(?<![\w.]){re.escape(name)}(?![\w])(?!\.\d)", text)


def read_compared(desk: Desk, asked: ComparisonRequest) -> Compared:
    """Reads what was named; raises MetrographError when that is fewer than wanted, or has no such baseline or rig."""
    names = asked.names or tuple(_latest(desk, asked.logbook))
    if len(set(names)) < asked.least:
        raise MetrographError("name two or more to compare, each once: releases, runs, or logs' paths")
    book = desk.logbook_or_none(asked.logbook)
    reader = LogReader(book)
    cards = load_releases(book)
    sides = [read_side(reader, book, name, cards) for name in dict.fromkeys(names)]
    telling = tuple(run for side in sides for run in side.runs)
    if asked.published:
        sides = [msgspec.structs.replace(side, runs=tuple(map(published, side.runs))) for side in sides]
    sides = sides if asked.only_rig is None else [_on_rig(side, asked.only_rig) for side in sides]
    base = sides[0].name if asked.baseline is None else asked.baseline
    if base not in {side.name for side in sides}:
        near = suggest(base, [side.name for side in sides])
        raise MetrographError(f"the baseline “{base}” is not among what is compared; expected: {near}")
    others = _others(desk, reader, book, sides, cards)
    desk.warn_of(reader.faults)
    background = Background(load_rigs(book), cards, reader.rulings, others, reader.lexicon)
    ordered = tuple(sorted(sides, key=lambda side: _age(side, cards)))
    return Compared(ordered, background, base, None if book is None else book.path, telling)


def _on_rig(side: Side, rig: str) -> Side:
    """A side with its runs on one rig only."""
    runs = tuple(run for run in side.runs if run.rig == rig)
    if not runs:
        known = suggest(rig, dict.fromkeys(run.rig for run in side.runs))
        raise MetrographError(f"{side.name} was not installed on “{rig}”; expected: {known}")
    return msgspec.structs.replace(side, runs=runs)


def _latest(desk: Desk, logbook: Path | None) -> list[str]:
    """The two latest releases of the line that was installed last; raises MetrographError when it has no two."""
    book = desk.logbook(logbook)
    reader, cards = LogReader(book), load_releases(book)
    sides = [
        read_side(reader, book, name, cards) for name in dict.fromkeys(split_run(run)[0] for run in book.run_names())
    ]
    ordered = sorted(sides, key=lambda side: _age(side, cards))
    last = max(sides, key=lambda side: max(begun(run) for run in side.runs), default=None)
    of_line = [side.name for side in ordered if last is not None and side.line == last.line]
    if len(of_line) < 2:
        raise MetrographError("name two or more to compare: no line has two releases with runs yet")
    return of_line[-2:]


def _age(side: Side, cards: dict[str, Release]) -> tuple[str, str]:
    """What sides are ordered by: the day the release came out, or else was first installed; then their first run."""
    first = side.runs[0]
    begun = first.begun.isoformat() if first.begun else ""
    card = cards.get(first.release)
    return (card.released if card and card.released else begun[:10]), begun


def _others(
    desk: Desk, reader: LogReader, book: Logbook | None, sides: Sequence[Side], cards: dict[str, Release]
) -> dict[str, list[Digest]]:
    """More runs of the lines that are compared, where a side has few of its own: repeats tell what spread is usual."""
    if book is None or all(len(side.runs) >= _FEW_RUNS for side in sides):
        return {}
    lines = {line_of(run.release, cards.get(run.release)) for side in sides for run in side.runs}
    installed = sorted({split_run(run)[0] for run in book.run_names()})
    releases = [release for release in installed if line_of(release, cards.get(release)) in lines]
    read = {run.run for side in sides for run in side.runs}
    others: dict[str, list[Digest]] = {}
    for digest in digests_of(reader, book, desk.track, releases):
        if digest.run not in read:
            others.setdefault(digest.release, []).append(digest)
    return others
