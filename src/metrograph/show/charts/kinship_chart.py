"""Kinship: how alike installers are, as a matrix in which kin stand beside each other, each family in a bracket."""

from __future__ import annotations

from metrograph.compare.kinship import SAME_INSTALLER, Kinship
from metrograph.show.charts.sheets.keys import row_of_keys
from metrograph.show.charts.sheets.lettering import LABEL, SMALL, fitting, measure, over
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.palette import LINES, pale
from metrograph.show.safe import readable
from metrograph.words.figure_words import show_kinship

_LARGEST, _LEAST = 76.0, 3.0  # pixels of a cell
_FIGURES = 34.0  # pixels of a cell from which its figure is written into it
_NAMED = 11.0  # pixels of a row from which its release is named
_HEAD, _BELOW = 26.0, 58.0  # above the cells, for their numbers; below them
_BRACKET = 14.0  # pixels from the cells to a bracket
_ALONE = "like no other"


def draw_kinship(kinship: Kinship, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    kinship, paper = readable(kinship), readable(paper)
    cell = _cell(len(kinship.releases), paper)
    with new_sheet(paper, _HEAD + cell * max(len(kinship.releases), 1) + _BELOW) as sheet:
        _KinshipDrawing(sheet, kinship, cell).draw()
        return save(sheet, ending, paper.title, describe_kinship(kinship))


def describe_kinship(kinship: Kinship) -> str:
    """The chart in words."""
    families = [f"{', '.join(family)}{'' if family[1:] else f', {_ALONE}'}" for family in kinship.families]
    return "How alike installers are, from 0 to 1. Families: " + "; ".join(families) + "."


def _cell(count: int, paper: Paper) -> float:
    room = paper.width - 2 * paper.margin - _names(paper) - _family_room(paper)
    return max(min(room / max(count, 1), _LARGEST), _LEAST)


def _names(paper: Paper) -> float:
    return 120.0 if paper.narrow else 260.0


def _family_room(paper: Paper) -> float:
    return 96.0 if paper.narrow else 220.0


class _KinshipDrawing:
    """Cells, their figures, names at the left, families at the right."""

    def __init__(self, sheet: Sheet, kinship: Kinship, cell: float) -> None:
        self.sheet, self.kinship, self.cell = sheet, kinship, cell
        self.left, self.top = sheet.left + _names(sheet.paper), sheet.top + _HEAD

    def draw(self) -> None:
        for row, release in enumerate(self.kinship.releases):
            self.name(row, release)
            for column, value in enumerate(self.kinship.matrix[row]):
                self.square(row, column, value)
        place = 0
        for family in self.kinship.families:
            self.family(place, family)
            place += len(family)
        bottom = self.top + self.cell * len(self.kinship.releases)
        words = ["the darker, the more alike; 1.00: the same installer", "a bracket: a family"]
        row_of_keys(self.sheet, words, bottom + 30, self.sheet.left)

    def name(self, row: int, release: str) -> None:
        sheet, y = self.sheet, self.top + self.cell * (row + 0.5)
        if self.cell >= _NAMED:
            words = fitting(f"{release}  {row + 1}", SMALL, _names(sheet.paper) - 12)
            sheet.text(self.left - 10, y, words, SMALL, ha="right")
            x = self.left + self.cell * (row + 0.5)
            sheet.put([(x, self.top - 11, "center")], str(row + 1), SMALL, color=sheet.colours.soft)

    def square(self, row: int, column: int, value: float) -> None:
        sheet = self.sheet
        left, top = self.left + self.cell * column, self.top + self.cell * row
        fill = pale(LINES[0], sheet.colours.paper, 1 - value)
        gap = 1.0 if self.cell > 6 else 0.0
        sheet.bar((left, top, left + self.cell - gap, top + self.cell - gap), fill)
        if self.cell >= _FIGURES and row != column:
            middle = left + self.cell / 2, top + self.cell / 2
            sheet.text(*middle, show_kinship(value), SMALL, ha="center", color=over(fill))

    def family(self, place: int, family: tuple[str, ...]) -> None:
        """A bracket around the rows of a family, with what is to be said of it."""
        sheet = self.sheet
        count = len(self.kinship.releases)
        top, bottom = self.top + self.cell * place + 2, self.top + self.cell * (place + len(family)) - 3
        x = self.left + self.cell * count + _BRACKET
        hue = sheet.colours.ink if family[1:] else sheet.colours.soft
        if bottom > top:
            sheet.line([x - 5, x, x, x - 5], [top, top, bottom, bottom], color=hue, linewidth=1.2)
        words = self.said(place, family)
        room = sheet.right - x - 10
        if measure(words, LABEL) > room:
            words = f"{len(family)} kin" if family[1:] else _ALONE
        sheet.put([(x + 9, (top + bottom) / 2, "left")], fitting(words, LABEL, room), LABEL, color=hue)

    def said(self, place: int, family: tuple[str, ...]) -> str:
        if not family[1:]:
            return _ALONE
        rows = range(place, place + len(family))
        least = min(self.kinship.matrix[one][other] for one in rows for other in rows)
        return (
            f"the same installer, {len(family)} times"
            if least >= SAME_INSTALLER
            else f"{len(family)} kin, {least:.2f} at least"
        )
