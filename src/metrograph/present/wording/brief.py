"""Says in a few words what changed most from one release to the next: what a reader wants before all the rest."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from metrograph.compare.contrasts import Contrast
from metrograph.compare.inference import Confidence
from metrograph.compare.records import Change, What
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.issues import IssueStatus
from metrograph.log.quantities.times import show_duration
from metrograph.present.wording.contrasts import difference_of

_NAMED = 2  # titles or questions that are named one by one; of more, one and how many
_TIMES = {
    "desktop": "desktop after",
    "installed": "installed after",
    "updated": "updated after",
    "on-clock": "over after",
}
"""Times, of which the first that both have is told."""

_SCREENS = {
    What.OVERVIEW_NEW: "now one overview",
    What.OVERVIEW_GONE: "no longer one overview",
    What.SCREEN_CROSSED: "across the restart",
    What.SCREEN_GONE: "gone",
    What.SCREEN_NEW: "new",
    What.SCREEN_SPLIT: "split",
    What.SCREEN_MERGED: "made one",
}
_TROUBLE = {
    IssueStatus.NEW: "new issue",
    IssueStatus.BACK_AGAIN: "back again",
    IssueStatus.GONE: "healed",
    IssueStatus.NOT_RETESTED: "not retested",
}
_OTHERS = {
    What.QUESTION_NEW: "newly asked",
    What.QUESTION_GONE: "no longer asked",
    What.SCREEN_RENAMED: "renamed",
}


def in_short(comparison: Comparison, earlier: str, later: str) -> str:
    """What changed between two neighbours, what matters most first."""
    pair = earlier, later
    changes = [change for change in comparison.changes if (change.earlier, change.later) == pair]
    contrasts = [
        contrast for contrast in comparison.contrasts if (contrast.earlier, contrast.later) == (earlier, later)
    ]
    sure, unsure = _times(contrasts)
    phrases = [
        *sure,
        *_by_kind(changes, _SCREENS),
        *_presets(changes),
        *unsure,
        *_trouble(comparison, later, changes),
        *_by_kind(changes, _OTHERS),
    ]
    return "; ".join(phrases) or "nothing that was noted"


def _times(contrasts: Sequence[Contrast]) -> tuple[list[str], list[str]]:
    """What became of the time until the desktop: what is known to differ, and what may be chance."""
    by_name = {contrast.name: contrast for contrast in contrasts}
    time = next((by_name[name] for name in _TIMES if name in by_name), None)
    if time is None:
        return [], []
    before, after = (show_duration(spread.median) for spread in (time.before, time.after))
    is_sure = time.confidence is not Confidence.UNKNOWN
    sure = [_time(time, before, after, time.confidence)] if is_sure else []
    # What may be chance is said late, after all that is known; what did not change is not said at all.
    unsure = [] if sure or before == after else [_time(time, before, after, "may be chance")]
    updated = by_name.get("updated")
    if updated is not None and updated is not time and updated.confidence is Confidence.CLEAR:
        sure.append(f"updated {difference_of(updated)} ({updated.confidence})")
    return sure, unsure


def _time(contrast: Contrast, before: str, after: str, word: str) -> str:
    return f"{_TIMES[contrast.name]} {before} → {after} ({difference_of(contrast)}, {word})"


def _by_kind(changes: Sequence[Change], words: dict[What, str]) -> Iterable[str]:
    for what, word in words.items():
        names = [change.key or f"“{change.title}”" for change in changes if change.what is what]
        if names:
            yield f"{word}: {_listed(names)}"


def _presets(changes: Sequence[Change]) -> Iterable[str]:
    presets = [
        f"{change.key} {change.before} → {change.after}" for change in changes if change.what is What.PRESET_CHANGED
    ]
    if presets:
        yield f"pre-set: {_listed(presets)}"


def _trouble(comparison: Comparison, later: str, changes: Sequence[Change]) -> Iterable[str]:
    place = comparison.releases.index(later)
    for status, word in _TROUBLE.items():
        names = [row.name or row.summary for row in comparison.issues if row.cells[place].status is status]
        if names:
            yield f"{word}{'s' if status is IssueStatus.NEW and len(names) > 1 else ''}: {_listed(names)}"
    trials = [f"{change.key} {change.after}" for change in changes if change.what is What.CHECK_CHANGED]
    if trials:
        yield f"trials: {_listed(trials)}"


def _listed(items: Sequence[str]) -> str:
    return ", ".join(items) if len(items) <= _NAMED else f"{items[0]} and {len(items) - 1} more"
