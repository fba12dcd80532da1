"""The report of a comparison, short or whole: the answer, caveats, timelines, screens, changes, figures, issues."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.compare.contrasts import Contrast
from metrograph.compare.flow_records import CaveatKind
from metrograph.compare.inference import Confidence
from metrograph.judging.shortlist_records import Shortlist
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.issues import IssueStatus
from metrograph.run.records import Run
from metrograph.show.report import model as m
from metrograph.show.report.card_report import cards_sections
from metrograph.show.report.comparing import comparing_tables as tables
from metrograph.show.report.comparing.change_sections import changes, concluded, ends
from metrograph.show.report.comparing.material import Material, narrowed
from metrograph.show.report.effort import effort_table
from metrograph.show.report.issue_report import issue_blocks
from metrograph.show.report.judgements import ratings_table, shift_sections, shortlist_sections, verdict_sections
from metrograph.show.report.ledger_reports import claims_sections, facts_table, weight_table
from metrograph.show.report.run import about, particulars, trouble
from metrograph.show.report.software_report import groups_sections, software_table
from metrograph.words.answers.comparison_answers import above, answer
from metrograph.words.caveat_words import caveat_line, difference_of, how_sure
from metrograph.words.figure_words import (
    SAME,
    counted,
    selection_lines,
    show_spread,
    told_bounds,
)
from metrograph.words.grammar import NOTHING
from metrograph.words.others_words import told
from metrograph.words.shortlist_words import of_shortlist, titled

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


_MOST_CHANGES = 10
"""Changes that are told where not all are asked for."""


def brief_report(material: Material, most: int | None = None) -> m.Report:
    """A comparison in short: the answer, why to read with care, timelines, what changed most, and trouble."""
    whole = comparison_report(material, most)
    kept = {"Read with care", "Releases", "", "Issues", "Beside others"}
    parts: list[m.Section | m.Sections] = []
    for part in whole.parts:
        if isinstance(part, m.Sections) and part.heading == "What changed":
            parts.append(m.Sections(part.heading, tuple(map(_first_changes, part.sections))))
        elif isinstance(part, m.Section) and part.heading in kept:
            parts.append(part)
    note = "--all shows screens side by side, all changes, times, effort, what may be concluded, readings and trials."
    return msgspec.structs.replace(whole, parts=(*parts, *m.section("", m.Lines((note,), 0))))


def _first_changes(section: m.Section) -> m.Section:
    """The changes that matter most, which come first, and how many more there are."""
    lines = [line for block in section.blocks if isinstance(block, m.Lines) for line in block.lines]
    more = [f"and {len(lines) - _MOST_CHANGES} more"] if len(lines) > _MOST_CHANGES else []
    return msgspec.structs.replace(section, blocks=(m.Lines((*lines[:_MOST_CHANGES], *more)),))


ROOM = m.Room(fixed=42, side=12, least=3)
"""3 releases at 80 columns, 6 at 120."""

_BRIEF_LINES, _MOST_ANSWERS = 10, 3
"""Lines of an answer on a terminal, and pairs of neighbours that have one; of more, the latest."""

_OF_RIGS = frozenset(
    {
        CaveatKind.RIG, CaveatKind.MACHINE, CaveatKind.MEMORY, CaveatKind.PROCESSORS, CaveatKind.DISK,
        CaveatKind.FIRMWARE, CaveatKind.GRAPHICS, CaveatKind.NETWORK,
    }
)  # fmt: skip
_SUMMARY = ("screens", "decisions", "desktop", "hands-on", "lost")
_SUMMARY_WORDS = {"desktop": "desktop", "lost": "lost"}


def comparison_report(material: Material, most: int | None = None) -> m.Report:
    """The whole comparison.

    most: how many releases stand side by side; of more, a summary, and the last against the baseline. None for all.
    """
    whole = material.comparison
    crowded = most is not None and len(whole.releases) > most
    shown = narrowed(whole, ends(whole)) if crowded else whole
    drawn = {drawing.key: linked(drawing, whole) for drawing in material.drawings}
    first = next((name for name in ("lanes", "runs") if name in drawn), "")
    timelines = () if crowded or not first else (m.Section("", (drawn.pop(first),)),)
    for_whom = tuple(for_readers(material.shortlists, drawn))
    places = range(len(shown.releases))
    return m.Report(
        title=title(whole, crowded, material.common),
        lines=(f"baseline: {whole.baseline}",),
        head=answers(whole),
        parts=(
            *at_a_glance(whole),
            *with_care(shown),
            *(_summary(whole) if crowded else ()),
            *timelines,
            changes(shown),
            *_answered(
                m.section("Issues", *issue_blocks(shown.releases, places, shown.issues)), issues_in_short(shown)
            ),
            *beside_others(material),
            *for_whom,
            *(part for drawing in drawn.values() for part in figure(drawing, shown)),
            *tables.screens(shown),
            *tables.times(shown),
            *_answered(m.section("Effort", effort_table(shown.releases, shown.figures)), effort_in_short(shown)),
            concluded(shown),
            *tables.readings(shown),
            *tables.checks(shown),
            *(m.section("Weight", weight_table(material.weight)) if material.weight else ()),
            *([m.Sections("Software", software)] if (software := software_sections(material, shown)) else ()),
            *m.section("Ratings", ratings_table(shown.ratings, shown.releases, places)),
            *shift_sections(material.shifts),
            *verdict_sections(whole.verdicts),
            *(m.section("Facts", facts_table(material.facts)) if material.facts else ()),
            *([m.Sections("Claims", tuple(claims_sections(material.claims)))] if material.claims else ()),
            *([m.Sections("Published", cards_sections(material.cards))] if material.cards else ()),
            *map(each_run, material.runs),
        ),
    )  # fmt: skip


def figure(drawing: m.Drawing, comparison: Comparison) -> Iterator[m.Section]:
    """A figure, with what is to be seen in it."""
    for part in m.section(drawing.title, drawing):
        yield msgspec.structs.replace(part, answer=" ".join(above(drawing.chart, comparison)))


def _answered(parts: Sequence[m.Section], answer: str) -> Iterator[m.Section]:
    return (msgspec.structs.replace(part, answer=answer) for part in parts)


def each_run(run: Run) -> m.Sections:
    """What is told of one run beside what all have in common."""
    return m.Sections(run.run, (*m.section("", m.Lines((about(run),))), *trouble(run), *particulars(run)))


def beside_others(material: Material) -> tuple[m.Section, ...]:
    """What others say; that they say nothing, where they were asked."""
    if material.others is None:
        return ()
    return m.section("Beside others", m.Lines(tuple(told(material.others))))


def for_readers(shortlists: Sequence[Shortlist], drawn: dict[str, m.Drawing]) -> Iterator[m.Sections]:
    """For whom it is: a part for each reader, with its figure, which is taken from those that were drawn."""
    for made in shortlists:
        picture = drawn.pop(f"shortlist-{made.reader}", None)
        figures = m.section("", picture) if picture is not None else ()
        told = tuple(of_shortlist(made))
        sections = (*m.section("", m.Lines(told)), *figures, *shortlist_sections(made))
        yield m.Sections(titled(made), sections, answer=told[0] if told else "")


def software_sections(material: Material, shown: Comparison) -> tuple[m.Section, ...]:
    """Sets against sets, then item by item."""
    items = m.section("Items", software_table(shown.software, shown.releases, range(len(shown.releases))))
    return (*groups_sections(material.groups), *items) if items else ()


def with_care(comparison: Comparison) -> tuple[m.Section, ...]:
    """Why a comparison is to be read with care, as a section."""
    return m.section("Read with care", m.Lines((*_care(comparison), *_circumstances(comparison))))


def _care(comparison: Comparison) -> Iterator[str]:
    """The reasons for care. Where figures count the runs on common rigs only, what differs between rigs is none."""
    for caveat in comparison.caveats:
        if not (comparison.selection.rigs and caveat.what in _OF_RIGS):
            yield caveat_line(caveat, comparison.releases)


def _circumstances(comparison: Comparison) -> tuple[str, ...]:
    """Which runs figures are made from, and what of several lines may be said."""
    lines = list(dict.fromkeys(line for line in comparison.lines if line))
    return (*selection_lines((comparison.selection,)), *([_OF_SEVERAL] if lines[1:] else []))


_OF_SEVERAL = "These are different products or editions, of which only what all noted is compared."


def linked(drawing: m.Drawing, comparison: Comparison) -> m.Drawing:
    """The timelines, whose screens tell which row of the merged flow they are."""
    rows = {title: row.number for row in comparison.rows for title in row.titles}
    return msgspec.structs.replace(drawing, rows=rows)


def title(comparison: Comparison, crowded: bool, common: str) -> str:
    """The names of what is compared, in one line."""
    named = [
        f"{name} ({counted(len(runs), 'run')})" for name, runs in zip(comparison.releases, comparison.runs, strict=True)
    ]
    what = f"{named[0]} to {named[-1]}, {len(named)} releases" if crowded else " against ".join(named)
    return f"{common}: {what}" if common else what


def answers(comparison: Comparison) -> tuple[m.Section, ...]:
    """What changed most, for each pair of neighbours."""
    pairs = comparison.neighbours
    answers = tuple(
        (f"{each.earlier} to {each.later}" if pairs[1:] else "", " ".join(answer(comparison, each)))
        for each in reversed(pairs[-_MOST_ANSWERS:])  # the latest is what is asked for
    )
    return m.section("In short", m.Answers(answers, _BRIEF_LINES * len(answers)))


def _summary(comparison: Comparison) -> tuple[m.Section, ...]:
    """A line a release, where there are too many to stand side by side."""
    columns = [m.Column("release", gives=True), m.Column("runs", right=True)]
    columns += [m.Column(word, right=True) for word in (*_SUMMARY, "changes", "issues")]
    rows = []
    for place, name in enumerate(comparison.releases):
        changed = sum(change.later == name for change in comparison.changes)
        issues = sum(bool(row.cells[place].seen) for row in comparison.issues)
        cells = [show_spread(comparison.figures[place].get(key), key) for key in _SUMMARY]
        runs = str(len(comparison.runs[place]))
        rows.append(m.Row(m.texts(name, runs, *cells, str(changed) if place else NOTHING, str(issues))))
    first, last = ends(comparison)
    note = f"Below, {last} against {first}; --json has all."
    return m.section("Releases", m.Table(tuple(columns), tuple(rows)), m.Lines((note,)))
