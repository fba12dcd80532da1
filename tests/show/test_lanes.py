"""Lanes: the axis, breaks, numbers, and lining up."""

import unittest

from metrograph.core.errors import MetrographError
from metrograph.show.charts.layouts.lanes_layout import LanePoint, lay_lanes, ticks
from tests.helpers import run_of

SHORT = "0:00 screen Language\n1:00 screen Copying files\n3:00 phase desktop\n4:00 issue a: x\n5:00 end done"
LONG = "0:00 screen Language\n2:00 pause\n9:00 resume\n10:00 screen Copying files\n12:00 phase desktop\n13:00 issue a: x\n14:00 end done"


class LaneCharts(unittest.TestCase):
    def test_pauses_take_no_room(self) -> None:
        lane = lay_lanes([run_of(LONG)]).lanes[0]
        self.assertEqual((lane.end, lane.breaks), (7 * 60, (120,)))
        self.assertEqual([(bar.start, bar.end) for bar in lane.bars], [(0, 120), (120, 180), (180, 300), (300, 420)])

    def test_one_issue_has_one_number_in_all_lanes(self) -> None:
        lanes = lay_lanes([run_of(SHORT), run_of(LONG)])
        self.assertEqual(lanes.issues, ("x",))
        self.assertEqual([lane.issues for lane in lanes.lanes], [(LanePoint(240, "1"),), (LanePoint(360, "1"),)])

    def test_lined_up_at_a_phase(self) -> None:
        lanes = lay_lanes([run_of(SHORT), run_of(LONG)], "copy")
        self.assertEqual([mark.at for lane in lanes.lanes for mark in lane.phases if mark.label == "copy"], [180, 180])
        self.assertEqual((lanes.zero, lanes.lanes[0].start, lanes.length), (180, 120, 420))

    def test_a_phase_that_a_run_has_not(self) -> None:
        with self.assertRaisesRegex(MetrographError, "no phase “tour”.*questions, copy, desktop"):
            lay_lanes([run_of(SHORT)], "tour")

    def test_ticks_are_round_and_few(self) -> None:
        self.assertEqual(ticks(lay_lanes([run_of(LONG)]), 10), [60 * minute for minute in range(8)])
        self.assertEqual(ticks(lay_lanes([run_of(LONG)], "copy"), 4), [-120, 0, 120, 240])

    def test_a_cut_of_unknown_length_is_torn(self) -> None:
        lane = lay_lanes([run_of("0:00 wait\n1:00 cut ?\n2:00 end done")]).lanes[0]
        self.assertEqual(
            [(bar.start, bar.end, bar.torn) for bar in lane.bars], [(0, 60, False), (60, 60, True), (60, 120, False)]
        )
