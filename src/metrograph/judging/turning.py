"""Finds the smallest change of a weight or a figure that would turn an order, and what is best noted next."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from math import isclose

import numpy as np
import numpy.typing as npt

from metrograph.judging.sampling import Numbers, Samples
from metrograph.judging.shortlist_records import JudgedRelease, MeasureNext, TopicKind, Turn, TurnedBy, WishPart
from metrograph.judging.worth import Criterion

_STEPS = {TopicKind.TRIAL: (0.0, 0.5, 1.0), TopicKind.SOFTWARE: (0.0, 1.0)}
"""What trials and software can be worth."""
_BINS = 5  # parts of what a figure may be worth that are told apart
_LEAST_SURER = 0.01  # by which knowing a thing has to make the first surer, to be told
_LEADING = 8  # releases that are most often first, about which something may settle who is
_MOST_TOLD = 3  # more is no answer to what would turn an order
_NO_WEIGHT = 1e-9  # of all weights: where two differ in one wish alone, only none at all would make them equal


def turns(candidates: Sequence[JudgedRelease], criteria: Sequence[Criterion]) -> tuple[Turn, ...]:
    """The smallest change of one weight, and that of one figure, with which another comes first; none of equals.

    candidates: in their order.
    """
    first, others = candidates[0], [each for each in candidates[1:] if not isclose(each.middle, candidates[0].middle)]
    weights = [(size, turn) for other in others for size, turn in _by_weight(first, other, criteria)]
    figures = [(size, turn) for other in others for size, turn in _by_figure(first, other, criteria)]
    return tuple(min(found, key=lambda each: each[0])[1] for found in (weights, figures) if found)


def _by_weight(
    first: JudgedRelease, other: JudgedRelease, criteria: Sequence[Criterion]
) -> Iterator[tuple[float, Turn]]:
    """Each weight with which both would be equal, and by which factor it is another."""
    lead = first.middle - other.middle
    for each, one, two in zip(criteria, first.parts, other.parts, strict=True):
        gap = one.middle - two.middle
        share = one.weight - lead / gap if gap else 0.0
        if share > _NO_WEIGHT:
            factor = share / one.weight
            after = each.wish.weight * factor
            turn = Turn(TurnedBy.WEIGHT, one.wish, "", each.wish.weight, after, one.kind, one.unit, other.release)
            yield max(factor, 1 / factor), turn


def _by_figure(
    first: JudgedRelease, other: JudgedRelease, criteria: Sequence[Criterion]
) -> Iterator[tuple[float, Turn]]:
    """Each figure with which both would be equal, and how much of what its wish is worth it is another."""
    lead = first.middle - other.middle
    for each, one, two in zip(criteria, first.parts, other.parts, strict=True):
        change = lead / one.weight
        for of, part, after in ((first, one, one.middle - change), (other, two, two.middle + change)):
            reached = _reached(part, after)
            if part.is_known and reached is not None and _is_one_figure(part):
                value = each.scale.value(reached)
                before = each.scale.value(part.middle) if part.kind in _STEPS else _middle(part)
                yield (
                    abs(reached - part.middle),
                    Turn(TurnedBy.FIGURE, part.wish, of.release, before, value, part.kind, part.unit, other.release),
                )


def _is_one_figure(part: WishPart) -> bool:
    """Whether a figure is known well enough to say with which other one an order would turn: a bound is none."""
    return part.amount is not None and (part.amount.exact or part.amount.about or part.kind in _STEPS)


def _middle(part: WishPart) -> float:
    return part.amount.middle if part.amount is not None else 0.0


def _reached(part: WishPart, worth: float) -> float | None:
    """A worth that a part can have, the nearest beyond the one that is wanted; None where there is none."""
    steps = _STEPS.get(part.kind)
    if steps is None:
        return worth if 0 <= worth <= 1 else None
    beyond = [step for step in steps if (step <= worth if worth < part.middle else step >= worth)]
    return (max(beyond) if worth < part.middle else min(beyond)) if beyond else None


def measure_next(
    candidates: Sequence[JudgedRelease], shares: Mapping[str, float], samples: Samples, first: npt.NDArray[np.intp]
) -> tuple[MeasureNext, ...]:
    """What would make the first surest on the average, once it is known, the most first.

    shares: of each release, how often it comes first; first: which does in each sample, by its place in ``shares``.
    """
    now = float(np.bincount(first, minlength=len(shares)).max()) / len(first)
    leading = sorted(candidates, key=lambda each: -shares[each.release])[:_LEADING]
    found = [
        MeasureNext(each.release, part.wish, part.kind, sure, now, part.runs)
        for each in leading
        for place, part in enumerate(each.parts)
        if (sure := _sure_once_known(samples.worth(place, each.release), first, len(shares))) - now >= _LEAST_SURER
    ]
    return tuple(sorted(found, key=lambda each: -each.sure)[:_MOST_TOLD])


def _sure_once_known(worths: Numbers, first: npt.NDArray[np.intp], count: int) -> float:
    """Share of the samples in which the one that is first most often is, each part of what may be taken by itself."""
    bins = np.searchsorted(np.quantile(worths, np.arange(1, _BINS) / _BINS), worths)
    table = np.bincount(bins * count + first, minlength=_BINS * count).reshape(_BINS, count)
    return float(table.max(axis=1).sum()) / len(worths)
