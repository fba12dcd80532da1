"""Shows results in tests as the commands show them: laid out, reported, written."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.run.records import Run
from metrograph.show.charts.layouts.lanes_layout import Lanes, lay_lanes
from metrograph.show.report.comparing.comparison_report import ROOM, comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing
from metrograph.show.report.run import run_report
from metrograph.show.terminal.terminal_writer import write
from metrograph.show.terminal.text import Medium, room_for


def show_sides(sides: Sequence[Side], paper: Medium) -> str:
    """A comparison of these sides."""
    return show_comparison(compare(sides), lay_lanes([run for side in sides for run in side.runs]), paper)


def show_comparison(comparison: Comparison, lanes: Lanes, paper: Medium) -> str:
    """A comparison with its timelines."""
    material = Material(comparison, (Drawing("runs", lanes),))
    return write(comparison_report(material, room_for(ROOM, paper)), paper)


def show_run(run: Run, paper: Medium) -> str:
    """One run with its timeline."""
    return write(run_report(run, Drawing("runs", lay_lanes([run]), run.run)), paper)
