"""The whole story in Markdown, for those who publish elsewhere, with links to the figures that lie beside it."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from metrograph.model.comparison import Comparison, Row
from metrograph.model.figures import FIGURES
from metrograph.model.ledgers import ClaimLedger, FactLedger
from metrograph.views.brief import phrases
from metrograph.views.figures_text import NOTHING, conclusion_lines, show_spread
from metrograph.views.issues_text import cell_of, told
from metrograph.views.ledgers_text import claim_cells, fact_cell
from metrograph.views.markdown import bullets, plain, table
from metrograph.views.run_text import show_value
from metrograph.views.safe import readable
from metrograph.views.sentences import rests_on, sentence
from metrograph.views.table_cells import screen_time


def render_report_markdown(
    comparison: Comparison, ledgers: tuple[FactLedger, ClaimLedger], figures: Sequence[tuple[str, str]], masked: int
) -> str:
    """First the answer, then figures, tables, changes and circumstances.

    figures: a title and a file's name each; masked: in how many places personal values were masked.
    """
    comparison = readable(comparison)
    names = [plain(name) for name in comparison.releases]
    parts = [
        f"# {' against '.join(names)}",
        _answers(comparison),
        *(f"![{plain(title)}]({file})" for title, file in figures),
    ]
    rows = [[plain(" → ".join(row.titles)), plain(row.kind), *_times(row)] for row in comparison.rows]
    parts.append(table("Screens, aligned", ["screen", "kind", *names], rows))
    parts.append(table("Times and effort", ["median of runs", *names], _figures(comparison)))
    issues = [
        [plain(row.name or row.summary), *(plain(cell_of(row, cell)) for cell in row.cells)]
        for row in comparison.issues
    ]
    parts.append(table("Issues", ["issue", *names], issues))
    parts.append(bullets("What became of them", [line for row in comparison.issues for line in told(row)], 3))
    readings = [
        [
            plain(f"{row.name}, {row.state}"),
            *(NOTHING if each is None else plain(show_value(each, row.unit)) for each in row.values),
        ]
        for row in comparison.readings
    ]
    parts.append(table("Readings", ["reading", *names], readings))
    trials = [
        [plain(row.name), *(NOTHING if each == "not tried" else each for each in row.results)]
        for row in comparison.checks
    ]
    parts.append(table("Trials", ["trial", *names], trials))
    facts, claims = readable(ledgers)
    cells = [
        [plain(row.name), *(plain(fact_cell(*each)) for each in zip(row.values, row.verdicts, strict=True))]
        for row in facts.rows
    ]
    parts.append(table("Facts", ["fact", *names], cells))
    headings = ["release", "published", "figure", "measured", "runs", "holds"]
    parts.append(table("Claims", headings, [list(map(plain, claim_cells(row))) for row in claims.rows]))
    for earlier, later in pairwise(comparison.releases):
        own = [
            sentence(each) + rests_on(each)
            for each in comparison.changes
            if (each.earlier, each.later) == (earlier, later)
        ]
        parts.append(
            bullets(f"What changed from {plain(earlier)} to {plain(later)}", own or ["Nothing that was noted."])
        )
        parts.append(bullets("What may be concluded", conclusion_lines(comparison, (earlier, later)), 3))
    parts.append(bullets("Read with care", [f"{each.sentence} {' / '.join(each.values)}" for each in comparison.care]))
    if masked:
        parts.append(f"Personal values are masked in {masked} places.")
    return "\n\n".join(part for part in parts if part) + "\n"


def _answers(comparison: Comparison) -> str:
    pairs = pairwise(comparison.releases)
    said = [
        f"**{plain(later)}**: {plain('; '.join(phrases(comparison, earlier, later)) or 'nothing that was noted')}"
        for earlier, later in pairs
    ]
    return "\n\n".join(said)


def _times(row: Row) -> list[str]:
    return [NOTHING if cell is None else plain(screen_time(cell)) for cell in row.cells]


def _figures(comparison: Comparison) -> list[list[str]]:
    return [
        [plain(each.words), *(plain(show_spread(own.get(name), each.unit, spread=True)) for own in comparison.figures)]
        for name, each in FIGURES.items()
        if any(name in own for own in comparison.figures)
    ]
