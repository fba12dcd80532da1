"""Answers: what is new, worse, unsure, unknown or nothing, each in the sentence that a reader gets; and human names."""

import unittest

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import compare
from metrograph.run.cards import Release
from metrograph.words.comparison_answers import MOST, answer
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
    return " ".join(answer(compare(sides), "A", "B"))


class Answers(unittest.TestCase):
    def test_each_rule(self) -> None:
        cases = {
            "nothing": (BASE, BASE, "Nothing that was noted differs between A and B."),
            "new": (BASE, BASE.replace("2:00 screen", "1:30 screen Extras\n2:00 screen"), "“Extras” is new."),
            "gone": (BASE, BASE.replace("1:00 screen Disk\n1:10 keep swap = none\n", ""), "“Disk” is gone."),
            "several": (BASE, BASE.replace("2:00 screen", "1:30 screen P\n1:40 screen Q\n2:00 screen"), "2 screens are new, the first of them “P”."),
            "pre-set": (BASE, BASE.replace("= none", "= file"), "On “Disk”, swap is pre-set to file instead of none."),
            "asked": (BASE, BASE.replace("2:00 screen", "1:20 keep crypt = no\n2:00 screen"), "“crypt” is newly asked."),
            "trouble": (BASE, BASE + "4:00 issue a-b: The tour hangs\n    severity: major\n", "There is new trouble: the tour hangs (major)."),
            "first seen": (BASE, BASE + "4:00 screen Tour\n4:10 issue a-b: The tour hangs\n", "There is trouble that no earlier run could have met: the tour hangs."),
            "cured": (BASE + "4:00 issue a-b: It hangs\n", BASE, "Cured is “It hangs”."),
            "fails": (BASE + "4:00 check printer: pass\n", BASE + "4:00 check printer: fail\n", "The trial “printer” fails, in A it worked."),
            "works": (BASE + "4:00 check printer: fail\n", BASE + "4:00 check printer: pass\n", "The trial “printer” works, in A it failed."),
            "followed less far": (BASE + "4:00 phase update\n8:00 ready\n", BASE, "Nothing that was noted differs between A and B."),
            "unsure": (BASE, BASE.replace("3:00 phase", "5:00 phase"), "B reaches the desktop 2:00 later than A, which may be chance."),
        }  # fmt: skip
        for name, (before, after, sentence) in cases.items():
            with self.subTest(name):
                self.assertIn(sentence, told(before, after))

    def test_what_is_sure_is_said_without_a_doubt(self) -> None:
        slower = BASE.replace("3:00 phase", "8:00 phase")
        self.assertIn("B reaches the desktop 5:00 later than A.", told(BASE, slower, runs=3))
        self.assertNotIn("chance", told(BASE, slower, runs=3))

    def test_of_another_line_nothing_is_new_gone_or_cured(self) -> None:
        other = "0:00 screen Language\n1:00 screen Extras\n2:00 screen Account\n3:00 phase desktop\n"
        text = told(BASE + "4:00 issue a-b: It hangs\n", other + "4:00 issue c-d: The net is down\n", ("One", "Other"))
        for word in ("is new", "gone", "Cured", "tried again", "new trouble"):
            self.assertNotIn(word, text)
        self.assertIn("B has trouble of its own: the net is down.", text)

    def test_what_is_not_retested_and_what_no_figure_counts(self) -> None:
        sides = [demo_side("larkmoor-8.0-heron"), demo_side("larkmoor-9.0-beta-heron")]
        text = " ".join(answer(compare(sides), *(side.name for side in sides)))
        self.assertIn("One of larkmoor-8.0-heron's four runs was made on loan-laptop, and no figure counts it.", text)
        untried = BASE.replace("1:00 screen Disk\n1:10 keep swap = none\n", "")
        disk = told(BASE + "1:20 issue a-b: The disk hides\n", untried.replace("9:00", "9:01"))
        self.assertIn("Nobody tried again whether “The disk hides” is cured.", disk)

    def test_they_are_sentences_whatever_is_compared(self) -> None:
        for seed in range(8):
            found = compare(generated(seed))
            sentences = answer(found, *found.releases[:2])
            self.assertLessEqual(len(sentences), MOST)
            for sentence in sentences:
                self.assertRegex(sentence, r"^\S.*[^.]\.$")
                self.assertNotRegex(sentence, r";|  |None|\(\)")


class Names(unittest.TestCase):
    def test_the_common_part_stands_above(self) -> None:
        cases = {
            ("larkmoor-7.0-heron", "larkmoor-9.0-beta-heron"): ("Larkmoor Heron", ["7.0", "9.0 beta"]),
            ("larkmoor-8.0-heron", "larkmoor-8.0-wren"): ("Larkmoor", ["8.0 Heron", "8.0 Wren"]),
            ("larkmoor-8.0-heron", "osterby-2026.1"): ("", ["Larkmoor Heron 8.0", "Osterby 2026.1"]),
            ("larkmoor-8.0-heron-1", "larkmoor-8.0-heron-2"): ("Larkmoor Heron", ["8.0, run 1", "8.0, run 2"]),
        }
        for ids, (common, short) in cases.items():
            found = names_of(ids, {})
            self.assertEqual((found[0], [found[1][each] for each in ids]), (common, short))

    def test_cards_go_before_ids_and_what_is_not_apart_keeps_its_id(self) -> None:
        self.assertEqual(full_name("x-1.0", Release("Moor", "1.0", "Sea", status="stable")), "Moor Sea 1.0")
        self.assertEqual(full_name("notes"), "notes")
        same = {name: Release("Moor", "1.0") for name in ("a", "b")}
        self.assertEqual(names_of(["a", "b"], same), ("", {}))
