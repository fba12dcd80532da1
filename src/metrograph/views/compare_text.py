"""A comparison in the terminal: the answer in a few lines, then care, timelines, screens, changes, figures, issues."""

from __future__ import annotations

from collections.abc import Sequence
from collections.abc import Set as AbstractSet

import msgspec

from metrograph.analysis.lanes import Lanes
from metrograph.model.comparison import Cell, Change, Comparison, ReadingRow, Row
from metrograph.model.figures import FIGURES
from metrograph.views.brief import render_brief
from metrograph.views.figures_text import (
    NOTHING,
    ends,
    render_conclusions,
    render_effort,
    render_times,
    show_spread,
)
from metrograph.views.issues_text import issue_table
from metrograph.views.lanes_text import render_lanes
from metrograph.views.paper import Paper
from metrograph.views.run_text import show_value
from metrograph.views.safe import readable
from metrograph.views.sentences import rests_on, sentence
from metrograph.views.table import Column, render_lines, render_table
from metrograph.views.table_cells import screen_time

_MOVES = frozenset({"screen-moved", "screen-crossed"})
_LEFT, _ACROSS = 42, 12  # columns of all that is not a release, and of a release


def render_comparison(comparison: Comparison, lanes: Lanes, paper: Paper) -> str:
    """The whole comparison; of too many releases for the paper a summary, and the last against the baseline."""
    comparison, lanes = readable(comparison), readable(lanes)
    title = _title(comparison, paper) + render_brief(comparison, paper)
    summary = ""
    if len(comparison.releases) > most_releases(paper):
        summary = _summary(comparison, paper)
        comparison = narrowed(comparison, ends(comparison))
    parts = [
        title,
        _care(comparison, paper),
        summary,
        render_lanes(lanes, paper) if not summary else "",
        _screens(comparison, paper),
        _changes(comparison, paper),
        render_times(comparison, paper),
        render_effort(comparison.releases, comparison.figures, paper),
        render_conclusions(comparison, paper),
        _issues(comparison, paper),
        _readings(comparison, paper),
        _trials(comparison, paper),
    ]
    return paper.finish("\n".join(part for part in parts if part))


def most_releases(paper: Paper) -> int:
    """How many releases stand side by side with their cells whole: 3 at 80 columns, 6 at 120; in a pipe, all."""
    return 10**6 if paper.piped else max((paper.width - _LEFT) // _ACROSS, 3)


def narrowed(comparison: Comparison, names: Sequence[str]) -> Comparison:
    """The same with some of its releases only."""
    places = [comparison.releases.index(name) for name in names]

    def pick(values: tuple[object, ...]) -> tuple[object, ...]:
        return tuple(values[place] for place in places)

    def within(changes: Sequence[Change]) -> tuple[Change, ...]:
        return tuple(each for each in changes if {each.earlier, each.later} <= set(names))

    rows = [msgspec.structs.replace(row, cells=pick(row.cells)) for row in comparison.rows]
    issues = [msgspec.structs.replace(row, cells=pick(row.cells)) for row in comparison.issues]
    readings = [msgspec.structs.replace(row, values=pick(row.values)) for row in comparison.readings]
    checks = [msgspec.structs.replace(row, results=pick(row.results)) for row in comparison.checks]
    per_release = {
        name: pick(getattr(comparison, name)) for name in ("releases", "runs", "overviews", "times", "figures")
    }
    return msgspec.structs.replace(
        comparison,
        **per_release,
        rows=tuple(row for row in rows if any(row.cells)),
        changes=within((*comparison.changes, *comparison.since_baseline)),
        since_baseline=(),
        contrasts=tuple(each for each in comparison.contrasts if {each.earlier, each.later} <= set(names)),
        issues=tuple(row for row in issues if any(cell.standing != "absent" for cell in row.cells)),
        checks=tuple(row for row in checks if set(row.results) != {"not tried"}),
        readings=tuple(row for row in readings if any(value is not None for value in row.values)),
        care=tuple(msgspec.structs.replace(each, values=pick(each.values)) for each in comparison.care),
    )


def _title(comparison: Comparison, paper: Paper) -> str:
    """What is compared, in a line where it fits, and against what."""
    named = [
        f"{name} ({_count(len(runs), 'run')})" for name, runs in zip(comparison.releases, comparison.runs, strict=True)
    ]
    sides = " against ".join(named)
    if len(named) > most_releases(paper):
        sides = f"{named[0]} to {named[-1]}, {len(named)} releases"
    lines = render_lines([sides], paper, indent=0).splitlines()
    return "".join(f"{paper.heading(line)}\n" for line in lines) + f"baseline: {comparison.baseline}\n"


def _count(number: int, word: str) -> str:
    return f"{number} {word}" if number == 1 else f"{number} {word}s"


def _care(comparison: Comparison, paper: Paper) -> str:
    if not comparison.care:
        return ""
    lines = []
    for care in comparison.care:
        values = " | ".join(value or "not said" for value in care.values)
        grounds = "Times cannot be compared: " if care.grounds == "times" else ""
        sentence = care.sentence[0].lower() + care.sentence[1:] if grounds else care.sentence
        lines.append(f"{grounds}{sentence} {values}")
    return paper.heading("Read with care") + "\n" + render_lines(lines, paper)


def _summary(comparison: Comparison, paper: Paper) -> str:
    """A line a release, where there are too many to stand side by side."""
    names = {
        "screens": "screens",
        "decisions": "decisions",
        "desktop": "desktop",
        "hands-on": "hands-on",
        "lost": "lost",
    }
    columns = [Column("release", gives=True), Column("runs", right=True)]
    columns += [Column(word, right=True) for word in names.values()]
    columns += [Column("changes", right=True), Column("issues", right=True)]
    rows = []
    for place, (name, runs, figures) in enumerate(
        zip(comparison.releases, comparison.runs, comparison.figures, strict=True)
    ):
        cells = [show_spread(figures.get(key), FIGURES[key].unit) for key in names]
        changed = sum(each.later == name for each in comparison.changes)
        issues = sum(bool(row.cells[place].seen) for row in comparison.issues)
        rows.append([name, str(len(runs)), *cells, str(changed) if place else NOTHING, str(issues)])
    first, last = ends(comparison)
    note = f"Below, {last} against {first}; --json has all."
    return f"{paper.heading('Releases')}\n{render_table(columns, rows, paper)}{render_lines([note], paper)}"


# -- the aligned screens -----------------------------------------------------------------------------------------------


def _screens(comparison: Comparison, paper: Paper) -> str:
    columns = [
        Column("row", right=True),
        Column("screen", gives=True),
        Column("kind"),
        *(Column(name, right=True, gives=True) for name in comparison.releases),
    ]
    moved = {(each.later, each.title) for each in comparison.changes if each.what in _MOVES}
    rows = [
        [str(row.number), _titles(row), row.kind, *_cells(row, comparison.releases, moved)] for row in comparison.rows
    ]
    marks = "● all pre-set values kept  ○ one changed or typed  ↷ moved  — no such screen"
    key = "" if paper.piped else paper.ink(marks, dim=True) + "\n"
    return f"{paper.heading('Screens, aligned')}\n{render_table(columns, rows, paper)}{key}"


def _cells(row: Row, releases: Sequence[str], moved: AbstractSet[tuple[str, str | None]]) -> list[str]:
    """What each release has of a row. moved: releases with titles of screens that moved since the one before."""
    pairs = zip(releases, row.cells, strict=True)
    return [NOTHING if cell is None else _cell(cell, (name, cell.title) in moved) for name, cell in pairs]


def _titles(row: Row) -> str:
    return " → ".join(row.titles)


def _cell(cell: Cell, moved: bool) -> str:
    """The time that was spent there, behind a mark when it has moved."""
    return ("↷ " if moved else "") + screen_time(cell) + ("" if cell.choices else "  ")


# -- what changed ------------------------------------------------------------------------------------------------------


def _changes(comparison: Comparison, paper: Paper) -> str:
    """Between neighbours; and where there are more than two, between the baseline and the last."""
    every = (*comparison.changes, *comparison.since_baseline)
    pairs = list(dict.fromkeys(zip(comparison.releases, comparison.releases[1:], strict=False)))
    pairs += [pair for pair in [ends(comparison)] if pair not in pairs]
    text = ""
    for earlier, later in pairs:
        own = [each for each in every if (each.earlier, each.later) == (earlier, later)]
        said = [sentence(change) + rests_on(change) for change in own]
        said = said or ["Nothing in screens, questions, answers, trials or the disk."]
        text += f"{paper.heading(f'What changed from {earlier} to {later}')}\n{render_lines(said, paper)}"
    return text


# -- issues and readings -----------------------------------------------------------------------------------------------


def _issues(comparison: Comparison, paper: Paper) -> str:
    if not comparison.issues:
        return ""
    return issue_table("Issues", comparison.releases, range(len(comparison.releases)), comparison.issues, paper)


def _readings(comparison: Comparison, paper: Paper) -> str:
    if not comparison.readings:
        return ""
    columns = [Column("reading", gives=True), Column("state")]
    columns += [Column(name, right=True, gives=True) for name in comparison.releases]
    rows = [[row.name, f"{row.state}, busy" if row.load == "busy" else row.state, *_values(row)]
            for row in comparison.readings]  # fmt: skip
    return f"{paper.heading('Readings')}\n{render_table(columns, rows, paper)}"


def _trials(comparison: Comparison, paper: Paper) -> str:
    if not comparison.checks:
        return ""
    columns = [Column("trial", gives=True), *(Column(name, gives=True) for name in comparison.releases)]
    rows = [
        [row.name, *(NOTHING if each == "not tried" else each for each in row.results)] for row in comparison.checks
    ]
    return f"{paper.heading('Trials')}\n{render_table(columns, rows, paper)}"


def _values(row: ReadingRow) -> list[str]:
    return [NOTHING if value is None else show_value(value, row.unit) for value in row.values]
