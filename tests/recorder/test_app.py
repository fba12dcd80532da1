"""The recorder's screen, driven by keys."""

from textual.events import Key, Paste
from textual.widgets import Digits

from metrograph.log.cues import Cue
from tests.recorder.case import AppCase, driven

_PLAN = """\
0:00 screen Boot menu
0:03 choose entry = Start
    was: Check
0:10 screen Language
0:12 keep language = English
0:20 screen Package source
0:30 screen Disk
0:31 keep swap = none
1:30 end done
"""


class Alone(AppCase):
    @driven
    async def test_typing_completing_and_writing(self) -> None:
        async with self.recorder():
            self.seconds = 12
            await self.type("sc Disk")
            self.assertIn("Enter writes  0:12  screen Disk", self.shown("offer"))
            await self.type("<enter>", "cho swap = file", "<tab>")
            self.assertEqual(self.app.line.value, "cho swap = file | was ")
            await self.type("none", "<enter>", "issue a-b: No disk", "<enter>", "fix a", "<tab>")
            self.assertEqual(self.app.line.value, "fix a-b: ")
        self.assertEqual(
            self.cues(), "0:12 screen Disk\n0:12 choose swap = file\n    was: none\n0:12 issue a-b: No disk\n"
        )

    @driven
    async def test_a_fault_is_shown_and_nothing_is_written(self) -> None:
        async with self.recorder():
            await self.type("scren Disk")
            self.assertIn("there is no verb “scren”; expected: screen", self.shown("offer"))
            await self.type("<enter>")
            self.assertEqual((self.cues(), self.app.line.value), ("", "scren Disk"))
            self.assertIn("Nothing was written", self.shown("message"))

    @driven
    async def test_lines_that_come_at_once_are_cues_of_their_own_and_the_wrong_one_waits(self) -> None:
        async with self.recorder() as pilot:
            for sign in "screen Disk\rscren Wrong\rnote slow\r":
                character = None if sign == "\r" else sign
                self.app.post_message(Key("enter" if character is None else sign, character))
            while self.app.line.left != ["scren Wrong"]:
                await pilot.pause(0.05)
            self.assertEqual(self.cues(), "0:00 screen Disk\n0:00 note slow\n")
            self.app.post_message(Paste("\n\r\nissue a-b: No disk\r\n\r\nfix a-b: Found\nnote half"))
            while "note half" not in self.app.line.left:
                await pilot.pause(0.05)
            self.assertEqual(
                self.cues(), "0:00 screen Disk\n0:00 note slow\n0:00 issue a-b: No disk\n0:00 fix a-b: Found\n"
            )
            self.assertEqual(self.app.line.left, ["note half", "scren Wrong"])

    @driven
    async def test_a_window_may_be_of_any_size(self) -> None:
        async with self.recorder(24, 1) as pilot:
            for size in ((1, 1), (2, 40), (24, 3), (300, 2), (80, 10)):
                await pilot.resize_terminal(*size)
                await self.type("note here", "<enter>")
                self.assertEqual(self.app.line.region.height, 1, size)
        self.assertEqual(self.cues().count("note here"), 5)

    @driven
    async def test_a_line_that_is_not_at_its_end_is_answered_with_how_it_may_go_on(self) -> None:
        async with self.recorder():
            for typed, said in (
                ("cho", "choose …"), ("choose", "such as  choose swap = file | was none"),
                ("choose swap", "such as  choose swap = file | was none"), ("<f7>", "phase, screen, keep"),
            ):  # fmt: skip
                await self.type("<escape>", typed)
                self.assertIn(said, self.shown("offer"))

    @driven
    async def test_help_is_there_and_goes_and_a_question_mark_in_a_text_is_one(self) -> None:
        async with self.recorder() as pilot:
            for way in ("<f1>", "?"):
                await self.type(way)
                self.assertEqual(len(self.app.screen_stack), 2)
                await self.type("<f3>")  # which writes nothing here
                await self.type("<escape>")
                await pilot.pause()
                self.assertEqual((len(self.app.screen_stack), self.app.line.value), (1, ""))
            await self.type("screen Where?")
            self.assertEqual((len(self.app.screen_stack), self.app.line.value), (1, "screen Where?"))
        self.assertEqual(self.cues(), "")

    @driven
    async def test_an_end_says_what_the_record_lacks(self) -> None:
        async with self.recorder():
            await self.type("screen Disk", "<enter>", "end", "<enter>")
            self.assertRegex(self.shown("message"), "saved: 0:00 end done; still lacking: .*desktop was never reached")

    @driven
    async def test_a_secret_leaves_the_screen_and_never_reaches_the_disk(self) -> None:
        async with self.recorder():
            await self.type("enter password = hunter2", "<enter>")
            self.assertEqual((self.cues(), self.app.line.value), ("", "enter password"))
            await self.type("<enter>")
            self.assertEqual(self.cues(), "0:00 enter password\n")

    @driven
    async def test_one_key_each(self) -> None:
        async with self.recorder():
            await self.type("screen Disk", "<enter>", "<f3>")
            self.seconds = 5
            await self.type("<f3>", "<f4>")
            self.assertIn("paused", self.shown("title"))
            self.assertIn("F4 resume", self.shown("keys"))
            self.seconds = 8
            await self.type("<enter>")  # what is likely when paused
            self.seconds = 9
            await self.type("<f6>", "x: y", "<enter>", "<f7>")
            self.assertEqual(self.app.line.value, "0:09 ")
            await self.type("<escape>", "<f5>")
            self.assertEqual(self.app.line.value, "issue x: y")
            await self.type("<escape>", "<f2>")
            self.assertIn("this run has no plan", self.shown("message"))
        self.assertEqual(self.cues(), "0:00 screen Disk\n0:00 wait\n0:05 ready\n0:05 pause\n0:08 resume\n")

    @driven
    async def test_cues_of_another_terminal_appear(self) -> None:
        async with self.recorder():
            self.write_elsewhere(Cue(5000, "screen", None, "Disk \x1b[2J"))
            await self.until("cues", "screen Disk ␛[2J")
            self.assertIn("“Disk ␛[2J”", self.shown("front"))

    @driven
    async def test_a_full_disk_is_said_survived_and_made_good(self) -> None:
        async with self.recorder():
            with self.full_disk():
                await self.type("screen Disk", "<enter>")
                self.assertIn("NOT SAVED YET", self.shown("message"))
                self.assertIn("!screen Disk", self.shown("cues").replace(" ", "", 1).replace("! ", "!"))
                await self.type("<ctrl+q>")
                self.assertIn("once more leaves and prints what is missing", self.shown("message"))
            await self.until("message", "saved now: 1 cue")
        self.assertEqual(self.cues(), "0:00 screen Disk\n")

    @driven
    async def test_after_an_hour_of_silence_enter_offers_the_pause(self) -> None:
        async with self.recorder():
            await self.type("screen Disk", "<enter>")
            self.seconds = 7200
            await self.until("offer", "Enter: you were away? pause at 0:00, resume now")
            await self.type("<enter>")
        self.assertEqual(self.cues(), "0:00 screen Disk\n0:00 pause\n2:00:00 resume\n")

    @driven
    async def test_what_waits_is_kept_when_the_run_was_ended_elsewhere(self) -> None:
        async with self.recorder():
            self.seconds = 5
            with self.full_disk():
                await self.type("wait", "<enter>")
            self.write_elsewhere(Cue(1000, "end", None, "done"))
            self.seconds = 7
            await self.until("message", "ended at 0:01")
            self.assertEqual([cue.verb for cue in self.app.session.unwritten], ["wait"])

    @driven
    async def test_a_typed_line_is_not_lost_to_a_key(self) -> None:
        async with self.recorder():
            await self.type("screen Disk", "<enter>", "it hangs", "<f5>")
            self.assertIn("the line is not empty", self.shown("message"))
            await self.type("<f6>")
            self.assertEqual(self.app.line.value, "0:00 issue it hangs")

    @driven
    async def test_a_line_of_the_log_that_cannot_be_read_is_told(self) -> None:
        async with self.recorder():
            with self.book.log(self.run_name).open("a") as log:
                log.write("0:01 scren x\n")
            await self.until("front", "line 7 of the log cannot be read")

    @driven
    async def test_the_clocks(self) -> None:
        async with self.recorder():
            await self.type("screen Disk", "<enter>")
            self.seconds = 65
            await self.type("<f3>")
            self.seconds = 3725
            await self.type("<f3>")
            self.assertEqual(self.app.query_one("#clock", Digits).value, "1:02:05")
            small = [line.split() for line in self.shown("small").split("\n")]
            self.assertEqual(small, [["this", "screen", "1:02:05"], ["hands-on", "1:05"], ["waiting", "1:01:00"]])

    @driven
    async def test_a_title_without_end_is_shown_in_short_everywhere(self) -> None:
        self.session.write([Cue(0, "screen", None, "x" * 1_000_000), Cue(0, "issue", None, "y" * 1_000_000)])
        async with self.recorder():
            await self.type("screen x")
            for panel in ("front", "plan", "cues", "offer", "completions"):
                self.assertLess(len(self.shown(panel)), 1000, panel)

    @driven
    async def test_every_panel_fits_into_80_by_24(self) -> None:
        self.session.write([Cue(at, "screen", None, "語" * 60) for at in range(40)])
        async with self.recorder():
            for panel in ("title", "front", "bars", "plan", "log", "message", "offer", "line", "completions", "keys"):
                region = self.app.query_one(f"#{panel}").region
                self.assertTrue(region.height and region.right <= 80 and region.bottom <= 24, (panel, region))
            self.assertIn("^Q leave", self.shown("keys")[:78])


class Planned(AppCase):
    plan = _PLAN

    @driven
    async def test_enter_walks_along_the_plan_and_says_so_beforehand(self) -> None:
        async with self.recorder():
            said = []
            for second in range(4):
                self.seconds = second
                said.append(self.shown("offer"))
                await self.type("<enter>")
            self.assertEqual(
                said[:2],
                ["Enter: writes  screen Boot menu | kind boot-menu", "Enter: writes  choose entry = Start | was Check"],
            )
        self.assertEqual(self.cues(),
                         "0:00 screen Boot menu\n    kind: boot-menu\n0:01 choose entry = Start\n    was: Check\n"
                         "0:02 screen Language\n    kind: language\n0:03 keep language = English\n")  # fmt: skip

    @driven
    async def test_the_next_screen_with_its_choices_and_what_is_off_the_plan(self) -> None:
        async with self.recorder():
            self.assertIn("Package source", self.shown("plan"))
            await self.type("<f2>", "<f2>", "screen Disk", "<enter>")
            self.assertIn("off the plan: The screen “Package source” was skipped.", self.shown("message"))
            await self.type("<tab>")
            self.assertEqual(self.app.line.value, "keep swap = none")
            await self.type("<backspace>" * 1, "<backspace>", "<backspace>", "<backspace>", "file", "<enter>")
            self.assertIn("swap is pre-set differently: file, not none.", self.shown("message"))
            self.assertIn("2 off the plan", self.shown("front"))
            await self.type("<f2>")
            self.assertIn("no screen after this one", self.shown("message"))
        self.assertIn("0:00 keep language = English\n0:00 screen Disk\n0:00 keep swap = file\n", self.cues())

    @driven
    async def test_a_wide_window_shows_the_whole_plan(self) -> None:
        async with self.recorder(140, 50):
            self.assertEqual(self.shown("plan").count("\n"), 4)
            self.assertIn("1:30", self.shown("plan").split("\n")[0])
