"""What changed from one release to another, and what may be concluded, as sections of a report."""

from __future__ import annotations

from itertools import pairwise

from metrograph.compare.contrasts import Contrast
from metrograph.ledgers.comparison import Comparison
from metrograph.present.report import model as m
from metrograph.present.wording.changes import not_known, rests_on, sentence
from metrograph.present.wording.contrasts import conclusions


def ends(comparison: Comparison) -> tuple[str, str]:
    """The two releases whose difference is shown: the baseline, and the one furthest from it."""
    first, last = comparison.releases[0], comparison.releases[-1]
    return (first, comparison.baseline) if comparison.baseline == last else (comparison.baseline, last)


def changes(comparison: Comparison) -> m.Sections:
    """Between neighbours; and where there are more than two, between the baseline and the one furthest from it."""
    pairs = list(dict.fromkeys(pairwise(comparison.releases)))
    first, last = sorted(ends(comparison), key=comparison.releases.index)
    pairs = [*reversed(pairs), *([(first, last)] if (first, last) not in pairs else [])]  # the latest first
    return m.Sections("What changed", tuple(_changes_between(comparison, pair) for pair in pairs))


def _changes_between(comparison: Comparison, pair: tuple[str, str]) -> m.Section:
    changes = (*comparison.changes, *comparison.since_baseline)
    across = len({line_in(comparison, name) for name in pair}) > 1
    lines = [
        sentence(change, across) + rests_on(change) for change in changes if (change.earlier, change.later) == pair
    ]
    lines = lines or ["Nothing in screens, questions, answers, trials, software or the disk."]
    unknown = [each for each in comparison.unknown if {each.release, each.other} == set(pair)]
    heading = f"{'What differs' if across else 'What changed'} from {pair[0]} to {pair[1]}"
    return m.Section(heading, (m.Lines((*lines, *not_known(unknown))),), pair=pair)


def line_in(comparison: Comparison, release: str) -> str:
    """What a release continues."""
    return comparison.lines[comparison.releases.index(release)]


def concluded(comparison: Comparison) -> m.Sections:
    """What may be concluded of the figures, for each two releases."""
    by_pair: dict[tuple[str, str], list[Contrast]] = {}
    for contrast in comparison.contrasts:
        by_pair.setdefault((contrast.earlier, contrast.later), []).append(contrast)
    sections = (
        m.Section(
            f"What may be concluded from {pair[0]} to {pair[1]}", (m.Lines(tuple(conclusions(contrasts))),), pair=pair
        )
        for pair, contrasts in by_pair.items()
    )
    return m.Sections("What may be concluded", tuple(sections))
