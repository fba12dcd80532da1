"""Says how cards differ, before anything is installed."""

from __future__ import annotations

from collections.abc import Iterator

from metrograph.ledgers.facts import FactChange
from metrograph.ledgers.published.cards import MINIMUM, RECOMMENDED, CardGroup, CardLedger, CardRow
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.dates import days_of
from metrograph.present.wording.answers.words import few, listed
from metrograph.present.wording.figures import SAME, told_difference

_DAYS_OF_A_MONTH = 365.2425 / 12
_CHANGED = frozenset({FactChange.RAISED, FactChange.LOWERED, FactChange.REPLACED})


def of_cards(ledger: CardLedger) -> Iterator[str]:
    """What the last card says otherwise than the one before it: needs, support, what it is made of."""
    if len(ledger.releases) < 2:
        return
    last, before = ledger.releases[-1], ledger.releases[-2]
    sizes = list(_sizes(ledger))
    if sizes:
        yield f"{last} differs from {before} in {few(sizes)}."
    support = _support(ledger)
    if support:
        yield support
    changed = [_becomes(row) for row in ledger.rows if row.group in _MADE_OF and row.changes[-1] in _CHANGED]
    if changed:
        yield f"Changed: {few(changed)}."
    unsaid = [row.name for row in ledger.rows if row.group in _MADE_OF and row.values[-1] is None]
    if unsaid:
        yield f"The card of {last} does not say: {few(list(dict.fromkeys(unsaid)))}."


_MADE_OF = frozenset({CardGroup.SYSTEM, CardGroup.TOOLS})


def _sizes(ledger: CardLedger) -> Iterator[str]:
    """What is needed, or downloaded, more or less."""
    for row in ledger.rows:
        before, after = row.sizes[-2], row.sizes[-1]
        if before is None or after is None:
            continue
        told = told_difference(before, after, Unit.BYTES, "")
        if told != SAME:
            yield f"{needed(row)} ({told})"


def needed(row: CardRow) -> str:
    """What a row of sizes is: ``minimum memory``, ``disk with a desktop``, ``image``."""
    words = {"": "", MINIMUM: "minimum", RECOMMENDED: "recommended"}
    if row.of in words:
        return f"{words[row.of]} {row.name.removesuffix(' size')}".strip()
    return f"{row.name} {row.of}"


def _support(ledger: CardLedger) -> str:
    """How long the last two are supported from the day they come out."""
    days = {row.name: row.values for row in ledger.rows if row.group is CardGroup.RELEASE}
    told = []
    for place in (-1, -2):
        until, released = (days[name][place] if name in days else None for name in ("supported until", "released"))
        if until and released:
            months = round((days_of(until)[0] - days_of(released)[0]).days / _DAYS_OF_A_MONTH)
            told.append(f"{ledger.releases[place]} for {months} months, until {until}")
    return f"Supported are {listed(told)}." if told else ""


def _becomes(row: CardRow) -> str:
    known = [value for value in row.values if value is not None]
    return f"{row.name} from {known[-2]} to {known[-1]}"
