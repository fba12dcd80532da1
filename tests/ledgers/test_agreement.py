"""One figure, many places: wherever a figure is asked for, the answer is the same."""

import unittest

from metrograph.compare.flow_records import Side
from metrograph.ledgers.claims import claims_ledger
from metrograph.ledgers.comparison import compare
from metrograph.ledgers.digests.digest import digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.readings import readings_ledger
from metrograph.ledgers.trend import effort_ledger, trends
from metrograph.log.quantities.ranges import Range
from metrograph.run.cards import Claims, Release
from tests.helpers import LEXICON, run_of, said, seconds

MIB = 1 << 20
LOG = """
    0:00 screen Disk
    1:00 phase desktop
    1:01 reading memory = 100 MiB
        load: rest
    1:02 reading memory = {} MiB
        load: rest
    1:03 reading memory = 900 MiB
        load: busy
    {}
"""


def group(*logs: str) -> ReleaseGroup:
    """A release of one run for each log, with a claim about its memory."""
    runs = {f"r{number}": [digest(run_of(log, f"r{number}-1"))] for number, log in enumerate(logs)}
    return ReleaseGroup.of(
        runs, ("",) * len(runs), {name: Release(claims=Claims(memory=said("1 MiB"))) for name in runs}
    )


class Readings(unittest.TestCase):
    """Of several readings in one state the last counts, and none that was taken under load."""

    def setUp(self) -> None:
        self.logs = [LOG.format(value, "2:00 end done") for value in (300, 400)]

    def test_in_every_ledger(self) -> None:
        both = group(*self.logs)
        row = next(row for row in readings_ledger(both, LEXICON).rows if row.load == "rest")
        self.assertEqual([figure.median for figure in row.figures if figure], [seconds(300 * MIB), seconds(400 * MIB)])
        (trend,) = trends(both, "memory", LEXICON)
        self.assertEqual([point.median.low for point in trend.points if point], [300 * MIB, 400 * MIB])
        measured = [claim.measured for claim in claims_ledger(both).rows]
        self.assertEqual(measured, [Range(300 * MIB, 300 * MIB), Range(400 * MIB, 400 * MIB)])

    def test_in_the_table_and_in_the_conclusions_of_a_comparison(self) -> None:
        found = compare([Side(f"r{number}", (run_of(log, f"r{number}-1"),)) for number, log in enumerate(self.logs)])
        table = next(row.values for row in found.readings if row.load == "rest")
        conclusion = next(contrast for contrast in found.contrasts if contrast.name == "memory (installed)")
        self.assertEqual(table, (seconds(300 * MIB), seconds(400 * MIB)))
        self.assertEqual((conclusion.before.median, conclusion.after.median), table)


class Wholes(unittest.TestCase):
    """Figures are taken from runs only that are over."""

    def test_in_trend_effort_and_conclusions(self) -> None:
        over, still_open = LOG.format(300, "2:00 end done"), LOG.format(300, "1:30 note on")
        for name in ("desktop", "on-clock", "hands-on", "waiting", "lost"):
            (trend,) = trends(group(over, still_open), name, LEXICON)
            self.assertEqual([point is not None for point in trend.points], [True, False], name)
            self.assertEqual([len(dots) for dots in trend.runs], [1, 0], name)
        self.assertEqual(effort_ledger(group(over, still_open)).figures[1], {})
        found = compare([Side("a", (run_of(over),)), Side("b", (run_of(still_open),))])
        self.assertEqual((found.contrasts, found.times[1].on_clock), ((), None))
        self.assertEqual(
            [(out.run, out.why) for out in found.selection.left_out], [("larkmoor-8.0-heron-1", "not over")]
        )
