"""The ledger of issues, worked out by hand."""

import unittest
from collections.abc import Mapping

import msgspec

from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.issues import IssueRow, issues_ledger
from metrograph.privacy.mask import Mask
from metrograph.run.cards import Rig
from metrograph.words.ledger_words import issue_story
from tests.helpers import run_of, seconds

RIGS = {"bench": Rig(kind="virtual", firmware="uefi"), "bench-2": Rig(kind="virtual", firmware="uefi"), "laptop": Rig(kind="physical", firmware="bios")}  # fmt: skip
SEEN = "0:00 screen Disk\n0:01 issue a: x\n1:00 end done"
PASSED = "0:00 screen Disk\n1:00 end done"
ELSEWHERE = "0:00 screen Language\n1:00 end done"


def ledger(releases: Mapping[str, list[tuple[str, str]]], lines: tuple[str, ...] | None = None) -> tuple[IssueRow, ...]:
    """The rows of releases with their runs, each a rig and a log."""
    runs = {release: [_run(release, n, *log) for n, log in enumerate(logs, 1)] for release, logs in releases.items()}
    return issues_ledger(ReleaseGroup.of(runs, lines or ("",) * len(runs)), RIGS).rows


def _run(release: str, number: int, rig: str, cues: str) -> Digest:
    return digest(msgspec.structs.replace(run_of(cues, f"{release}-{number}"), release=release, rig=rig))


def status(*logs: str) -> list[str]:
    """What became of the one issue, release by release, on one rig."""
    row, = ledger({f"r{number}": [("bench", log)] for number, log in enumerate(logs)})  # fmt: skip
    return [cell.status for cell in row.cells]


class Statuses(unittest.TestCase):
    def test_all_that_may_become_of_one(self) -> None:
        self.assertEqual(
            status(PASSED, SEEN, SEEN, PASSED, ELSEWHERE, SEEN, ELSEWHERE, SEEN),
            ["absent", "new", "still there", "gone", "not retested", "back again", "not retested", "still there"],
        )

    def test_the_place_is_the_aligned_screen_whatever_it_is_called(self) -> None:
        renamed = "0:00 screen Where should it go?\n    kind: disk\n1:00 end done"
        self.assertEqual(status(SEEN, renamed), ["new", "gone"])

    def test_without_a_screen_the_place_is_the_phase(self) -> None:
        tour = "0:00 phase tour\n0:01 issue a: x\n1:00 end done"
        self.assertEqual(status(tour, "0:00 phase tour\n1:00 end done"), ["new", "gone"])
        self.assertEqual(status(tour, "0:00 phase desktop\n1:00 end done"), ["new", "not retested"])

    def test_a_screen_of_a_lost_attempt_counts_where_its_like_was_passed(self) -> None:
        lost = "0:00 screen Disk\n0:01 issue a: x\n0:30 fail x\n0:40 retry\n0:50 screen Language\n1:00 end done"
        self.assertEqual(status(lost, "0:00 screen Which disk?\n1:00 end done"), ["new", "gone"])
        self.assertEqual(status(lost, ELSEWHERE), ["new", "not retested"])

    def test_without_a_name_the_wording_ties_it(self) -> None:
        self.assertEqual(status("0:00 issue The  mouse hangs", "0:00 issue the mouse hangs"), ["new", "still there"])

    def test_new_is_known_to_be_new_only_where_somebody_came_by_before(self) -> None:
        runs = [("bench", PASSED)], [("bench", SEEN)]
        self.assertTrue(ledger({"r1": runs[0], "r2": runs[1]})[0].tried_before)
        self.assertFalse(ledger({"r1": [("bench", ELSEWHERE)], "r2": runs[1]})[0].tried_before)

    def test_a_recording_of_which_nobody_said_a_word_cures_nothing(self) -> None:
        for said, expected in {
            "": "not retested",
            "0:02 note On the screen: “2 minutes left”\n": "not retested",
            "0:02 reading memory = 2 GB\n": "not retested",
            "0:02 issue A window said so\n": "not retested",
            "0:02 note All went well.\n": "gone",
            "0:02 check boots: pass\n": "gone",
            "0:02 issue b: another\n": "gone",
        }.items():
            film = msgspec.structs.replace(run_of(f"0:00 screen Disk\n{said}1:00 end done", "r2-1"), source="film.mp4")
            runs = {"r1": [_run("r1", 1, "bench", SEEN)], "r2": [digest(film)]}
            row = issues_ledger(ReleaseGroup.of(runs, ("", "")), RIGS).rows[0]
            with self.subTest(said):
                self.assertEqual(row.cells[1].status, expected)

    def test_what_was_gone_stands_no_longer_though_nobody_looks_for_it(self) -> None:
        logs = SEEN, ELSEWHERE, PASSED, ELSEWHERE, SEEN, PASSED
        row, = ledger({f"r{number}": [("bench", log)] for number, log in enumerate(logs)})  # fmt: skip
        self.assertEqual([row.is_open_before(at) for at in range(6)], [False, True, True, False, False, True])

    def test_what_let_a_trial_fail_is_gone_only_where_that_trial_passes(self) -> None:
        failed = "0:00 phase tour\n0:01 issue printer-silent: x\n0:02 check printer: {}\n1:00 end done"
        later = "0:00 phase tour\n0:02 check {}\n1:00 end done"
        for tried, expected in (
            ("printer: pass", "gone"), ("printer: skipped", "not retested"), ("sound: pass", "not retested"),
        ):  # fmt: skip
            self.assertEqual(status(failed.format("partly"), later.format(tried)), ["new", expected])
        # One that passed beside the issue has nothing to do with it.
        self.assertEqual(status(failed.format("pass"), later.format("sound: pass")), ["new", "gone"])

    def test_releases_of_another_line_say_nothing(self) -> None:
        rows = ledger({"r1": [("bench", SEEN)], "r2": [("bench", PASSED)]}, ("Moor", "Fen"))
        self.assertEqual([(cell.status, cell.runs) for cell in rows[0].cells], [("new", 1), ("absent", 1)])

    def test_one_name_is_one_issue_over_lines_whose_releases_do_not_cure_each_other(self) -> None:
        seen = SEEN.replace("issue", "issue a:") if "issue a:" not in SEEN else SEEN
        runs = {"r1": [("bench", seen)], "r2": [("bench", seen)], "r3": [("bench", PASSED)]}
        (row,) = ledger(runs, ("Moor", "Fen", "Fen"))
        self.assertEqual([cell.status for cell in row.cells], ["new", "new", "gone"])
        self.assertEqual((row.tried_before, [cell.before for cell in row.cells]), (False, [None, None, "new"]))


class Rigs(unittest.TestCase):
    def test_what_shows_on_one_kind_of_rig_is_gone_only_on_that_kind(self) -> None:
        seen = [("bench", PASSED), ("laptop", SEEN)]
        row = ledger({"r1": seen, "r2": [("bench", PASSED)]})[0]
        self.assertEqual((row.rig_bound, row.cells[1].status), (True, "not retested"))
        self.assertEqual(
            (row.cells[0].seen, row.cells[0].passed, row.cells[0].runs, row.cells[0].rigs), (1, 1, 2, ("laptop",))
        )
        self.assertEqual(ledger({"r1": seen, "r2": [("laptop", PASSED)]})[0].cells[1].status, "gone")

    def test_a_rig_of_the_same_kind_is_as_good(self) -> None:
        row = ledger({"r1": [("bench", SEEN), ("laptop", PASSED)], "r2": [("bench-2", PASSED)]})[0]
        self.assertEqual((row.rig_bound, row.cells[1].status), (True, "gone"))

    def test_one_that_comes_and_goes_on_one_rig_is_not_bound_to_it(self) -> None:
        row = ledger({"r1": [("bench", SEEN), ("bench", PASSED)], "r2": [("laptop", PASSED)]})[0]
        self.assertEqual((row.rig_bound, row.cells[1].status), (False, "gone"))

    def test_an_area_of_hardware_is_bound_where_nothing_else_was_tried(self) -> None:
        hidden = SEEN.replace("x\n", "x\n    area: storage\n")
        self.assertEqual(
            ledger({"r1": [("laptop", hidden)], "r2": [("bench", PASSED)]})[0].cells[1].status, "not retested"
        )


class Sums(unittest.TestCase):
    def test_what_was_tried_in_vain_is_told_once(self) -> None:
        log = "0:00 screen D\n0:01 issue a-b: x\n0:02 tried a-b: another cable\n1:00 end done"
        (row,) = ledger({"r1": [("bench", log), ("bench", log)]})
        self.assertEqual(row.in_vain, ("another cable",))
        self.assertIn("No cure was found. Tried in vain: another cable.", issue_story(row, ("r1",)))

    def test_how_often_what_it_cost_and_what_helped(self) -> None:
        fixed = "0:00 screen Disk\n0:10 issue a: x\n    severity: major\n0:{} fix a: {}\n1:00 end done"
        row = ledger({
            "r1": [("bench", fixed.format(20, "twice")), ("bench", PASSED)],
            "r2": [("bench", fixed.format(50, "thrice")), ("bench", SEEN), ("bench", fixed.format(30, "twice"))],
        })[0]  # fmt: skip
        self.assertEqual((row.seen, row.passed, row.unfixed, row.first_seen, row.last_seen), (4, 5, 1, "r1", "r2"))
        self.assertEqual((row.cost, row.ways_round), (seconds(20), ("twice", "thrice")))

    def test_the_worst_come_first(self) -> None:
        log = "0:00 issue c: x | severity cosmetic\n0:01 issue n: x\n0:02 issue b: x | severity blocker"
        cues = log.replace(" | severity", "\n    severity:").replace("severity: ", "severity: ")
        self.assertEqual([row.name for row in ledger({"r1": [("bench", cues)]})], ["b", "c", "n"])

    def test_what_tells_who_is_masked_by_what_digests_know(self) -> None:
        cues = "0:00 screen Host\n0:01 enter host name = mended-seven\n0:02 issue a: mended-seven is refused\n1:00 end done"
        (row,) = Mask([_run("r1", 1, "bench", cues)]).apply(ledger({"r1": [("bench", cues)]}))
        self.assertEqual(row.summary, "[host name] is refused")
