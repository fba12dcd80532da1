"""Figures along the releases of each line, oldest first, with the spread of their runs; and the effort of each."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

import msgspec

from metrograph.ledgers.digests.digest import details, taken
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.readings import usual_swap_file
from metrograph.log.lexicon import Better, Lexicon
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import MEASURES, TASK, Figures, Measure, better_of, measure_of, reading_name
from metrograph.measures.reducing import DISK_USED, Spread, Taken, farthest, spread_or_none, spreads
from metrograph.measures.selection import Selection

_PREFERRED = ("installed", "updated", "live")  # of states in which equally many runs were read


class RunPoint(msgspec.Struct, frozen=True):
    """The figure of one run. counted: whether the median is made of it."""

    run: str
    rig: str
    value: Range
    counted: bool


class Trend(msgspec.Struct, frozen=True):
    """One figure along the releases of one line, oldest first.

    is_compared: whether releases may be held against each other by it.
    name: of the figure; unit: ``s``, ``bytes``, ``%``, or empty for a count; better: ``less``, ``more`` or None.
    points: a spread per release, None where no run has it; runs: those of each release that have it.
    days: when each came out, as its card says; None where it does not.
    state: in which a reading was taken; empty for another figure.
    swap_files: of what is used of the disk, the bytes of each release's file for swapping, which are in it; None where
        nobody said so. Empty for another figure.
    across: whether they continue several lines, so that none comes after another.
    """

    name: str
    words: str
    unit: str
    better: Better | None
    line: str
    releases: tuple[str, ...]
    points: tuple[Spread | None, ...]
    selection: Selection = Selection()
    runs: tuple[tuple[RunPoint, ...], ...] = ()
    days: tuple[str | None, ...] = ()
    state: str = ""
    is_compared: bool = True
    swap_files: tuple[float | None, ...] = ()
    across: bool = False


class _TakenFigure(msgspec.Struct, frozen=True):
    """A figure that is followed, and how it is taken from a run."""

    words: str
    unit: str
    better: Better | None
    take: Callable[[Taken], Range | None]
    name: str = ""
    state: str = ""
    is_compared: bool = True

    def of(self, runs: Sequence[Taken]) -> Spread | None:
        """What the runs of a release have, those that got as far as any."""
        return spread_or_none(map(self.take, farthest(runs, self.name)))


def names_of_figures(group: ReleaseGroup) -> list[str]:
    """All figures that can be followed: those of every run, then what was read, by name."""
    readings = dict.fromkeys(r.name for runs in group.runs.values() for run in runs for r in run.readings)
    tasks = dict.fromkeys(TASK + t.name for runs in group.runs.values() for run in runs for t in details(run).tasks)
    return [*MEASURES, *tasks, *(name for name in readings if name not in MEASURES)]


def trends(group: ReleaseGroup, name: str, lexicon: Lexicon, state: str | None = None) -> tuple[Trend, ...]:
    """One figure along each line of releases that has it.

    state: of a reading, in which it must have been taken; None for the one that most runs have, ``installed`` at a tie.
    """
    runs = {release: [taken(digest) for digest in digests] for release, digests in group.measured.items()}
    measure = measure_of(name)
    figure = _of_run(measure) if measure is not None else _of_reading(name, runs, lexicon, state)
    along, origins = [], dict(zip(group.releases, group.origins, strict=True))
    for line in dict.fromkeys(group.lines):
        releases = tuple(release for release, of in zip(group.releases, group.lines, strict=True) if of == line)
        points = tuple(figure.of(runs[release]) for release in releases)
        if any(points):
            dots = tuple(tuple(_dots(group, release, figure, runs[release])) for release in releases)
            days = tuple(card.released if (card := group.cards.get(release)) else None for release in releases)
            along.append(
                Trend(
                    name, figure.words, figure.unit, figure.better, line, releases, points, group.selections[line],
                    dots, days, figure.state, figure.is_compared,
                    _swap_files(group, releases) if name == DISK_USED else (),
                    len({origins[release] for release in releases}) > 1,
                )
            )  # fmt: skip
    return tuple(along)


def _swap_files(group: ReleaseGroup, releases: Sequence[str]) -> tuple[float | None, ...]:
    return tuple(usual_swap_file(group.measured[release]) for release in releases)


def _dots(group: ReleaseGroup, release: str, figure: _TakenFigure, counted: list[Taken]) -> Iterator[RunPoint]:
    names = {run.run for run in counted}
    for digest in group.runs[release]:
        value = figure.take(taken(digest))
        if value is not None and digest.ended:
            yield RunPoint(digest.run, digest.rig, value, digest.run in names)


def _of_run(measure: Measure) -> _TakenFigure:
    return _TakenFigure(
        measure.words, measure.unit, measure.better if measure.is_compared else None,
        lambda run: run.figure(measure.name), measure.name, is_compared=measure.is_compared,
    )  # fmt: skip


def _of_reading(name: str, runs: dict[str, list[Taken]], lexicon: Lexicon, state: str | None) -> _TakenFigure:
    every = [run for measured in runs.values() for run in measured]
    units = (reading.unit for run in every for reading in run.readings if reading.name == name)
    state = state or _usual_state(every, name)
    return _TakenFigure(
        reading_name(name, state),
        next(units, ""),
        better_of(name, lexicon),
        lambda run: run.reading(name, state),
        state=state,
    )


def _usual_state(runs: list[Taken], name: str) -> str:
    counts = {state: sum(run.reading(name, state) is not None for run in runs) for state in _PREFERRED}
    return max(counts, key=lambda state: counts[state])


class EffortLedger(msgspec.Struct, frozen=True):
    """Figures by release.

    figures: per release, by name; runs: per release, those of each of its runs, counted or not; empty if not asked for.
    """

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    figures: tuple[dict[str, Spread], ...]
    runs: tuple[dict[str, Figures], ...]
    selections: Mapping[str, Selection] = {}


def effort_ledger(group: ReleaseGroup, each_run: bool = True) -> EffortLedger:
    """The figures of all releases, made from the runs that count. each_run: whether those of every run are wanted."""
    figures = tuple(spreads([taken(digest) for digest in digests]) for digests in group.measured.values())
    by_run: tuple[dict[str, Figures], ...] = tuple(
        {digest.run: details(digest).figures for digest in digests} for digests in group.runs.values() if each_run
    )
    return EffortLedger(group.releases, group.lines, figures, by_run, group.selections)
