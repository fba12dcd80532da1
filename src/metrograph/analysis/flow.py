"""The way through an installer that a run took in the end: its screens in order, without detours."""

from __future__ import annotations

from metrograph.model.runs import POWER_ON, Run, Screen


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


def _meeting_point(way: list[Screen], titles: list[str]) -> int:
    """The index in the way so far of the first of these titles that it has; 0 when it has none."""
    known = [screen.title for screen in way]
    return next((known.index(title) for title in titles if title in known), 0)
