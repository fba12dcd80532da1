"""Ledgers, worked out by hand from a few runs."""

import unittest

import msgspec

from metrograph.ledgers.checks import checks_ledger
from metrograph.ledgers.claims import claims_ledger
from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import group
from metrograph.ledgers.facts import facts_ledger, what_became
from metrograph.ledgers.readings import readings_ledger
from metrograph.ledgers.weight import weight_ledger
from metrograph.log.lexicon import ReadingKind, Unit
from metrograph.log.quantities.ranges import Range
from metrograph.measures.reducing import Spread
from metrograph.run.cards import Claims, Needs, Release
from metrograph.show.report.ledger_reports import claims_report, readings_report, weight_report
from metrograph.show.terminal.terminal_writer import write
from metrograph.show.terminal.text import Medium
from metrograph.words.answers.openings import of_weight
from metrograph.words.ledger_words import reading_warning
from tests.helpers import LEXICON, run_of, said, seconds

CARDS = {
    "moor-1-a": Release("Moor", "1", "A", released="2026-04-01", image_size=1000, minimum=Needs(said("500 bytes")),
                        claims=Claims(memory=said("210 bytes"), installation=said("1:00"))),
    "moor-2-a": Release("Moor", "2", "A", released="2026-05-01", image_size=1500),
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
            (GROUP.releases, GROUP.lines), (("fen-1", "moor-1-a", "moor-2-a"), ("Fen", "Moor A", "Moor A"))
        )
        self.assertEqual(group([ONE, OTHER], CARDS, one_line=True).lines, ("", ""))

    def test_readings_by_state_and_load(self) -> None:
        rows = {(row.name, row.load): row for row in readings_ledger(GROUP, LEXICON).rows}
        rest = rows["memory", "rest"]
        self.assertEqual(rest.figures, (None, Spread(seconds(210), 200, 220, 2), Spread(seconds(180), 180, 180, 1)))
        self.assertEqual((rest.differences, rest.better), ((None, None, (-30, -30)), "less"))
        self.assertIsNone(reading_warning(rest))
        busy = rows["memory", "busy"]
        self.assertEqual(busy.differences, (None, None, None))  # another line is not held against it
        self.assertEqual(busy.elsewhere, ("moor-1-a",))
        self.assertIn("in another state or under another load only", reading_warning(busy) or "")
        shown = write(readings_report(readings_ledger(GROUP, LEXICON)), Medium(width=120))
        self.assertRegex(shown, r"memory +installed +rest +210 bytes ±10 bytes +180 bytes +−30 bytes better")

    def test_at_80_columns_figures_stay_whole_and_earlier_releases_are_left_out(self) -> None:
        many = group(
            [
                run(f"moor-{number}-a", 1, f"2:10 reading memory = {number}23 MiB | load rest\n3:00 end done")
                for number in range(1, 10)
            ],
            {},
        )
        shown = write(readings_report(readings_ledger(many, LEXICON)), Medium(width=80))
        for number in range(7, 10):
            self.assertIn(f"{number}23 MiB", shown)
        self.assertNotIn("…MiB", shown)
        self.assertIn("6 earlier releases of Moor A are left out", shown)
        self.assertLessEqual(max(map(len, shown.splitlines())), 80)
        self.assertEqual(write(readings_report(readings_ledger(many, LEXICON)), Medium(piped=True)).count(" MiB\t"), 9)

    def test_which_way_is_better_stands_in_the_lexicon(self) -> None:
        own = LEXICON.with_own({}, measures={"memory": ReadingKind(Unit.BYTES, "more")})
        self.assertIn("−30 bytes worse", write(readings_report(readings_ledger(GROUP, own)), Medium(width=120)))

    def test_trials(self) -> None:
        rows = {row.name: row for row in checks_ledger(GROUP).rows}
        self.assertEqual(rows["printer"].results, ("not tried", "pass", "partly"))
        self.assertEqual((rows["printer"].worse, rows["video"].better), (("moor-2-a",), ("moor-2-a",)))
        self.assertEqual(rows["video"].well_again, ())  # it never passed before, so that it does not do so again
        mixed = checks_ledger(
            group(
                [ONE, run("moor-1-a", 3, "2:10 check printer: fail\n2:11 check video: skipped\n3:00 end done")], CARDS
            )
        )
        self.assertEqual([row.results[0] for row in mixed.rows], ["mixed", "fail"])

    def test_facts_are_raised_lowered_replaced_and_dropped(self) -> None:
        rows = {row.name: row for row in facts_ledger(GROUP).rows}
        self.assertEqual(rows["kernel"].changes, ("absent", "first", "raised"))
        self.assertEqual(rows["browser"].changes[2], "replaced")
        # What the later release does not speak of is not dropped; what is looked for and not there is.
        self.assertEqual(rows["restart after update"].changes[2], "absent")
        self.assertEqual(
            [what_became(*pair) for pair in (("Kettle 4", "none"), ("none", "Kettle 4"), (None, "Kettle 4"))],
            ["dropped", "new", "first"],
        )
        self.assertEqual(facts_ledger(group([THREE, ONE], {}, one_line=True)).releases, ("moor-1-a", "moor-2-a"))

    def test_claims_hold_or_do_not_or_stay_open(self) -> None:
        rows = {row.what: row for row in claims_ledger(GROUP).rows}
        self.assertEqual((rows["memory at rest"].measured, rows["memory at rest"].holds), (Range(210, 210), True))
        self.assertEqual(rows["time until installed"].holds, True)
        self.assertEqual((rows["memory at rest"].published, rows["memory at rest"].quoted), (seconds(210), "210 bytes"))
        strict = claims_ledger(
            group([ONE], {"moor-1-a": Release(claims=Claims(said("199 bytes"), said("900 bytes"), boot=said("3 s")))})
        )
        self.assertEqual([row.holds for row in strict.rows], [False, True, None])
        self.assertIn(
            "memory at rest is published as 199 bytes, and was 200 bytes.", write(claims_report(strict), Medium())
        )
        cut = run("moor-1-a", 1, "2:30 end done")
        cut_open = digest(
            run_of("0:00 screen Copying files\n0:10 cut 0:10..5:00\n0:20 screen Finished\n0:30 end done", "x-1")
        )
        self.assertEqual(cut.installed, Range(60, 60))
        open_ledger = claims_ledger(
            group([cut_open], {cut_open.release: Release(claims=Claims(installation=said("1:00")))})
        )
        self.assertIsNone(open_ledger.rows[0].holds)

    def test_a_claim_that_was_read_otherwise_is_not_told_to_be_unmeasured(self) -> None:
        card = {"moor-1-a": Release(claims=Claims(memory=said("600 bytes")))}
        busy = "0:00 screen Disk\n2:00 phase desktop\n2:01 reading memory = 500 bytes | load busy\n3:00 end done"
        made = msgspec.structs.replace(digest(run_of(busy, "moor-1-a-1")), release="moor-1-a")
        (row,) = claims_ledger(group([made], card)).rows
        self.assertEqual((row.measured, row.holds, row.otherwise), (None, None, "read installed, busy only"))

    def test_claims_are_held_against_the_installed_system_only(self) -> None:
        card = {"moor-1-a": Release(claims=Claims(memory=said("600 bytes")))}
        log = "0:00 screen Disk\n1:58 phase live\n1:59 reading memory = 900 bytes | load rest\n2:00 phase desktop\n{}3:00 end done"
        live = digest(run_of(log.format(""), "moor-1-a-1"))
        both = digest(run_of(log.format("2:01 reading memory = 500 bytes | load rest\n"), "moor-1-a-2"))
        rows = [
            claims_ledger(group([msgspec.structs.replace(run, release="moor-1-a")], card)).rows[0]
            for run in (live, both)
        ]
        self.assertEqual([(row.measured, row.holds) for row in rows], [(None, None), (Range(500, 500), True)])

    def test_a_weight_is_held_against_the_release_before_it(self) -> None:
        cards = {f"moor-{n}-a": Release("Moor", str(n), "A", released=f"2026-0{n}-01", image_size=size)
                 for n, size in ((1, 9 << 20), (2, 12 << 20), (3, 11 << 20))}  # fmt: skip
        three = group([run(release, 1, "3:00 end done") for release in cards], cards)
        self.assertRegex(write(weight_report(weight_ledger(three)), Medium(piped=True)), r"image\t.*\t−1 MiB\n")

    def test_what_is_known_in_part_is_the_least_and_is_held_against_nothing(self) -> None:
        cards = {name: Release("Moor", name[5], "A", released=f"2026-0{name[5]}-01", image_size=900)
                 for name in ("moor-1-a", "moor-2-a")}  # fmt: skip
        log = "2:00 phase update\n2:01 reading {}\n3:00 end done"
        whole, none, no_size, nothing = (
            run(name, 1, log.format(said))
            for name, said in (
                ("moor-1-a", "update download = 100 bytes"), ("moor-2-a", "updates = 0"),
                ("moor-2-a", "updates = 5"), ("moor-2-a", "memory = 1 GB"),
            )
        )  # fmt: skip
        for runs, download, words in (
            ([whole, none], Range(900, 900), "takes 900 bytes of downloads until it can be worked with, 100 bytes less than moor-1-a."),
            ([whole, no_size], Range(900, None), "takes at least 900 bytes of downloads until it can be worked with; what its first update takes was not noted."),
            ([whole, nothing], Range(900, None), "takes at least 900 bytes of downloads until it can be worked with; what its first update takes was not noted."),
        ):  # fmt: skip
            ledger = weight_ledger(group(runs, cards))
            self.assertEqual(ledger.rows[1].download, download)
            self.assertEqual(list(of_weight(ledger)), [f"moor-2-a {words}"])
            row = next(
                line for line in write(weight_report(ledger), Medium(piped=True)).splitlines() if "in all" in line
            )
            self.assertEqual(row.endswith("\t"), download.high is None)

    def test_weight_and_the_first_update(self) -> None:
        first = weight_ledger(GROUP).rows[1]
        # Of two runs one had to add something; the other says nothing of it.
        self.assertEqual(
            (first.image, first.added_download, first.added_disk, first.update_download),
            (1000, seconds(10), seconds(30), seconds(100)),
        )
        self.assertEqual(
            (first.download, first.disk, first.updates, first.restart), (seconds(1110), seconds(830), seconds(7), True)
        )
        self.assertEqual((first.update_time, first.update_share, first.age), (Range(30, 30), seconds(0.5), seconds(31)))
        shown = write(weight_report(weight_ledger(GROUP)), Medium(width=120))
        self.assertIn(
            "the first update took 0:30, 50 % of the time until installed, from an image 31 days old, and asked for a restart.",
            " ".join(shown.split()),
        )
