"""The strip: every screen of the merged flow is a stop, every release a line through the stops; no scale of time.

Stops stand below each other, so that a title of any length is read as it is written and no two can meet.
"""

from __future__ import annotations

from metrograph.present.charts.layouts.strip import ReleaseLine, StopMark, Strip, StripStop
from metrograph.present.charts.sheet import FAINT, INK, LABEL, MARGIN, SMALL, SOFT, WIDTH, Sheet, new_sheet, save
from metrograph.present.palette import colours, dark
from metrograph.present.safe import readable
from metrograph.present.terminal.text import abbreviate
from metrograph.present.wording.figures import duration_or_nothing

_TOP, _ROW, _BOTTOM = 104.0, 21.0, 52.0  # points
_TITLES = 0.3  # of the width at least, for the titles of the stops
_WIDEST = 150.0  # points between two lines
_DOT, _BAR = 9.0, 7.0  # points: the size of a stop's mark, half the width of a passing line's bar
_KEY = "● pre-set values kept   ○ something changed or typed   • nothing asked   ┼ passed without stopping   ↷ moved"


def draw_strip(strip: Strip, title: str, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` (1280 pixels wide) or ``pdf``. title: what is compared."""
    strip, title = readable(strip), readable(title)
    height = _TOP + _ROW * max(len(strip.screens), 1) + _BOTTOM
    with new_sheet(height) as sheet:
        sheet.heading(
            title, "Screens in the order of the merged flow; beside each stop the time spent there (median of runs)."
        )
        hues = colours(strip.phases)
        gap = min(_WIDEST, WIDTH * (1 - _TITLES) / max(len(strip.lines), 1))
        left = WIDTH - MARGIN - gap * len(strip.lines) + 14
        _write_stops(sheet, strip, left - 14)
        for place, line in enumerate(strip.lines):
            _draw_line(sheet, line, left + gap * place, gap, hues)
        _write_key(sheet, hues, height)
        return save(sheet.figure, ending, title, describe_strip(strip))


def describe_strip(strip: Strip) -> str:
    """The picture in words."""
    count = len(strip.screens)
    lines = [f"{line.name} stops at {sum(stop is not None for stop in line.stops)} of {count} screens"
            for line in strip.lines]  # fmt: skip
    return "Releases as lines through the screens of their installers: " + "; ".join(lines) + "."


def _y(stop: int) -> float:
    return _TOP + _ROW * (stop + 0.5)


def _write_stops(sheet: Sheet, strip: Strip, right: float) -> None:
    for stop, title in enumerate(strip.screens):
        y = _y(stop)
        sheet.line([MARGIN, WIDTH - MARGIN], [y + _ROW / 2] * 2, color=FAINT, linewidth=0.6, zorder=0)
        sheet.text(MARGIN + 14, y, str(stop + 1), SMALL, ha="right", color=SOFT)
        room = right - MARGIN - 26
        sheet.text(MARGIN + 22, y, sheet.fitting(title, LABEL, room), LABEL)


def _draw_line(sheet: Sheet, line: ReleaseLine, x: float, gap: float, hues: dict[str, str]) -> None:
    """A release from its first stop to its last."""
    ends = [place for place, stop in enumerate(line.stops) if stop is not None]
    for row, text in enumerate(_name(line.name, sheet, gap - 10)):
        sheet.text(x - _BAR, _TOP - 40 + 12 * row, text, SMALL, fontweight="bold")
    sheet.text(x - _BAR, _TOP - 14, f"{line.runs} run{'s' * (line.runs != 1)}", SMALL, color=SOFT)
    if ends:
        sheet.line(
            [x, x], [_y(ends[0]), _y(ends[-1])], color="#b8bdc5", linewidth=2.4, zorder=1, solid_capstyle="round"
        )
    for place, stop in enumerate(line.stops):
        if stop is not None:
            _draw_stop(sheet, stop, x, place, gap, hues)
        elif ends and ends[0] < place < ends[-1]:
            sheet.line([x - _BAR, x + _BAR], [_y(place)] * 2, color=SOFT, linewidth=1.6, zorder=2)


def _name(name: str, sheet: Sheet, room: float) -> list[str]:
    """A release's name in two lines at most."""
    if sheet.measure(name, SMALL, bold=True) <= room:
        return ["", name]
    words = name.split("-")
    for cut in range(len(words) - 1, 0, -1):
        parts = ["-".join(words[:cut]) + "-", "-".join(words[cut:])]
        if all(sheet.measure(part, SMALL, bold=True) <= room for part in parts):
            return parts
    short = (abbreviate(name, columns) for columns in range(len(name), 3, -1))
    fits = next((cut for cut in short if sheet.measure(cut, SMALL, bold=True) <= room), name)
    return ["", sheet.fitting(fits, SMALL, room, bold=True)]


def _draw_stop(sheet: Sheet, stop: StripStop, x: float, place: int, gap: float, hues: dict[str, str]) -> None:
    y, hue = _y(place), hues[stop.phase]
    if stop.comes_after is not None and stop.comes_after != place:
        look = {"color": dark(hue), "linewidth": 1.3, "zorder": 2}
        sheet.curve((x, _y(stop.comes_after)), (x, y), -2.2 * _BAR, **look)
        sheet.line([x - _BAR], [y], marker=">", markersize=5, color=dark(hue), zorder=4)
    face = "white" if stop.mark is StopMark.CHANGED else hue
    size = _DOT / 2 if stop.mark is StopMark.PLAIN else _DOT
    sheet.line(
        [x], [y], marker="o", markersize=size, markerfacecolor=face, markeredgecolor=hue, markeredgewidth=2.2, zorder=3
    )
    time = duration_or_nothing(stop.time)
    sheet.text(x + _BAR + 4, y, sheet.fitting(time, SMALL, gap - 2.4 * _BAR - 12), SMALL, color=INK)


def _write_key(sheet: Sheet, hues: dict[str, str], height: float) -> None:
    """What the marks mean, and the phases with their hues, below the stops."""
    sheet.text(MARGIN, height - 34, _KEY, SMALL, color=SOFT)
    x = MARGIN
    for phase, hue in hues.items():
        name = sheet.fitting(phase, SMALL, 120)
        sheet.line([x + 4], [height - 16], marker="s", markersize=6, color=hue)
        sheet.text(x + 11, height - 16, name, SMALL, color=dark(hue))
        x += sheet.measure(name, SMALL) + 24
