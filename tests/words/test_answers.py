"""Answers: what is new, worse, unsure, unknown or nothing, each in the sentence that a reader gets; and human names."""

import unittest

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import compare, neighbours_of
from metrograph.run.cards import Release
from metrograph.words.answers.comparison_answers import MOST, answer
from metrograph.words.names import full_name, names_of
from tests.helpers import demo_side, run_of
from tests.show.test_one_number import generated

BASE = "0:00 screen Language\n1:00 screen Disk\n1:10 keep swap = none\n2:00 screen Account\n3:00 phase desktop\n"


def told(before: str, after: str, lines: tuple[str, str] = ("", ""), runs: int = 1) -> str:
    """What is said of two releases, each of so many runs of one log."""
    sides = [
        Side(name, tuple(run_of(f"{log}9:00 end done", f"{name}-{number}") for number in range(1, runs + 1)), line)
        for name, log, line in zip("AB", (before, after), lines, strict=True)
    ]
    return " ".join(said(sides))


def said(sides: list[Side]) -> tuple[str, ...]:
    """What is said of the only two neighbours among some sides."""
    found = compare(sides)
    (pair,) = found.neighbours
    return answer(found, pair)


class Answers(unittest.TestCase):
    def test_each_rule(self) -> None:
        major, hangs = "    severity: major\n", "4:00 issue a-b: The tour hangs\n"
        cases = {
            "nothing": (BASE, BASE, "Nothing that was noted of both A and B differs beyond chance."),
            "new": (BASE, BASE.replace("2:00 screen", "1:30 screen Extras\n2:00 screen"), "“Extras” is new."),
            "gone": (BASE, BASE.replace("1:00 screen Disk\n1:10 keep swap = none\n", ""), "“Disk” is gone."),
            "several": (BASE, BASE.replace("2:00 screen", "1:30 screen P\n1:40 screen Q\n2:00 screen"), "“P” and “Q” are new."),
            "both": (BASE, BASE.replace("1:00 screen Disk\n1:10 keep swap = none\n", "").replace("2:00 screen", "1:30 screen Extras\n2:00 screen"), "“Disk” is gone, and “Extras” is new."),
            "pre-set": (BASE, BASE.replace("= none", "= file"), "For swap, file is now pre-set instead of none."),
            "asked": (BASE, BASE.replace("2:00 screen", "1:20 keep crypt = no\n2:00 screen"), "Crypt is newly asked for."),
            "trouble": (BASE, BASE.replace("3:00", f"2:10 issue a-b: The tour hangs\n{major}3:00"), "The tour hangs (major; not in A)."),
            "first met": (BASE, BASE + "4:00 phase tour\n4:05 screen Tour\n4:10 issue a-b: The tour hangs\n", "The tour hangs (not looked for in A)."),
            "still there": (BASE + hangs, BASE + hangs, "The tour hangs (as in A)."),
            "cured": (BASE.replace("3:00", f"2:10 issue a-b: It hangs\n{major}3:00"), BASE, "Cured is a major fault of A: it hangs."),
            "not looked for": (BASE + "4:00 issue a-b: It hangs\n", BASE, "A fault of A was not tried again: it hangs."),
            "fails": (BASE + "4:00 check printer: pass\n", BASE + "4:00 check printer: fail\n", "Printer, which worked in A, fails."),
            "partly": (BASE + "4:00 check share: pass\n", BASE + "4:00 check share: partly\n    detail: Asks for a password\n", "Share, which worked in A, works only partly: asks for a password."),
            "works": (BASE + "4:00 check printer: fail\n", BASE + "4:00 check printer: pass\n", "Printer, which failed in A, works."),
            "untried": (BASE, BASE + "4:00 check suspend: fail\n4:01 check sound: pass\n", "Suspend, not tried in A, fails."),
            "under a condition": (BASE + "4:00 check sound: pass | with a phone\n", BASE + "4:00 check sound: fail | with a phone\n", "Sound with a phone, which worked in A, fails."),
            "another condition": (BASE + "4:00 check sound: pass | with a phone\n", BASE + "4:00 check sound: fail\n", "Sound, in A pass with a phone only, fails."),
            "another spelling": (BASE.replace("= none", "= Before updates"), BASE.replace("= none", "= before updates"), "Nothing that was noted of both A and B differs beyond chance."),
            "another key": (BASE.replace("swap = none", "disk = Whole disk"), BASE.replace("swap = none", "method = whole disk"), "Nothing that was noted of both A and B differs beyond chance."),
            "a code": (BASE.replace("swap = none", "language = English (UK)"), BASE.replace("swap = none", "language = en_GB"), "Nothing that was noted of both A and B differs beyond chance."),
            "a title alone": (BASE, BASE.replace("screen Account", "screen Your account"), "Nothing that a reader decides by differs between A and B."),
            "looks": (BASE + "4:00 rate looks = 7 of 10\n", BASE + "4:00 rate looks = 8 of 10\n", "Looks are rated 8 of 10, 7 of 10 before."),
            "score": (BASE + "4:00 verdict Good\n    score: 7 of 10\n", BASE + "4:00 verdict Good\n    score: 8 of 10\n", "The score is 8 of 10, 7 of 10 before."),
            "board": (BASE + "4:00 carries mail: Pigeon 1\n", BASE + "4:00 carries mail: Dovecall 2\n", "Pigeon is no longer on board, and Dovecall is on board now."),
        }  # fmt: skip
        for name, (before, after, sentence) in cases.items():
            with self.subTest(name):
                self.assertIn(sentence, told(before, after))

    def test_what_is_sure_is_said_with_its_cause(self) -> None:
        slower = BASE.replace("3:00 phase", "8:00 phase")
        said = told(BASE, slower, runs=3)
        self.assertIn("B reaches the desktop 5:00 later than A: the questions before the restart take 5:00 more.", said)
        self.assertNotIn("chance", said)

    def test_what_may_be_chance_is_said_once_and_no_stop_is_quicker(self) -> None:
        runs = [BASE.replace("3:00 phase", f"3:{second:02} phase") for second in (0, 40, 10, 50)]
        sides = [
            Side(name, tuple(run_of(f"{log}9:00 end done", f"{name}-{n}") for n, log in enumerate(logs)))
            for name, logs in (("A", runs[:2]), ("B", runs[2:]))
        ]
        self.assertEqual(" ".join(said(sides)), "No difference in time is larger than chance.")
        updated = BASE + "4:00 phase update\n4:10 wait\n8:00 ready\n"
        self.assertNotRegex(told(updated, BASE, runs=3), "sooner|later|longer|shorter")

    def test_what_is_open_is_held_against_nothing(self) -> None:
        cut = BASE.replace("2:00 screen", "1:30 cut ?\n2:00 screen")
        text = told(BASE, cut, runs=3)
        self.assertIn("Times cannot be compared, as B’s record skips an unknown time.", text)
        self.assertNotRegex(text, "open|sooner|later")

    def test_what_happened_in_some_runs_only_is_never_cured(self) -> None:
        hung = BASE.replace("3:00", "2:10 issue a-b: It hangs\n3:00")
        sides = [
            Side("A", (run_of(f"{hung}9:00 end", "A-1"), run_of(f"{BASE}9:00 end", "A-2"))),
            Side("B", (run_of(f"{BASE}9:00 end", "B-1"),)),
        ]
        text = " ".join(said(sides))
        self.assertIn("A fault of one of two runs before did not show in the one run made: it hangs.", text)
        self.assertNotIn("Cured", text)

    def test_only_releases_are_named_in_which_somebody_looked(self) -> None:
        seen, passed, away = (
            "0:00 screen Language\n1:00 screen Disk\n1:10 issue a-b: It hangs\n3:00 phase desktop\n9:00 end done",
            "0:00 screen Language\n1:00 screen Disk\n3:00 phase desktop\n9:00 end done",
            "0:00 screen Language\n3:00 phase desktop\n9:00 end done",
        )
        for logs, sentence in (
            ((seen, away, seen), "It hangs (as in A)."),
            ((seen, away, passed), "Cured is a fault of A: it hangs."),
            ((seen, passed, away, seen), "It hangs (as in A, and gone in between)."),
            ((passed, away, seen), "It hangs (new)."),
            ((away, away, seen), "It hangs (not looked for in B)."),
            ((away, passed, seen), "It hangs (not in B)."),
            ((seen, away, away), "A fault of A was not tried again: it hangs."),
        ):
            found = compare([Side(name, (run_of(log, f"{name}-1"),)) for name, log in zip("ABCD", logs, strict=False)])
            self.assertIn(sentence, answer(found, found.neighbours[-1]), logs)

    def test_of_another_line_nothing_is_new_gone_or_cured(self) -> None:
        other = "0:00 screen Language\n1:00 screen Extras\n2:00 screen Account\n3:00 phase desktop\n"
        text = told(BASE + "4:00 issue a-b: It hangs\n", other + "4:00 issue c-d: The net is down\n", ("One", "Other"))
        for word in ("new", "gone", "Cured", "tried again", "differs between"):
            self.assertNotIn(word, text)
        shared = BASE + "4:00 issue a-b: It hangs\n"
        self.assertIn("Both have a fault: it hangs.", told(shared, shared, ("One", "Other")))
        wide = BASE.replace("2:00 screen", "1:30 screen Extras\n2:00 screen")
        self.assertIn("B has the installer of A, screen by screen.", told(wide, wide, ("One", "Other")))

    def test_which_runs_figures_leave_out_and_which_screens_nobody_named(self) -> None:
        sides = [demo_side("larkmoor-8.0-heron"), demo_side("larkmoor-9.0-beta-heron")]
        self.assertIn("Figures leave out the one run of larkmoor-8.0-heron on loan-laptop.", said(sides))
        unnamed = BASE.replace("screen Account", "screen Unknown screen 3")
        self.assertIn("One of B’s three screens is not confirmed yet.", told(BASE, unnamed))

    def test_a_swap_file_is_no_part_of_what_the_system_takes(self) -> None:
        log = (
            BASE.replace("2:00", "1:30 layout whole disk\n    swap: file {} GiB\n2:00")
            + "4:00 reading disk used = {} GiB\n"
        )
        text = told(log.format(2, 10), log.format(4, 11), runs=4)
        self.assertIn("B takes 1 GiB less of the disk beside a swap file that is 2 GiB larger than A.", text)
        # The file alone grew: nothing is to be told of the system, however sure it is that more of the disk is used.
        self.assertNotIn("disk", told(log.format(2, 10), log.format(4, 12), runs=4))

    def test_they_are_sentences_whatever_is_compared(self) -> None:
        for seed in range(8):
            found = compare(generated(seed))
            for pair in found.neighbours:
                sentences = answer(found, pair)
                self.assertLessEqual(len(sentences), MOST)
                for sentence in sentences:
                    self.assertRegex(sentence, r"^\S.*[^.]\.$")
                    self.assertNotRegex(sentence, r"  |None|\(\)|-\d+ days")

    def test_pairs_go_along_each_line_and_the_latest_of_another_stands_beside(self) -> None:
        # Two lines, oldest first: a1, b1, a2, b2, a3. No pair joins a release with what only came later elsewhere.
        self.assertEqual(neighbours_of(["a", "b", "a", "b", "a"]), [(0, 2), (2, 4), (1, 3), (2, 3)])
        self.assertEqual(neighbours_of(["b", "a"]), [(0, 1)])
        self.assertEqual(neighbours_of(["a", "a", "a"]), [(0, 1), (1, 2)])


class Names(unittest.TestCase):
    def test_the_common_part_stands_above(self) -> None:
        cases = {
            ("larkmoor-7.0-heron", "larkmoor-9.0-beta-heron"): ("Larkmoor Heron", ["7.0", "9.0 beta"]),
            ("larkmoor-8.0-heron", "larkmoor-8.0-wren"): ("Larkmoor", ["Heron 8.0", "Wren 8.0"]),
            ("larkmoor-8.0-heron", "osterby-2026.1"): ("", ["Larkmoor Heron 8.0", "Osterby 2026.1"]),
            ("larkmoor-8.0-heron-1", "larkmoor-8.0-heron-2"): ("Larkmoor Heron", ["8.0, run 1", "8.0, run 2"]),
        }
        for ids, (common, short) in cases.items():
            found = names_of(ids, {})
            self.assertEqual((found[0], [found[1][each] for each in ids]), (common, short))

    def test_cards_go_before_ids_and_what_is_not_apart_keeps_its_id(self) -> None:
        self.assertEqual(full_name("x-1.0", Release("Moor", "1.0", "Sea", status="stable")), "Moor Sea 1.0")
        self.assertEqual((full_name("notes"), full_name("2-notes")), ("Notes", "2-notes"))
        same = {name: Release("Moor", "1.0") for name in ("a", "b")}
        self.assertEqual(names_of(["a", "b"], same), ("", {}))
