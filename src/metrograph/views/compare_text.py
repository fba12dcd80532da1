"""A comparison in the terminal: care first, then lanes, aligned screens, what changed, times, issues, readings."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

from metrograph.analysis.lanes import Lanes
from metrograph.language.times import show_difference, show_duration
from metrograph.model.comparison import Cell, Comparison, PhaseTime, ReadingRow, Row, Times
from metrograph.model.ranges import ZERO, Range, difference
from metrograph.views.lanes_text import render_lanes
from metrograph.views.paper import Paper
from metrograph.views.run_text import show_value
from metrograph.views.safe import readable
from metrograph.views.sentences import sentence
from metrograph.views.table import Column, render_lines, render_table

_NOTHING = "—"


def render_comparison(comparison: Comparison, lanes: Lanes, paper: Paper) -> str:
    """The whole comparison."""
    comparison, lanes = readable(comparison), readable(lanes)
    parts = [
        _title(comparison, paper),
        _care(comparison, paper),
        render_lanes(lanes, paper),
        _screens(comparison, paper),
        _changes(comparison, paper),
        _times(comparison, paper),
        _issues(comparison, paper),
        _readings(comparison, paper),
    ]
    return paper.finish("\n".join(part for part in parts if part))


def _title(comparison: Comparison, paper: Paper) -> str:
    named = zip(comparison.releases, comparison.runs, strict=True)
    sides = " against ".join(f"{name} ({_count(len(runs), 'run')})" for name, runs in named)
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
        lines.append(f"{care.sentence} {values}")
    return paper.heading("Read with care") + "\n" + render_lines(lines, paper)


# -- the aligned screens -----------------------------------------------------------------------------------------------


def _screens(comparison: Comparison, paper: Paper) -> str:
    columns = [
        Column("screen", gives=True),
        Column("kind"),
        *(Column(name, right=True, gives=True) for name in comparison.releases),
    ]
    rows = [[_titles(row), row.kind, *(_cell(cell) for cell in row.cells)] for row in comparison.rows]
    marks = "● all pre-set values kept  ○ something changed or typed  — no such screen"
    key = "" if paper.piped else paper.ink(marks, dim=True) + "\n"
    return f"{paper.heading('Screens, aligned')}\n{render_table(columns, rows, paper)}{key}"


def _titles(row: Row) -> str:
    return " → ".join(row.titles)


def _cell(cell: Cell | None) -> str:
    if cell is None:
        return _NOTHING
    changed = any(choice.how != "kept" for choice in cell.choices)
    mark = " ○" if changed else " ●" if cell.choices else "  "
    return show_duration(cell.on_clock) + mark


# -- what changed ------------------------------------------------------------------------------------------------------


def _changes(comparison: Comparison, paper: Paper) -> str:
    text = ""
    for earlier, later in dict.fromkeys(pairwise(comparison.releases)):
        own = [each for each in comparison.changes if (each.earlier, each.later) == (earlier, later)]
        said = [sentence(change) for change in own] or ["Nothing in screens, questions, answers or trials."]
        text += f"{paper.heading(f'What changed from {earlier} to {later}')}\n{render_lines(said, paper)}"
    return text


# -- times -------------------------------------------------------------------------------------------------------------


def _times(comparison: Comparison, paper: Paper) -> str:
    """Durations side by side; the last column sets the last release against the baseline."""
    columns = [Column("median of runs", gives=True)]
    columns += [Column(name, right=True, gives=True) for name in comparison.releases]
    columns.append(Column("difference", right=True))
    parts: dict[str, Callable[[Times], Range | None]] = {
        "to the first question": lambda times: times.milestones.first_question,
        "to installed": lambda times: times.milestones.installed,
        "to the desktop": lambda times: times.milestones.desktop,
        "to updated": lambda times: times.milestones.updated,
        "on the clock": lambda times: times.on_clock,
        "  hands-on": lambda times: times.person,
        "  waiting": lambda times: times.machine,
        "lost to trouble": lambda times: times.lost,
    }
    rows = [[name, *_durations([part(times) for times in comparison.times])] for name, part in parts.items()]
    phases = dict.fromkeys(phase for times in comparison.times for phase in times.phases)
    rows += [_phase_row(phase, [times.phases.get(phase) for times in comparison.times]) for phase in phases]
    key = "" if paper.piped else paper.ink("(in brackets: hands-on)", dim=True) + "\n"
    return f"{paper.heading('Times')}\n{render_table(columns, rows, paper)}{key}"


def _phase_row(phase: str, times: list[PhaseTime | None]) -> list[str]:
    """A phase with all its time, and in brackets the part that a person spent."""
    *_, difference = _durations([time.on_clock if time else None for time in times])
    cells = [f"{show_duration(time.on_clock)} ({show_duration(time.person)})" if time else _NOTHING for time in times]
    return [phase, *cells, difference]


def _durations(values: list[Range | None]) -> list[str]:
    shown = [_NOTHING if value is None else show_duration(value) for value in values]
    return [*shown, _difference(values[0] or ZERO, values[-1] or ZERO) if values[0] or values[-1] else ""]


def _difference(before: Range, after: Range) -> str:
    """Last against first, with longer or shorter in words, or the bounds of it."""
    low, high = difference(before, after)
    if low is not None and low == high:
        word = "" if round(low) == 0 else " longer" if low > 0 else " shorter"
        return show_difference(low) + word
    return " to ".join("?" if bound is None else show_difference(bound) for bound in (low, high))


# -- issues and readings -----------------------------------------------------------------------------------------------


def _issues(comparison: Comparison, paper: Paper) -> str:
    if not comparison.issues:
        return ""
    columns = [Column("issue", gives=True), *(Column(name, gives=True) for name in comparison.releases)]
    rows = []
    for issue in comparison.issues:
        cells = [
            f"{standing}, {seen} of {_count(len(runs), 'run')}" if seen else standing
            for seen, standing, runs in zip(issue.seen, issue.standing, comparison.runs, strict=True)
        ]
        rows.append([issue.summary, *(_NOTHING if cell == "absent" else cell for cell in cells)])
    return f"{paper.heading('Issues')}\n{render_table(columns, rows, paper)}"


def _readings(comparison: Comparison, paper: Paper) -> str:
    if not comparison.readings:
        return ""
    columns = [Column("reading", gives=True), Column("state")]
    columns += [Column(name, right=True, gives=True) for name in comparison.releases]
    rows = [[row.name, f"{row.state}, busy" if row.load == "busy" else row.state, *_values(row)]
            for row in comparison.readings]  # fmt: skip
    return f"{paper.heading('Readings')}\n{render_table(columns, rows, paper)}"


def _values(row: ReadingRow) -> list[str]:
    return [_NOTHING if value is None else show_value(value, row.unit) for value in row.values]
