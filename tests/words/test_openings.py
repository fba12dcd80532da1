"""First lines of ledgers: what may be held against what, how much of a thing there is, and what a swap file hides."""

import unittest

import msgspec

from metrograph.compare.kinship import Kinship
from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.readings import readings_ledger
from metrograph.ledgers.trend import trends
from metrograph.ledgers.weight import weight_ledger
from metrograph.show.report.effort import kinship_report, trends_report
from metrograph.show.report.ledger_reports import readings_report, weight_report
from metrograph.show.terminal.terminal_writer import write
from metrograph.show.terminal.text import Medium
from metrograph.words.answers.followed_openings import of_readings, of_trends
from tests.helpers import LEXICON, run_of

PIPED = Medium(piped=True)


def run(release: str, cues: str, end: str = "4:00", swap: str = "", after: str = "") -> Digest:
    """A run that reaches the desktop at 3:00."""
    layout = f"0:05 layout whole disk\n    swap: {swap}\n" if swap else ""
    whole = f"0:00 screen Disk\n{layout}{cues}1:00 screen Copying files\n3:00 phase desktop\n"
    return msgspec.structs.replace(digest(run_of(f"{whole}{after}{end} end done", f"{release}-1")), release=release)


def along(*runs: Digest) -> ReleaseGroup:
    """Releases of one line, a run each, in this order."""
    return ReleaseGroup.of({each.release: [each] for each in runs}, ("Moor",) * len(runs))


def told(group: ReleaseGroup, figure: str) -> str:
    return " ".join(of_trends(trends(group, figure, LEXICON)))


class Trends(unittest.TestCase):
    def test_counts_agree_with_their_things(self) -> None:
        one, more = (
            run("A", "0:10 keep swap = none\n"),
            run("B", "0:10 keep swap = none\n0:20 choose a = b | was c\n0:30 screen Account\n0:40 keep host = x\n"),
        )
        self.assertEqual(told(along(one, more), "screens"), "B has 1 more screen than A, in a run each.")
        self.assertEqual(told(along(one, more), "decisions"), "B has 2 more decisions than A, in a run each.")
        self.assertEqual(told(along(one, more), "kept"), "B has 1 more pre-set kept than A, in a run each.")
        self.assertEqual(
            told(along(one, run("B", "0:10 keep swap = none\n")), "kept"),
            "B has as many pre-sets kept as A, in a run each.",
        )

    def test_a_persons_time_is_more_or_less(self) -> None:
        slow = run("A", "0:30 wait\n0:50 ready\n")
        self.assertEqual(
            told(along(slow, run("B", "")), "hands-on"), "B keeps a person busy for 0:20 more than A, in a run each."
        )

    def test_what_goes_on_to_wherever_a_record_ends_is_held_against_nothing(self) -> None:
        group = along(run("A", ""), run("B", "0:20 issue It hangs\n", end="9:00"))
        for figure in ("on-clock", "issues"):
            shown = write(trends_report(trends(group, figure, LEXICON)), PIPED)
            self.assertEqual(told(group, figure), "")
            self.assertNotRegex(shown, "worse|better|[+−]")
            self.assertIn("releases are not held against each other by it", shown)


class Matrix(unittest.TestCase):
    def test_it_stands_in_eighty_columns_and_goes_where_it_does_not_fit(self) -> None:
        for releases, fits in ((6, True), (7, False)):
            names = tuple(f"Larkmoor Heron {number}.0 beta" for number in range(1, releases + 1))
            found = Kinship(names, (1,) * releases, ((0.9987,) * releases,) * releases, ())
            shown = write(kinship_report(found), Medium(width=80))
            self.assertEqual("no room for the matrix" not in shown, fits, releases)
            self.assertEqual("0.99" in shown and "1.00" not in shown, fits)
            self.assertLessEqual(max(map(len, shown.splitlines())), 80)


class SwapFiles(unittest.TestCase):
    def group(self, *sides: tuple[int, str]) -> ReleaseGroup:
        """Releases that take so many GiB of the disk, with a swap of that description; none for no layout at all."""
        read = "3:10 reading disk used = {} GiB\n".format
        return along(
            *(run(name, "", swap=swap, after=read(used)) for name, (used, swap) in zip("ABC", sides, strict=False))
        )

    def test_they_are_in_no_difference_and_are_told(self) -> None:
        group = self.group((10, "file 2 GiB"), (11, "file 4 GiB"))
        text = "Against A, B takes 1 GiB less of the disk beside a swap file that is 2 GiB larger"
        self.assertEqual(told(group, "disk used"), f"{text}, in a run each.")
        (trend,) = trends(group, "disk used", LEXICON)
        self.assertIn("B\t1\t11 GiB\t\t4 GiB\t−1 GiB better", write(trends_report((trend,)), PIPED))
        ledger = readings_ledger(group, LEXICON)
        self.assertEqual(list(of_readings(ledger)), [f"{text}."])
        shown = write(readings_report(ledger), PIPED)
        self.assertIn("\t−1 GiB better", shown)
        self.assertIn("differences leave out the swap file, of 2 GiB in A and 4 GiB in B.", shown)
        self.assertIn("of it a swap file\t2 GiB\t4 GiB\t+2 GiB", write(weight_report(weight_ledger(group)), PIPED))

    def test_as_much_in_all_is_less_beside_a_larger_file(self) -> None:
        text = "Against A, B takes 2 GiB less of the disk beside a swap file that is 2 GiB larger, in a run each."
        self.assertEqual(told(self.group((10, "file 2 GiB"), (10, "file 4 GiB")), "disk used"), text)

    def test_where_one_is_not_known_nothing_differs(self) -> None:
        group = self.group((10, "file 2 GiB"), (11, ""))
        ledger = readings_ledger(group, LEXICON)
        self.assertEqual((told(group, "disk used"), list(of_readings(ledger))), ("", []))
        self.assertNotIn("worse", write(readings_report(ledger), PIPED))
        self.assertNotIn("worse", write(trends_report(trends(group, "disk used", LEXICON)), PIPED))

    def test_where_nobody_made_one_the_whole_is_told(self) -> None:
        text = "Against A, B takes 1 GiB more of the disk, in a run each."
        for swap in ("", "none"):
            self.assertEqual(told(self.group((10, swap), (11, swap)), "disk used"), text)
