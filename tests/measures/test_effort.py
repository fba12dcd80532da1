"""What an installation asks of a person, counted by hand; and figures along releases."""

import unittest

import msgspec

from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.trend import effort_ledger, names_of_figures, trends
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import MEASURES, figures_of
from metrograph.measures.reducing import Spread, spread
from metrograph.measures.selection import LeftOutReason
from tests.helpers import LEXICON, run_of, seconds

CUES = """
    0:00 screen Language
    0:05 choose language = Danish
        was: English
    0:10 wait
    0:40 screen Disk
    0:45 keep swap = file
    0:50 screen Language
    0:55 screen Disk
    0:58 choose method = by hand
    1:00 screen Copying files
    3:00 phase setup
    3:10 screen Your account
    3:20 enter full name
    3:30 choose look = light
        was: light
    3:40 wait
    3:50 cut 1:00..2:00
    4:00 phase desktop
    4:30 issue a: x
    4:40 fix a: y
    5:00 end done
"""


class Effort(unittest.TestCase):
    def setUp(self) -> None:
        self.figures = figures_of(run_of(CUES))

    def test_decisions_and_guesses(self) -> None:
        # A swap file and a look are proposals; what the installer guessed is the language, and wrongly.
        wanted = {"screens": 4, "decisions": 5, "kept": 1, "chosen": 3, "typed": 1, "right": 0, "wrong": 1}
        self.assertEqual({name: self.figures[name].low for name in wanted}, wanted)

    def test_calls_returns_and_the_longest_time_one_may_leave(self) -> None:
        # Hands-on, wait to 0:40, hands-on to 1:00, copying to 3:00, hands-on to 3:40, wait with a cut to the desktop.
        self.assertEqual((self.figures["calls"], self.figures["returns"]), (seconds(2), seconds(2)))
        self.assertEqual(self.figures["longest-leave"], seconds(120, 140))  # 0:20 and the cut, or the copying

    def test_what_is_asked_before_copying_and_what_was_lost(self) -> None:
        self.assertEqual((self.figures["asked-first"], self.figures["questions"]), (seconds(3), seconds(5)))
        self.assertEqual(
            (self.figures["lost"], self.figures["attempts"], self.figures["issues"]),
            (seconds(0), seconds(1), seconds(1)),  # what was lost at the desktop did not hold the installation up
        )

    def test_whose_time_it_is_goes_to_the_desktop(self) -> None:
        # 0:10 and 0:20 before the copying, 0:30 and 0:10 of setup; what is done at the desktop is the reviewer's own.
        self.assertEqual(self.figures["hands-on"], seconds(10 + 20 + 40))
        self.assertEqual(self.figures["hands-on"] + self.figures["waiting"], self.figures["desktop"])

    def test_nothing_of_a_system_that_was_there_is_an_installation(self) -> None:
        for way, cues in (("fresh", "0:00 phase desktop\n0:10 screen Welcome\n0:20 keep look = light\n"),
                          ("tour", "0:00 screen Disk\n0:20 keep look = light\n"),
                          ("live", "0:00 screen Boot menu\n0:05 phase live\n0:20 screen Welcome\n")):  # fmt: skip
            figures = figures_of(run_of(f"{cues}1:00 issue a: x\n2:00 end done", way=way))
            self.assertEqual(figures.keys(), {"on-clock", "attempts", "issues"}, way)

    def test_the_trouble_of_the_reviewer_counts_nowhere(self) -> None:
        own = run_of(
            "0:00 screen Disk\n0:10 issue a: x | area recording\n0:40 fix a: y\n1:00 phase desktop\n2:00 end done"
        )
        figures = figures_of(own)
        self.assertEqual((figures["lost"], figures["issues"]), (seconds(0), seconds(0)))

    def test_what_was_not_reached_is_left_out(self) -> None:
        open_run = figures_of(run_of("0:00 screen Boot menu"))
        self.assertEqual([name for name in MEASURES if name not in open_run],
                         ["first-question", "installed", "desktop", "hands-on", "waiting", "updated", "lost", "longest-leave",
                          "screens", "decisions", "kept", "chosen", "typed", "right", "wrong", "returns", "calls",
                          "questions", "asked-first"])  # fmt: skip

    def test_of_a_run_that_was_only_watched_nobody_knows_whether_there_was_trouble(self) -> None:
        watched = msgspec.structs.replace(run_of("0:00 screen Boot menu\n1:00 end done"), source="film.mp4")
        self.assertEqual({"lost", "issues"} & figures_of(watched).keys(), set())

    def test_an_overview_is_no_detour(self) -> None:
        hub = "0:00 screen Overview\n" + "".join(
            f"0:{n}1 screen {title}\n0:{n}5 screen Overview\n"
            for n, title in enumerate(("Language", "Disk", "Your account"))
        )
        self.assertEqual(figures_of(run_of(hub + "1:00 end done"))["returns"], seconds(0))

    def test_several_runs_make_a_median_and_a_spread(self) -> None:
        self.assertEqual(spread([Range(1, 1), Range(5, 8), Range(2, 2)]), Spread(Range(2, 2), 1, 8, 3))
        self.assertEqual(spread([Range(1, None), Range(3, 3)]), Spread(Range(2, None), 1, None, 2))


def run(release: str, number: int, cues: str) -> Digest:
    return digest(msgspec.structs.replace(run_of("0:00 screen Disk\n" + cues, f"{release}-{number}"), release=release))


class Along(unittest.TestCase):
    GROUP = ReleaseGroup.of(
        {
            "a": [run("a", 1, "1:00 phase desktop\n1:01 reading memory = 1 GiB\n2:00 end done"),
                  run("a", 2, "3:00 phase desktop\n3:01 reading memory = 3 GiB\n3:02 reading memory = 9 GiB\n    load: busy\n4:00 end done")],
            "b": [run("b", 1, "0:00 phase live\n0:01 reading memory = 7 GiB\n1:00 end done"),
                  run("b", 2, "0:01 reading memory = 8 GiB")],
            "c": [run("c", 1, "1:30 phase desktop\n2:00 end done")],
        },
        ("Moor", "Moor", "Fen"),
    )  # fmt: skip

    def test_a_figure_and_a_reading_along_each_line(self) -> None:
        moor, fen = trends(self.GROUP, "desktop", LEXICON)
        self.assertEqual(
            (moor.line, moor.releases, moor.points), ("Moor", ("a", "b"), (Spread(seconds(120), 60, 180, 2), None))
        )
        self.assertEqual((fen.releases, fen.better, fen.unit), (("c",), "less", "s"))
        memory, = trends(self.GROUP, "memory", LEXICON)  # fmt: skip
        self.assertEqual(
            (memory.words, memory.unit, memory.points),
            ("memory (installed)", "bytes", (Spread(seconds(2 << 30), 1 << 30, 3 << 30, 2), None)),
        )
        live, = trends(self.GROUP, "memory", LEXICON, "live")  # fmt: skip
        self.assertEqual(live.points, (None, Spread(seconds(7 << 30), 7 << 30, 7 << 30, 1)))
        self.assertEqual(trends(self.GROUP, "memory", LEXICON, "updated"), ())

    def test_a_run_that_is_not_over_is_in_no_figure_and_is_named(self) -> None:
        moor, _ = trends(self.GROUP, "on-clock", LEXICON)
        self.assertEqual(moor.points[-1], Spread(seconds(60), 60, 60, 1))
        self.assertEqual([(out.run, out.why) for out in moor.selection.left_out], [("b-2", LeftOutReason.OPEN)])
        self.assertEqual(names_of_figures(self.GROUP)[-1], "memory")

    def test_the_ledger_has_every_run(self) -> None:
        ledger = effort_ledger(self.GROUP)
        self.assertEqual(ledger.runs[0]["a-2"]["desktop"], seconds(180))
        self.assertEqual(ledger.figures[0]["desktop"], Spread(seconds(120), 60, 180, 2))
