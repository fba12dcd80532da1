"""Says how similar installers are, so that the same one in another coat is found across editions and distributions.

The kinship of two routes is half what they have in common and half how much of that is in one order, each as a part of
their screens, weighted by similarity, that it covers (Dice, 1945):

    common = (sum over the screens of one of the best similarity in the other, and the other way round) / all screens
    order  = 2 x (the heaviest sequence of matches that keeps both orders) / all screens

So it is 1 for the same screens in the same order, and 0 without a screen in common; time and answers do not count. What
stands behind the doors of an overview has no order, and is put in one first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import lru_cache, partial

import msgspec
import numpy as np
import numpy.typing as npt

from metrograph.compare.align.similarity import Similarities
from metrograph.core.pool import Spread
from metrograph.run.route import NO_RULINGS, Route, Rulings, ScreenKey

SIMILAR_ENOUGH, SAME_INSTALLER = 0.75, 0.95
"""From which kinship on installers are taken for one family, and for the same."""

_TOGETHER = 256  # routes that one is held against at once; bounds the memory
_MANY, _PART = 200, 50  # routes from which on several processes are quicker than one; how many each takes at a time
_NOTHING = -1  # a place that no screen has, behind the end of a shorter flow


class Kinship(msgspec.Struct, frozen=True):
    """How similar the installers of releases are, time aside.

    releases: in an order that puts kin beside each other; runs: how many each has.
    matrix: releases x releases, 0 to 1, 1 on the diagonal.
    families: groups of releases that are all kin, in the same order.
    alike: groups of two or more that have the same installer, each like at least one other of its group.
    """

    releases: tuple[str, ...]
    runs: tuple[int, ...]
    matrix: tuple[tuple[float, ...], ...]
    families: tuple[tuple[str, ...], ...]
    alike: tuple[tuple[str, ...], ...] = ()


Floats = npt.NDArray[np.float32]
Codes = npt.NDArray[np.int32]
Rows = tuple[int, ...]
Track = Callable[[Sequence[Rows]], Iterable[Rows]]


def kinship(
    routes: Mapping[str, Sequence[Route]],
    rulings: Rulings = NO_RULINGS,
    track: Track = iter,
    over: Spread = map,
) -> Kinship:
    """The kinship of releases: the mean of that of their runs.

    routes: those of the runs of each release.
    track: goes through the parts of the work and may say how far it is; over: what the parts are spread over.
    """
    names = list(routes)
    distinct = list(dict.fromkeys(route for taken in routes.values() for route in taken))
    matrix = matrix_of(distinct, rulings, track, over)
    place = {route: index for index, route in enumerate(distinct)}
    means = np.eye(len(names))
    for row in range(len(names)):
        for column in range(row):
            ours, theirs = ([place[route] for route in routes[names[index]]] for index in (row, column))
            means[row, column] = means[column, row] = float(matrix[np.ix_(ours, theirs)].mean())
    order, families = _in_order(means)
    return Kinship(
        releases=tuple(names[index] for index in order),
        runs=tuple(len(routes[names[index]]) for index in order),
        matrix=tuple(tuple(round(float(value), 4) for value in means[index, order]) for index in order),
        families=tuple(tuple(names[index] for index in family) for family in families),
        alike=tuple(tuple(names[index] for index in group) for group in _alike(means, order)),
    )


def matrix_of(
    routes: Sequence[Route], rulings: Rulings = NO_RULINGS, track: Track = iter, over: Spread = map
) -> Floats:
    """The kinship of every two routes: routes x routes. See ``kinship``."""
    count = len(routes) // _PART if len(routes) >= _MANY else 1
    # Each part has rows from all over, as the first ones are the longest.
    parts = [tuple(range(first, len(routes), count)) for first in range(count)]
    done = over(partial(_rows, tuple(routes), rulings), parts)
    matrix = np.eye(len(routes), dtype=np.float32)
    for _ in track(parts):
        for one, kin in next(done):
            matrix[one, one + 1 :] = matrix[one + 1 :, one] = kin
    return matrix


def _rows(routes: Sequence[Route], rulings: Rulings, rows: Rows) -> list[tuple[int, Floats]]:
    """Some routes, each with its kinship to all that come after it."""
    held = _held(tuple(routes), rulings)
    return [(one, held.against(one)) for one in rows]


def kin_to(route: Route, others: Sequence[Route], rulings: Rulings = NO_RULINGS) -> Floats:
    """The kinship of one route to each of some others."""
    return _RouteTable([route, *others], rulings).against(0)


@lru_cache(1)  # a worker is given many parts of the same
def _held(routes: tuple[Route, ...], rulings: Rulings) -> _RouteTable:
    return _RouteTable(routes, rulings)


class _RouteTable:
    """Routes that are held against each other, as numbers."""

    def __init__(self, routes: Sequence[Route], rulings: Rulings) -> None:
        flows = [settled(route) for route in routes]
        self.table = Similarities((screen for flow in flows for screen in flow), rulings)
        self.codes = _coded(flows, self.table)
        self.lengths = (self.codes != _NOTHING).sum(axis=1)

    def against(self, one: int) -> Floats:
        """The kinship of one of them to each that comes after it."""
        similar = _similar(self.codes[one, : self.lengths[one]], self.table)
        kin = np.zeros(len(self.codes) - one - 1, dtype=np.float32)
        # In batches: all at once would hold routes x longest x screens numbers.
        for start in range(one + 1, len(self.codes), _TOGETHER):
            end = min(start + _TOGETHER, len(self.codes))
            kin[start - one - 1 : end - one - 1] = _kinships(similar, self.codes[start:end], self.lengths[start:end])
        return kin


def settled(route: Route) -> tuple[ScreenKey, ...]:
    """The screens of a route, those of an overview put in the order of their kinds and titles."""
    in_order = sorted((route.screens[place] for place in route.doors), key=lambda screen: (screen.kind, screen.title))
    next_door = iter(in_order)
    doors = set(route.doors)
    return tuple(next(next_door) if place in doors else screen for place, screen in enumerate(route.screens))


def _coded(flows: Sequence[Sequence[ScreenKey]], table: Similarities) -> Codes:
    """flows x longest: the numbers of screens, and ``_NOTHING`` after the end."""
    codes = np.full((len(flows), max(map(len, flows), default=0)), _NOTHING, dtype=np.int32)
    for row, flow in enumerate(flows):
        codes[row, : len(flow)] = [table.codes[screen] for screen in flow]
    return codes


def _similar(codes: Codes, table: Similarities) -> Floats:
    """(all screens + 1) x screens: how similar any screen is to these; the last row is nothing, similar to none."""
    similar = np.zeros((len(table.screens) + 1, len(codes)), dtype=np.float32)
    for column, code in enumerate(codes):
        near = table.near[code]
        similar[list(near), column] = list(near.values())
    return similar


def _kinships(similar: Floats, others: Codes, lengths: npt.NDArray[np.int64]) -> Floats:
    """The kinship of one route with others at once; similar: see ``_similar``, others: others x longest."""
    pairs = similar[others]  # others x longest x screens
    count, longest, screens = pairs.shape
    both = np.maximum(screens + lengths, 1)
    # Each screen with its most similar on the other side, from both sides, whatever the order.
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
    # A tree can be read from either end; one of the two is chosen so that the result is always the same.
    order = order if order[0] <= order[-1] else order[::-1]
    labels = fcluster(tree, 1 - SIMILAR_ENOUGH, criterion="distance")
    families: dict[int, list[int]] = {}
    for index in order:
        families.setdefault(int(labels[index]), []).append(index)
    return order, list(families.values())


def _alike(means: npt.NDArray[np.float64], order: Sequence[int]) -> list[list[int]]:
    """The groups that pairs with the same installer form, in an order."""
    from scipy.sparse.csgraph import connected_components

    _, labels = connected_components(means >= SAME_INSTALLER, directed=False)
    groups: dict[int, list[int]] = {}
    for index in order:
        groups.setdefault(int(labels[index]), []).append(index)
    return [group for group in groups.values() if len(group) > 1]
