"""Kinship in the terminal: a matrix with kin beside each other, and the families below it."""

from __future__ import annotations

from metrograph.model.kinship import Kinship
from metrograph.views.paper import Paper
from metrograph.views.safe import readable
from metrograph.views.table import Column, render_lines, render_table

_LEFT, _ACROSS = 34, 8  # columns of a release's name, and of a figure
_SHADES = " ░▒▓█"


def render_kinship(kinship: Kinship, paper: Paper) -> str:
    """The matrix, its columns numbered like its rows; of too many releases for the paper, the families alone."""
    kinship = readable(kinship)
    if not kinship.releases:
        return "there are no runs\n"
    parts = []
    if paper.piped or _LEFT + _ACROSS * len(kinship.releases) <= paper.width:
        parts.append(f"{paper.heading('Kinship, 0 to 1')}\n{_matrix(kinship, paper)}")
    lines = [_family(number, family) for number, family in enumerate(kinship.families, 1)]
    note = [] if parts else ["There is no room for the matrix; --json has it."]
    parts.append(f"{paper.heading('Families')}\n{render_lines([*lines, *note], paper)}")
    return paper.finish("\n".join(parts))


def _matrix(kinship: Kinship, paper: Paper) -> str:
    columns = [Column("", right=True), Column("release", gives=True)]
    columns += [Column(str(number), right=True) for number in range(1, len(kinship.releases) + 1)]
    rows = [
        [str(number), release, *(_value(each, paper) for each in values)]
        for number, (release, values) in enumerate(zip(kinship.releases, kinship.matrix, strict=True), 1)
    ]
    return render_table(columns, rows, paper)


def _value(value: float, paper: Paper) -> str:
    """Two digits, and a shade for the eye."""
    if paper.piped:
        return f"{value:.4f}"
    shade = _SHADES[min(int(value * len(_SHADES)), len(_SHADES) - 1)]
    return f"{value:.2f} {shade}"


def _family(number: int, family: tuple[str, ...]) -> str:
    if len(family) == 1:
        return f"{number}. {family[0]}, like no other"
    return f"{number}. {', '.join(family)}"
