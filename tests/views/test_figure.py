"""Figures: text stays text, the same runs give the same file, no two labels meet, nothing is cut off."""

import unittest
from collections.abc import Callable, Iterator, Sequence
from itertools import combinations
from typing import Any
from unittest import mock
from xml.etree import ElementTree as ET

from matplotlib.text import Text

from metrograph.analysis.effort import spread
from metrograph.analysis.lanes import lay_lanes
from metrograph.analysis.merged import merged_flow
from metrograph.analysis.pictures import strip_of, timetable_of
from metrograph.model.comparison import Side
from metrograph.model.kinship import Trend
from metrograph.views import lanes_figure, strip_figure, timetable_figure, trend_figure
from metrograph.views.registry import FIGURES
from tests.analysis.test_compare import demo_side
from tests.helpers import run_of

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


def laid(sides: Sequence[Side]) -> dict[str, tuple[Any, Callable[[Any, str, str], bytes], Any]]:
    """For each figure what is drawn, who draws it, and the module in which it is saved."""
    merged = merged_flow(sides)
    return {
        "lanes": (lay_lanes([run for side in sides for run in side.runs]), lanes_figure.draw_lanes, lanes_figure),
        "strip": (strip_of(sides, merged), strip_figure.draw_strip, strip_figure),
        "timetable": (timetable_of(sides, merged), timetable_figure.draw_timetable, timetable_figure),
        "trend": (trends(sides), trend_figure.draw_trend, trend_figure),
    }


class Labels(unittest.TestCase):
    def test_no_label_meets_another_or_leaves_the_sheet(self) -> None:
        for words, sides in extremes():
            for name, (result, draw, module) in laid(sides).items():
                with self.subTest(figure=name, of=words):
                    self.check(*self.boxes(result, draw, module))

    def boxes(
        self, result: Any, draw: Callable[[Any, str, str], bytes], module: Any
    ) -> tuple[Any, list[tuple[str, Any]]]:
        """The sheet and the boxes of all texts on it, in pixels."""
        found: list[Any] = []

        def look(figure: Any, *_: str) -> bytes:
            figure.canvas.draw()
            renderer = figure.canvas.get_renderer()
            texts = [
                each for each in figure.findobj(Text) if each.get_visible() and each.get_text().strip() not in {"", "≈"}
            ]
            found.extend([figure.bbox, [(each.get_text(), each.get_window_extent(renderer)) for each in texts]])
            return b""

        with mock.patch.object(module, "save", look):
            draw(result, "What is compared " * 12, "svg")
        return found[0], found[1]

    def check(self, sheet: Any, boxes: list[tuple[str, Any]]) -> None:
        for text, box in boxes:
            inside = box.x0 >= -1 and box.y0 >= -1 and box.x1 <= sheet.x1 + 1 and box.y1 <= sheet.y1 + 1
            self.assertTrue(inside, f"{text!r} leaves the sheet: {box}")
        for (one, first), (other, second) in combinations(boxes, 2):
            across = min(first.x1, second.x1) - max(first.x0, second.x0)
            down = min(first.y1, second.y1) - max(first.y0, second.y0)
            self.assertFalse(across > 1 and down > 2, f"{one!r} meets {other!r}")


class Files(unittest.TestCase):
    SIDES = (
        Side("a", (run_of("0:00 screen Disk\n1:00 issue A & B <script> $x$\n2:00 end done", "heron-1"),)),
        Side("b", (run_of("0:00 screen Disk <b>&\n1:00 cut ?\n2:00 end done", "heron-2"),)),
    )

    def test_three_forms(self) -> None:
        for name, (result, draw, _) in laid(self.SIDES).items():
            for ending, beginning in {"svg": b"<?xml", "png": b"\x89PNG", "pdf": b"%PDF"}.items():
                self.assertTrue(draw(result, "Heron", ending).startswith(beginning), (name, ending))
        self.assertEqual(list(FIGURES), ["lanes", "strip", "timetable", "trend"])

    def test_svg_has_real_text_words_for_those_who_listen_and_is_the_same_each_time(self) -> None:
        for name, (result, draw, _) in laid(self.SIDES).items():
            data = draw(result, "<b> & more", "svg")
            self.assertEqual(data, draw(result, "<b> & more", "svg"), name)
            root = ET.fromstring(data)
            self.assertEqual(
                (root.get("role"), root[0].text, root[0].tag[-5:], root[1].tag[-4:]),
                ("img", "<b> & more", "title", "desc"),
            )
            self.assertGreater(len(root[1].text or ""), 20, name)
            texts = [each.text for each in root.iter() if each.tag.endswith("}text")]
            self.assertIn("<b> & more", texts)
            if name == "lanes":
                self.assertIn("1  A & B <script> $x$", texts)

    def test_control_characters_and_texts_without_end_are_drawn_as_text(self) -> None:
        hostile = "\x1b[31m \u202egnihtemos\u2066 " + "x" * 100_000
        sides = [Side(name, (run_of(f"0:00 screen {hostile}{name}\n1:00 end done", name),)) for name in "ab"]
        for name, (result, draw, _) in laid(sides).items():
            data = draw(result, hostile, "svg")
            self.assertLess(len(data), 100_000, name)
            self.assertNotIn("\u202e", data.decode(), name)

    def test_a_run_of_nothing_can_be_drawn(self) -> None:
        for cues in ("0:00 end done", "0:00 cut ?\n0:00 end done", "500:00:00 end abandoned"):
            for result, draw, _ in laid([Side("a", (run_of(cues),))] * 2).values():
                self.assertTrue(draw(result, "t" * 300, "svg"))


class Layouts(unittest.TestCase):
    def test_the_strip_has_a_stop_a_bar_and_a_bend(self) -> None:
        seven, nine = demo_side(DEMO[0]), demo_side(DEMO[2])
        strip = strip_of([seven, nine], merged_flow([seven, nine]))
        stops = {title: place for place, title in enumerate(strip.stops)}
        keyboard = strip.lines[1].halts[stops["Keyboard"]]
        assert keyboard is not None
        self.assertEqual(
            (keyboard.mark, keyboard.phase, keyboard.comes_after), ("changed", "setup", stops["Where are you?"])
        )
        self.assertIsNone(strip.lines[1].halts[stops["Package source"]])
        language = strip.lines[0].halts[stops["Language"]]
        assert language is not None
        self.assertIsNone(language.comes_after)

    def test_the_timetable_falls_waits_and_goes_back(self) -> None:
        side = Side(
            "a",
            (
                run_of(
                    "0:00 screen Language\n1:00 screen Disk\n2:00 screen Language\n2:30 wait\n3:00 pause\n4:00 resume\n5:00 end done"
                ),
            ),
        )
        course = timetable_of([side, side], merged_flow([side, side])).courses[0]
        self.assertEqual(
            [(leg.start, leg.end, leg.stop, leg.waiting) for leg in course.legs],
            [(0, 60, 0, False), (60, 120, 1, False), (120, 150, 0, False), (150, 180, 0, True), (180, 240, 0, True)],
        )

    def test_a_lost_attempt_stands_at_the_stops_of_its_titles(self) -> None:
        run = next(run for run in demo_side(DEMO[1]).runs if run.run == "larkmoor-8.0-heron-2")
        self.assertEqual(len(run.attempts), 2)
        sides = [Side("a", (run,))]
        timetable = timetable_of(sides, merged_flow(sides))
        failed = [leg for leg in timetable.courses[0].legs if leg.failed]
        self.assertIn("Disk", {timetable.stops[leg.stop] for leg in failed})
