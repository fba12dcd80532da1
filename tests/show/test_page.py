"""The page and its Markdown sister: first the answer, nothing harmful from logs, nothing from elsewhere."""

import base64
import hashlib
import json
import re
import unittest
from html.parser import HTMLParser

from metrograph.compare.flow_records import Side
from metrograph.ledgers.claims import claims_ledger
from metrograph.ledgers.comparison import compare
from metrograph.ledgers.digests.digest import digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.facts import facts_ledger
from metrograph.run.cards import Claims, Release
from metrograph.run.route import NO_RULINGS
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.charts.layouts.strip_layout import lay_strip
from metrograph.show.markdown import plain
from metrograph.show.markdown import write as write_markdown
from metrograph.show.page.page_writer import FORMS, DrawnChart
from metrograph.show.page.page_writer import write as write_page
from metrograph.show.report.comparing.comparison_report import comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing
from tests.helpers import demo_side, run_of, said

HOSTILE = '</script><script>alert(1)</script><img src=x onerror=alert(2)>" onfocus="alert(3) {{ 7*7 }} ${x} \u202egnihtemos \x1b[31m'
CUES = (
    f"0:00 screen {HOSTILE}\n0:01 choose {HOSTILE.replace('=', 'is')} = {HOSTILE}\n    was: {HOSTILE}\n0:02 issue {HOSTILE.replace(':', '')}\n"
    f"0:03 check {HOSTILE.replace(':', '')}: fail\n0:04 reading {HOSTILE.replace('=', 'is')} = 3\n0:05 phase {HOSTILE}\n0:06 layout {HOSTILE}\n0:07 fact {HOSTILE.replace('=', 'is')} = {HOSTILE}\n1:00 end done"
)


class Looking(HTMLParser):
    """What a browser would find: tags with their attributes, and the texts of scripts."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.tags: list[tuple[str, dict[str, str | None]]] = []
        self.texts: list[str] = []
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append((tag, dict(attrs)))

    def handle_data(self, data: str) -> None:
        self.texts.append(data)


def material(*sides: Side) -> Material:
    cards = {side.name: Release(claims=Claims(disk=said("1 GiB"))) for side in sides}
    group = ReleaseGroup.of(
        {side.name: [digest(run) for run in side.runs] for side in sides}, ("",) * len(sides), cards
    )
    comparison = compare(sides)
    runs = Drawing("runs", lay_lanes([run for side in sides for run in side.runs]), "Every run")
    strip = Drawing("strip", lay_strip(sides, comparison, NO_RULINGS), "Stops <b>")
    return Material(comparison, (strip, runs), facts_ledger(group), claims_ledger(group))


def page(*sides: Side) -> str:
    made = material(*sides)
    pictures = {"strip": DrawnChart(dict.fromkeys(FORMS, b"<svg/>"), 'said "so"')}
    return write_page(comparison_report(made), pictures, made.comparison, 3)


class Page(unittest.TestCase):
    def setUp(self) -> None:
        self.text = page(*(demo_side(name) for name in ("larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")))
        self.found = Looking(self.text)

    def test_the_answer_stands_first(self) -> None:
        start = self.text.index("<main>")
        self.assertIn("is installed 4:30 sooner than", self.text[start : start + 900])
        self.assertIn("Personal values are masked in 3 places.", self.text)

    def test_the_policy_lets_in_nothing_but_the_page_itself(self) -> None:
        policy = next(attrs["content"] or "" for tag, attrs in self.found.tags if attrs.get("http-equiv"))
        self.assertIn("default-src 'none'", policy)
        for element in ("style", "script"):
            inside = re.findall(rf"<{element}>(.*?)</{element}>", self.text, re.DOTALL)
            self.assertEqual(len(inside), 1)
            digest = base64.b64encode(hashlib.sha256(inside[0].encode()).digest()).decode()
            self.assertIn(f"{element}-src 'sha256-{digest}'", policy)
        links = [
            value
            for _, attrs in self.found.tags
            for key, value in attrs.items()
            if key in {"src", "href", "action", "data"}
        ]
        self.assertTrue(all((link or "").startswith("data:image/svg+xml;base64,") for link in links))
        self.assertNotIn("style=", self.text.split("</style>")[1].split("<script")[0])

    def test_the_data_is_the_comparison(self) -> None:
        data = json.loads(re.findall(r'<script type="application/json" id="data">(.*?)</script>', self.text)[0])
        self.assertEqual(data["releases"], ["larkmoor-8.0-heron", "larkmoor-9.0-beta-heron"])
        self.assertEqual(
            len(data["rows"]),
            len({attrs["data-row"] for tag, attrs in self.found.tags if tag == "tr" and "data-row" in attrs}),
        )

    def test_texts_from_logs_are_text_in_every_place(self) -> None:
        sides = [Side(name, (run_of(CUES, f"{name}-1"),)) for name in ("a", "b")]
        text = page(Side(HOSTILE, sides[0].runs), sides[1])
        found = Looking(text)
        self.assertEqual([tag for tag, _ in found.tags].count("script"), 2)
        self.assertEqual(next(attrs for tag, attrs in found.tags if tag == "img")["alt"], 'said "so"')
        self.assertEqual([tag for tag, _ in found.tags].count("img"), 1)
        self.assertFalse([key for _, attrs in found.tags for key in attrs if key.startswith("on")])
        self.assertNotIn("49 ${x}", text)
        for sign in ("\u202e", "\x1b"):
            self.assertNotIn(sign, text)

    def test_titles_without_end_do_not_fill_the_page(self) -> None:
        sides = [
            Side(
                name,
                (run_of(f"0:00 screen {'x' * 1_000_000}\n0:01 keep a = {'y' * 100_000}\n1:00 end done", f"{name}-1"),),
            )
            for name in "ab"
        ]
        self.assertLess(len(page(*sides)), 200_000)


class Markdown(unittest.TestCase):
    def test_no_text_means_anything(self) -> None:
        for text, expected in (
            ("- a", r"\- a"), ("1. x", r"1\. x"), ("http://x.y", r"http:\//x.y"), ("www.a.b", r"www\.a.b"),
            ("<b>|[x](y)", r"\<b\>\|\[x\](y)"), ("a\n# b", r"a \# b"), ("a_b*c`d", r"a\_b\*c\`d"), ("plain 8.0-heron", "plain 8.0-heron"),
        ):  # fmt: skip
            self.assertEqual(plain(text), expected)

    def test_the_report_has_the_answer_figures_and_tables(self) -> None:
        sides = [demo_side(name) for name in ("larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")]
        text = write_markdown(comparison_report(material(*sides)), {"strip": "x-strip.svg"})
        self.assertLess(text.index("is installed 4:30 sooner"), text.index("](x-strip.svg)"))
        self.assertIn("| 5 | Keyboard | keyboard | 0:09 ● | ↷ 0:26 ○ |", text)
        self.assertIn("- “Keyboard” has moved across the restart", text)
        self.assertIn("| printer | fail | pass |", text)
        self.assertIn("| kernel | 7.2.4 | 7.5.1 ↑ |", text)
        self.assertIn("| larkmoor-8.0-heron | disk used, without a swap file | 1 GiB | 9.6 GiB | 3 | no |", text)
        self.assertNotIn("masked", text)

    def test_hostile_texts_make_no_markup(self) -> None:
        sides = [Side(name, (run_of(CUES, f"{name}-1"),)) for name in ("a", "b")]
        text = write_markdown(comparison_report(material(*sides)), foot="2 places")
        self.assertIsNone(re.search(r"(?<!\\)<(script|img)", text))
        self.assertNotIn("\u202e", text)
