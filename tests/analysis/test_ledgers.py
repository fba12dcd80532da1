"""Ledgers, worked out by hand from a few runs."""

import unittest
from datetime import date

import msgspec

from metrograph.analysis.digests import digest
from metrograph.analysis.ledgers import (
    checks_ledger,
    claims_ledger,
    facts_ledger,
    group,
    line_of,
    readings_ledger,
    weight_ledger,
)
from metrograph.model.cards import Claims, Needs, Release
from metrograph.model.ledgers import Digest, Figure
from metrograph.model.lexicon import Measure, load_lexicon
from metrograph.model.ranges import Range
from metrograph.views.ledgers_text import render_claims, render_readings, render_weight
from metrograph.views.paper import Paper
from tests.helpers import run_of

CARDS = {
    "moor-1-a": Release("Moor", "1", "A", released=date(2026, 4, 1), image_size=1000, minimum=Needs(memory=500),
                        claims=Claims(memory=210, installation=60)),
    "moor-2-a": Release("Moor", "2", "A", released=date(2026, 5, 1), image_size=1500),
}  # fmt: skip


def run(release: str, number: int, cues: str) -> Digest:
    """One run of a release, with its desktop reached at 2:00 and all copied at 1:00."""
    whole = f"0:00 screen Disk\n0:10 screen Copying files\n1:00 screen Finished\n2:00 phase desktop\n{cues}\n"
    return msgspec.structs.replace(digest(run_of(whole, f"{release}-{number}")), release=release)


ONE = run(
    "moor-1-a",
    1,
    "2:10 reading memory = 200 bytes | load rest\n2:12 check printer: pass\n2:13 check video: fail\n2:14 fact kernel = 6.9.1\n2:15 fact browser = Kettle 4\n2:16 add codecs | download 10 bytes | disk 30 bytes\n2:17 reading disk used = 800 bytes\n2:18 screen Updates\n2:19 reading update download = 100 bytes\n2:19 reading updates = 7\n2:20 wait\n2:50 ready\n2:51 fact restart after update = yes\n3:00 end done",
)
TWO = run("moor-1-a", 2, "2:10 reading memory = 220 bytes | load rest\n2:12 check printer: pass\n3:00 end done")
THREE = run(
    "moor-2-a",
    1,
    "2:10 reading memory = 180 bytes | load rest\n2:11 reading memory = 900 bytes | load busy\n2:12 check printer: partly\n2:13 check video: pass\n2:14 fact kernel = 6.10.2\n2:15 fact browser = Teapot 1\n3:00 end done",
)
OTHER = run("fen-1", 1, "2:10 reading memory = 50 bytes | load busy\n3:00 end done")
GROUP = group([THREE, OTHER, ONE, TWO], CARDS)


class Ledgers(unittest.TestCase):
    def test_releases_are_grouped_by_line_and_day(self) -> None:
        self.assertEqual(
            (GROUP.releases, GROUP.lines), (("moor-1-a", "moor-2-a", "fen-1"), ("Moor A", "Moor A", "fen"))
        )
        self.assertEqual(group([ONE, OTHER], CARDS, one_line=True).lines, ("", ""))
        self.assertEqual(line_of("larkmoor-9.0-beta-heron", None), "larkmoor-beta-heron")

    def test_readings_by_state_and_load(self) -> None:
        rows = {(row.name, row.load): row for row in readings_ledger(GROUP, load_lexicon()).rows}
        rest = rows["memory", "rest"]
        self.assertEqual(rest.figures, (Figure(210, 2, 200, 220), Figure(180, 1, 180, 180), None))
        self.assertEqual((rest.differences, rest.better), ((None, -30, None), "less"))
        self.assertIsNone(rest.warning)
        busy = rows["memory", "busy"]
        self.assertEqual(busy.differences, (None, None, None))  # another line is not held against it
        self.assertEqual(busy.warning, "moor-1-a: taken in another state only, which cannot be compared")
        shown = render_readings(readings_ledger(GROUP, load_lexicon()), Paper(width=120))
        self.assertRegex(shown, r"memory +installed +rest +210 bytes ±10 bytes +180 bytes +−30 bytes better")

    def test_at_80_columns_figures_stay_whole_and_earlier_releases_are_left_out(self) -> None:
        many = group(
            [
                run(f"moor-{number}-a", 1, f"2:10 reading memory = {number}23 MiB | load rest\n3:00 end done")
                for number in range(1, 10)
            ],
            {},
        )
        shown = render_readings(readings_ledger(many, load_lexicon()), Paper(width=80))
        for number in range(7, 10):
            self.assertIn(f"{number}23 MiB", shown)
        self.assertNotIn("…MiB", shown)
        self.assertIn("6 earlier releases of moor-a are left out", shown)
        self.assertLessEqual(max(map(len, shown.splitlines())), 80)
        self.assertEqual(render_readings(readings_ledger(many, load_lexicon()), Paper(piped=True)).count(" MiB\t"), 9)

    def test_which_way_is_better_stands_in_the_lexicon(self) -> None:
        own = load_lexicon().with_own({}, measures={"memory": Measure("bytes", "more")})
        self.assertIn("−30 bytes worse", render_readings(readings_ledger(GROUP, own), Paper(width=120)))

    def test_trials(self) -> None:
        rows = {row.name: row for row in checks_ledger(GROUP).rows}
        self.assertEqual(rows["printer"].results, ("pass", "partly", "not tried"))
        self.assertEqual((rows["printer"].worse, rows["video"].well_again), (("moor-2-a",), ("moor-2-a",)))
        mixed = checks_ledger(
            group(
                [ONE, run("moor-1-a", 3, "2:10 check printer: fail\n2:11 check video: skipped\n3:00 end done")], CARDS
            )
        )
        self.assertEqual([row.results[0] for row in mixed.rows], ["mixed", "fail"])

    def test_facts_are_raised_lowered_replaced_and_dropped(self) -> None:
        rows = {row.name: row for row in facts_ledger(GROUP).rows}
        self.assertEqual(rows["kernel"].verdicts, ("first", "raised", "first"))
        self.assertEqual(rows["browser"].verdicts[1], "replaced")
        self.assertEqual(rows["restart after update"].verdicts[1], "dropped")
        self.assertEqual(facts_ledger(group([THREE, ONE], {}, one_line=True)).releases, ("moor-1-a", "moor-2-a"))

    def test_personal_facts_are_masked_unless_asked_for(self) -> None:
        own = group(
            [
                run(
                    "moor-1-a",
                    1,
                    "2:14 fact host name = kettlebook\n2:15 fact mirror = ana@kettle.example\n3:00 end done",
                )
            ],
            {},
        )
        self.assertEqual([row.values for row in facts_ledger(own).rows], [("[host name]",), ("[mail address]",)])
        self.assertEqual(facts_ledger(own, show_personal=True).rows[0].values, ("kettlebook",))

    def test_claims_hold_or_do_not_or_stay_open(self) -> None:
        rows = {row.what: row for row in claims_ledger(GROUP).rows}
        self.assertEqual((rows["memory at rest"].measured, rows["memory at rest"].holds), (Range(210, 210), True))
        self.assertEqual(rows["time until installed"].holds, True)
        self.assertEqual(rows["memory that it needs at least"].published, 500)
        strict = claims_ledger(group([ONE], {"moor-1-a": Release(claims=Claims(memory=199, disk=900, boot=3))}))
        self.assertEqual([row.holds for row in strict.rows], [False, True, None])
        self.assertIn("memory at rest is published as 199 bytes, and was 200 bytes.", render_claims(strict, Paper()))
        cut = run("moor-1-a", 1, "2:30 end done")
        cut_open = digest(
            run_of("0:00 screen Copying files\n0:10 cut 0:10..5:00\n0:20 screen Finished\n0:30 end done", "x-1")
        )
        self.assertEqual(cut.installed, Range(60, 60))
        open_ledger = claims_ledger(group([cut_open], {cut_open.release: Release(claims=Claims(installation=60))}))
        self.assertIsNone(open_ledger.rows[0].holds)

    def test_weight_and_the_first_update(self) -> None:
        first = weight_ledger(GROUP).rows[0]
        # Of two runs one had to add something, so the median of 10 and 0 is 5, and that of 30 and 0 is 15.
        self.assertEqual(
            (first.image, first.added_download, first.added_disk, first.update_download), (1000, 5, 15, 100)
        )
        self.assertEqual((first.download, first.disk, first.updates, first.restart), (1105, 815, 7, True))
        self.assertEqual((first.update_time, first.update_share, first.age), (Range(30, 30), 0.5, 31))
        shown = render_weight(weight_ledger(GROUP), Paper(width=120))
        self.assertIn(
            "the first update took 0:30, 50% of the time until installed, from an image 31 days old, and asked for a restart.",
            " ".join(shown.split()),
        )
