"""Charts: text stays text, the same runs give the same file, no two labels meet, nothing is cut off."""

import unittest
from collections.abc import Iterator, Sequence
from contextlib import suppress
from typing import Any
from unittest import mock
from xml.etree import ElementTree as ET

import numpy as np
from matplotlib.text import Text

from metrograph.compare.flow_records import Side, What
from metrograph.compare.kinship import Kinship, kinship
from metrograph.core.errors import MetrographError
from metrograph.judging.shortlist import shortlist
from metrograph.judging.shortlist_records import Shortlist
from metrograph.judging.topics import Topics
from metrograph.ledgers.comparison import compare
from metrograph.ledgers.digests.digest import digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.trend import Trend
from metrograph.log.lexicon import Checklist
from metrograph.log.quantities.ranges import Range
from metrograph.measures.reducing import spread
from metrograph.run.readers import Reader
from metrograph.run.route import NO_RULINGS, route_of
from metrograph.show.charts.layouts.board_layout import lay_board
from metrograph.show.charts.layouts.lanes_layout import at_full_width, lay_lanes
from metrograph.show.charts.layouts.lead_layout import lay_lead
from metrograph.show.charts.layouts.strip_layout import StopMark, lay_strip
from metrograph.show.charts.layouts.timetable_layout import lay_timetable
from metrograph.show.charts.registry import CHARTS
from metrograph.show.charts.sheets.paper import NARROW, PHONE, WIDE, Paper
from metrograph.store.local.reader_settings import parse_requirement, parse_wish
from tests.helpers import LEXICON, demo_side, run_of

DEMO = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron", "osterby-2026.1")
SCRIPTS = (
    "Język i układ klawiatury",
    "Выберите язык установки",
    "Επιλογή δίσκου",
    "اختر لغة التثبيت",
    "בחירת מקלדת",
    "言語を選んでください",
)


def generated(screens: int, runs: int, length: int, titles: Sequence[str]) -> list[Side]:
    """Releases of one run each, with so many screens over so many seconds."""
    step = length / (screens + 1)
    sides = []
    for number in range(runs):
        lines = []
        for place in range(screens):
            at = int(place * step * (1 + number / 20))
            lines.append(f"{at // 60}:{at % 60:02} screen {titles[place % len(titles)]} {place}")
            lines.append(f"{at // 60}:{at % 60:02} keep key {place} = {number}")
        end = int(length * (1 + number / 20))
        lines += [f"{end // 60}:{end % 60:02} issue trouble: It does not go on", f"{end // 60}:{end % 60:02} end done"]
        sides.append(
            Side(f"release-{number}-{'heron' * 6}", (run_of("\n".join(lines), f"release-{number}-{'heron' * 6}-1"),))
        )
    return sides


def extremes() -> Iterator[tuple[str, list[Side]]]:
    """The demo, and what is generated at the ends of what may come."""
    yield "demo", [demo_side(name) for name in DEMO]
    long = "A title that goes on and on about what this screen is for, and where it leads, in many words"
    for screens, runs, length in ((2, 1, 60), (2, 12, 9 * 3600), (60, 1, 9 * 3600), (60, 12, 60)):
        yield f"{screens} screens, {runs} runs, {length} s", generated(screens, runs, length, ["Abc"])
    yield "long titles", generated(20, 3, 3600, [long[:90]])
    yield "several scripts", generated(12, 3, 3600, SCRIPTS)


def trends(sides: Sequence[Side]) -> list[Trend]:
    points = tuple(spread([run.clock.on_clock for run in side.runs]) for side in sides)
    return [
        Trend(
            "on-clock",
            "on the clock",
            "s",
            "less",
            "Line " * 20,
            tuple(side.name for side in sides),
            (*points[:-1], None),
        )
    ]


def kin(sides: Sequence[Side]) -> Kinship:
    return kinship({side.name: [route_of(run) for run in side.runs] for side in sides})


def shortlisted(sides: Sequence[Side]) -> Shortlist:
    """The sides for a reader who wishes for what they have, and for what nobody noted."""
    digests = {side.name: [digest(run) for run in side.runs] for side in sides}
    group = ReleaseGroup.of(digests, ("",) * len(digests))
    wishes = {"hands-on": 3, "installed": 2, "printer": 2, "looks of " * 12: 1, "calls": 1}
    reader = Reader("hand-out", "Somebody " * 30, (parse_requirement("archive: pass"),),
                    tuple(parse_wish(*wish) for wish in wishes.items()))  # fmt: skip
    every = [run for runs in digests.values() for run in runs]
    return shortlist(reader, Topics(group, every, LEXICON, Checklist(("printer", "archive"))), count=200)


def laid(sides: Sequence[Side], leave: str = "") -> dict[str, Any]:
    """What each chart is drawn from. leave: the one that is left out."""
    comparison = compare(sides)
    found = {}
    for name, chart in CHARTS.items():
        with suppress(MetrographError):  # without a moment in common there is no lead
            made = {"trend": trends, "kinship": kin, "shortlist": shortlisted}.get(name)
            found[name] = made(sides) if made else chart.lay_out and chart.lay_out(sides, comparison, NO_RULINGS)
    return {name: result for name, result in found.items() if name != leave}


class Labels(unittest.TestCase):
    def test_no_label_meets_another_or_leaves_the_sheet(self) -> None:
        for words, sides in extremes():
            for name, result in laid(sides, leave="album").items():  # no run of these has a picture
                for width in (PHONE, NARROW, WIDE) if words == "demo" else (NARROW, WIDE):
                    with self.subTest(chart=name, of=words, width=width):
                        self.check(*self.boxes(name, result, width))

    def boxes(self, name: str, result: Any, width: int) -> tuple[Any, list[tuple[str, Any]]]:
        """The sheet and the boxes of all texts on it, in pixels."""
        found: list[Any] = []

        def look(sheet: Any, *_: str) -> bytes:
            figure = sheet.figure
            figure.canvas.draw()
            renderer = figure.canvas.get_renderer()
            texts = [
                text for text in figure.findobj(Text) if text.get_visible() and text.get_text().strip() not in {"", "≈"}
            ]
            found.extend([figure.bbox, [(text.get_text(), text.get_window_extent(renderer)) for text in texts]])
            return b""

        with mock.patch(f"metrograph.show.charts.{name}_chart.save", look):
            CHARTS[name].draw(
                result, Paper("What is compared " * 12, ("It is so. " * 9,), "How it was " * 12, width), "svg"
            )
        return found[0], found[1]

    def check(self, sheet: Any, boxes: list[tuple[str, Any]]) -> None:
        for text, box in boxes:
            inside = box.x0 >= -1 and box.y0 >= -1 and box.x1 <= sheet.x1 + 1 and box.y1 <= sheet.y1 + 1
            self.assertTrue(inside, f"{text!r} leaves the sheet: {box}")
        left, top, right, bottom = np.array([box.extents for _, box in boxes]).reshape(-1, 4).T
        across = np.minimum.outer(right, right) - np.maximum.outer(left, left)
        down = np.minimum.outer(bottom, bottom) - np.maximum.outer(top, top)
        meeting = np.argwhere(np.triu((across > 1) & (down > 2), 1))
        self.assertEqual([(boxes[one][0], boxes[other][0]) for one, other in meeting], [])


class Files(unittest.TestCase):
    SIDES = (
        Side("a", (run_of("0:00 screen Disk\n1:00 issue A & B <script> $x$\n2:00 end done", "heron-1"),)),
        Side("b", (run_of("0:00 screen Disk <b>&\n1:00 cut ?\n2:00 end done", "heron-2"),)),
    )

    def test_three_forms(self) -> None:
        for name, result in laid(self.SIDES).items():
            draw = CHARTS[name].draw
            for ending, beginning in {"svg": b"<?xml", "png": b"\x89PNG", "pdf": b"%PDF"}.items():
                self.assertTrue(draw(result, Paper("Heron"), ending).startswith(beginning), (name, ending))
        self.assertEqual(
            list(CHARTS), ["lanes", "strip", "lead", "timetable", "album", "kinship", "shortlist", "trend"]
        )

    def test_svg_has_real_text_words_for_those_who_listen_and_is_the_same_each_time(self) -> None:
        for name, result in laid(self.SIDES).items():
            draw = CHARTS[name].draw
            data = draw(result, Paper("<b> & more"), "svg")
            self.assertEqual(data, draw(result, Paper("<b> & more"), "svg"), name)
            root = ET.fromstring(data)
            self.assertEqual(
                (root.get("role"), root[0].text, root[0].tag[-5:], root[1].tag[-4:]),
                ("img", "<b> & more", "title", "desc"),
            )
            self.assertGreater(len(root[1].text or ""), 20, name)
            texts = [each.text for each in root.iter() if each.tag.endswith("}text")]
            self.assertIn("<b> & more", texts)
            if name == "lanes":
                self.assertIn("A & B <script> $x$", texts)

    def test_control_characters_and_texts_without_end_are_drawn_as_text(self) -> None:
        hostile = "\x1b[31m \u202egnihtemos\u2066 " + "x" * 100_000
        sides = [Side(name, (run_of(f"0:00 screen {hostile}{name}\n1:00 end done", name),)) for name in "ab"]
        for name, result in laid(sides).items():
            draw = CHARTS[name].draw
            data = draw(result, Paper(hostile, (hostile,), hostile), "svg")
            self.assertLess(len(data), 100_000, name)
            self.assertNotIn("\u202e", data.decode(), name)

    def test_a_run_of_nothing_can_be_drawn(self) -> None:
        for cues in ("0:00 end done", "0:00 cut ?\n0:00 end done", "500:00:00 end abandoned"):
            for name, result in laid([Side("a", (run_of(cues),)), Side("b", (run_of(cues),))]).items():
                self.assertTrue(CHARTS[name].draw(result, Paper("t" * 300), "svg"))


class Layouts(unittest.TestCase):
    def test_the_strip_has_every_release_in_its_own_order_and_says_what_moved(self) -> None:
        sides = [demo_side(DEMO[0]), demo_side(DEMO[2])]
        seven, nine = (strip := lay_strip(sides, compare(sides), NO_RULINGS)).columns
        titles = [stop.title for stop in nine.stops]
        self.assertEqual(titles[nine.before + 1 : nine.before + 4], ["Where are you?", "Keyboard", "Your account"])
        keyboard = nine.stops[titles.index("Keyboard")]
        self.assertEqual(
            (keyboard.mark, keyboard.phase, keyboard.word), (StopMark.CHANGED, "setup", What.SCREEN_CROSSED)
        )
        self.assertEqual(nine.stops[titles.index("Extra drivers")].word, What.SCREEN_NEW)
        again = nine.stops[titles.index("Desktop again")]
        self.assertEqual((again.row, again.time), (None, Range(366.4, 366.4)), "time of no screen keeps a name")
        before = [stop.title for stop in seven.stops]
        self.assertEqual([before[place] for place in strip.gaps[0].gone], ["Package source", "Software"])
        moved = [(before[each.left], titles[each.right]) for each in strip.gaps[0].joined if each.moved]
        self.assertEqual(moved, [(title, title) for title in ("Where are you?", "Keyboard", "Your account")])

    def test_a_lane_stands_at_the_medians_of_its_runs(self) -> None:
        logs = (
            f"0:00 screen Disk\n1:00 phase copy\n{copied} phase restart\n{end} end done"
            for copied, end in (("5:00", "6:00"), ("7:00", "9:00"), ("6:00", "7:30"))
        )
        side = Side("a", tuple(run_of(log, f"a-{number}") for number, log in enumerate(logs, 1)))
        (group,) = lay_board([side], compare([side])).groups
        self.assertEqual(
            [(mark.label, mark.at) for mark in group.lane.phases], [("questions", 0), ("copy", 60), ("restart", 360)]
        )
        self.assertEqual((group.lane.end, group.counted, len(group.rigs[0].lanes)), (450, 3, 3))

    def test_the_largest_delay_is_said_where_it_arises(self) -> None:
        sides = [demo_side(name) for name in DEMO[1:3]]
        eight, nine = lay_board(sides, compare(sides)).groups
        assert nine.excess is not None
        self.assertEqual((nine.excess.milestone, nine.excess.phase, nine.excess.all_of_it), ("updated", "update", True))
        self.assertIsNone(eight.excess)
        self.assertEqual(
            [(each.met, each.of, each.run) for each in eight.issues], [(4, 4, None), (1, 4, "larkmoor-8.0-heron-2")]
        )

    def test_the_lead_is_how_much_sooner_the_other_got_as_far(self) -> None:
        log = "0:00 screen Disk\n{copy} phase copy\n{restart} phase restart\n9:00 end done"
        sides = [
            Side(name, (run_of(log.format(copy=copy, restart=restart), f"{name}-1"),))
            for name, copy, restart in (("a", "2:00", "6:00"), ("b", "1:30", "7:00"))
        ]
        lead = lay_lead(sides, compare(sides))
        self.assertEqual((lead.baseline, lead.runs[0].name), ("a", "b"))
        points = {point.name: (point.at, point.ahead) for point in lead.runs[0].points}
        self.assertEqual((points["copy"], points["restart"]), ((120, 30), (360, -60)))

    def test_nobody_leads_behind_a_cut(self) -> None:
        log = "0:00 screen Disk\n1:00 screen Copying files\n{}5:00 screen Finished\n6:00 phase restart\n7:00 phase desktop\n9:00 end done"
        for cut in ("2:00 cut ?\n", "2:00 cut 1:00..3:00\n"):
            sides = [Side(name, (run_of(log.format(of), f"{name}-1"),)) for name, of in (("a", ""), ("b", cut))]
            self.assertEqual([point.name for point in lay_lead(sides, compare(sides)).runs[0].points], ["", "copy"])

    def test_what_is_done_after_an_installation_is_aside(self) -> None:
        run = run_of("0:00 screen Disk\n1:00 phase desktop\n2:00 phase update\n2:10 wait\n3:00 ready\n4:00 end done")
        lanes = lay_lanes([run])
        self.assertEqual([bar.aside for bar in lanes.lanes[0].bars], [False, True, True, False, True])
        self.assertFalse(any(bar.aside for bar in at_full_width(lanes).lanes[0].bars))

    def test_the_timetable_falls_waits_and_goes_back(self) -> None:
        side = Side(
            "a",
            (
                run_of(
                    "0:00 screen Language\n1:00 screen Disk\n2:00 screen Language\n2:30 wait\n3:00 pause\n4:00 resume\n5:00 end done"
                ),
            ),
        )
        line = lay_timetable([side], compare([side]), NO_RULINGS).runs[0]
        self.assertEqual(
            [(leg.start, leg.end, leg.depth, leg.waiting) for leg in line.legs],
            [(0, 60, 0, False), (60, 120, 1, False), (120, 150, 0, False), (150, 180, 0, True), (180, 240, 0, True)],
        )

    def test_a_lost_attempt_stands_at_the_stops_of_its_titles(self) -> None:
        run = next(run for run in demo_side(DEMO[1]).runs if run.run == "larkmoor-8.0-heron-2")
        self.assertEqual(len(run.attempts), 2)
        sides = [Side("a", (run,))]
        timetable = lay_timetable(sides, compare(sides), NO_RULINGS)
        failed = [leg for leg in timetable.runs[0].legs if leg.failed]
        self.assertIn("Disk", {timetable.stops[round(leg.depth)] for leg in failed})

    def test_what_merely_moved_is_no_rise(self) -> None:
        sides = [
            Side(
                name,
                (
                    run_of(
                        "".join(f"{at}:00 screen {title}\n" for at, title in enumerate(titles)) + "9:00 end done", name
                    ),
                ),
            )
            for name, titles in (
                ("a", ("Language", "Keyboard", "Disk", "Summary")),
                ("b", ("Language", "Disk", "Summary", "Keyboard")),
            )
        ]
        timetable = lay_timetable(sides, compare(sides), NO_RULINGS)
        self.assertEqual(timetable.stops, ("Language", "Disk", "Summary"))
        for line in timetable.runs:
            depths = [leg.depth for leg in line.legs]
            self.assertEqual(depths, sorted(depths))
