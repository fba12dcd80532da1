"""What changed from one release to another beside its screens: the form, trials, the disk, phases, whose work it is."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

from metrograph.analysis.layouts import parts_of
from metrograph.analysis.merged import Merged, usual
from metrograph.model.comparison import Change, Moment, Side, What
from metrograph.model.ranges import ZERO, Range, total
from metrograph.model.runs import Phase, Run

_MOST = 2 / 3
"""The part of a phase that somebody has to work for it to be theirs; in between it is nobody's."""
T = TypeVar("T")


def changes_beside(sides: Sequence[Side], merged: Merged, earlier: int, later: int) -> Iterator[Change]:
    """All of it, from one side to another, by their indices."""
    before, after = sides[earlier], sides[later]
    yield from _form(before, after, merged.overviews[earlier], merged.overviews[later])
    yield from _trials(before, after)
    yield from _layouts(before, after)
    yield from _phases(before, after)


def _form(before: Side, after: Side, old: str | None, new: str | None) -> Iterator[Change]:
    """Whether the installer became one overview with doors, or ceased to be one."""
    if (old is None) != (new is None):
        what: What = "overview-new" if old is None else "overview-gone"
        yield Change(before.name, after.name, what, title=new or old)


def _trials(before: Side, after: Side) -> Iterator[Change]:
    """Trials that came out otherwise; a trial not made on one of the two sides says nothing."""
    old, new = _results(before), _results(after)
    for name in old:
        if name in new and old[name][0] != new[name][0]:
            (was, was_at), (now, now_at) = old[name], new[name]
            yield Change(before.name, after.name, "check-changed", None, None, name, was, now, was_at, now_at)


def _results(side: Side) -> dict[str, tuple[str, Moment]]:
    """Every trial of a side that was made; ``pass/fail`` where its runs differ, with the last time it was."""
    found: dict[str, dict[str, Moment]] = {}
    for run in side.runs:
        for check in run.checks:
            if check.result != "skipped":
                found.setdefault(check.name, {})[check.result] = Moment(run.run, check.at)
    return {name: ("/".join(results), list(results.values())[-1]) for name, results in found.items()}


def _layouts(before: Side, after: Side) -> Iterator[Change]:
    """What becomes of disks of the same size: its parts one by one, as most runs have them."""
    sizes = {run.layout.disk for run in before.runs if run.layout} & {
        run.layout.disk for run in after.runs if run.layout
    }
    old, new = (
        [parts_of(run.layout) for run in side.runs if run.layout is not None and run.layout.disk in sizes]
        for side in (before, after)
    )
    if old and new:
        was, now = _usual_parts(old), _usual_parts(new)
        for part in {**was, **now}:
            if was.get(part) != now.get(part):
                yield Change(
                    before.name, after.name, "layout-changed", key=part, before=was.get(part), after=now.get(part)
                )


def _usual_parts(layouts: Sequence[dict[str, str]]) -> dict[str, str]:
    names = dict.fromkeys(name for parts in layouts for name in parts)
    found = {name: usual([parts.get(name) for parts in layouts]) for name in names}
    return {name: value for name, value in found.items() if value is not None}


def _phases(before: Side, after: Side) -> Iterator[Change]:
    """Phases that came or went, and those in which another one works now."""
    old, new = (
        {name for run in side.runs for name in (phase.name for phase in run.phases)} for side in (before, after)
    )
    for name in _in_order(after, lambda run: [phase.name for phase in run.phases]):
        if name not in old:
            yield Change(before.name, after.name, "phase-new", key=name, after_at=_begin(after, name))
    for name in _in_order(before, lambda run: [phase.name for phase in run.phases]):
        was, now = _worker(before, name), _worker(after, name)
        if name not in new:
            yield Change(before.name, after.name, "phase-gone", key=name, before_at=_begin(before, name))
        elif was and now and was != now:
            places = _begin(before, name), _begin(after, name)
            yield Change(before.name, after.name, "hands-changed", None, None, name, was, now, *places)


def _in_order(side: Side, part: Callable[[Run], Sequence[T]]) -> list[T]:
    return list(dict.fromkeys(each for run in side.runs for each in part(run)))


def _worker(side: Side, name: str) -> str | None:
    """Who works in a phase for the most part: ``person`` or ``machine``; None when both do, or a cut hides it."""
    own = [phase for run in side.runs for phase in run.phases if phase.name == name]
    person = total(phase.person for phase in own)
    share = _share(person, total(phase.on_clock for phase in own) if own else ZERO)
    if share is None:
        return None
    return "person" if share >= _MOST else "machine" if share <= 1 - _MOST else None


def _share(part: Range, whole: Range) -> float | None:
    return part.low / whole.low if part.exact and whole.exact and whole.low else None


def _begin(side: Side, name: str) -> Moment | None:
    """When a phase began, in the latest run that has it."""
    found: list[tuple[Run, Phase]] = [(run, phase) for run in side.runs for phase in run.phases if phase.name == name]
    return Moment(found[-1][0].run, found[-1][1].start) if found else None
