"""One number for one figure: JSON, tables, sentences and the page of one comparison, and every ledger, say the same."""

import html
import random
import re
import unittest
from collections.abc import Iterator
from itertools import pairwise

import msgspec

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.ledgers.digests.digest import digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.readings import readings_ledger
from metrograph.ledgers.trend import effort_ledger, trends
from metrograph.log.quantities.times import clock_seconds
from metrograph.measures.catalogue import MEASURES, TIMES, words_of
from metrograph.measures.reducing import Spread
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.page.page_writer import write as write_page
from metrograph.show.report.comparing.comparison_report import comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing
from metrograph.show.terminal.text import Medium
from metrograph.words.figure_words import show_spread
from tests.helpers import LEXICON, demo_side, run_of
from tests.shown import show_comparison

DEMO = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")
CLOCK = r"(\d+:\d\d(?::\d\d)?)"


def generated(seed: int) -> list[Side]:
    """Three releases of several runs: on two rigs, some open, one without a screen, one with a cut."""
    chance = random.Random(seed)
    sides = []
    for number in (1, 2, 3):
        logs = [log(chance, number) for _ in range(chance.randint(2, 4))]
        if number == 2:
            logs.append("0:00 wait\n9:00 end done")
        names = [f"moor-{number}.0-{index}" for index in range(len(logs) + 1)]
        runs = [run_of(text, name) for text, name in zip((log(chance, number), *logs), names, strict=True)]
        rigs = ["bench-vm", *(chance.choice(("bench-vm", "laptop")) for _ in logs)]
        placed = (msgspec.structs.replace(run, rig=rig) for run, rig in zip(runs, rigs, strict=True))
        sides.append(Side(f"moor-{number}.0", tuple(placed)))
    return sides


def log(chance: random.Random, number: int) -> str:
    at, lines = 0.0, []
    for text in ("screen Boot menu", "screen Language", "keep language = en", "screen Disk", "choose swap = file",
                 "screen Copying files", "wait", "screen Finished", "phase restart", "screen Desktop",
                 f"reading memory = {chance.randint(900, 1100) + 50 * number} MiB\n    load: rest", "screen Updates",
                 f"reading updates = {chance.randint(1, 400)}", "ready"):  # fmt: skip
        lines.append(f"{int(at // 60)}:{at % 60:06.3f} {text}")
        at += chance.uniform(1, 200)
    if not chance.randrange(4):
        lines.append(f"{int(at // 60)}:{at % 60:06.3f} cut 1:00..2:00")
        at += 5
    lines += [f"{int(at // 60)}:{at % 60:06.3f} end done"] if chance.randrange(5) else []
    return "\n".join(lines)


def body(page: str) -> str:
    inside = page.split("<main>")[1].split('<script type="application/json"', maxsplit=1)[0]
    return html.unescape(re.sub(r"<[^>]*>", "\t", inside))


class OneNumber(unittest.TestCase):
    def logbooks(self) -> Iterator[tuple[list[Side], Comparison]]:
        for sides in ([demo_side(name) for name in DEMO], *(generated(seed) for seed in range(6))):
            with self.subTest(sides[0].name):
                yield sides, compare(sides)

    def test_ledgers_and_comparisons(self) -> None:
        for sides, found in self.logbooks():
            group = ReleaseGroup.of(
                {side.name: [digest(run) for run in side.runs] for side in sides}, ("",) * len(sides)
            )
            along = {name: trends(group, name, LEXICON) for name in MEASURES}
            for place, figures in enumerate(found.figures):
                self.assertEqual(effort_ledger(group).figures[place],
                                 {name: figures[name] for name in effort_ledger(group).figures[place]})  # fmt: skip
                for name in MEASURES:
                    point = along[name][0].points[place] if along[name] else None
                    self.assertEqual(point, figures.get(name), name)
            for row in readings_ledger(group, LEXICON).rows:
                table = next(
                    each
                    for each in found.readings
                    if (each.name, each.state, each.load) == (row.name, row.state, row.load)
                )
                self.assertEqual([figure and figure.median for figure in row.figures], list(table.values))
            for contrast in found.contrasts:
                if contrast.name in MEASURES:
                    ends = [
                        found.figures[found.releases.index(name)][contrast.name]
                        for name in (contrast.earlier, contrast.later)
                    ]
                    self.assertEqual([contrast.before, contrast.after], ends)

    def texts(self, sides: list[Side], found: Comparison) -> Iterator[str]:
        lanes = lay_lanes([run for side in sides for run in side.runs])
        yield show_comparison(found, lanes, Medium(piped=True))
        yield body(write_page(comparison_report(Material(found, (Drawing("runs", lanes),))), {}, None, 0))

    def test_tables_show_the_figures_and_their_difference_is_that_of_what_is_shown(self) -> None:
        for sides, found in self.logbooks():
            for text in self.texts(sides, found):
                for name in TIMES:
                    cells = [figures.get(name) for figures in found.figures]
                    shown = [show_spread(each, name) if isinstance(each, Spread) else "—" for each in cells]
                    row = re.search(rf"(?m)^\s*{re.escape(words_of(name))}\t+(.*)", re.sub("\t+", "\t", text))
                    if row is not None:
                        given = row[1].split("\t")
                        self.assertEqual(given[: len(shown)], shown, name)
                        self.check_difference(shown, given[len(shown)] if len(given) > len(shown) else "")

    def check_difference(self, shown: list[str], differs: str) -> None:
        exact = re.match(rf"([+−]){CLOCK}(?!\S* to)", differs)
        if exact and all(re.fullmatch(CLOCK, cell) for cell in (shown[0], shown[-1])):
            sign = 1 if exact[1] == "+" else -1
            self.assertEqual(
                sign * clock_seconds(exact[2]), clock_seconds(shown[-1]) - clock_seconds(shown[0]), differs
            )

    def test_sentences_subtract_what_they_show(self) -> None:
        for sides, found in self.logbooks():
            for text in self.texts(sides, found):
                for before, after, differs, way in re.findall(rf"{CLOCK} → {CLOCK} \({CLOCK} (\w+)", text):
                    sign = 1 if way in {"later", "longer"} else -1
                    self.assertEqual(clock_seconds(after) - clock_seconds(before), sign * clock_seconds(differs), text)

    def test_a_difference_has_one_value_wherever_it_is_told(self) -> None:
        for sides, found in self.logbooks():
            for earlier, later in pairwise(found.releases):
                pair = compare([side for side in sides if side.name in {earlier, later}])
                for text in self.texts([side for side in sides if side.name in {earlier, later}], pair):
                    told = re.findall(rf"to the desktop: {CLOCK} (sooner|later)", text)
                    signed = re.findall(rf"to the desktop\t[^\n]*?([+−]){CLOCK}(?:,|\t|\n)", re.sub("\t+", "\t", text))
                    values = {clock_seconds(at) * (1 if way == "later" else -1) for at, way in told}
                    values |= {clock_seconds(at) * (1 if sign == "+" else -1) for sign, at in signed}
                    self.assertLessEqual(len(values), 1, (earlier, later, values))
