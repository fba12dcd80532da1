"""The report of a comparison: the answer in short, caveats, timelines, screens, changes, figures, issues."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

import msgspec

from metrograph.compare.contrasts import Contrast
from metrograph.compare.records import MOVES, CaveatKind, FlowCell, FlowRow
from metrograph.ledgers.comparison import Comparison, SideReading
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import TASK, TIMES, measure_of, words_of
from metrograph.measures.show import show_figure
from metrograph.present.report import model as m
from metrograph.present.report.by_line import sides
from metrograph.present.report.comparing.glance import at_a_glance, effort_in_short, issues_in_short
from metrograph.present.report.comparing.material import Material, narrowed
from metrograph.present.report.effort import effort_table
from metrograph.present.report.issues import issue_blocks
from metrograph.present.report.ledgers import checks_rows, claims_sections, facts_table, weight_table
from metrograph.present.report.run import about, particulars, trouble
from metrograph.present.report.verdicts import ratings_table, software_table, verdict_sections
from metrograph.present.wording.answers.charts import above
from metrograph.present.wording.answers.comparison import answer
from metrograph.present.wording.caveats import caveat_line
from metrograph.present.wording.changes import not_known, rests_on, sentence
from metrograph.present.wording.contrasts import conclusions, how_sure
from metrograph.present.wording.figures import (
    counted,
    duration_and_hands_on,
    duration_or_nothing,
    show_spread,
    signed_difference,
)
from metrograph.present.wording.ledgers import only_words
from metrograph.present.wording.runs import choice
from metrograph.present.wording.selection import selection_lines
from metrograph.run.records import Run

ROOM = m.Room(fixed=42, side=12, least=3)
"""3 releases at 80 columns, 6 at 120."""

_BRIEF_LINES, _MOST_ANSWERS = 7, 3
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
    drawn = {drawing.chart: _linked(drawing, whole) for drawing in material.drawings}
    first = next((name for name in ("lanes", "runs") if name in drawn), "")
    timelines = () if crowded or not first else (m.Section("", (drawn.pop(first),)),)
    places = range(len(shown.releases))
    return m.Report(
        title=_title(whole, crowded, material.common),
        lines=_below(whole),
        head=_answers(whole),
        parts=(
            *at_a_glance(whole),
            *m.section("Read with care", m.Lines((*_care(shown), *_circumstances(shown)))),
            *(_summary(whole) if crowded else ()),
            *timelines,
            _changes(shown),
            *_answered(
                m.section("Issues", *issue_blocks(shown.releases, places, shown.issues)), issues_in_short(shown)
            ),
            *(part for drawing in drawn.values() for part in _figure(drawing, shown)),
            *_screens(shown),
            *_times(shown),
            *_answered(m.section("Effort", effort_table(shown.releases, shown.figures)), effort_in_short(shown)),
            _conclusions(shown),
            *_readings(shown),
            *_checks(shown),
            *(m.section("Weight", weight_table(material.weight)) if material.weight else ()),
            *m.section("Software", software_table(shown.software, shown.releases, places)),
            *m.section("Ratings", ratings_table(shown.ratings, shown.releases, places)),
            *verdict_sections(whole.verdicts),
            *(m.section("Facts", facts_table(material.facts)) if material.facts else ()),
            *([m.Sections("Claims", tuple(claims_sections(material.claims)))] if material.claims else ()),
            *(_each(run) for run in material.runs),
        ),
    )  # fmt: skip


def _figure(drawing: m.Drawing, comparison: Comparison) -> Iterator[m.Section]:
    """A figure, with what is to be seen in it."""
    for part in m.section(drawing.title, drawing):
        yield msgspec.structs.replace(part, answer=" ".join(above(drawing.chart, comparison)))


def _answered(parts: Sequence[m.Section], answer: str) -> Iterator[m.Section]:
    return (msgspec.structs.replace(part, answer=answer) for part in parts)


def _each(run: Run) -> m.Sections:
    """What is told of one run beside what all have in common."""
    return m.Sections(run.run, (*m.section("", m.Lines((about(run),))), *trouble(run), *particulars(run)))


def _below(comparison: Comparison) -> tuple[str, ...]:
    """What the others are held against."""
    return (f"baseline: {comparison.baseline}",)


def _care(comparison: Comparison) -> Iterator[str]:
    """The reasons for care. Where figures count the runs on common rigs only, what differs between rigs is none."""
    for caveat in comparison.caveats:
        if not (comparison.selection.rigs and caveat.what in _OF_RIGS):
            yield caveat_line(caveat, comparison.releases)


def _circumstances(comparison: Comparison) -> tuple[str, ...]:
    """Which runs figures are made from, and what of several lines may be said."""
    lines = list(dict.fromkeys(line for line in comparison.lines if line))
    across = (
        f"They continue different lines ({', '.join(lines)}): only what both noted is told, unless “line” on a card"
    )
    return (*selection_lines((comparison.selection,)), *([f"{across} joins them."] if lines[1:] else []))


def _linked(drawing: m.Drawing, comparison: Comparison) -> m.Drawing:
    """The timelines, whose screens tell which row of the merged flow they are."""
    rows = {title: row.number for row in comparison.rows for title in row.titles}
    return msgspec.structs.replace(drawing, rows=rows)


def ends(comparison: Comparison) -> tuple[str, str]:
    """The two releases whose difference is shown: the baseline, and the one furthest from it."""
    first, last = comparison.releases[0], comparison.releases[-1]
    return (first, comparison.baseline) if comparison.baseline == last else (comparison.baseline, last)


def _title(comparison: Comparison, crowded: bool, common: str) -> str:
    """What is compared."""
    named = [
        f"{name} ({counted(len(runs), 'run')})" for name, runs in zip(comparison.releases, comparison.runs, strict=True)
    ]
    what = f"{named[0]} to {named[-1]}, {len(named)} releases" if crowded else " against ".join(named)
    return f"{common}: {what}" if common else what


def _answers(comparison: Comparison) -> tuple[m.Section, ...]:
    """What changed most, for each pair of neighbours."""
    pairs = list(dict.fromkeys(pairwise(comparison.releases)))
    answers = tuple(
        (f"{earlier} to {later}" if pairs[1:] else "", " ".join(answer(comparison, earlier, later)))
        for earlier, later in reversed(pairs[-_MOST_ANSWERS:])  # the latest is what is asked for
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
        rows.append(m.Row(m.texts(name, runs, *cells, str(changed) if place else m.NOTHING, str(issues))))
    first, last = ends(comparison)
    note = f"Below, {last} against {first}; --json has all."
    return m.section("Releases", m.Table(tuple(columns), tuple(rows)), m.Lines((note,)))


# -- the aligned screens -----------------------------------------------------------------------------------------------


def _screens(comparison: Comparison) -> tuple[m.Section, ...]:
    columns = (
        m.Column("row", right=True), m.Column("screen", gives=True), m.Column("kind"),
        *sides(comparison.releases, right=True),
    )  # fmt: skip
    moved = {(change.later, change.title) for change in comparison.changes if change.what in MOVES}
    rows = tuple(_screen_row(row, comparison.releases, moved) for row in comparison.rows)
    key = "● all pre-set values kept  ○ one changed or typed  ↷ moved  — no such screen"
    return m.section("Screens, aligned", m.Table(columns, rows, key=key))


def _screen_row(row: FlowRow, releases: Sequence[str], moved: set[tuple[str, str | None]]) -> m.Row:
    """What each release has of a row, and in words its times and answers in all of them."""
    titles = " → ".join(row.titles)
    pairs = list(zip(releases, row.cells, strict=True))
    cells = [_screen_cell(cell, cell is not None and (name, cell.title) in moved) for name, cell in pairs]
    line = "; ".join(f"{name} {_told(cell)}" for name, cell in pairs)
    return m.Row((*m.texts(str(row.number), titles, row.kind), *cells), row.number, f"{titles}: {line}")


def _screen_cell(cell: FlowCell | None, moved: bool) -> m.Cell:
    """The time that was spent there, after a mark when it has moved, and whether all pre-set values were kept."""
    if cell is None:
        return m.Cell(m.NOTHING)
    changed = any(choice.how != "kept" for choice in cell.choices)
    mark = " ○" if changed else " ●" if cell.choices else "  "
    return m.Cell(
        f"{'↷ ' if moved else ''}{duration_or_nothing(cell.on_clock)}{mark}",
        value=cell.on_clock.low if cell.on_clock else None,
    )


def _told(cell: FlowCell | None) -> str:
    if cell is None:
        return "has no such screen"
    answers = ", ".join(map(choice, cell.choices))
    return duration_or_nothing(cell.on_clock) + (f" ({answers})" if answers else "")


# -- what changed, and what may be concluded ---------------------------------------------------------------------------


def _changes(comparison: Comparison) -> m.Sections:
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


def _conclusions(comparison: Comparison) -> m.Sections:
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


# -- figures -----------------------------------------------------------------------------------------------------------


def _times(comparison: Comparison) -> tuple[m.Section, ...]:
    """Durations side by side; the last column sets the one furthest from the baseline against it."""
    columns = (
        m.Column("median of runs", gives=True),
        *sides(comparison.releases, right=True),
        m.Column("difference", right=True),
    )
    names = dict.fromkeys(name for figures in comparison.figures for name in figures)
    times = (*TIMES, *(name for name in names if name.startswith(TASK)))
    rows = [_time_row(name, comparison) for name in times if name in names]
    phases = dict.fromkeys(phase for times in comparison.times for phase in times.phases)
    rows += [_phase_row(phase, comparison) for phase in phases]
    base, other = ends(comparison)
    key = f"(in brackets: hands-on; the difference is that of {other} to {base})"
    return m.section("Times", m.Table(columns, tuple(rows), key=key))


def _time_row(name: str, comparison: Comparison) -> m.Row:
    spreads = [figures.get(name) for figures in comparison.figures]
    contrast = next(
        (c for c in comparison.contrasts if {c.earlier, c.later} == set(ends(comparison)) and c.name == name), None
    )
    measure = measure_of(name)
    label = "  " * (measure is not None and measure.part_of is not None) + words_of(name)
    cells = [m.Cell(show_spread(value, name), value=value.median.low if value else None) for value in spreads]
    differs = _difference([spread.median if spread else None for spread in spreads], comparison, name)
    return m.Row((m.Cell(label), *cells, m.Cell(differs + (how_sure(contrast) if differs else ""))))


def _difference(values: Sequence[Range | None], comparison: Comparison, name: str) -> str:
    """How much more the one furthest from the baseline has than the baseline, where both have something."""
    before, after = (values[comparison.releases.index(release)] for release in ends(comparison))
    return "" if before is None or after is None else signed_difference(before, after, Unit.SECONDS, name)


def _phase_row(phase: str, comparison: Comparison) -> m.Row:
    """A phase with all its time, and in brackets the part that a person spent."""
    times = [times.phases.get(phase) for times in comparison.times]
    cells = [
        m.Cell(duration_and_hands_on(time.on_clock, time.person), value=time.on_clock.low)
        if time
        else m.Cell(m.NOTHING)
        for time in times
    ]
    differs = _difference([time.on_clock if time else None for time in times], comparison, "on-clock")
    return m.Row((m.Cell(phase), *cells, m.Cell(differs)))


def _readings(comparison: Comparison) -> tuple[m.Section, ...]:
    columns = (m.Column("reading", gives=True), m.Column("state"), *sides(comparison.releases, right=True))
    rows = tuple(m.Row((m.Cell(row.name), m.Cell(_state(row)), *_values(row))) for row in comparison.readings)
    return m.section("Readings", m.Table(columns, rows))


def _state(row: SideReading) -> str:
    return f"{row.state}, {row.load}" if row.load is not None else row.state


def _values(row: SideReading) -> list[m.Cell]:
    return [
        m.Cell(only_words(said) or m.NOTHING)
        if value is None
        else m.Cell(show_figure(value, row.unit, row.name), more=only_words(said), value=value.low)
        for value, said in zip(row.values, row.words, strict=True)
    ]


def _checks(comparison: Comparison) -> tuple[m.Section, ...]:
    columns = (m.Column("trial", gives=True), *sides(comparison.releases))
    return m.section("Trials", m.Table(columns, checks_rows(comparison.checks)))
