"""Lanes: releases above each other on one axis of time, milestones joined, differences said where they arise."""

from __future__ import annotations

from typing import Any

from metrograph.compare.contrasts import Contrast
from metrograph.compare.inference import Confidence
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import show_duration, show_moment
from metrograph.measures.show import show_figure
from metrograph.show.charts.layouts.axis import fading, round_moments
from metrograph.show.charts.layouts.board_layout import MILESTONES, Board, Excess, LaneGroup, Numbered, RigRuns
from metrograph.show.charts.layouts.lanes_layout import Lane
from metrograph.show.charts.sheets.keys import key_room, phase_key, row_of_keys
from metrograph.show.charts.sheets.lettering import LABEL, LEAST, SMALL, fitting, measure, over
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.palette import colours, pale
from metrograph.show.safe import readable
from metrograph.words.caveat_words import difference_of

_NAMES = 136.0  # pixels for the names of releases, where they stand beside the lanes
_LABELS = 34.0  # above a lane: differences, and below them the moments
_EXCESS = 36.0  # above that, where it is said what took longer
_SMALL_LANE = 20  # pixels: below that, a line as thin would lose its colour
_THIN = 0.4  # of a lane, above and below what is no part of the installation
_GAP = 4.0  # between a lane and its runs
_HEAD = 12.0  # pixels between the heading and the first labels
_RUN, _STEP = 6.0, 8.0  # a run's height, and from one to the next
_RIG = 6.0  # between the runs of two rigs
_ISSUE = 18.0  # a line about an issue
_SLOPE = 30.0  # between a release and the labels of the next
_AXIS = 46.0  # below all lanes
_WORDS = {"installed": "installed", "desktop": "desktop", "updated": "fully updated"}


def draw_lanes(board: Board, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    board, paper = readable(board), readable(paper)
    height = sum(_height(group, paper) for group in board.groups) + _HEAD + _AXIS + 48 + key_room(paper)
    with new_sheet(paper, height) as sheet:
        _LanesDrawing(sheet, board).draw()
        return save(sheet, ending, paper.title, describe_lanes(board))


def describe_lanes(board: Board) -> str:
    """The chart in words."""
    told = []
    for group in board.groups:
        moments = [f"{_WORDS[each.name]} after {show_duration(each.value)}" for each in group.milestones]
        told.append(f"{group.name}: {', '.join(moments) or f'took {show_duration(group.lane.total)}'}")
    return "Timelines of installations, one lane a release: " + "; ".join(told) + "."


def _bar_height(paper: Paper) -> float:
    return 30.0 if paper.narrow else 46.0


def _height(group: LaneGroup, paper: Paper) -> float:
    """Pixels of a release with all that stands above and below its lane."""
    name = 20.0 if paper.narrow else 0.0
    excess = _EXCESS if group.excess else 0.0
    return excess + name + _LABELS + _bar_height(paper) + _runs_height(group) + _ISSUE * len(group.issues) + _SLOPE


def _runs_height(group: LaneGroup) -> float:
    if not group.rigs:
        return _GAP
    return _GAP + sum(max(len(rig.lanes), 1.4) * _STEP + _RIG for rig in group.rigs)


class _LanesDrawing:
    """Goes down the sheet release by release; what joins them is drawn from one to the next."""

    def __init__(self, sheet: Sheet, board: Board) -> None:
        self.sheet, self.board = sheet, board
        paper = sheet.paper
        self.left = sheet.left if paper.narrow else _NAMES
        self.scale = (sheet.right - 46 - self.left) / max(board.length, 1.0)
        self.hues = colours(board.phases)
        self.bottoms: dict[str, tuple[float, float]] = {}  # of each milestone above: where its rule ends

    def x(self, at: float) -> float:
        """Where a moment stands."""
        return self.left + at * self.scale

    def draw(self) -> None:
        y = self.sheet.top + _HEAD
        axis = y + sum(_height(group, self.sheet.paper) for group in self.board.groups)
        self.axis(axis)
        for number, group in enumerate(self.board.groups):
            self.group(group, y, first=not number)
            y += _height(group, self.sheet.paper)
        self.keys(axis + _AXIS)

    # -- one release ---------------------------------------------------------------------------------------------------

    def group(self, group: LaneGroup, top: float, first: bool) -> None:
        sheet, tall = self.sheet, _bar_height(self.sheet.paper)
        lane_top = top + (_EXCESS if group.excess else 0) + (20 if sheet.paper.narrow else 0) + _LABELS
        bottom = lane_top + tall + _runs_height(group)
        self.rules(group, lane_top, bottom)
        self.name(group, lane_top, tall)
        self.lane(group.lane, lane_top, tall)
        self.moments(group, lane_top, first)
        if group.excess:
            self.excess(group.excess, lane_top)
        y = lane_top + tall + _GAP
        for rig in group.rigs:
            y = self.rig(rig, y, group)
        self.issues(group, lane_top + tall / 2, bottom)
        self.letters(group, lane_top, tall)

    def name(self, group: LaneGroup, top: float, tall: float) -> None:
        sheet, soft = self.sheet, self.sheet.colours.soft
        runs = f"{group.counted} run{'s' * (group.counted != 1)}" if group.counted else "no run that counts"
        runs += f" + {group.others}" if group.others and group.counted else ""
        if sheet.paper.narrow:
            name = fitting(group.name, 15.0, 260, bold=True)
            sheet.text(sheet.left, top - _LABELS - 6, name, 15.0, fontweight="bold")
            return
        size = 17.0 if measure(group.name, 17.0, bold=True) <= _NAMES - 24 else 12.0
        name = fitting(group.name, size, _NAMES - 24, bold=True)
        sheet.text(self.left - 14, top + tall / 2 - 9, name, size, ha="right", fontweight="bold")
        if group.rigs or group.others:
            sheet.text(self.left - 14, top + tall / 2 + 10, runs, SMALL, ha="right", color=soft)

    def lane(self, lane: Lane, top: float, tall: float) -> None:
        sheet = self.sheet
        for bar in lane.bars:
            edge = (tall * (_THIN if tall > _SMALL_LANE else _THIN / 2)) if bar.aside else 0.0
            upper, lower = top + edge, top + tall - edge
            box = (self.x(bar.start), upper, self.x(bar.end), lower)
            if bar.failed:
                sheet.bar(box, sheet.colours.paper, hatch="xxx", edgecolor=sheet.colours.soft, linewidth=0.6)
                continue
            fill = sheet.fill(self.hues[bar.phase], waiting=bar.who == "machine")
            sheet.bar(box, fill)
            for start, width, share in fading(bar.end, bar.fade):
                faded = pale(fill, sheet.colours.paper, share)
                sheet.bar((self.x(start), upper, self.x(start + width) + 0.3, lower), faded)
            if bar.torn:
                self.torn(self.x(bar.end), top, tall)
        for at in lane.breaks:
            x = self.x(at)
            sheet.line([x, x], [top - 2, top + tall + 2], color=sheet.colours.paper, linewidth=3, zorder=3)
            sheet.line([x, x], [top - 2, top + tall + 2], linewidth=1, linestyle=(0, (2, 2)), zorder=3)

    def torn(self, x: float, top: float, tall: float) -> None:
        """A cut of unknown length: an edge that is torn."""
        teeth = max(3, round(tall / 6))
        xs = [x + (3.0 if place % 2 else -3.0) for place in range(teeth + 1)]
        ys = [top + tall * place / teeth for place in range(teeth + 1)]
        self.sheet.line(xs, ys, color=self.sheet.colours.paper, linewidth=4, zorder=3)
        self.sheet.line(xs, ys, linewidth=1.2, zorder=3)

    def letters(self, group: LaneGroup, top: float, tall: float) -> None:
        """The names of the phases in their bars: whole where they fit, else their first letter, else nothing."""
        ends = [*[mark.at for mark in group.lane.phases[1:]], group.lane.end]
        for mark, end in zip(group.lane.phases, ends, strict=False):  # a run of nothing has no phase
            bars = [bar for bar in group.lane.bars if mark.at <= bar.start < end]
            longest = max(bars, key=lambda bar: bar.end - bar.start, default=None)
            if longest is None or longest.failed:
                continue
            if longest.aside:  # beside the thin line that it is
                room = self.x(end) - self.x(mark.at)
                if measure(mark.label, SMALL) + 6 <= room:
                    middle = (self.x(mark.at) + self.x(end)) / 2
                    self.sheet.put([(middle, top + tall * _THIN / 2, "center")], mark.label, SMALL)
                continue
            ink = over(self.sheet.fill(self.hues[mark.label], longest.who == "machine"))
            for text in (mark.label, mark.label[:1]):
                if self.put_into((self.x(longest.start), self.x(longest.end)), text, top + tall / 2, ink):
                    break
                if self.put_into((self.x(mark.at), self.x(end)), text, top + tall / 2, ink):
                    break

    def put_into(self, ends: tuple[float, float], text: str, y: float, ink: str) -> bool:
        """Writes a name into a bar, in its middle or beside what stands there; whether it fits."""
        left, right = ends
        room = right - left - measure(text, SMALL) - 6
        places = [(left + 3 + room * share, y, "left") for share in (0.5, 0.85, 0.15, 1.0, 0.0)]
        return room >= 0 and self.sheet.put(places, text, SMALL, color=ink)

    def rig(self, rig: RigRuns, y: float, group: LaneGroup) -> float:
        """The runs on one rig, thin; gives where the next begin."""
        sheet = self.sheet
        middle = y + (len(rig.lanes) * _STEP - 2) / 2
        if not sheet.paper.narrow:
            words = fitting(rig.rig, LEAST, _NAMES - 24) + (f" + {rig.more}" if rig.more else "")
            sheet.text(self.left - 14, middle, words, LEAST, ha="right", color=sheet.colours.soft)
        for lane in rig.lanes:
            self.lane(lane, y, _RUN)
            for mark in lane.flags:
                sheet.line([self.x(mark.at)] * 2, [y - 1, y + _RUN + 1], linewidth=1, zorder=4)
            for issue in group.issues:
                if issue.run == lane.name:
                    sheet.number(self.x(issue.at), y + _RUN / 2, str(issue.number))
            y += _STEP
        return max(y, middle + 5) + _RIG

    # -- moments and what joins them -----------------------------------------------------------------------------------

    def rules(self, group: LaneGroup, top: float, bottom: float) -> None:
        """Upright through a release, sloping to the one above."""
        for each in group.milestones:
            x = self.x(each.at)
            if each.name in self.bottoms:
                above_x, above_y = self.bottoms[each.name]
                self.sheet.line([above_x, x], [above_y, top - _LABELS + 2], linewidth=1, zorder=1)
            upper = top - (_LABELS - 2 if each.name in self.bottoms else 16)
            self.sheet.line([x, x], [upper, bottom], zorder=4)
            self.sheet.take((x - 1, top, x + 1, bottom))
            self.bottoms[each.name] = (x, bottom)

    def moments(self, group: LaneGroup, top: float, first: bool) -> None:
        """What the rules mean: the moment, and how it differs from the release above."""
        unsure = [each for each in group.milestones if each.since and each.since.confidence is Confidence.UNKNOWN]
        for each in group.milestones:
            x = self.x(each.at)
            before = each.name == MILESTONES[0]
            side, other = ((-5, "right"), (5, "left")) if before else ((5, "left"), (-5, "right"))
            places = [(x + step, top - 10, ha) for step, ha in (side, other)]
            self.sheet.put(places, show_duration(each.value), LABEL, fontweight="bold")
            upper = [(x + step, top - 25, ha) for step, ha in (side, other)]
            if first or each.since is None:
                if first:
                    self.sheet.put(upper, _WORDS[each.name], LABEL)
                continue
            if group.excess and each.name == group.excess.milestone:
                continue  # said where it arises
            chance = "may be chance"
            if unsure == list(group.milestones):  # said once, of all of them
                chance = "all may be chance" if each is unsure[-1] else ""
            look, words = self.difference(each.since, chance)
            for text in (words, difference_of(each.since)):
                if self.sheet.put(upper[:1], text, LABEL, **look, **_backed(self.sheet)):
                    break

    def difference(self, since: Contrast, chance: str) -> tuple[dict[str, str], str]:
        """How a difference looks and what is said of it: bold where clear, plain where likely, grey where chance."""
        words, own = difference_of(since), self.sheet.colours
        if since.confidence is Confidence.UNKNOWN:
            return {"color": own.soft}, f"{words}, {chance}" if chance else words
        hue = own.worse if (since.difference[0] or 0.0) > 0 else own.better
        if since.confidence is Confidence.CLEAR:
            return {"color": hue, "fontweight": "bold"}, words
        return {"color": hue}, f"{words}, likely"

    def excess(self, excess: Excess, top: float) -> None:
        """The largest delay at the place where it arises."""
        sheet, hue = self.sheet, self.sheet.colours.worse
        left, right, y = self.x(excess.start), self.x(excess.end), top - 6
        share = "all" if excess.all_of_it else "most"
        words = f"{difference_of(excess.since)}, {share} of it in “{excess.phase}”"
        if excess.fetched:
            words += f": {_size(excess.fetched[1])} to fetch, not {_size(excess.fetched[0])}"
        sheet.line([left, left, right, right], [y + 5, y, y, y + 5], color=hue, linewidth=1.4, zorder=5)
        above = top - _LABELS - 12
        places = [(left, above, "left"), (right, above, "right"), (sheet.right, above, "right")]
        for text in (words, words.rsplit(": ", 1)[0], difference_of(excess.since)):
            if sheet.put(places, text, LABEL, color=hue, fontweight="bold", **_backed(sheet)):
                return

    # -- issues, axis, keys --------------------------------------------------------------------------------------------

    def issues(self, group: LaneGroup, middle: float, bottom: float) -> None:
        """Numbers at their moments, and below the runs what they stand for."""
        for place, issue in enumerate(group.issues):
            if issue.run is None:
                self.sheet.number(self.x(issue.at), middle, str(issue.number))
            self.told(issue, bottom + _ISSUE * (place + 0.5))

    def told(self, issue: Numbered, y: float) -> None:
        sheet = self.sheet
        room = sheet.right - self.left - 30
        met = _met(issue)
        words = fitting(issue.summary, LABEL, room - measure(f" · {met}", LABEL))
        whole = 22 + measure(words, LABEL) + measure(f" · {met}", LABEL)
        x = max(min(self.x(issue.at), sheet.right - whole), self.left + 8)
        sheet.number(x, y, str(issue.number))
        sheet.text(x + 13, y, words, LABEL, **_backed(sheet))
        sheet.text(x + 15 + measure(words, LABEL), y, f"· {met}", LABEL, color=sheet.colours.soft, **_backed(sheet))

    def axis(self, y: float) -> None:
        sheet, board = self.sheet, self.board
        for moment in round_moments(board.length - board.zero, 6 if sheet.paper.narrow else 10, board.zero):
            x = self.x(board.zero + moment)
            sheet.line([x, x], [sheet.top + _LABELS, y], color=sheet.colours.faint, linewidth=1, zorder=0)
            sheet.put([(x, y + 12, "center")], show_moment(moment), SMALL, color=sheet.colours.soft)

    def keys(self, y: float) -> None:
        sheet = self.sheet
        y = phase_key(sheet, self.hues, y, self.left)
        words = [f"full: hands-on, {'dim' if sheet.paper.dark else 'pale'}: waiting"]
        lanes = [lane for group in self.board.groups for lane in group.lanes]
        bars = [bar for lane in lanes for bar in lane.bars]
        words += ["low: looking around"] * any(bar.aside for bar in bars)
        words += ["crossed: an attempt that failed"] * any(bar.failed for bar in bars)
        words += ["thin: each run, with its own moments"] * any(group.rigs for group in self.board.groups)
        words += ["fading: a cut, from its least to its most"] * any(bar.fade > bar.end for bar in bars)
        words += ["torn: a cut of unknown length"] * any(bar.torn for bar in bars)
        words += ["dashed: paused"] * any(lane.breaks for lane in lanes)
        row_of_keys(sheet, words, y, self.left)


def _backed(sheet: Sheet) -> dict[str, Any]:
    """Text on a piece of paper of its own, so that a rule behind it does not cross it."""
    return {"bbox": {"facecolor": sheet.colours.paper, "edgecolor": "none", "pad": 1.0}}


def _met(issue: Numbered) -> str:
    """By how many runs an issue was met."""
    where = f", {' and '.join(issue.rigs)} only" if issue.rigs else ""
    if issue.of == 1:
        return "its only run"
    if issue.met == issue.of:
        return "both runs" if issue.of == 2 else f"all {issue.of} runs"
    return f"{issue.met} of {issue.of} runs{where}"


def _size(amount: Range) -> str:
    return show_figure(amount, Unit.BYTES, "update download")
