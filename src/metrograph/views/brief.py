"""Says in a few lines what changed most from one release to the next: what a reader wants before all the rest."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import pairwise

from metrograph.language.times import show_duration
from metrograph.model.comparison import Change, Comparison
from metrograph.model.contrasts import Contrast
from metrograph.views.paper import Paper
from metrograph.views.sentences import difference_of
from metrograph.views.text import shorten, wrap

_LINES = 6
"""All pairs together; with the title and the baseline that makes no more than ten."""

_NAMED = 2  # titles or questions that are named one by one; of more, one and how many
_AFTER = {
    "desktop": "desktop after",
    "installed": "installed after",
    "updated": "updated after",
    "on-clock": "over after",
}
"""Times, of which the first that both have is told."""


def render_brief(comparison: Comparison, paper: Paper) -> str:
    """What changed most, for each pair of neighbours; of too many pairs, the latest."""
    pairs = [*dict.fromkeys(pairwise(comparison.releases))][-_LINES:]
    each = max(_LINES // max(len(pairs), 1), 1)
    text = "".join(_pair(comparison, earlier, later, each, paper) for earlier, later in pairs)
    return f"{paper.heading('In short')}\n{text}"


def _pair(comparison: Comparison, earlier: str, later: str, most: int, paper: Paper) -> str:
    """One pair in at most so many lines; for a program in one."""
    said = "; ".join(phrases(comparison, earlier, later)) or "nothing that was noted"
    text = f"{later}: {said}."
    if paper.piped:
        return f"  {text}\n"
    lines = wrap(text, paper.width, 2)
    if len(lines) > most:
        rest = " ".join(line.strip() for line in lines[most - 1 :])
        lines = [*lines[: most - 1], (lines[most - 1][:4] if most > 1 else "  ") + shorten_end(rest, paper.width - 4)]
    return "".join(f"{line}\n" for line in lines)


def shorten_end(text: str, columns: int) -> str:
    """A text of too many columns without its end, at the last thing that is said in full."""
    if len(text) <= columns:
        return text
    cut = text[: columns - 2]
    whole = cut.rpartition("; ")[0] or cut.rpartition(" ")[0]
    return f"{shorten(whole, columns - 2)} …"


def phrases(comparison: Comparison, earlier: str, later: str) -> list[str]:
    """What changed between two neighbours, in a few words each, what matters most first."""
    own = [each for each in comparison.changes if (each.earlier, each.later) == (earlier, later)]
    contrasts = [each for each in comparison.contrasts if (each.earlier, each.later) == (earlier, later)]
    sure, unsure = _times(contrasts)
    return [*sure, *_screens(own), *_presets(own), *unsure, *_trouble(comparison, later, own), *_others(own)]


def _times(contrasts: Sequence[Contrast]) -> tuple[list[str], list[str]]:
    """What became of the time until the desktop: what is known to differ, and what may be chance."""
    by_name = {each.name: each for each in contrasts}
    told = next((by_name[name] for name in _AFTER if name in by_name), None)
    if told is None:
        return [], []
    before, after = (show_duration(each.median) for each in (told.before, told.after))
    sure = [] if told.verdict == "can't say" else [_time(told, before, after, told.verdict)]
    unsure = [] if sure or before == after else [_time(told, before, after, "may be chance")]
    updated = by_name.get("updated")
    if updated is not None and updated is not told and updated.verdict == "clear":
        sure.append(f"updated {difference_of(updated)} ({updated.verdict})")
    return sure, unsure


def _time(contrast: Contrast, before: str, after: str, word: str) -> str:
    return f"{_AFTER[contrast.name]} {before} → {after} ({difference_of(contrast)}, {word})"


_SCREEN_WORDS = (
    ("overview-new", "now one overview"),
    ("overview-gone", "no longer one overview"),
    ("screen-crossed", "across the restart"),
    ("screen-gone", "gone"),
    ("screen-new", "new"),
    ("screen-split", "split"),
    ("screen-merged", "made one"),
)


def _screens(changes: Sequence[Change]) -> Iterable[str]:
    for what, word in _SCREEN_WORDS:
        titles = [f"“{each.title}”" for each in changes if each.what == what]
        if titles:
            yield f"{word}: {_listed(titles)}"


def _presets(changes: Sequence[Change]) -> Iterable[str]:
    said = [f"{each.key} {each.before} → {each.after}" for each in changes if each.what == "preset-changed"]
    if said:
        yield f"pre-set: {_listed(said)}"


def _trouble(comparison: Comparison, later: str, changes: Sequence[Change]) -> Iterable[str]:
    place = comparison.releases.index(later)
    for standing, word in (
        ("new", "new issue"),
        ("back again", "back again"),
        ("gone", "healed"),
        ("not retested", "not retested"),
    ):
        names = [row.name or row.summary for row in comparison.issues if row.cells[place].standing == standing]
        if names:
            yield f"{word}{'s' if standing == 'new' and len(names) > 1 else ''}: {_listed(names)}"
    trials = [f"{each.key} {each.after}" for each in changes if each.what == "check-changed"]
    if trials:
        yield f"trials: {_listed(trials)}"


def _others(changes: Sequence[Change]) -> Iterable[str]:
    for what, word in (
        ("question-new", "newly asked"),
        ("question-gone", "no longer asked"),
        ("screen-renamed", "renamed"),
    ):
        own = [each for each in changes if each.what == what]
        if own:
            yield f"{word}: {_listed([each.key or f'“{each.title}”' for each in own])}"


def _listed(items: Sequence[str]) -> str:
    return ", ".join(items) if len(items) <= _NAMED else f"{items[0]} and {len(items) - 1} more"
