"""Comparing through the commands: all that the demo's story holds can be read off what they print."""

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any, ClassVar

from metrograph.demo import copy_demo
from metrograph.store.local.logbook import Logbook
from tests.helpers import call, call_here

SEVEN, EIGHT, NINE = "larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron"
WREN, OSTERBY = "larkmoor-8.0-wren", "osterby-2026.1"


class DemoCase(unittest.TestCase):
    folder: ClassVar[tempfile.TemporaryDirectory[str]]
    book: ClassVar[Logbook]

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        cls.book = copy_demo(Path(cls.folder.name) / "demo")

    def ok(self, *words: str) -> str:
        done = call_here(*words, folder=self.book.path)
        self.assertEqual((done.returncode, done.stderr), (0, ""), words)
        return done.stdout

    def json(self, *words: str) -> Any:
        return json.loads(self.ok(*words, "--json"))


class Story(DemoCase):
    def test_what_the_first_release_is(self) -> None:
        shown = self.json("show", f"{SEVEN}-1")
        self.assertEqual(len(shown["screens"]), 15)
        phases = {screen["title"]: screen["phase"] for screen in shown["screens"]}
        self.assertEqual((phases["Your account"], phases["Package source"]), ("questions", "questions"))
        self.assertIn("swap: none (kept)", self.ok("show", f"{SEVEN}-1"))
        self.assertIn("of them before copying starts\t13–14\t13\n", self.ok("effort", SEVEN, EIGHT))

    def test_what_the_second_brought(self) -> None:
        text = self.ok("compare", "--all", SEVEN, EIGHT)
        self.assertIn(
            "On “Disk”, swap is no longer pre-set to none but to file. [7.0, run 2, 3:49; 8.0, run 2, 15:05]", text
        )
        self.assertIn("The trial “printer” fails; in 7.0 it worked.", text)
        self.assertIn("Figures count the runs on the bench VM, and leave out 8.0, run 2 (loan laptop).", text)
        self.assertIn("those on the bench VM only; corrected for", text)

    def test_the_lost_attempt_on_the_laptop(self) -> None:
        text = self.ok("issues", SEVEN, EIGHT)
        self.assertIn("disk-hidden: The disk screen lists no disk (blocker, Disk). On the loan laptop only, in the one run"
                      " of 8.0 that came by.", text)  # fmt: skip
        self.assertIn("Overcome after 7:20: storage controller switched to its plain mode in the firmware.", text)
        self.assertIn("attempts\t1\t1\n", self.ok("effort", SEVEN, EIGHT))

    def test_what_the_beta_brought(self) -> None:
        text = self.ok("compare", "--all", EIGHT, NINE)
        for title in ("Where are you?", "Keyboard", "Your account"):
            self.assertIn(f"“{title}” has moved across the restart: it stood in questions", text)
        self.assertIn("The screen “Package source” (source) is gone.", text)
        self.assertIn("New screen “Extra drivers” (extras).", text)
        self.assertIn("The disk screen “Disk” is now called “Where should it go?”.", text)
        self.assertIn("“Where should it go?” now asks for selection (small).", text)
        self.assertIn("to installed: 4:30 sooner (95 %: 2:26 to 6:29 sooner), clear", text)

    def test_what_healed_what_broke_and_what_nobody_knows(self) -> None:
        rows = {
            row["name"]: [cell["standing"] for cell in row["cells"]]
            for row in self.json("issues", SEVEN, EIGHT, NINE)["rows"]
        }
        self.assertEqual(rows, {
            "disk-hidden": ["absent", "new", "not retested"],
            "printer-silent": ["absent", "new", "gone"],
            "tour-hangs": ["absent", "absent", "new"],
            "keyboard-guess": ["absent", "absent", "new"],
        })  # fmt: skip
        self.assertIn(
            "tour-hangs: The tour hangs at its third step (major, Snapshots). In one of two runs of Larkmoor Heron 9.0 beta.",
            self.ok("issues"),
        )

    def test_the_keyboard_is_guessed_wrong_again(self) -> None:
        self.assertIn("layout is no longer pre-set to English (UK) but to English (US), as it was in 7.0.",
                      self.ok("compare", "--all", SEVEN, EIGHT, NINE))  # fmt: skip

    def test_the_first_update_is_long_for_the_image_is_old(self) -> None:
        text = self.ok("compare", "--all", EIGHT, NINE)
        self.assertIn("which alone makes first updates differ (8.0: 4 to 11 days; 9.0 beta: 49 days).", text)
        self.assertIn("to updated: 17:44 later", text)
        heron = self.json("trend", "updates")["trends"][0]
        self.assertEqual([point["median"][0] for point in heron["points"]], [41, 12, 412])

    def test_the_same_installer_with_a_lighter_desktop(self) -> None:
        found = self.json("kinship")
        self.assertIn([EIGHT, WREN], [sorted({EIGHT, WREN} & set(family)) for family in found["families"]])
        self.assertFalse(any({OSTERBY, NINE} & set(family) for family in found["families"] if EIGHT in family))
        self.assertRegex(self.ok("compare", "--all", EIGHT, WREN), r"memory \(installed\): \d+ MiB less .*, clear\n")

    def test_questions_in_a_terminal_and_a_gap_that_stays_a_range(self) -> None:
        found = self.json("compare", EIGHT, OSTERBY)
        self.assertEqual((found["releases"], found["baseline"]), ([OSTERBY, EIGHT], EIGHT))
        rows = [row["titles"] for row in found["rows"] if all(row["cells"])]
        self.assertIn(["Which disk?", "Disk"], rows)
        self.assertIn(["Installing packages", "Copying files"], rows)
        text = self.ok("issues", OSTERBY)
        self.assertIn("Overcome after 8:50–12:50: the third source of the list.", text)
        # It ends in a terminal, so that there is no desktop to be reached.
        self.assertIn("to the desktop\t—\t19:24\t\n", self.ok("compare", "--all", EIGHT, OSTERBY))
        contrast = next(each for each in found["contrasts"] if each["name"] == "installed")
        self.assertLess(contrast["difference"][0], contrast["difference"][1])
        self.assertEqual(found["times"][0]["paused"], [2730, 2730])


class Calls(DemoCase):
    def test_the_order_of_the_names_changes_the_baseline_and_nothing_else(self) -> None:
        one, other = (
            self.json("compare", SEVEN, EIGHT, NINE),
            self.json("compare", NINE, EIGHT, SEVEN, "--baseline", SEVEN),
        )
        self.assertEqual(one, other)
        turned = self.json("compare", NINE, SEVEN)
        self.assertEqual((turned["releases"], turned["baseline"]), ([SEVEN, NINE], NINE))

    def test_one_run_each_borrows_spread_from_the_line_and_says_so(self) -> None:
        text = self.ok("compare", "--all", f"{SEVEN}-1", f"{EIGHT}-1")
        self.assertIn("Spread estimated from repeats of ", text)
        alone = self.ok("compare", "--all", f"runs/{SEVEN}-1.metro", f"runs/{EIGHT}-1.metro", "--logbook", ".")
        self.assertEqual(alone, text)
        (self.book.path / "apart").mkdir(exist_ok=True)
        for name in (f"{SEVEN}-1", f"{EIGHT}-1"):
            (self.book.path / f"apart/{name}.metro").write_bytes(self.book.log(name).read_bytes())
        done = call("compare", "--all", f"{SEVEN}-1.metro", f"{EIGHT}-1.metro", folder=self.book.path / "apart")
        self.assertIn("Spread estimated from repeats of", done.stdout)

    def test_strict_exits_with_1_when_times_cannot_be_compared(self) -> None:
        self.ok("compare", SEVEN, EIGHT, "--strict")
        done = call("compare", SEVEN, f"{EIGHT}-2", "--strict", folder=self.book.path)
        self.assertEqual(done.returncode, 1)
        self.assertIn("times cannot be compared: rig, ", done.stderr)
        self.assertIn("Times cannot be compared: the rigs differ", done.stdout)

    def test_why_by_number_and_by_title(self) -> None:
        text = self.ok("compare", EIGHT, NINE, "--why", "disk")
        self.assertEqual(text, self.ok("compare", EIGHT, NINE, "--why", "8"))
        for line in (
            "kind: disk, the same",
            "questions: 0.67 in common: method, swap",
            "place: in order with the others",
        ):
            self.assertIn(f"  {line}\n", text)
        found = self.json("compare", EIGHT, NINE, "--why", "Keyboard")
        self.assertTrue(found["reasons"][0]["across"])
        self.assertIn("Not in 9.0 beta", self.ok("compare", EIGHT, NINE, "--why", "Package source"))
        for wrong in ("99", "0", "Kettle"):
            done = call("compare", EIGHT, NINE, "--why", wrong, folder=self.book.path)
            self.assertEqual(done.returncode, 2)
            self.assertIn(f"there is no row “{wrong}”", done.stderr)

    def test_a_person_overrules_what_is_found(self) -> None:
        settings = self.book.path / "metrograph.toml"
        before = settings.read_text()
        self.addCleanup(settings.write_text, before)
        settings.write_text(
            before
            + '\n[not-same-as]\n"Disk" = "Where should it go?"\n[same-as]\n"Extra drivers" = ["Package source"]\n'
        )
        rows = [row["titles"] for row in self.json("compare", EIGHT, NINE)["rows"]]
        self.assertIn(["Package source", "Extra drivers"], rows)
        self.assertNotIn(["Disk", "Where should it go?"], rows)
        self.assertIn("metrograph.toml says that", self.ok("compare", EIGHT, NINE, "--why", "Package source"))
        settings.write_text(before + "\n[same-as]\nDisk = 3\n")
        done = call("compare", EIGHT, NINE, folder=self.book.path)
        self.assertEqual(
            (
                done.returncode,
                f"metrograph.toml:{before.count(chr(10)) + 2}: “same-as” has a wrong value; expected: titles"
                in done.stderr,
            ),
            (2, True),
        )

    def test_every_figure_is_drawn_into_a_file(self) -> None:
        for words in (["lanes", SEVEN], ["strip", SEVEN, NINE], ["timetable", EIGHT, OSTERBY], ["trend", "desktop"]):
            self.assertEqual(self.ok("draw", *words), f"{words[0]}.svg drawn\n")
            self.assertIn("<desc", (self.book.path / f"{words[0]}.svg").read_text())
        self.assertEqual(self.ok("draw", "trend", "memory", "--state", "live", "-o", "x.png"), "x.png drawn\n")
        done = call("draw", "strip", SEVEN, NINE, "-o", "x.gif", folder=self.book.path)
        self.assertEqual((done.returncode, "one of .svg, .png, .pdf" in done.stderr), (2, True))

    def test_wrong_calls_say_what_would_be_right(self) -> None:
        for words, said in (
            (["compare", EIGHT, EIGHT], "name two or more to compare, each once"),
            (["compare", EIGHT, NINE, "--baseline", "larkmoor-9.0-beta"], "expected: larkmoor-9.0-beta-heron"),
            (["trend", "deskop"], "did you mean desktop?"),
            (["trend", "memory", "--state", "lively"], "did you mean live?"),
            (["kinship", "larkmoor-8.0-hern"], "did you mean larkmoor-8.0-heron"),
        ):
            done = call_here(*words, folder=self.book.path)
            self.assertEqual((done.returncode, done.stdout), (2, ""), words)
            self.assertIn(said, done.stderr)
