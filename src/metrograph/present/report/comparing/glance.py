"""The few figures that matter most in a comparison, to be seen at a glance."""

from __future__ import annotations

from metrograph.compare.contrasts import Contrast
from metrograph.compare.inference import Confidence
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.issues import IssueStatus
from metrograph.present.report import model as m
from metrograph.present.wording.contrasts import difference_of, how_sure
from metrograph.present.wording.figures import SAME, show_spread, told_bounds

_GLANCE = {"installed": "Installed after", "desktop": "Desktop after", "updated": "Fully updated after"}
_MOST = 3  # other releases whose figures stand beside


def at_a_glance(comparison: Comparison) -> tuple[m.Section, ...]:
    """When the latest was installed, at its desktop and up to date, and how that differs from the one before."""
    latest, before = len(comparison.releases) - 1, len(comparison.releases) - 2
    contrasts = {
        each.name: each
        for each in comparison.contrasts
        if (each.earlier, each.later) == (comparison.releases[before], comparison.releases[latest])
    }
    figures = [
        _headline(name, comparison, contrasts.get(name))
        for name in ("installed", "desktop", "updated")
        if comparison.figures[latest].get(name)
    ]
    return m.section("At a glance", m.Headlines(tuple(figures))) if figures else ()


def _headline(name: str, comparison: Comparison, contrast: Contrast | None) -> m.Headline:
    value = show_spread(comparison.figures[-1].get(name), name)
    others = [
        f"{release} {show_spread(figures.get(name), name)}"
        for release, figures in zip(comparison.releases[:-1], comparison.figures[:-1], strict=True)
        if figures.get(name)
    ]
    if contrast is None:
        return m.Headline(_GLANCE[name], value, "", " · ".join(others[-_MOST:]))
    sure = contrast.confidence is not Confidence.UNKNOWN
    better = (contrast.difference[0] or 0.0) < 0 if sure else None
    told = f"{difference_of(contrast)} than {contrast.earlier}"
    told = f"the same as {contrast.earlier}" if difference_of(contrast) == SAME else told
    interval = told_bounds(*contrast.interval, contrast.unit, name) if contrast.interval and sure else "may be chance"
    return m.Headline(_GLANCE[name], value, told + how_sure(contrast), " · ".join((interval, *others[-_MOST:])), better)


def issues_in_short(comparison: Comparison) -> str:
    """What became of the trouble in the latest release."""
    now = [row.cells[-1].status for row in comparison.issues]
    counts = [(str(status), now.count(status)) for status in IssueStatus if status is not IssueStatus.ABSENT]
    told = ", ".join(f"{count} {word}" for word, count in counts if count)
    return f"In {comparison.releases[-1]}: {told}." if told else ""


def effort_in_short(comparison: Comparison) -> str:
    """How many decisions the latest asks for, against the one before."""
    told = [
        f"{release} asks for {show_spread(figures['decisions'], 'decisions')} decisions on"
        f" {show_spread(figures['screens'], 'screens')} screens"
        for release, figures in list(zip(comparison.releases, comparison.figures, strict=True))[-2:]
        if {"decisions", "screens"} <= figures.keys() and figures["decisions"].least  # none noted is not none asked
    ]
    return f"{', '.join(reversed(told))}." if told else ""
