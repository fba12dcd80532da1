"""Says how alike installers are, so that the same one in another coat is found across editions and distributions.

The kinship of two ways is half what they have in common and half how much of that is in one order, each as the part of
their screens, weighted by likeness, that it covers (Dice, 1945):

    common = (sum over the screens of one of the best likeness in the other, and the other way round) / all screens
    order  = 2 x (the heaviest sequence of matches that keeps both orders) / all screens

So it is 1 for the same screens in the same order, and 0 without a screen in common; time and answers do not count. What
stands behind the doors of an overview has no order, and is put in one first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence

import numpy as np
import numpy.typing as npt

from metrograph.analysis.digests import way
from metrograph.analysis.likeness import Likenesses
from metrograph.model.flows import NO_RULINGS, Rulings, Stop, Way
from metrograph.model.kinship import Kinship
from metrograph.model.ledgers import Digest

KIN = 0.75
"""From which kinship on installers are taken for one family."""

_TOGETHER = 256  # ways that one is held against at once; bounds the memory
_NOTHING = -1

Floats = npt.NDArray[np.float32]
Codes = npt.NDArray[np.int32]
Track = Callable[[Sequence[int]], Iterable[int]]


def kinship(releases: Mapping[str, Sequence[Digest]], rulings: Rulings = NO_RULINGS, track: Track = iter) -> Kinship:
    """The kinship of releases: the mean of that of their runs.

    track: goes through the numbers of ways and may say how far it is.
    """
    names = list(releases)
    ways = {name: [way(run) for run in runs] for name, runs in releases.items()}
    distinct = list(dict.fromkeys(each for own in ways.values() for each in own))
    matrix = matrix_of(distinct, rulings, track)
    place = {each: index for index, each in enumerate(distinct)}
    means = np.eye(len(names))
    for row in range(len(names)):
        for column in range(row):
            ours, theirs = ([place[each] for each in ways[names[index]]] for index in (row, column))
            means[row, column] = means[column, row] = float(matrix[np.ix_(ours, theirs)].mean())
    order, families = _in_order(means)
    return Kinship(
        releases=tuple(names[index] for index in order),
        runs=tuple(len(ways[names[index]]) for index in order),
        matrix=tuple(tuple(round(float(value), 4) for value in means[index, order]) for index in order),
        families=tuple(tuple(names[index] for index in family) for family in families),
    )


def matrix_of(ways: Sequence[Way], rulings: Rulings = NO_RULINGS, track: Track = iter) -> Floats:
    """The kinship of every two ways: ways x ways."""
    flows = [settled(each) for each in ways]
    table = Likenesses((stop for flow in flows for stop in flow), rulings)
    codes = _coded(flows, table)
    lengths = (codes != _NOTHING).sum(axis=1)
    matrix = np.eye(len(ways), dtype=np.float32)
    for one in track(range(len(ways))):
        likes = _likes(codes[one, : lengths[one]], table)
        for start in range(one + 1, len(ways), _TOGETHER):
            end = min(start + _TOGETHER, len(ways))
            matrix[one, start:end] = _kinships(likes, codes[start:end], lengths[start:end])
            matrix[start:end, one] = matrix[one, start:end]
    return matrix


def settled(way: Way) -> tuple[Stop, ...]:
    """The screens of a way, those behind the doors of an overview put in one order: that of their kinds and titles."""
    behind = iter(sorted((way.stops[place] for place in way.doors), key=lambda stop: (stop.kind, stop.title)))
    doors = set(way.doors)
    return tuple(next(behind) if place in doors else stop for place, stop in enumerate(way.stops))


def _coded(flows: Sequence[Sequence[Stop]], table: Likenesses) -> Codes:
    """flows x longest: the numbers of screens, and ``_NOTHING`` behind the end."""
    codes = np.full((len(flows), max(map(len, flows), default=0)), _NOTHING, dtype=np.int32)
    for row, flow in enumerate(flows):
        codes[row, : len(flow)] = [table.codes[stop] for stop in flow]
    return codes


def _likes(codes: Codes, table: Likenesses) -> Floats:
    """(all screens + 1) x screens: how like every screen is to each of these; the last row is nothing, like none."""
    likes = np.zeros((len(table.stops) + 1, len(codes)), dtype=np.float32)
    for column, code in enumerate(codes):
        near = table.near[code]
        likes[list(near), column] = list(near.values())
    return likes


def _kinships(likes: Floats, others: Codes, lengths: npt.NDArray[np.int64]) -> Floats:
    """The kinship of one way with others at once; likes: see ``_likes``, others: others x longest."""
    pairs = likes[others]  # others x longest x screens
    count, longest, screens = pairs.shape
    both = np.maximum(screens + lengths, 1)
    shared = pairs.max(axis=1, initial=0).sum(axis=1) + pairs.max(axis=2, initial=0).sum(axis=1)
    best = np.zeros((count, screens + 1), dtype=np.float32)  # the weight of the heaviest matches up to each screen
    for place in range(longest):
        np.maximum(best[:, 1:], best[:, :-1] + pairs[:, place], out=best[:, 1:])
        np.maximum.accumulate(best, axis=1, out=best)
    kin: Floats = ((shared + 2 * best[:, -1]) / (2 * both)).astype(np.float32)
    return kin if screens else np.where(lengths == 0, 1, kin).astype(np.float32)


def _in_order(means: npt.NDArray[np.float64]) -> tuple[list[int], list[list[int]]]:
    """An order that puts kin beside each other, by clustering on the mean distance (Sokal and Michener, 1958).

    The leaves are ordered so that neighbours are as close as can be (Bar-Joseph, Gifford and Jaakkola, 2001).
    """
    if len(means) < 2:
        return list(range(len(means))), [[index] for index in range(len(means))]
    from scipy.cluster.hierarchy import fcluster, leaves_list, linkage, optimal_leaf_ordering
    from scipy.spatial.distance import squareform

    distances = squareform(np.clip(1 - means, 0, 1), checks=False)
    tree = linkage(distances, method="average")
    order = [int(leaf) for leaf in leaves_list(optimal_leaf_ordering(tree, distances))]
    order = order if order[0] <= order[-1] else order[::-1]
    labels = fcluster(tree, 1 - KIN, criterion="distance")
    families: dict[int, list[int]] = {}
    for index in order:
        families.setdefault(int(labels[index]), []).append(index)
    return order, list(families.values())
