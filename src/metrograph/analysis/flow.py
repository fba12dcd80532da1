"""The way through an installer that a run took in the end: its screens in order, without detours."""

from __future__ import annotations

from itertools import pairwise

from metrograph.model.flows import Stop, Way
from metrograph.model.lexicon import is_after_restart
from metrograph.model.runs import POWER_ON, Run, Screen

_DOORS = 3
"""The fewest doors of an overview: fewer may be a person who went back."""


def flow(run: Run) -> tuple[Screen, ...]:
    """The screens of the way that led to the end.

    An attempt from power-on replaces all before it. One that starts over from an earlier screen replaces all from there
    on, and one that starts at a screen not seen before replaces everything. So a retry from the disk screen keeps what
    was answered before it.
    """
    way: list[Screen] = []
    for attempt in run.attempts:
        own = [screen for screen in run.screens if screen.attempt == attempt.number]
        if attempt.origin == POWER_ON:
            way = own
        elif own:
            way = way[: _meeting_point(way, [screen.title for screen in own])] + own
        else:
            named = attempt.origin.removeprefix("from ")
            way = way[: _meeting_point(way, [named])] if named in {screen.title for screen in way} else way
    return tuple(way)


def way_of(run: Run) -> Way:
    """The same as alignment sees it, with the overview that leads to the other screens, if there is one.

    An overview is a screen that was come back to again and again, from at least three screens that were gone to
    directly from it.
    """
    screens = flow(run)
    places = {id(screen): place for place, screen in enumerate(screens)}
    own = [places.get(id(screen)) for screen in run.screens]
    visits = _visits(run, own)
    hub, doors = max(
        ((hub, _behind(hub, visits)) for hub in sorted(set(visits))), key=lambda found: len(found[1]), default=(0, ())
    )
    stops = tuple(stop_of(screen) for screen in screens)
    return Way(stops, hub, doors) if doors else Way(stops)


def stop_of(screen: Screen) -> Stop:
    """A screen as alignment sees it."""
    keys = tuple(sorted({choice.key for choice in screen.choices}))
    return Stop(screen.title, screen.kind, is_after_restart(screen.phase), keys)


def _visits(run: Run, places: list[int | None]) -> list[int]:
    """The places in the way of all screens that came to the front, one after the other."""
    fronts = [places[each.screen] for each in run.stretches if each.screen is not None]
    known = [place for place in fronts if place is not None]
    return known[:1] + [after for before, after in pairwise(known) if before != after]


def _behind(hub: int, visits: list[int]) -> tuple[int, ...]:
    """The places behind the doors of a screen: what was visited between two of its own visits. None of too few."""
    back = [index for index, place in enumerate(visits) if place == hub]
    trips = [visits[start + 1 : end] for start, end in pairwise(back)]
    enough = len({trip[0] for trip in trips}) >= _DOORS
    return tuple(sorted({place for trip in trips for place in trip})) if enough else ()


def _meeting_point(way: list[Screen], titles: list[str]) -> int:
    """The index in the way so far of the first of these titles that it has; 0 when it has none."""
    known = [screen.title for screen in way]
    return next((known.index(title) for title in titles if title in known), 0)
