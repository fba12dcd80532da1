"""The route through an installer that a run took in the end, and what a person has ruled about screens."""

from __future__ import annotations

from collections import Counter
from itertools import pairwise

import msgspec

from metrograph.log.lexicon import is_after_restart
from metrograph.run.records import Run, Screen

_FEWEST_DOORS = 3
"""Doors that an overview has at least: fewer may be a person who went back."""


class ScreenKey(msgspec.Struct, frozen=True, gc=False, array_like=True):
    """A screen as alignment sees it.

    late: whether it comes after the restart.
    keys: of what was asked there, sorted, each once.
    """

    title: str
    kind: str
    late: bool = False
    keys: tuple[str, ...] = ()


class Route(msgspec.Struct, frozen=True, array_like=True):
    """The screens of the route that led to the end, in the order they were first seen.

    overview: the index of the screen whose doors lead to the others; None where an installer has no such screen.
    doors: the indices of the screens behind its doors. A person takes them in any order.
    """

    screens: tuple[ScreenKey, ...] = ()
    overview: int | None = None
    doors: tuple[int, ...] = ()


def route_screens(run: Run) -> tuple[Screen, ...]:
    """The screens of the way that led to the end: all but those that a failure made worthless."""
    return tuple(screen for screen in run.screens if screen.kept)


def route_of(run: Run) -> Route:
    """The route as alignment sees it, with the overview that leads to its other screens, if there is one.

    An overview is a screen that was come back to again and again, from at least three screens that were gone to
    directly from it.
    """
    screens = route_screens(run)
    places = {id(screen): place for place, screen in enumerate(screens)}
    visits = _visits(run, [places.get(id(screen)) for screen in run.screens])
    # Of several screens that were come back to, the one with the most behind it is the overview.
    often = sorted(place for place, times in Counter(visits).items() if times > _FEWEST_DOORS)
    candidates = ((place, _behind_doors(place, visits)) for place in often)
    overview, doors = max(candidates, key=lambda candidate: len(candidate[1]), default=(0, ()))
    keys = tuple(screen_key(screen) for screen in screens)
    return Route(keys, overview, doors) if doors else Route(keys)


def screen_key(screen: Screen) -> ScreenKey:
    """A screen as alignment sees it."""
    keys = tuple(sorted({choice.key for choice in screen.choices}))
    return ScreenKey(screen.title, screen.kind, is_after_restart(screen.phase), keys)


def _visits(run: Run, places: list[int | None]) -> list[int]:
    """The places in the route of all screens that came to the front, one after the other."""
    # Stretches, not visits: a visit is the first time only, and coming back is what tells an overview.
    fronts = [places[stretch.screen] for stretch in run.stretches if stretch.screen is not None]
    known = [place for place in fronts if place is not None]
    return known[:1] + [after for before, after in pairwise(known) if before != after]


def _behind_doors(overview: int, visits: list[int]) -> tuple[int, ...]:
    """The places behind the doors of a screen: what was visited between two visits to itself. None of too few."""
    returns = [index for index, place in enumerate(visits) if place == overview]
    trips = [visits[start + 1 : end] for start, end in pairwise(returns)]
    enough = len({trip[0] for trip in trips}) >= _FEWEST_DOORS
    return tuple(sorted({place for trip in trips for place in trip})) if enough else ()


class Rulings(msgspec.Struct, frozen=True):
    """The decisions of a person about screens, over anything that speaks for or against them.

    same: pairs of titles that are for the same thing; apart: pairs that are not.
    """

    same: frozenset[frozenset[str]] = frozenset()
    apart: frozenset[frozenset[str]] = frozenset()


NO_RULINGS = Rulings()
