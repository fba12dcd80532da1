"""The way through an installer that a run took in the end: its screens in order, without detours."""

from __future__ import annotations

from metrograph.model.runs import Run, Screen


def flow(run: Run) -> tuple[Screen, ...]:
    """The screens of the way that led to the end.

    An attempt that starts over from an earlier screen replaces all from there on; one that starts at a screen not
    seen before replaces everything. So a retry from power-on gives the last attempt alone, and a retry from the disk
    screen keeps what was answered before it.
    """
    way: list[Screen] = []
    for number in range(1, len(run.attempts) + 1):
        attempt = [screen for screen in run.screens if screen.attempt == number]
        if attempt:
            way = way[: _meeting_point(way, attempt)] + attempt
    return tuple(way)


def _meeting_point(way: list[Screen], attempt: list[Screen]) -> int:
    """The index in the way so far of the first screen that the new attempt comes upon again; 0 when there is none."""
    titles = [screen.title for screen in way]
    return next((titles.index(screen.title) for screen in attempt if screen.title in titles), 0)
