"""The figure: text stays text, the same runs give the same file, nothing is cut off."""

import unittest
from xml.etree import ElementTree as ET

from metrograph.analysis.lanes import lay_lanes
from metrograph.views.lanes_figure import draw_lanes
from metrograph.views.palette import PHASE_COLOURS, colours, pale
from tests.analysis.test_compare import demo_side
from tests.helpers import run_of


class Figures(unittest.TestCase):
    def test_three_forms(self) -> None:
        lanes = lay_lanes(demo_side("larkmoor-8.0-heron").runs)
        for ending, beginning in {"svg": b"<?xml", "png": b"\x89PNG", "pdf": b"%PDF"}.items():
            self.assertTrue(draw_lanes(lanes, "Heron", ending).startswith(beginning))

    def test_svg_has_real_text_and_is_the_same_each_time(self) -> None:
        lanes = lay_lanes([run_of("0:00 screen Disk\n1:00 issue A & B <script> $x$\n2:00 end done", "heron-1")])
        data = draw_lanes(lanes, "<b>", "svg")
        self.assertEqual(data, draw_lanes(lanes, "<b>", "svg"))
        texts = [each.text for each in ET.fromstring(data).iter() if each.tag.endswith("}text")]
        self.assertIn("heron-1", texts)
        self.assertIn("1  A & B <script> $x$", texts)
        self.assertIn("<b>", texts)

    def test_extremes_can_be_drawn(self) -> None:
        for cues in ("0:00 end done", "0:00 cut ?\n0:00 end done", "500:00:00 end abandoned"):
            self.assertTrue(draw_lanes(lay_lanes([run_of(cues)] * 12), "t" * 300, "svg"))


class Palette(unittest.TestCase):
    def test_every_phase_has_a_colour_and_own_ones_get_others(self) -> None:
        found = colours(["boot", "workshop", "kettle"])
        self.assertEqual(found["boot"], PHASE_COLOURS["boot"])
        self.assertEqual(len(set(found.values())), 3)

    def test_pale_goes_towards_the_paper(self) -> None:
        self.assertEqual((pale("#000000", "#ffffff", 0.5), pale("#123456", share=0)), ("#808080", "#123456"))
