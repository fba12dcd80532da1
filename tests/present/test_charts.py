"""Charts: text stays text, the same runs give the same file, no two labels meet, nothing is cut off."""

import unittest
from collections.abc import Iterator, Sequence
from itertools import combinations
from typing import Any
from unittest import mock
from xml.etree import ElementTree as ET

from matplotlib.text import Text

from metrograph.compare.align.merge import selection_of
from metrograph.compare.records import Side
from metrograph.ledgers.trend import Trend
from metrograph.measures.spread import spread
from metrograph.present.charts.layouts.strip import StopMark, lay_strip
from metrograph.present.charts.layouts.timetable import lay_timetable
from metrograph.present.charts.registry import CHARTS
from metrograph.run.rulings import NO_RULINGS
from tests.helpers import demo_side, run_of

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


def laid(sides: Sequence[Side], leave: str = "") -> dict[str, Any]:
    """What each chart is drawn from. leave: the one that is left out."""
    return {
        name: trends(sides) if chart.lay_out is None else chart.lay_out(sides, NO_RULINGS, selection_of(sides))
        for name, chart in CHARTS.items()
        if name != leave
    }


class Labels(unittest.TestCase):
    def test_no_label_meets_another_or_leaves_the_sheet(self) -> None:
        for words, sides in extremes():
            for name, result in laid(sides, leave="album").items():  # no run of these has a picture
                with self.subTest(chart=name, of=words):
                    self.check(*self.boxes(name, result))

    def boxes(self, name: str, result: Any) -> tuple[Any, list[tuple[str, Any]]]:
        """The sheet and the boxes of all texts on it, in pixels."""
        found: list[Any] = []

        def look(figure: Any, *_: str) -> bytes:
            figure.canvas.draw()
            renderer = figure.canvas.get_renderer()
            texts = [
                text for text in figure.findobj(Text) if text.get_visible() and text.get_text().strip() not in {"", "≈"}
            ]
            found.extend([figure.bbox, [(text.get_text(), text.get_window_extent(renderer)) for text in texts]])
            return b""

        with mock.patch(f"metrograph.present.charts.{name}.save", look):
            CHARTS[name].draw(result, "What is compared " * 12, "svg")
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
        for name, result in laid(self.SIDES).items():
            draw = CHARTS[name].draw
            for ending, beginning in {"svg": b"<?xml", "png": b"\x89PNG", "pdf": b"%PDF"}.items():
                self.assertTrue(draw(result, "Heron", ending).startswith(beginning), (name, ending))
        self.assertEqual(list(CHARTS), ["lanes", "strip", "timetable", "album", "trend"])

    def test_svg_has_real_text_words_for_those_who_listen_and_is_the_same_each_time(self) -> None:
        for name, result in laid(self.SIDES).items():
            draw = CHARTS[name].draw
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
        for name, result in laid(sides).items():
            draw = CHARTS[name].draw
            data = draw(result, hostile, "svg")
            self.assertLess(len(data), 100_000, name)
            self.assertNotIn("\u202e", data.decode(), name)

    def test_a_run_of_nothing_can_be_drawn(self) -> None:
        for cues in ("0:00 end done", "0:00 cut ?\n0:00 end done", "500:00:00 end abandoned"):
            for name, result in laid([Side("a", (run_of(cues),))] * 2).items():
                self.assertTrue(CHARTS[name].draw(result, "t" * 300, "svg"))


class Layouts(unittest.TestCase):
    def test_the_strip_has_a_stop_a_bar_and_a_bend(self) -> None:
        seven, nine = demo_side(DEMO[0]), demo_side(DEMO[2])
        strip = lay_strip([seven, nine], NO_RULINGS)
        stops = {title: place for place, title in enumerate(strip.screens)}
        keyboard = strip.lines[1].stops[stops["Keyboard"]]
        assert keyboard is not None
        self.assertEqual(
            (keyboard.mark, keyboard.phase, keyboard.comes_after), (StopMark.CHANGED, "setup", stops["Where are you?"])
        )
        self.assertIsNone(strip.lines[1].stops[stops["Package source"]])
        language = strip.lines[0].stops[stops["Language"]]
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
        line = lay_timetable([side, side], NO_RULINGS).runs[0]
        self.assertEqual(
            [(leg.start, leg.end, leg.stop, leg.waiting) for leg in line.legs],
            [(0, 60, 0, False), (60, 120, 1, False), (120, 150, 0, False), (150, 180, 0, True), (180, 240, 0, True)],
        )

    def test_a_lost_attempt_stands_at_the_stops_of_its_titles(self) -> None:
        run = next(run for run in demo_side(DEMO[1]).runs if run.run == "larkmoor-8.0-heron-2")
        self.assertEqual(len(run.attempts), 2)
        sides = [Side("a", (run,))]
        timetable = lay_timetable(sides, NO_RULINGS)
        failed = [leg for leg in timetable.runs[0].legs if leg.failed]
        self.assertIn("Disk", {timetable.stops[leg.stop] for leg in failed})
