"""Sections of a report on what changed, what may be concluded, and why screens share a row."""

from __future__ import annotations

from metrograph.compare.align.explain import MatchReason, Why
from metrograph.compare.contrasts import Contrast
from metrograph.ledgers.comparison import Comparison
from metrograph.show.report import model as m
from metrograph.words.caveat_words import conclusions
from metrograph.words.change_words import not_known, rests_on, sentence


def ends(comparison: Comparison) -> tuple[str, str]:
    """The two releases whose difference is shown: the baseline, and the one furthest from it."""
    first, last = comparison.releases[0], comparison.releases[-1]
    return (first, comparison.baseline) if comparison.baseline == last else (comparison.baseline, last)


def changes(comparison: Comparison) -> m.Sections:
    """Between neighbours; and where there are more than two, between the baseline and the one furthest from it."""
    pairs = [(each.earlier, each.later) for each in comparison.neighbours]
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
    """The line that a release continues."""
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


def why_report(why: Why) -> m.Report:
    """Each release against the one before it that has the screen, then those that lack it."""
    sections = [m.Section(_heading(reason), (m.Lines(tuple(_speaking(reason))),), plain=True) for reason in why.reasons]
    absent = [m.Section("", (m.Lines((_absent(release, near),), 0),)) for release, near in why.nearest.items()]
    alone = m.Lines(("Only one of the releases has it, so there is nothing to match.",), 0)
    lonely = [] if why.reasons else [m.Section("", (alone,))]
    return m.Report(f"Row {why.row}: {why.title}", parts=(*sections, *absent, *lonely))


def _heading(reason: MatchReason) -> str:
    return f"“{reason.one_title}” in {reason.one}, “{reason.other_title}” in {reason.other}"


def _absent(release: str, nearest: tuple[str, float] | None) -> str:
    if nearest is None:
        return f"Not in {release}; nothing there comes near."
    return f"Not in {release}; the most similar that it has is “{nearest[0]}”, {nearest[1]:.2f}."


def _speaking(reason: MatchReason) -> list[str]:
    """What speaks for the match, from what decided to what stood aside."""
    lines = []
    if reason.ruled is not None:
        lines.append("metrograph.toml says that these two titles are for the same thing; nothing else was asked.")
    lines.append(f"kind: {reason.kind}, the same" if reason.kind else "kind: not the same, or not known")
    lines.append(f"titles: {reason.title:.2f} alike")
    lines += [_questions(reason), _neighbours(reason), _place(reason)]
    lines.append(f"together {reason.similarity:.2f}; {reason.needed:g} is needed")
    if reason.rival is not None:
        lines.append(f"the next best would have been “{reason.rival}”, {reason.rival_similarity:.2f}")
    return lines


def _questions(reason: MatchReason) -> str:
    if reason.keys is None:
        return "questions: noted on one of them only, or on none"
    common = f": {', '.join(reason.common)}" if reason.common else ""
    return f"questions: {reason.keys:.2f} in common{common}"


def _neighbours(reason: MatchReason) -> str:
    beside = [f"“{title}” {where}" for title, where in ((reason.before, "before"), (reason.after, "after")) if title]
    return f"neighbours in common: {' and '.join(beside)} it" if beside else "neighbours in common: none"


def _place(reason: MatchReason) -> str:
    if reason.across:
        return "place: on the other side of the restart, so it has moved"
    return "place: moved, the others keep their order" if reason.moved else "place: in order with the others"
