"""Tells what led to a match: what speaks for it, what stands beside it, and who else might have been it."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from metrograph.analysis.alignment import moved
from metrograph.analysis.flow import stop_of
from metrograph.analysis.likeness import SAME, evidence, likeness
from metrograph.analysis.merged import Merged
from metrograph.model.comparison import Side
from metrograph.model.flows import NO_RULINGS, Rulings, Stop
from metrograph.model.lexicon import OTHER
from metrograph.model.reasons import Reason, Why

_NEAR = 0.3  # the likeness from which a screen that was not matched is named


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
            names[side]: _nearest(_stop(merged, row, having[0]), merged, row, side, rulings)
            for side in range(len(names))
            if side not in having
        },
    )


def _reason(names: Sequence[str], merged: Merged, row: int, pair: tuple[int, int], rulings: Rulings) -> Reason:
    one, other = (_stop(merged, row, side) for side in pair)
    found = evidence(one, other, rulings)
    rival = _nearest(one, merged, row, pair[1], rulings)
    before, after = (_beside(merged, row, pair, step) for step in (-1, 1))
    return Reason(
        one=names[pair[0]],
        other=names[pair[1]],
        one_title=one.title,
        other_title=other.title,
        kind=one.kind if one.kind == other.kind != OTHER else None,
        title=round(found.title, 3),
        keys=None if found.keys is None else round(found.keys, 3),
        common=tuple(sorted(set(one.keys) & set(other.keys))),
        across=found.across,
        moved=_has_moved(merged, row, pair),
        ruled=found.ruled,
        likeness=round(found.likeness, 3),
        needed=SAME,
        before=before,
        after=after,
        rival=rival[0] if rival else None,
        rival_likeness=rival[1] if rival else None,
    )


def _stop(merged: Merged, row: int, side: int) -> Stop:
    """The screen of a row as the latest run of a side has it."""
    return stop_of([each.screen for each in merged.passed[row] if each.side == side][-1])


def _nearest(stop: Stop, merged: Merged, row: int, side: int, rulings: Rulings) -> tuple[str, float] | None:
    """The likest screen of a side in another row."""
    others = [_stop(merged, other, side) for other in merged.orders[side] if other != row]
    ranked = sorted(((likeness(stop, each, rulings), each.title) for each in others), reverse=True)
    return (ranked[0][1], round(ranked[0][0], 3)) if ranked and ranked[0][0] >= _NEAR else None


def _has_moved(merged: Merged, row: int, pair: tuple[int, int]) -> bool:
    before, after = (merged.orders[side] for side in pair)
    place = {index: rank for rank, index in enumerate(before)}
    common = [index for index in after if index in place]
    return place[row] in moved([place[index] for index in common])


def _beside(merged: Merged, row: int, pair: tuple[int, int], step: int) -> str | None:
    """The title of the neighbour that both sides have on this side of the row; None where they have another one."""
    found = []
    for side in pair:
        order = merged.orders[side]
        place = order.index(row) + step
        found.append(order[place] if 0 <= place < len(order) else None)
    cell = merged.rows[found[1]].cells[pair[1]] if found[1] is not None and found[0] == found[1] else None
    return cell.title if cell else None
