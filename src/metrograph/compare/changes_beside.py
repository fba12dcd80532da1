"""What changed from one release to another beside its screens: the form, trials, the disk, whose work it is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.compare.align.merge import Merged, usual
from metrograph.compare.flow_records import Change, LogPlace, Side, What
from metrograph.log.quantities.ranges import ZERO, Range, total
from metrograph.run.disks import Layout, parts_of
from metrograph.run.records import Phase, Run

_FEWEST_SCREENS = 4
"""Screens of a flow from which it can be told whether one of them leads to the others."""
_MOST = 2 / 3
"""The part of a phase that somebody has to work for it to be theirs; in between it is nobody's."""


def changes_beside(sides: Sequence[Side], merged: Merged, earlier: int, later: int) -> Iterator[Change]:
    """All of it, from one side to another, by their indices."""
    before, after = sides[earlier], sides[later]
    if min(len(merged.orders[side]) for side in (earlier, later)) >= _FEWEST_SCREENS:
        yield from _form(before, after, merged.overviews[earlier], merged.overviews[later])
    yield from _trials(before, after)
    yield from _layouts(before, after)
    yield from _hands(before, after)


def _form(before: Side, after: Side, old: str | None, new: str | None) -> Iterator[Change]:
    """Whether the installer became one overview with doors, or ceased to be one."""
    if (old is None) != (new is None):
        what = What.OVERVIEW_NEW if old is None else What.OVERVIEW_GONE
        yield Change(before.name, after.name, what, title=new or old)


def _trials(before: Side, after: Side) -> Iterator[Change]:
    """Trials that came out otherwise under one condition, and those that were first made and do not pass.

    One that passes where it was not made before, or was not made any more, says nothing of what has changed.
    """
    old, new = _results(before), _results(after)
    for (name, under), (now, at) in new.items():
        if (name, under) not in old and now != "pass" and before.line == after.line:
            first = Change(
                before.name, after.name, What.CHECK_FIRST, None, None, name, None, now, None, at, under=under
            )
            yield first
    for key in old:
        if key in new and old[key][0] != new[key][0]:
            (was, was_at), (now, now_at), (name, under) = old[key], new[key], key
            yield Change(
                before.name, after.name, What.CHECK_CHANGED, None, None, name, was, now, was_at, now_at, under=under
            )


def _results(side: Side) -> dict[tuple[str, str | None], tuple[str, LogPlace]]:
    """Every trial of a side that was made, by condition; ``pass/fail`` where its runs differ, with its last time."""
    results: dict[tuple[str, str | None], dict[str, LogPlace]] = {}
    for run in side.runs:
        for check in run.checks:
            if check.result != "skipped":
                # Runs come oldest first, so the last time of each result is what remains.
                results.setdefault((check.name, check.condition), {})[check.result] = LogPlace(run.run, check.at)
    return {key: ("/".join(words), list(words.values())[-1]) for key, words in results.items()}


def _layouts(before: Side, after: Side) -> Iterator[Change]:
    """What becomes of disks of the same size: its parts one by one, as most runs have them; only what both say."""
    old, new = _on_like_disks(before, after)
    was, now = _usual_parts(old), _usual_parts(new)
    # Whoever lists partitions lists all of them, so that one that is not among them is not there.
    listed = all(any(layout.parts for layout in layouts) for layouts in (old, new))
    mounts = {part.mount for layout in (*old, *new) for part in layout.parts} if listed else set()
    for part in {**was, **now}:
        known = part in mounts or (part in was and part in now)
        if known and not _agree(was.get(part), now.get(part)):
            yield Change(
                before.name, after.name, What.LAYOUT_CHANGED, key=part, before=was.get(part), after=now.get(part)
            )


def _on_like_disks(before: Side, after: Side) -> tuple[list[Layout], list[Layout]]:
    """The layouts of both on disks of a size that both have.

    On a disk of another size every part has another size, which is no change of the installer.
    """
    old, new = ([run.layout for run in side.runs if run.layout is not None] for side in (before, after))
    sizes = {layout.disk for layout in old} & {layout.disk for layout in new}
    return [each for each in old if each.disk in sizes], [each for each in new if each.disk in sizes]


def _agree(one: str | None, other: str | None) -> bool:
    """Whether two descriptions of a part are the same, as far as both go: ``ext4`` may well be ``ext4 20 GiB``."""
    if one is None or other is None:
        return one == other
    return one == other or one.startswith(f"{other} ") or other.startswith(f"{one} ")


def _usual_parts(layouts: Sequence[Layout]) -> dict[str, str]:
    every = [parts_of(layout) for layout in layouts]
    names = dict.fromkeys(name for parts in every for name in parts)
    usual_parts = {name: usual([parts.get(name) for parts in every]) for name in names}
    return {name: value for name, value in usual_parts.items() if value is not None}


def _hands(before: Side, after: Side) -> Iterator[Change]:
    """Phases in which another one works now; said only where it is clear on both sides."""
    for name in dict.fromkeys(phase.name for run in before.runs for phase in run.phases):
        was, now = _worker(before, name), _worker(after, name)
        if was and now and was != now:
            places = _begin(before, name), _begin(after, name)
            yield Change(before.name, after.name, What.HANDS_CHANGED, None, None, name, was, now, *places)


def _worker(side: Side, name: str) -> str | None:
    """Who works in a phase for the most part: ``person`` or ``machine``; None when both do, or a cut hides it."""
    phases = [phase for run in side.runs for phase in run.phases if phase.name == name]
    person = total(phase.person for phase in phases)
    share = _share(person, total(phase.on_clock for phase in phases) if phases else ZERO)
    if share is None:
        return None
    return "person" if share >= _MOST else "machine" if share <= 1 - _MOST else None


def _share(part: Range, whole: Range) -> float | None:
    return part.low / whole.low if part.exact and whole.exact and whole.low else None


def _begin(side: Side, name: str) -> LogPlace | None:
    """When a phase began, in the latest run that has it."""
    having: list[tuple[Run, Phase]] = [(run, phase) for run in side.runs for phase in run.phases if phase.name == name]
    return LogPlace(having[-1][0].run, having[-1][1].start) if having else None
