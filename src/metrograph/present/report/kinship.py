"""Kinship as a report: a matrix with kin beside each other, and the families below it."""

from __future__ import annotations

from metrograph.compare.kinship import Kinship
from metrograph.present.report import model as m

_ROOM = m.Room(fixed=34, side=8, least=0, whole=True, note="There is no room for the matrix; --json has it.")


def kinship_report(kinship: Kinship) -> m.Report:
    """The matrix, its columns numbered like its rows; of too many releases for the room, the families alone."""
    families = tuple(_family(number, family) for number, family in enumerate(kinship.families, 1))
    return m.Report(
        parts=(*m.section("Kinship, 0 to 1", _matrix(kinship)), *m.section("Families", m.Lines(families))),
        empty="there are no runs",
    )


def _matrix(kinship: Kinship) -> m.Table:
    columns = [m.Column("", right=True), m.Column("release", gives=True)]
    columns += [m.Column(str(number), right=True, side=True) for number in range(1, len(kinship.releases) + 1)]
    rows = tuple(
        m.Row((*m.texts(str(number), release), *(m.Cell(f"{value:.2f}", value=value, exact=f"{value:.4f}", shade=value)
                                                 for value in values)))
        for number, (release, values) in enumerate(zip(kinship.releases, kinship.matrix, strict=True), 1)
    )  # fmt: skip
    return m.Table(tuple(columns), rows, _ROOM)


def _family(number: int, family: tuple[str, ...]) -> str:
    if len(family) == 1:
        return f"{number}. {family[0]}, like no other"
    return f"{number}. {', '.join(family)}"
