"""The shortlist: each release a bar of what its wishes are worth, what is not known hatched, beside it its ranks."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.judging.shortlist_records import JudgedRelease, Shortlist, WishPart
from metrograph.show.charts.sheets.keys import row_of_keys
from metrograph.show.charts.sheets.lettering import LABEL, LEAST, SMALL, fitting, measure, over
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.palette import LINES, OWN_COLOURS, lifted, pale
from metrograph.show.safe import readable
from metrograph.words.shortlist_words import lacking, of_100, worth

_HUES = (*LINES, *OWN_COLOURS)
_ROW, _BAR = 52.0, 26.0  # pixels from release to release, and of a bar
_NARROW_ROW = 68.0  # where a name stands above its bar
_NAMES, _RANKS = 200.0, 300.0  # pixels of the names, and of the ranks
_NARROW_RANKS = 150.0  # pixels of the ranks on a narrow sheet
_MOST_RANKS = 8  # ranks side by side: of more the numbers would not fit
_ABOVE, _BELOW = 34.0, 64.0  # for the scale, and for the key
_OUT = 24.0  # from one that is left out to the next
_GAP = 34.0  # pixels between the bars and the ranks
_HATCH = "////"


def draw_shortlist(made: Shortlist, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    made, paper = readable(made), readable(paper)
    inside = made.in_question
    row = _NARROW_ROW if paper.narrow else _ROW
    tall = _ABOVE + row * len(inside) + _OUT * (len(made.order) - len(inside)) + _BELOW + _key_rows(made, paper) * 20
    with new_sheet(paper, tall) as sheet:
        _ShortlistDrawing(sheet, made).draw()
        return save(sheet, ending, paper.title, describe_shortlist(made))


def describe_shortlist(made: Shortlist) -> str:
    """The chart in words."""
    lines = [
        f"{each.release} is worth {worth(each.worth)} of 100 and comes first in {of_100(each.first)} samples"
        for each in made.in_question
    ]
    lines += [f"{each.release} is left out" for each in made.order if each.passes is False]
    return f"For {made.reader}: {'; '.join(lines) or 'nothing'}."


def _key_rows(made: Shortlist, paper: Paper) -> int:
    """Rows that the key of the wishes takes."""
    wide = sum(measure(fitting(wish, SMALL, 160), SMALL) + 44 for wish in _wishes(made))
    return int(wide // (paper.width - 2 * paper.margin)) + 1


def _wishes(made: Shortlist) -> list[str]:
    return [part.wish for part in made.in_question[0].parts] if made.in_question else []


class _ShortlistDrawing:
    """Releases downwards in their order; across, what they are worth, then their ranks."""

    def __init__(self, sheet: Sheet, made: Shortlist) -> None:
        self.sheet, self.made = sheet, made
        narrow = sheet.paper.narrow
        self.row = _NARROW_ROW if narrow else _ROW
        self.left = sheet.left if narrow else sheet.left + _NAMES
        self.right = sheet.right - (_NARROW_RANKS if narrow else _RANKS) - _GAP
        self.top = sheet.top + _ABOVE
        self.hues = {wish: self._hue(place) for place, wish in enumerate(_wishes(made))}

    def _hue(self, place: int) -> str:
        hue = _HUES[place % len(_HUES)]
        return lifted(hue, self.sheet.colours.paper) if self.sheet.paper.dark else hue

    def x(self, share: float) -> float:
        """Where a worth stands, 0 to 1."""
        return self.left + (self.right - self.left) * share

    def draw(self) -> None:
        inside = self.made.in_question
        if inside:
            self.scale(len(inside))
            self.ranks(inside)
        for place, each in enumerate(inside):
            self.release(each, self.top + place * self.row)
        y = self.top + len(inside) * self.row + 12
        for each in self.made.order[len(inside) :]:
            self.out(each, y)
            y += _OUT
        self.key(y + 14)

    def scale(self, count: int) -> None:
        """From nothing to all that the wishes can be worth together."""
        sheet, bottom = self.sheet, self.top + count * self.row
        for share in (0.0, 0.25, 0.5, 0.75, 1.0):
            x = self.x(share)
            sheet.line([x, x], [self.top - 8, bottom], color=sheet.colours.faint, zorder=0)
            sheet.text(x, self.top - 18, f"{round(100 * share)}", SMALL, ha="center", color=sheet.colours.soft)

    def release(self, each: JudgedRelease, y: float) -> None:
        sheet, narrow = self.sheet, self.sheet.paper.narrow
        middle = y + self.row / 2 + (10 if narrow else 0)
        room = self.right - sheet.left if narrow else _NAMES - 16
        sheet.text(sheet.left, y + 12 if narrow else middle, fitting(each.release, LABEL, room, bold=True), LABEL,
                   fontweight="bold")  # fmt: skip
        if each.passes is None and not narrow:
            told = fitting(f"open: {', '.join(need.required for need in each.left_open)}", LEAST, room)
            sheet.text(sheet.left, middle + 15, told, LEAST, color=sheet.colours.soft)
        x = self.left
        for part in each.parts:
            x = self.part(part, x, middle, part.weight * part.worth[0])
        for part in each.parts:  # what is not known comes last, so that the full bar ends at what is
            x = self.part(part, x, middle, part.weight * (part.worth[1] - part.worth[0]), known=False)
        sheet.text(x + 7, middle, worth(each.worth), SMALL)

    def part(self, part: WishPart, x: float, middle: float, share: float, known: bool = True) -> float:
        """What one wish makes of a release; gives where the next begins."""
        sheet, end = self.sheet, x + (self.right - self.left) * share
        if end - x < 0.5:
            return end
        hue, box = self.hues[part.wish], (x, middle - _BAR / 2, end, middle + _BAR / 2)
        if known:
            sheet.bar(box, hue, edgecolor=sheet.colours.paper, linewidth=0.8, zorder=2)
        else:
            faint = pale(hue, sheet.colours.paper, 0.86)
            sheet.bar(box, faint, hatch=_HATCH, edgecolor=pale(hue, sheet.colours.paper, 0.3), linewidth=0.8, zorder=2)
        if measure(part.wish, LEAST) <= end - x - 8:
            ink = over(hue) if known else sheet.colours.ink
            sheet.text((x + end) / 2, middle, part.wish, LEAST, ha="center", color=ink)
        return end

    def ranks(self, inside: Sequence[JudgedRelease]) -> None:
        """How often each comes at each rank: a bar at each, of its share of all samples."""
        sheet, count = self.sheet, min(len(inside), _MOST_RANKS)
        left = self.right + _GAP + (22 if sheet.paper.narrow else 30)
        step = (sheet.right - left) / max(count, 1)
        for rank in range(count):
            x = left + (rank + 0.5) * step
            sheet.text(x, self.top - 18, f"{rank + 1}.", SMALL, ha="center", color=sheet.colours.soft)
        for place, each in enumerate(inside):
            base = self.top + place * self.row + self.row / 2 + _BAR / 2 + (10 if sheet.paper.narrow else 0)
            sheet.line([left, sheet.right], [base, base], color=sheet.colours.faint, zorder=1)
            for rank, share in enumerate(each.ranks[:count]):
                self.rank(left + rank * step, base, step, share, best=rank == 0)

    def rank(self, x: float, base: float, step: float, share: float, best: bool) -> None:
        """One share: as high as it is large, its number above it."""
        sheet, tall = self.sheet, share * (_BAR + 4)
        if share < 0.005:
            return
        colour = sheet.colours.ink if best else sheet.colours.soft
        sheet.bar((x + step * 0.2, base - tall, x + step * 0.8, base), colour, zorder=2)
        if step >= 16:
            sheet.text(x + step / 2, base - tall - 7, f"{max(round(100 * share), 1)}", LEAST, ha="center", color=colour)

    def out(self, each: JudgedRelease, y: float) -> None:
        """One that lacks what is required, with what it has instead."""
        sheet = self.sheet
        told = f"{each.release} is left out: {', '.join(map(lacking, each.failed))}"
        sheet.text(sheet.left, y, fitting(told, SMALL, sheet.right - sheet.left), SMALL, color=sheet.colours.soft)

    def key(self, y: float) -> None:
        """What the hues are, and what hatching means."""
        sheet, x = self.sheet, self.sheet.left
        for wish, hue in self.hues.items():
            name = fitting(wish, SMALL, 160)
            wide = 18 + measure(name, SMALL) + 22
            if x + wide > sheet.right and x > sheet.left:
                x, y = sheet.left, y + 20
            sheet.bar((x, y - 6, x + 12, y + 6), hue)
            sheet.text(x + 18, y, name, SMALL)
            x += wide
        words = ["hatched: not known, may be worth anything", "right: share of all samples at each rank, of 100"]
        row_of_keys(sheet, words if self.hues else [], y + 22, sheet.left)
