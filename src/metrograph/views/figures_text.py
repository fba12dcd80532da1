"""Figures of releases side by side in the terminal: times, effort, and what may be concluded from their differences."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.language.times import show_duration
from metrograph.model.comparison import Comparison, PhaseTime
from metrograph.model.contrasts import Contrast
from metrograph.model.figures import EFFORT, FIGURES, TIMES, Spread
from metrograph.model.ranges import ZERO, Range, difference
from metrograph.views.paper import Paper
from metrograph.views.sentences import conclusion, difference_of, tell_difference
from metrograph.views.table import Column, render_lines, render_table

NOTHING = "—"
_INDENTED = {"hands-on": "  hands-on", "waiting": "  waiting"}
_METHODS = {
    "permutation": "all ways to split the runs in two",
    "sampled permutation": "a sample of the ways to split the runs in two",
}


def render_times(comparison: Comparison, paper: Paper) -> str:
    """Durations side by side; the last column sets the last release against the baseline."""
    pair = ends(comparison)
    contrasts = {each.name: each for each in comparison.contrasts if (each.earlier, each.later) == pair}
    columns = [Column("median of runs", gives=True)]
    columns += [Column(name, right=True, gives=True) for name in comparison.releases]
    columns.append(Column("difference", right=True))
    rows = []
    for name in TIMES:
        spreads = [figures.get(name) for figures in comparison.figures]
        if any(spreads):
            cells = [show_spread(each, FIGURES[name].unit) for each in spreads]
            said = _difference(spreads, pair, comparison.releases)
            rows.append([_INDENTED.get(name, FIGURES[name].words), *cells, said + _sureness(contrasts.get(name))])
    phases = dict.fromkeys(phase for times in comparison.times for phase in times.phases)
    rows += [_phase_row(phase, comparison, pair) for phase in phases]
    key = "" if paper.piped else paper.ink("(in brackets: hands-on)", dim=True) + "\n"
    return f"{paper.heading('Times')}\n{render_table(columns, rows, paper)}{key}"


def ends(comparison: Comparison) -> tuple[str, str]:
    """The two releases whose difference is shown: the baseline, and the one furthest from it."""
    first, last = comparison.releases[0], comparison.releases[-1]
    return (first, comparison.baseline) if comparison.baseline == last else (comparison.baseline, last)


def _sureness(contrast: Contrast | None) -> str:
    return "" if contrast is None or contrast.verdict == "can't say" else f", {contrast.verdict}"


def _difference(spreads: Sequence[Spread | None], pair: tuple[str, str], releases: Sequence[str]) -> str:
    before, after = (spreads[releases.index(name)] for name in pair)
    return _of_ranges(before.median, after.median) if before and after else ""


def _of_ranges(before: Range, after: Range) -> str:
    low, high = difference(before, after)
    if low is not None and low == high:
        return tell_difference(low, "s", ("longer", "shorter"))
    return " to ".join("?" if bound is None else tell_difference(bound, "s") for bound in (low, high))


def _phase_row(phase: str, comparison: Comparison, pair: tuple[str, str]) -> list[str]:
    """A phase with all its time, and in brackets the part that a person spent."""
    times: list[PhaseTime | None] = [each.phases.get(phase) for each in comparison.times]
    cells = [f"{show_duration(time.on_clock)} ({show_duration(time.person)})" if time else NOTHING for time in times]
    before, after = (times[comparison.releases.index(name)] for name in pair)
    return [phase, *cells, _of_ranges(before.on_clock if before else ZERO, after.on_clock if after else ZERO)]


def render_effort(releases: Sequence[str], figures: Sequence[dict[str, Spread]], paper: Paper, line: str = "") -> str:
    """What an installation asks of a person, a row a figure; the least and the most of the runs in brackets."""
    columns = [Column("median of runs", gives=True), *(Column(name, right=True, gives=True) for name in releases)]
    names = [name for name in EFFORT if any(name in own for own in figures)]
    rows = [
        [
            f"  {FIGURES[name].words}" if name in {"kept", "chosen", "typed"} else FIGURES[name].words,
            *(show_spread(own.get(name), FIGURES[name].unit, spread=True) for own in figures),
        ]
        for name in names
    ]
    return f"{paper.heading(f'Effort {line}'.strip())}\n{render_table(columns, rows, paper)}"


def show_spread(value: Spread | None, unit: str, spread: bool = False) -> str:
    """The median of a figure; with ``spread`` also the least and the most, where they differ."""
    if value is None:
        return NOTHING
    said = show_figure(value.median, unit)
    if (
        not spread
        or value.runs == 1
        or value.most is None
        or show_number(value.least, unit) == show_number(value.most, unit)
    ):
        return said
    return f"{said} ({show_number(value.least, unit)}–{show_number(value.most, unit)})"


def show_figure(value: Range, unit: str) -> str:
    """A figure: a duration, a count, or per cent."""
    if unit == "s":
        return show_duration(value)
    return show_number(value.low, unit)


def show_number(value: float, unit: str) -> str:
    """One number of a figure."""
    return show_duration(Range(value, value)) if unit == "s" else f"{value:.3g}{' %' if unit == '%' else ''}"


def render_conclusions(comparison: Comparison, paper: Paper) -> str:
    """For each pair what may be concluded, and how that was worked out."""
    text = ""
    for pair in dict.fromkeys((each.earlier, each.later) for each in comparison.contrasts):
        heading = paper.heading(f"What may be concluded from {pair[0]} to {pair[1]}")
        text += f"{heading}\n{render_lines(conclusion_lines(comparison, pair), paper)}"
    return text


def conclusion_lines(comparison: Comparison, pair: tuple[str, str]) -> list[str]:
    """What may be concluded of one pair, and how that was worked out, in sentences."""
    own = [each for each in comparison.contrasts if (each.earlier, each.later) == pair]
    lines = [conclusion(each) for each in own if each.verdict != "can't say"]
    lines += [_not_sure(own)] if any(each.verdict == "can't say" for each in own) else []
    return [*lines, *_grounds(own)]


def _not_sure(contrasts: Sequence[Contrast]) -> str:
    names = [
        f"{FIGURES[each.name].words if each.name in FIGURES else each.name} ({difference_of(each)})"
        for each in contrasts
        if each.verdict == "can't say" and difference_of(each) != "same"
    ]
    return f"Can't say, may be chance: {', '.join(names)}." if names else "Of the rest nothing can be said."


def _grounds(contrasts: Sequence[Contrast]) -> list[str]:
    """How many runs there are, on which rigs, and what spread was taken."""
    first = contrasts[0]
    runs = " against ".join(
        _runs(max(counts)) for counts in zip(*((c.before.runs, c.after.runs) for c in contrasts), strict=True)
    )
    tested = sum(each.chance is not None for each in contrasts)
    corrected = f"; corrected for {tested} figures" if tested > 1 else ""
    on = f", those on {', '.join(first.rigs)} only" if first.rigs else ""
    said = [f"{runs}{on}{corrected}."]
    methods = {each.method for each in contrasts}
    said += [f"Held against {_METHODS[method]}." for method in _METHODS if method in methods]
    if "known spread" in methods:
        borrowed = list(dict.fromkeys(name for each in contrasts for name in each.borrowed))
        of = f" and of {', '.join(borrowed)}" if borrowed else ""
        own = max(each.before.runs for each in contrasts) > 1 or max(each.after.runs for each in contrasts) > 1
        said.append(f"The spread is that of repeats {f'of their own{of}' if own else of.removeprefix(' and ')}.")
    if methods == {"none"}:
        said.append("No release was installed twice, so nobody knows how much such figures spread.")
    return said


def _runs(count: int) -> str:
    return "1 run" if count == 1 else f"{count} runs"
