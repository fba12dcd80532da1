"""Finds what is to be told of screens, questions and pre-set answers, of software, and of ratings."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.compare.flow_records import Change, LogPlace, What
from metrograph.findings.finding_records import (
    Detail,
    Finding,
    PresetChange,
    Priority,
    ScreenList,
    Subject,
    Sureness,
    ValueChange,
    Way,
)
from metrograph.ledgers.comparison import Comparison, Neighbours
from metrograph.log.lexicon import is_after_restart, is_untitled

_FEWEST_ALIKE = 4
"""Screens from which two flows that agree are one installer: fewer are in every installer."""
_MANY = 0.75
"""The part of a flow from which it is told to be the same although a screen or two are in one only."""


def of_flow(comparison: Comparison, pair: Neighbours) -> Iterator[Finding]:
    """What differs along the way through the installer, and beside it.

    Of two lines nothing follows from what only one of them has, so that only what they have in common is told.
    """
    if pair.across:
        yield from _same_installer(comparison, pair)
        return
    changes = comparison.changes_between((pair.earlier, pair.later))
    yield from _presets(pair, changes)
    crossed = [each for each in changes if each.what is What.SCREEN_CROSSED and _is_named(each)]
    for late in (True, False):
        moved = [each for each in crossed if _is_late(each) == late]
        yield from _together(Subject.CROSSED, pair, moved, late=late)
    for subject, what in (
        (Subject.SCREENS_GONE, What.SCREEN_GONE),
        (Subject.SCREENS_NEW, What.SCREEN_NEW),
    ):
        yield from _together(subject, pair, [each for each in changes if each.what is what and _is_named(each)])
    for subject, what in ((Subject.QUESTIONS_NEW, What.QUESTION_NEW), (Subject.QUESTIONS_GONE, What.QUESTION_GONE)):
        asked = [each for each in changes if each.what is what]
        yield from _together(subject, pair, asked, names=[each.key or "" for each in asked])
    yield from _software(pair, changes)
    yield from _ratings(pair, changes)


def _is_named(change: Change) -> bool:
    return change.title is not None and not is_untitled(change.title)


def _is_late(change: Change) -> bool:
    return is_after_restart((change.after or "").partition(",")[0])


def _presets(pair: Neighbours, changes: Sequence[Change]) -> Iterator[Finding]:
    for each in changes:
        if each.what is What.PRESET_CHANGED and each.key and each.before is not None and each.after is not None:
            detail = PresetChange(each.title or "", each.before, each.after, each.as_in)
            yield _of(Subject.PRESET, pair, each.key, Priority.DEFAULTS, detail, [each])


def _together(
    what: Subject, pair: Neighbours, changes: Sequence[Change], late: bool = False, names: Sequence[str] | None = None
) -> Iterator[Finding]:
    """Several changes of one kind, which are one event to whoever reads of it."""
    if changes:
        titles = tuple(dict.fromkeys([each.title or "" for each in changes] if names is None else names))
        yield _of(what, pair, titles[0], Priority.SCREENS, ScreenList(titles, late), changes)


_RATED = frozenset({What.RATING_CHANGED, What.SCORE_CHANGED})
SCORE = "score"
"""What a rating is of that a verdict gave."""
_OF_SOFTWARE = frozenset({What.SOFTWARE_NEW, What.SOFTWARE_GONE})


def _software(pair: Neighbours, changes: Sequence[Change]) -> Iterator[Finding]:
    for each in changes:
        if each.what in _OF_SOFTWARE and each.key:
            detail = ValueChange(each.before or "", each.after or "")
            yield _of(Subject.SOFTWARE, pair, each.key, Priority.SOFTWARE, detail, [each])


def _ratings(pair: Neighbours, changes: Sequence[Change]) -> Iterator[Finding]:
    for each in changes:
        if each.what in _RATED and each.before and each.after:
            thing = each.key or (f"{SCORE} for {each.under}" if each.under else SCORE)
            yield _of(Subject.RATING, pair, thing, Priority.LOOKS, ValueChange(each.before, each.after), [each])


def _of(
    what: Subject, pair: Neighbours, thing: str, weight: Priority, detail: Detail, changes: Sequence[Change]
) -> Finding:
    places = [place for each in changes for place in (each.before_at, each.after_at) if place is not None]
    rests_on: tuple[LogPlace, ...] = tuple(dict.fromkeys(places))
    return Finding(what, (pair.earlier, pair.later), thing, Way.OTHER, Sureness.NOTED, weight, detail, rests_on)


def _same_installer(comparison: Comparison, pair: Neighbours) -> Iterator[Finding]:
    """Whether two lines show the same screens in the same order, which is worth saying where it is so."""
    places = comparison.releases.index(pair.earlier), comparison.releases.index(pair.later)
    cells = [tuple(row.cells[place] for place in places) for row in comparison.rows]
    asked = [
        (one, other)
        for one, other in cells
        if any(cell is not None and cell.phase in {"questions", "setup"} for cell in (one, other))
    ]
    both = [(one, other) for one, other in asked if one is not None and other is not None]
    orders = [sorted(both, key=lambda cells, side=side: cells[side].place) for side in (0, 1)]  # type: ignore[misc]
    same = len(both) == len(asked) >= _FEWEST_ALIKE and orders[0] == orders[1]
    named = all(not is_untitled(cell.title) for pair_of in both for cell in pair_of)
    if same and named:
        titles = tuple(one.title for one, _ in orders[0])
        detail = ScreenList(titles)
        yield _of(Subject.SAME_INSTALLER, pair, "installer", Priority.SCREENS, detail, [])
