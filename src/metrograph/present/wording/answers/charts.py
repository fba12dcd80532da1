"""What stands above a figure: what is to be seen in it, and which runs it is made from."""

from __future__ import annotations

from metrograph.ledgers.comparison import Comparison
from metrograph.present.charts.sheets.paper import WIDE, Paper
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


def paper_for(
    chart: str,
    caption: str,
    comparison: Comparison,
    title: str,
    form: tuple[int, bool] = (WIDE, False),
    bare: bool = False,
) -> Paper:
    """What a figure of a comparison is drawn on: its title, what is to be seen in it, how it is read, and of what.

    form: its width in pixels, and whether it is dark; bare: without what stands beside it already.
    """
    below = f"{caption} {made_from(chart, comparison)}".strip()
    return Paper(title, above(chart, comparison), below, *form, bare)
