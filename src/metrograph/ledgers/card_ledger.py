"""Holds the cards of releases against each other, before anything is installed."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from enum import StrEnum
from itertools import groupby

import msgspec

from metrograph.ledgers.facts import FactChange, what_became
from metrograph.log.quantities.quantity import Quantity
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import is_day
from metrograph.run.cards import Needs, Release


class CardGroup(StrEnum):
    """The subject of a row of cards."""

    RELEASE = "release"
    SYSTEM = "system"
    NEEDS = "needs"
    TOOLS = "tools"


class CardRow(msgspec.Struct, frozen=True):
    """Something that cards say, release by release.

    of: for what purpose it is needed, ``at least`` and ``recommended`` among them; empty for all else.
    values: as the cards have it; None where one does not say.
    sizes: in bytes, of sizes; None for all else, and where one is not said.
    changes: against the card before that says it.
    """

    group: CardGroup
    of: str
    name: str
    values: tuple[str | None, ...]
    sizes: tuple[Range | None, ...]
    changes: tuple[FactChange, ...]


class CardLedger(msgspec.Struct, frozen=True):
    """Cards by release, in their order.

    news: what each publishes as new.
    """

    releases: tuple[str, ...]
    rows: tuple[CardRow, ...]
    news: tuple[tuple[str, ...], ...]


Said = str | Quantity | int | None

MINIMUM, RECOMMENDED = "at least", "recommended"

_RELEASE: dict[str, Callable[[Release], Said]] = {
    "version": lambda card: card.version,
    "status": lambda card: card.status,
    "channel": lambda card: card.channel,
    "released": lambda card: card.released,
    "supported until": lambda card: card.supported_until,
    "long term": lambda card: None if card.long_term is None else "yes" if card.long_term else "no",
    "architectures": lambda card: ", ".join(card.architectures) if card.architectures else None,
    "image size": lambda card: card.image_size,
}
_SYSTEM: dict[str, Callable[[Release], Said]] = {
    "base": lambda card: card.base,
    "kernel": lambda card: card.kernel,
    "desktop": lambda card: card.desktop,
    "installer": lambda card: card.installer,
}
_NEEDS: dict[str, Callable[[Needs], Said]] = {
    "memory": lambda needs: needs.memory,
    "disk": lambda needs: needs.disk,
    "processors": lambda needs: None if needs.processors is None else str(needs.processors),
    "display": lambda needs: needs.display,
}


def cards_ledger(cards: Mapping[str, Release]) -> CardLedger:
    """What cards say, row by row. cards: in the order in which they are held against each other."""
    known = list(cards.values())
    rows = [
        *_rows(CardGroup.RELEASE, known, _RELEASE), *_rows(CardGroup.SYSTEM, known, _SYSTEM), *_needs_rows(known),
        *_tool_rows(known),
    ]  # fmt: skip
    return CardLedger(tuple(cards), tuple(rows), tuple(card.news or () for card in known))


def _rows(
    group: CardGroup, cards: Sequence[Release], fields: Mapping[str, Callable[[Release], Said]]
) -> Iterator[CardRow]:
    for name, field in fields.items():
        yield from _row(group, "", name, [field(card) for card in cards])


def _needs_rows(cards: Sequence[Release]) -> Iterator[CardRow]:
    """What is needed, purpose by purpose."""
    by_card = [needs_of(card) for card in cards]
    for purpose in dict.fromkeys(purpose for needs in by_card for purpose in needs):
        for name, field in _NEEDS.items():
            said = [needs.get(purpose) for needs in by_card]
            yield from _row(CardGroup.NEEDS, purpose, name, [field(each) if each else None for each in said])


def needs_of(card: Release) -> dict[str, Needs]:
    """What a release is published to need, by purpose, the minimum and what is recommended first."""
    plain = {MINIMUM: card.minimum, RECOMMENDED: card.recommended}
    return {purpose: needs for purpose, needs in plain.items() if needs is not None} | (card.needs or {})


def _tool_rows(cards: Sequence[Release]) -> Iterator[CardRow]:
    for name in dict.fromkeys(name for card in cards for name in card.tools or {}):
        yield from _row(CardGroup.TOOLS, "", name, [(card.tools or {}).get(name) for card in cards])


def _row(group: CardGroup, of: str, name: str, said: Sequence[Said]) -> Iterator[CardRow]:
    """A row, where any card says it."""
    if all(each is None for each in said):
        return
    values = [_told(each) for each in said]
    yield CardRow(group, of, name, tuple(values), tuple(map(_size, said)), tuple(_changes(values, said)))


def _told(said: Said) -> str | None:
    return said.text if isinstance(said, Quantity) else None if said is None else str(said)


def _size(said: Said) -> Range | None:
    if isinstance(said, Quantity):
        return said.amount
    return Range(said, said) if isinstance(said, int) else None


def _changes(values: Sequence[str | None], said: Sequence[Said]) -> Iterator[FactChange]:
    """What became of it, card by card; sizes go by how large they are, whatever their units."""
    before: tuple[str, Said] | None = None
    for value, each in zip(values, said, strict=True):
        if value is None:
            yield FactChange.ABSENT
            continue
        old, new = (_size(before[1]), _size(each)) if before else (None, None)
        if old is not None and new is not None:
            yield FactChange.SAME if old == new else FactChange.RAISED if new.low > old.low else FactChange.LOWERED
        elif before and is_day(value) and is_day(before[0]) and "-" in value:
            yield FactChange.SAME if value == before[0] else FactChange.REPLACED
        else:
            yield what_became(before[0] if before else None, value)
        before = value, each


def by_group(ledger: CardLedger) -> Iterator[tuple[CardGroup, list[CardRow]]]:
    """The rows of each group."""
    for group, rows in groupby(ledger.rows, key=lambda row: row.group):
        yield group, list(rows)
