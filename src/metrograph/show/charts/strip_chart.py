"""The strip: releases as columns of stops hung from their restart; ribbons join screens, crossings are moves."""

from __future__ import annotations

from math import sqrt

from metrograph.compare.flow_records import MOVES, What
from metrograph.show.charts.layouts.strip_layout import Stop, StopMark, Strip, StripColumn, StripGap
from metrograph.show.charts.sheets.keys import key_room, phase_key, row_of_keys
from metrograph.show.charts.sheets.lettering import CAPTION, LABEL, SMALL, fitting, measure
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Box, Sheet, new_sheet, save
from metrograph.show.palette import colours, pale
from metrograph.show.safe import readable
from metrograph.words.figure_words import duration_or_nothing

_HEAD = 44.0  # pixels for the names of the columns
_LEAST = 15.0  # of a stop: as high as its title
_APART = 3.0  # between two stops
_FREE = 26.0  # around the restart
_TALLEST = 380.0  # pixels that the fullest column takes, where its titles leave it so
_BETWEEN, _CLOSE = 0.6, 0.45  # of a column's width, to the next; on a narrow sheet
_EDGE = 9.0  # the edge of a stop, in the colours of its phase
_STUB, _PIECES = 0.42, 6  # of the way to the next column; pieces that a stub fades in
_FEW, _MANY = 3, 6  # columns beside each other, on a narrow sheet and on a wide one
_NAMED = 96.0  # pixels of a column from which all its stops are named
_WORDS = {
    What.SCREEN_NEW: "new", What.SCREEN_RENAMED: "renamed", What.SCREEN_MOVED: "moved", What.SCREEN_CROSSED: "moved",
    What.SCREEN_SPLIT: "split", What.SCREEN_MERGED: "merged",
}  # fmt: skip


def draw_strip(strip: Strip, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``; of more columns than fit the first and the latest."""
    strip, paper = few(readable(strip), _FEW if paper.narrow else _MANY), readable(paper)
    scale = _scale(strip)
    above = max((_stack(column.stops[: column.before], scale) for column in strip.columns), default=0.0)
    below = max((_stack(column.stops[column.before :], scale) for column in strip.columns), default=0.0)
    with new_sheet(paper, _HEAD + above + 2 * _FREE + below + 84 + key_room(paper)) as sheet:
        _StripDrawing(sheet, strip, scale, sheet.top + _HEAD + above + _FREE).draw()
        return save(sheet, ending, paper.title, describe_strip(strip))


def describe_strip(strip: Strip) -> str:
    """The chart in words."""
    told = []
    for column in strip.columns:
        screens = [stop for stop in column.stops if stop.row is not None]
        moved = [stop.title for stop in screens if stop.word in MOVES]
        words = f"{column.name} has {len(screens)} screens"
        told.append(f"{words}, moved: {', '.join(moved)}" if moved else words)
    return "Releases as columns of their installers' screens, each in its own order: " + "; ".join(told) + "."


def few(strip: Strip, most: int) -> Strip:
    """The first column and the latest, where there are more than fit; what lies between them is not joined."""
    left_out = len(strip.columns) - most
    if left_out <= 0:
        return strip
    columns = (strip.columns[0], *strip.columns[1 + left_out :])
    return Strip(columns, (StripGap((), ()), *strip.gaps[1 + left_out :]), strip.phases, left_out)


def _scale(strip: Strip) -> float:
    """Pixels for the root of a second, so that the fullest column is as high as it should be."""
    roots = [sum(sqrt(_seconds(stop)) for stop in column.stops) for column in strip.columns]
    return _TALLEST / max([*roots, 1.0])


def _seconds(stop: Stop) -> float:
    return stop.time.low if stop.time is not None else 0.0


def _tall(stop: Stop, scale: float) -> float:
    return max(_LEAST, scale * sqrt(_seconds(stop)))


def _stack(stops: tuple[Stop, ...], scale: float) -> float:
    return sum(_tall(stop, scale) + _APART for stop in stops)


class _StripDrawing:
    """Columns first, to know where every stop is; then what joins them, and what is written."""

    def __init__(self, sheet: Sheet, strip: Strip, scale: float, restart: float) -> None:
        self.sheet, self.strip, self.scale, self.restart = sheet, strip, scale, restart
        count = max(len(strip.columns), 1)
        between = _CLOSE if sheet.paper.narrow else _BETWEEN
        self.wide = (sheet.right - sheet.left) / (count + between * (count - 1))
        self.step = self.wide * (1 + between)
        self.hues = colours(strip.phases)
        self.boxes = [self.place(column, number) for number, column in enumerate(strip.columns)]

    def place(self, column: StripColumn, number: int) -> list[Box]:
        """Where the stops of a column stand: the last before the restart above it, the first after it below."""
        left = self.sheet.left + number * self.step
        y = self.restart - _FREE - _stack(column.stops[: column.before], self.scale)
        boxes = []
        for place, stop in enumerate(column.stops):
            if place == column.before:
                y = self.restart + _FREE
            boxes.append((left, y, left + self.wide, y + _tall(stop, self.scale)))
            y += _tall(stop, self.scale) + _APART
        return boxes

    def draw(self) -> None:
        for number, gap in enumerate(self.strip.gaps):
            self.gap(gap, number)
        self.line()
        for number, column in enumerate(self.strip.columns):
            self.heading(column, number)
            for stop, box in zip(column.stops, self.boxes[number], strict=True):
                self.stop(stop, box, first=not number)
        self.keys()

    def heading(self, column: StripColumn, number: int) -> None:
        x = self.sheet.left + number * self.step
        y = (self.boxes[number][0][1] if self.boxes[number] else self.restart) - 14
        screens = [stop for stop in column.stops if stop.row is not None]
        before = sum(stop.row is not None for stop in column.stops[: column.before])
        name = fitting(column.name, 16.0, self.wide, bold=True)
        self.sheet.text(x, y, name, 16.0, fontweight="bold")
        words = f"{len(screens)} screens" + (f", {before} before the restart" if before < len(screens) else "")
        start = measure(name, 16.0, bold=True) + 10
        for text in (words, f"{len(screens)} screens"):
            if start + measure(text, CAPTION) <= min(self.step - 8, self.sheet.right - x):
                self.sheet.text(x + start, y, text, CAPTION, color=self.sheet.colours.soft)
                break

    def stop(self, stop: Stop, box: Box, first: bool) -> None:
        left, top, right, bottom = box
        sheet, hue = self.sheet, self.hues[stop.phase]
        sheet.bar(box, sheet.colours.band, zorder=2)
        person = stop.person.low if stop.person is not None else 0.0
        share = min(person / _seconds(stop), 1.0) if _seconds(stop) else 1.0
        sheet.bar((left, top, left + _EDGE, bottom), sheet.fill(hue, waiting=True), zorder=3)
        sheet.bar((left, top, left + _EDGE, top + share * (bottom - top)), sheet.fill(hue), zorder=3)
        middle = (top + bottom) / 2
        self.mark(stop, left + _EDGE + 11, middle)
        time = duration_or_nothing(stop.time)
        room = self.wide - _EDGE - 26
        bold = {"fontweight": "bold"} if stop.word else {}
        if room - measure(time, SMALL) - 6 >= measure(stop.title, LABEL, bool(bold)) or stop.time is None:
            sheet.text(right - 5, middle, time, SMALL, ha="right", color=sheet.colours.soft)
            room -= measure(time, SMALL) + 6
        if self.wide >= _NAMED or first or stop.word:
            ink = sheet.colours.soft if stop.row is None else sheet.colours.ink
            title = fitting(stop.title, LABEL, room, bool(bold))
            sheet.text(left + _EDGE + 20, middle, title, LABEL, color=ink, **bold)

    def mark(self, stop: Stop, x: float, y: float) -> None:
        ink, paper = self.sheet.colours.ink, self.sheet.colours.band
        size = 3.0 if stop.mark is StopMark.PLAIN else 8.0
        face = paper if stop.mark is StopMark.CHANGED else ink
        self.sheet.line(
            [x], [y], marker="o", markersize=size * 0.72, markerfacecolor=face, markeredgecolor=ink,
            markeredgewidth=1.1, zorder=4, linestyle="none",
        )  # fmt: skip

    def gap(self, gap: StripGap, number: int) -> None:
        """What joins two columns: what stays first, so that what moved lies on it."""
        left, right = self.boxes[number], self.boxes[number + 1]
        columns = self.strip.columns[number], self.strip.columns[number + 1]
        for joined in sorted(gap.joined, key=lambda each: each.moved):
            hue = self.sheet.fill(self.hues[columns[1].stops[joined.right].phase])
            fill = hue if joined.moved else pale(hue, self.sheet.colours.paper, 0.84)
            self.sheet.ribbon(
                left[joined.left], right[joined.right], fill, alpha=0.8 if joined.moved else 1.0, zorder=1
            )
        for place in gap.gone:
            self.stub(left[place], self.hues[columns[0].stops[place].phase], True, "gone")
        for stop, box in zip(columns[1].stops, right, strict=True):
            if stop.word is not None:
                self.stub(box, self.hues[stop.phase], False, _WORDS[stop.word], stop.word is What.SCREEN_NEW)

    def stub(self, box: Box, hue: str, forward: bool, word: str, fades: bool = True) -> None:
        """What came or went: a band that fades away, with a word."""
        sheet = self.sheet
        edge = box[2] if forward else box[0]
        step = (self.step - self.wide) * _STUB / _PIECES * (1 if forward else -1)
        for piece in range(_PIECES if fades else 0):
            ends = sorted((edge + piece * step, edge + (piece + 1) * step))
            faded = pale(sheet.fill(hue), sheet.colours.paper, 0.72 + 0.28 * piece / _PIECES)
            sheet.bar((ends[0], box[1], ends[1], box[3]), faded, zorder=1)
        ink = {"gone": sheet.colours.worse, "new": sheet.colours.better}.get(word, sheet.colours.ink)
        x, ha = (edge + 6, "left") if forward else (edge - 6, "right")
        if measure(word, SMALL, bold=True) + 10 <= self.step - self.wide:
            sheet.put([(x, (box[1] + box[3]) / 2, ha)], word, SMALL, color=ink, fontweight="bold")

    def line(self) -> None:
        if self.strip.restarts:
            hue = self.sheet.fill(colours(("restart",))["restart"])
            self.sheet.line([self.sheet.left, self.sheet.right], [self.restart] * 2, color=hue, linewidth=2, zorder=3)
            x = self.sheet.left + (self.wide + self.step) / 2 if self.strip.gaps else self.sheet.left + self.wide / 2
            back = {"facecolor": self.sheet.colours.paper, "edgecolor": "none", "pad": 1.0}
            self.sheet.put([(x, self.restart - 9, "center")], "restart", LABEL, color=hue, fontweight="bold", bbox=back)

    def keys(self) -> None:
        bottom = max((box[3] for boxes in self.boxes for box in boxes), default=self.restart)
        y = phase_key(self.sheet, self.hues, bottom + 30, self.sheet.left)
        words = ["● all pre-set values kept", "○ something changed or typed", "· nothing asked", "full ribbon: moved"]
        words += ["a stop is as high as the root of its time", "its edge: hands-on full, waiting pale"]
        words += [f"{self.strip.left_out} releases after the first are left out"] * bool(self.strip.left_out)
        row_of_keys(self.sheet, words, y, self.sheet.left)
