"""What stands above a figure: what is to be seen in it, and which runs it is made from."""

from __future__ import annotations

from metrograph.ledgers.comparison import Comparison
from metrograph.present.charts.paper import WIDE, Paper
from metrograph.present.wording.answers.comparison import care, screens, times
from metrograph.present.wording.answers.words import listed
from metrograph.present.wording.names import on_rig

_TIMES, _SCREENS = frozenset({"lanes", "lead"}), frozenset({"strip"})
_SENTENCES = 2


def above(chart: str, comparison: Comparison) -> tuple[str, ...]:
    """The answer that a figure of a comparison gives: of the latest release against the one before it."""
    if len(comparison.releases) < 2:
        return ()
    pair = comparison.releases[-2], comparison.releases[-1]
    if chart in _TIMES:
        return tuple(times(comparison, pair))[:_SENTENCES]
    if chart in _SCREENS:
        told = tuple(screens(comparison, pair))[:_SENTENCES]
        return told or (f"Nothing that was noted differs between the screens of {pair[0]} and {pair[1]}.",)
    return ()


def made_from(chart: str, comparison: Comparison) -> str:
    """Which runs the figure is made from."""
    if chart == "album":
        return ""
    rigs = comparison.selection.rigs
    of = (
        f"Medians of the runs on {listed([on_rig(rig) for rig in rigs])}"
        if rigs
        else "Medians of the runs of each release"
    )
    if chart == "timetable":
        return "Every run is a line, time on the clock from power-on."
    left = " ".join(care(comparison, (comparison.releases[0], comparison.releases[-1]))) if not rigs else ""
    counted = {out.run for out in comparison.selection.left_out}
    elsewhere = " Runs elsewhere are drawn, but not counted." if rigs and counted and chart == "lanes" else ""
    return f"{of}.{elsewhere} {left}".strip()


CAPTIONS = {
    "lanes": "Time on the clock from power-on, to scale.",
    "strip": "Each release in its own order of screens, hung from its restart.",
    "lead": "Read from left to right along the installation of the one that the others are held against.",
    "album": "Screens as they were seen; what differs from the release to the left is framed.",
    "timetable": "Flat is waiting, steep is quick, a rise is going back.",
}
"""How each figure of a comparison is read."""


def paper_for(
    chart: str, comparison: Comparison, title: str, width: int = WIDE, dark: bool = False, bare: bool = False
) -> Paper:
    """What a figure of a comparison is drawn on: its title, what is to be seen in it, and what it is made from."""
    caption = f"{CAPTIONS[chart]} {made_from(chart, comparison)}".strip()
    return Paper(title, above(chart, comparison), caption, width, dark, bare)
