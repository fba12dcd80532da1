"""Ledgers in the terminal: for each line of releases a table, and below it what stands out, in sentences."""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Iterable, Sequence
from typing import TypeVar

from metrograph.language.sizes import show_size
from metrograph.language.times import show_duration
from metrograph.model.ledgers import (
    CheckLedger,
    ClaimLedger,
    ClaimRow,
    FactLedger,
    Figure,
    ReadingLedger,
    ReadingRow,
    Weight,
    WeightLedger,
)
from metrograph.model.ranges import Range
from metrograph.views.paper import Paper
from metrograph.views.run_text import show_value
from metrograph.views.safe import readable
from metrograph.views.table import Column, render_lines, render_table

_NOTHING = "—"
_LEFT, _ACROSS = 47, 11  # columns of all that is not a release, and of a release
_SPREAD = 10  # columns more that a release takes with the spread of its runs
_MARKS = {"raised": "↑", "lowered": "↓", "replaced": "≠", "dropped": "−", "new": "+"}
Ledger = ReadingLedger | CheckLedger | FactLedger | WeightLedger
T = TypeVar("T")


def render_readings(ledger: ReadingLedger, paper: Paper) -> str:
    """A row a reading and state; the last column sets the last release against the one before it."""
    ledger = readable(ledger)
    parts = []
    for line, places in _lines(ledger, paper):
        roomy = paper.piped or paper.width >= _LEFT + (_ACROSS + _SPREAD) * len(places)
        columns = [Column("reading", gives=True), Column("state"), Column("load")]
        columns += [*_across(ledger, places, right=True), Column("difference", right=True)]
        own = [row for row in ledger.rows if any(_pick(row.figures, places))]
        rows = [
            [
                row.name,
                row.state,
                row.load or "",
                *(_figure(each, row.unit, spread=roomy) for each in _pick(row.figures, places)),
                _change(row, places),
            ]
            for row in own
        ]
        parts.append(_table(f"Readings {line}", columns, rows, paper))
    warnings = dict.fromkeys(f"{row.name}, {row.state}: {row.warning}." for row in ledger.rows if row.warning)
    spread = any("±" in part for part in parts) and not paper.piped
    said = [
        *warnings,
        *(["± is half of what lies between the least and the most of a release's runs."] if spread else []),
    ]
    return _page(parts, [*said, *_left_out(ledger, paper)], paper, "no reading was taken")


def _figure(figure: Figure | None, unit: str, spread: bool) -> str:
    if figure is None:
        return _NOTHING
    half = (figure.most - figure.least) / 2
    return show_value(figure.value, unit) + (f" ±{_short(half, unit)}" if half and spread else "")


def _short(value: float, unit: str) -> str:
    return show_size(round(value)) if unit == "bytes" else f"{value:.3g}"


def _change(row: ReadingRow, places: Sequence[int]) -> str:
    """How much more or less the last release has, and whether that is better."""
    last = row.differences[places[-1]]
    if not last:
        return "" if last is None else "same"
    sign = "+" if last > 0 else "−"
    word = "" if row.better is None else " better" if (last < 0) == (row.better == "less") else " worse"
    return f"{sign}{show_value(abs(last), row.unit)}{word}"


def render_checks(ledger: CheckLedger, paper: Paper) -> str:
    """A row a trial."""
    ledger = readable(ledger)
    parts = []
    for line, places in _lines(ledger, paper):
        cells = [(row.name, _pick(row.results, places)) for row in ledger.rows]
        rows = [
            [name, *(_NOTHING if each == "not tried" else each for each in own)]
            for name, own in cells
            if set(own) != {"not tried"}
        ]
        parts.append(_table(f"Trials {line}", [Column("trial", gives=True), *_across(ledger, places)], rows, paper))
    said = [f"{row.name} got worse in {release}." for row in ledger.rows for release in row.worse]
    said += [f"{row.name} is well again in {release}." for row in ledger.rows for release in row.well_again]
    return _page(parts, [*said, *_left_out(ledger, paper)], paper, "no trial was made")


def render_facts(ledger: FactLedger, paper: Paper) -> str:
    """A row a fact, with a mark where it is not what it was."""
    ledger = readable(ledger)
    parts = []
    for line, places in _lines(ledger, paper):
        rows = [
            [row.name, *(fact_cell(row.values[place], row.verdicts[place]) for place in places)]
            for row in ledger.rows
            if any(_pick(row.values, places))
        ]
        parts.append(_table(f"Facts {line}", [Column("fact", gives=True), *_across(ledger, places)], rows, paper))
    marks = "↑ raised  ↓ lowered  ≠ replaced  − dropped  + new"
    return _page(parts, [] if paper.piped else [marks, *_left_out(ledger, paper)], paper, "no fact was noted")


def fact_cell(value: str | None, verdict: str) -> str:
    """A fact, with a mark where it is not what it was."""
    return f"{value or _NOTHING} {_MARKS.get(verdict, '')}".rstrip()


def render_claims(ledger: ClaimLedger, paper: Paper) -> str:
    """A row a claim."""
    ledger = readable(ledger)
    columns = [Column("release", gives=True), Column("published", gives=True), Column("figure", right=True)]
    columns += [Column("measured", right=True), Column("runs", right=True), Column("holds")]
    rows = [claim_cells(row) for row in ledger.rows]
    said = [_broken(row) for row in ledger.rows if row.holds is False]
    return _page([_table("Claims", columns, rows, paper)], said, paper, "no card has claims or needs")


def claim_cells(row: ClaimRow) -> list[str]:
    """Release, claim, what is published, what was measured, in how many runs, and whether it holds."""
    return [row.release, row.what, _amount(row.published, row.unit), _measured(row), str(row.runs), _holds(row)]


def _measured(row: ClaimRow) -> str:
    if row.measured is None:
        return _NOTHING
    return show_duration(row.measured) if row.unit == "s" else show_size(round(row.measured.low))


def _holds(row: ClaimRow) -> str:
    return {True: "yes", False: "no", None: "open" if row.measured is not None else "not measured"}[row.holds]


def _broken(row: ClaimRow) -> str:
    return f"{row.release}: {row.what} is published as {_amount(row.published, row.unit)}, and was {_measured(row)}."


def _amount(value: float, unit: str) -> str:
    return show_duration(Range(value, value)) if unit == "s" else show_size(round(value))


def render_weight(ledger: WeightLedger, paper: Paper) -> str:
    """A row a weight, releases across; below it what the first update was."""
    ledger = readable(ledger)
    parts = []
    for line, places in _lines(ledger, paper):
        weights = _pick(ledger.rows, places)
        columns = [Column("weight", gives=True), *_across(ledger, places, right=True), Column("difference", right=True)]
        rows = [
            _sizes("image", [each.image for each in weights]),
            _sizes("added", [each.added_download for each in weights]),
            _sizes("first update", [each.update_download for each in weights]),
            _sizes("downloaded in all", [each.download for each in weights]),
            _sizes("on the disk in all", [each.disk for each in weights]),
            _plain("updates", [None if each.updates is None else f"{each.updates:g}" for each in weights]),
            _plain("update took", [show_duration(each.update_time) if each.update_time else None for each in weights]),
            _plain("image's age", [None if each.age is None else f"{each.age:g} days" for each in weights]),
        ]
        parts.append(_table(f"Weight {line}", columns, rows, paper))
    return _page(parts, [*_updates(ledger.rows), *_left_out(ledger, paper)], paper, "there are no runs")


def _sizes(name: str, values: Sequence[float | None]) -> list[str]:
    known = [value for value in values if value is not None]
    difference = ""
    if len(known) > 1 and values[-1] is not None:
        less = known[-1] - known[-2]
        difference = "same" if not less else f"{'+' if less > 0 else '−'}{show_size(round(abs(less)))}"
    return [name, *(_NOTHING if value is None else show_size(round(value)) for value in values), difference]


def _plain(name: str, values: Sequence[str | None]) -> list[str]:
    return [name, *(value or _NOTHING for value in values), ""]


def _updates(weights: Sequence[Weight]) -> list[str]:
    """What a first update meant, in relation to the installation and the image's age."""
    said = []
    for each in weights:
        if each.update_share is not None and each.update_time is not None:
            share = f"{each.update_share:.0%} of the time until installed"
            age = f", from an image {each.age:g} days old" if each.age is not None else ""
            restart = ", and asked for a restart" if each.restart else ""
            took = show_duration(each.update_time)
            said.append(f"{each.release}: the first update took {took}, {share}{age}{restart}.")
    return said


def _lines(ledger: Ledger, paper: Paper) -> list[tuple[str, list[int]]]:
    """Each line of releases by name, with the places of its releases: of too many for the paper, the latest."""
    found: dict[str, list[int]] = {}
    for place, line in enumerate(ledger.lines):
        found.setdefault(line, []).append(place)
    return [(line, places[-_most(paper) :]) for line, places in found.items()]


def _most(paper: Paper) -> int:
    """How many releases stand side by side with their figures whole; in a pipe, all."""
    return sys.maxsize if paper.piped else max((paper.width - _LEFT) // _ACROSS, 2)


def _left_out(ledger: Ledger, paper: Paper) -> list[str]:
    """Says which lines have more releases than the paper shows."""
    counts = Counter(ledger.lines)
    return [
        f"{count - _most(paper)} earlier releases{f' of {line}' if line else ''} are left out; --json has all."
        for line, count in counts.items()
        if count > _most(paper)
    ]


def _pick(values: Sequence[T], places: Sequence[int]) -> list[T]:
    return [values[place] for place in places]


def _across(ledger: Ledger, places: Sequence[int], right: bool = False) -> list[Column]:
    return [Column(name, right=right, gives=True) for name in _pick(ledger.releases, places)]


def _table(title: str, columns: list[Column], rows: list[list[str]], paper: Paper) -> str:
    """Nothing where there are no rows."""
    return f"{paper.heading(title.strip())}\n{render_table(columns, rows, paper)}" if rows else ""


def _page(parts: Iterable[str], said: Sequence[str], paper: Paper, empty: str) -> str:
    """The tables with sentences below them, or a word that there is nothing."""
    tables = [part for part in parts if part]
    sentences = f"\n{render_lines(said, paper)}" if said else ""
    return paper.finish("\n".join(tables) + sentences if tables else f"{empty}\n")
