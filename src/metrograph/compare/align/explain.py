"""Tells what led to a match: what speaks for it, what stands beside it, and which screen would have been next."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import msgspec

from metrograph.compare.align.merge import Merged
from metrograph.compare.align.sequences import moved
from metrograph.compare.align.similarity import WEIGHTS, Ruling, evidence, similarity
from metrograph.compare.flow_records import Side
from metrograph.log.lexicon import OTHER
from metrograph.run.route import NO_RULINGS, Rulings, ScreenKey, screen_key

_NAMED_FROM = 0.3  # the similarity from which a screen that was not matched is named


class MatchReason(
    msgspec.Struct,
    frozen=True,
    rename={"one": "from", "other": "to", "similarity": "likeness", "rival_similarity": "rival_likeness"},
):
    """Why two releases' screens share a row.

    one, other: the releases; one_title, other_title: their screens.
    kind: the kind that both have; None when they differ, or nobody knows one.
    title: how similar the titles are; keys: the part of the keys that both have, None where one has none; both 0 to 1.
    common: the keys that both have.
    across: whether the restart lies between them; moved: whether their places in the order differ.
    ruled: what a person has decided; None when nobody did.
    similarity: all together, 0 to 1; needed: how much of it makes two screens the same.
    before, after: the neighbours before and after that they have in common; None where they have none.
    rival: the screen of ``other`` that would have been next, with its similarity; None without one.
    """

    one: str
    other: str
    one_title: str
    other_title: str
    kind: str | None
    title: float
    keys: float | None
    common: tuple[str, ...]
    across: bool
    moved: bool
    ruled: Ruling | None
    similarity: float
    needed: float
    before: str | None
    after: str | None
    rival: str | None
    rival_similarity: float | None


class Why(msgspec.Struct, frozen=True):
    """Why a row is as it is.

    row: its number, from 1; title: what it goes by; titles: per release, None where it is absent.
    reasons: each release that has it against the one before it that has.
    nearest: for each release that lacks it, its most similar screen and how similar that is; None where none is.
    """

    row: int
    title: str
    releases: tuple[str, ...]
    titles: tuple[str | None, ...]
    reasons: tuple[MatchReason, ...]
    nearest: dict[str, tuple[str, float] | None]


def why(sides: Sequence[Side], merged: Merged, row: int, rulings: Rulings = NO_RULINGS) -> Why:
    """Why a row is as it is. row: its index."""
    names = tuple(side.name for side in sides)
    cells = merged.rows[row].cells
    having = [side for side, cell in enumerate(cells) if cell is not None]
    return Why(
        row=row + 1,
        title=" → ".join(merged.rows[row].titles),
        releases=names,
        titles=tuple(cell.title if cell else None for cell in cells),
        reasons=tuple(_reason(names, merged, row, pair, rulings) for pair in pairwise(having)),
        nearest={
            names[side]: _nearest(_screen(merged, row, having[0]), merged, row, side, rulings)
            for side in range(len(names))
            if side not in having
        },
    )


def _reason(names: Sequence[str], merged: Merged, row: int, pair: tuple[int, int], rulings: Rulings) -> MatchReason:
    one, other = (_screen(merged, row, side) for side in pair)
    speaking = evidence(one, other, rulings)
    rival = _nearest(one, merged, row, pair[1], rulings)
    before, after = (_neighbour(merged, row, pair, step) for step in (-1, 1))
    return MatchReason(
        one=names[pair[0]],
        other=names[pair[1]],
        one_title=one.title,
        other_title=other.title,
        kind=one.kind if one.kind == other.kind != OTHER else None,
        title=round(speaking.title, 3),
        keys=None if speaking.keys is None else round(speaking.keys, 3),
        common=tuple(sorted(set(one.keys) & set(other.keys))),
        across=speaking.across,
        moved=_has_moved(merged, row, pair),
        ruled=speaking.ruled,
        similarity=round(speaking.similarity, 3),
        needed=WEIGHTS.same,
        before=before,
        after=after,
        rival=rival[0] if rival else None,
        rival_similarity=rival[1] if rival else None,
    )


def _screen(merged: Merged, row: int, side: int) -> ScreenKey:
    """The screen of a row as the latest run of a side has it."""
    # The latest run speaks for its release, as it does wherever runs of a release differ.
    return screen_key([visit.screen for visit in merged.passed[row] if visit.side == side][-1])


def _nearest(screen: ScreenKey, merged: Merged, row: int, side: int, rulings: Rulings) -> tuple[str, float] | None:
    """The most similar screen of a side in another row."""
    others = [_screen(merged, other, side) for other in merged.orders[side] if other != row]
    ranked = sorted(((similarity(screen, other, rulings), other.title) for other in others), reverse=True)
    return (ranked[0][1], round(ranked[0][0], 3)) if ranked and ranked[0][0] >= _NAMED_FROM else None


def _has_moved(merged: Merged, row: int, pair: tuple[int, int]) -> bool:
    before, after = (merged.orders[side] for side in pair)
    place = {index: rank for rank, index in enumerate(before)}
    common = [index for index in after if index in place]
    return place[row] in moved([place[index] for index in common])


def _neighbour(merged: Merged, row: int, pair: tuple[int, int], step: int) -> str | None:
    """The title of the neighbour that both sides have on this side of the row; None where they have another one."""
    neighbours = []
    for side in pair:
        order = merged.orders[side]
        place = order.index(row) + step
        neighbours.append(order[place] if 0 <= place < len(order) else None)
    first, second = neighbours
    cell = merged.rows[second].cells[pair[1]] if second is not None and first == second else None
    return cell.title if cell else None
