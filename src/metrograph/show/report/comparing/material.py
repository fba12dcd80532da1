"""The material of a comparison's report, whole or with some of its releases only."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, TypeVar

import msgspec

from metrograph.archive.answers import Others
from metrograph.compare.contrasts import Contrast
from metrograph.compare.flow_records import Change
from metrograph.judging.shortlist_records import Shortlist
from metrograph.ledgers.card_ledger import CardLedger
from metrograph.ledgers.checks import CheckResult
from metrograph.ledgers.claims import ClaimLedger
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.facts import FactLedger
from metrograph.ledgers.issues import IssueStatus
from metrograph.ledgers.software import GroupRow, with_changes
from metrograph.ledgers.verdicts import Shift
from metrograph.ledgers.weight import WeightLedger
from metrograph.run.records import Run
from metrograph.show.report.model import Drawing
from metrograph.words.answers.comparison_answers import pair_of

T = TypeVar("T")
P = TypeVar("P", Change, Contrast)


class Material(msgspec.Struct, frozen=True):
    """A comparison, with charts that were laid out: the timelines first.

    facts, claims, weight, cards: None where they are not asked for.
    groups: what became of each group of software; shifts: of judgements.
    shortlists: a reader each.
    others: what they say to the latest release; None where they were not asked.
    runs: all runs, for what is told of each; empty where that is not asked for.
    common: what the names of all releases have in common, which stands above them once.
    """

    comparison: Comparison
    drawings: tuple[Drawing, ...] = ()
    facts: FactLedger | None = None
    claims: ClaimLedger | None = None
    weight: WeightLedger | None = None
    cards: CardLedger | None = None
    groups: tuple[GroupRow, ...] = ()
    shifts: tuple[Shift, ...] = ()
    shortlists: tuple[Shortlist, ...] = ()
    others: Others | None = None
    runs: tuple[Run, ...] = ()
    common: str = ""


def narrowed(comparison: Comparison, names: Sequence[str]) -> Comparison:
    """A comparison with some of its releases only."""
    places = [comparison.releases.index(name) for name in names]

    def pick(values: tuple[T, ...]) -> tuple[T, ...]:
        return tuple(values[place] for place in places)

    def within(pairs: Sequence[P]) -> tuple[P, ...]:
        return tuple(pair for pair in pairs if {pair.earlier, pair.later} <= set(names))

    per_release = {
        name: pick(getattr(comparison, name)) for name in ("releases", "lines", "runs", "overviews", "times", "figures")
    }
    return msgspec.structs.replace(
        comparison,
        **per_release,
        **_narrowed_rows(comparison, pick),
        changes=within((*comparison.changes, *comparison.since_baseline)),
        since_baseline=(),
        unknown=tuple(each for each in comparison.unknown if {each.release, each.other} <= set(names)),
        contrasts=within(comparison.contrasts),
        neighbours=tuple(each for each in comparison.neighbours if {each.earlier, each.later} <= set(names))
        or (pair_of(comparison, names[-2], names[-1]),),
        caveats=tuple(msgspec.structs.replace(caveat, values=pick(caveat.values)) for caveat in comparison.caveats),
    )


def _narrowed_rows(comparison: Comparison, pick: Callable[[tuple[Any, ...]], tuple[Any, ...]]) -> dict[str, Any]:
    """The rows of all tables with the cells of some releases; a row that these have nothing in is left out."""
    narrowed: dict[str, Any] = {}
    for table, (fields, says_nothing) in _TABLES.items():
        rows = [
            msgspec.structs.replace(row, **{field: pick(getattr(row, field)) for field in fields})
            for row in getattr(comparison, table)
        ]
        narrowed[table] = tuple(row for row in rows if not all(map(says_nothing, getattr(row, fields[0]))))
    # What became of an item is told from the releases that are left.
    lines = pick(comparison.lines)
    return narrowed | {"software": with_changes(narrowed["software"], lines)}


def _is_none(cell: object) -> bool:
    return cell is None


_TABLES: dict[str, tuple[tuple[str, ...], Callable[[Any], bool]]] = {
    "rows": (("cells",), _is_none),
    "issues": (("cells",), lambda cell: cell.status is IssueStatus.ABSENT),
    "readings": (("values", "words"), _is_none),
    "checks": (("results",), lambda result: result is CheckResult.NOT_TRIED),
    "software": (("values", "listed", "sources", "newest", "behind", "instead_said"), _is_none),
    "ratings": (("parts",), _is_none),
}
"""The tables of a comparison: which fields of a row have an entry per release, and which of the first say nothing."""
