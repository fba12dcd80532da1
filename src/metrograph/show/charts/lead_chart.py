"""The lead: along the installation of one release, by how much sooner or later another has got as far."""

from __future__ import annotations

from metrograph.log.quantities.ranges import exactly
from metrograph.log.quantities.times import show_duration
from metrograph.show.charts.layouts.axis import round_moments
from metrograph.show.charts.layouts.lead_layout import Checkpoint, Lead, LeadRun
from metrograph.show.charts.sheets.keys import row_of_keys
from metrograph.show.charts.sheets.lettering import LABEL, SMALL, fitting, measure
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.palette import colours
from metrograph.show.safe import readable

_LEFT, _RIGHT = 112.0, 110.0  # pixels for the axis, and for the names at the lines' ends
_TALL, _SHORT = 520.0, 360.0  # pixels of the lines' field, on a wide sheet and on a narrow one
_TURN = 0.08  # of the most: so much is gained or lost between two moments that are worth a word
_SMALL = 30.0  # seconds: less is not worth one
_SAID = {"installed": "installed", "desktop": "desktop", "updated": "fully updated"}


def draw_lead(lead: Lead, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    lead, paper = readable(lead), readable(paper)
    with new_sheet(paper, (_SHORT if paper.narrow else _TALL) + 96) as sheet:
        _LeadDrawing(sheet, lead).draw()
        return save(sheet, ending, paper.title, describe_lead(lead))


def describe_lead(lead: Lead) -> str:
    """The chart in words."""
    first = lead.runs[0]
    told = [f"{_moment(point)} {_ahead(point.ahead)}" for point in first.points if point.milestone]
    return f"Where {first.name} gains and loses against {lead.baseline}: {', '.join(told) or 'nothing in common'}."


def _moment(point: Checkpoint) -> str:
    return _SAID[point.name] if point.milestone else f"at “{point.name}”"


def _ahead(seconds: float) -> str:
    """``4:30 sooner``."""
    if abs(seconds) < 1:
        return "at the same time"
    return f"{show_duration(exactly(round(1000 * abs(seconds))))} {'sooner' if seconds > 0 else 'later'}"


class _LeadDrawing:
    """Time of the baseline across, sooner upwards."""

    def __init__(self, sheet: Sheet, lead: Lead) -> None:
        self.sheet, self.lead = sheet, lead
        narrow = sheet.paper.narrow
        self.left = sheet.left + (64 if narrow else _LEFT)
        self.right = sheet.right - (64 if narrow else _RIGHT)
        self.top, self.bottom = sheet.top + 18, sheet.top + (_SHORT if narrow else _TALL)
        points = [point for run in lead.runs for point in run.points]
        self.high = max(60.0, *(point.most for point in points))
        self.low = min(-60.0, *(point.least for point in points))
        self.length = max(lead.lane.end, 1.0)

    def x(self, at: float) -> float:
        """Where a moment of the baseline stands."""
        return self.left + (self.right - self.left) * min(at / self.length, 1.0)

    def y(self, ahead: float) -> float:
        """Where so many seconds sooner are."""
        return self.top + (self.bottom - self.top - 30) * (self.high - ahead) / (self.high - self.low)

    def draw(self) -> None:
        self.axes()
        for number, run in reversed(list(enumerate(self.lead.runs))):
            self.run(run, first=not number)
        self.words(self.lead.runs[0])
        self.lane()

    def axes(self) -> None:
        sheet = self.sheet
        for point in self.lead.runs[0].points:
            sheet.line([self.x(point.at)] * 2, [self.top, self.bottom], color=sheet.colours.faint, zorder=0)
        step = max(self.high - self.low, 1.0)
        moments = round_moments(step, 5)
        for moment in moments[1:]:
            for ahead in (moment, -moment):
                if self.low <= ahead <= self.high:
                    y = self.y(ahead)
                    sheet.line([self.left, self.right], [y, y], color=sheet.colours.faint, zorder=0)
                    words = show_duration(exactly(round(1000 * abs(ahead)))) if sheet.paper.narrow else _ahead(ahead)
                    sheet.put([(self.left - 8, y, "right")], words, SMALL, color=sheet.colours.soft)
        sheet.line([self.left, self.right], [self.y(0)] * 2, linewidth=1.2, zorder=2)
        sheet.take((self.left, self.y(0) - 1, self.right, self.y(0) + 1))
        room = self.left - sheet.left - 8
        like = fitting(f"like {self.lead.baseline}", SMALL, room)
        sheet.put([(self.left - 8, self.y(0), "right")], like, SMALL)

    def run(self, run: LeadRun, first: bool) -> None:
        """A release: a band for its runs, a line for their medians, its name at the end."""
        sheet = self.sheet
        hue = sheet.colours.ink if first else sheet.colours.soft
        xs = [self.x(point.at) for point in run.points]
        band = [(x, self.y(point.most)) for x, point in zip(xs, run.points, strict=True)]
        band += reversed([(x, self.y(point.least)) for x, point in zip(xs, run.points, strict=True)])
        sheet.area(band, hue, alpha=0.14 if first else 0.08, zorder=1)
        ys = [self.y(point.ahead) for point in run.points]
        sheet.line(
            xs, ys, color=hue, linewidth=2.6 if first else 1.6, zorder=5 if first else 3, alpha=1 if first else 0.7
        )
        name = fitting(run.name, 13.0 if first else SMALL, sheet.right - xs[-1] - 10, bold=first)
        look = {"fontweight": "bold"} if first else {}
        places = [(xs[-1] + 10, ys[-1] + step, "left") for step in (0, 14, -14, 28, -28)]
        sheet.put(places, name, 13.0 if first else SMALL, color=hue, **look)
        if first:
            for point, x, y in zip(run.points, xs, ys, strict=True):
                if point.milestone:
                    sheet.line([x], [y], marker="o", markersize=6, color=hue, linestyle="none", zorder=6)
                    sheet.take((x - 5, y - 5, x + 5, y + 5))
            self.keep_free(xs, ys)

    def keep_free(self, xs: list[float], ys: list[float]) -> None:
        """Nothing is written on a line."""
        for (x0, y0), (x1, y1) in zip(zip(xs, ys, strict=True), zip(xs[1:], ys[1:], strict=True), strict=False):
            pieces = max(1, round(max(abs(x1 - x0), abs(y1 - y0)) / 8))
            for piece in range(pieces):
                share = (piece + 0.5) / pieces
                x, y = x0 + share * (x1 - x0), y0 + share * (y1 - y0)
                self.sheet.take((x - 3, y - 3, x + 3, y + 3))

    def words(self, run: LeadRun) -> None:
        """What is gained and lost, at the turns."""
        sheet, most = self.sheet, max(abs(point.ahead) for point in run.points)
        before = 0.0
        for point in sorted(run.points, key=lambda each: (not each.milestone, each.at)):
            step = abs(point.ahead - self.ahead_before(run, point))
            if (
                not point.name
                or abs(point.ahead) < 1
                or (
                    not point.milestone and (step < _TURN * most or step < _SMALL or abs(point.ahead - before) < _SMALL)
                )
            ):
                continue
            hue = sheet.colours.better if point.ahead > 0 else sheet.colours.worse
            look = {"color": sheet.colours.soft} if point.chance else {"color": hue, "fontweight": "bold"}
            x, y = self.x(point.at), self.y(point.ahead)
            up = -16 if point.ahead > 0 else 18
            heights = (up, -up, 0, 2 * up)
            places = [(x + step, y + height, ha) for height in heights for step, ha in ((-10, "right"), (12, "left"))]
            chance = ", may be chance" if point.chance else ""
            for text in (f"{_moment(point)} {_ahead(point.ahead)}{chance}", f"{_moment(point)} {_ahead(point.ahead)}"):
                if sheet.put(places, text, LABEL, **look):
                    break
            before = point.ahead

    def ahead_before(self, run: LeadRun, point: Checkpoint) -> float:
        """Where it was at the moment before."""
        place = run.points.index(point)
        return run.points[place - 1].ahead if place else 0.0

    def lane(self) -> None:
        """The baseline itself, as a bar below."""
        sheet, lead = self.sheet, self.lead
        y = self.bottom + 8
        hues = colours(lead.phases)
        name = fitting(lead.baseline, 13.0, self.left - sheet.left - 8, bold=True)
        sheet.put([(self.left - 8, y + 8, "right")], name, 13.0, fontweight="bold")
        for bar in lead.lane.bars:
            fill = sheet.fill(hues[bar.phase], waiting=bar.who == "machine")
            upper, lower = (y + 6, y + 10) if bar.aside else (y, y + 16)
            sheet.bar((self.x(bar.start), upper, self.x(bar.end), lower), fill)
        ends = [*[mark.at for mark in lead.lane.phases[1:]], lead.lane.end]
        for mark, end in zip(lead.lane.phases, ends, strict=False):
            if measure(mark.label, SMALL) <= self.x(end) - self.x(mark.at):
                middle = (self.x(mark.at) + self.x(end)) / 2
                sheet.put([(middle, y + 27, "center")], mark.label, SMALL, color=sheet.colours.soft)
        words = ["above the line: sooner", "below it: later", "band: its runs"]
        words += [f"{lead.left_out} more are left out"] * bool(lead.left_out)
        row_of_keys(sheet, words, y + 52, sheet.left)
