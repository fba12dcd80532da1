"""Bad input: one sentence that says where and what to do, the right exit code, nothing half-written."""

import json
import subprocess
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path

from tests.e2e.case import LogbookCase
from tests.helpers import picture


class Refusals(LogbookCase):
    def setUp(self) -> None:
        super().setUp()
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:00:00Z")

    def test_slips_in_a_cue(self) -> None:
        self.assertIn("no verb “scren”; expected: screen", self.refused(2, "cue", "scren Language"))
        self.assertIn("key and a value", self.refused(2, "cue", "choose swap"))
        self.assertIn("no option --ta", self.refused(2, "cue", "--ta=3:00", "wait"))
        self.assertIn("expected: a time such as 4:10", self.refused(2, "cue", "--at", "half past", "wait"))
        self.assertIn("no kind of screen “dsik”; expected: disk", self.refused(2, "cue", "screen X | kind dsik"))

    def test_words_that_are_not_utf_8(self) -> None:
        self.assertIn("not UTF-8", self.refused(2, "cue", "note Caf\udce9"))

    def test_a_terminal_with_nothing_but_ascii(self) -> None:
        done = self.run_command("cue", "scren x", PYTHONIOENCODING="ascii")
        self.assertEqual(done.stderr, 'metrograph: there is no verb "scren"; expected: screen. Nothing was recorded\n')
        done = self.run_command("cue", "--at", "0:01", "screen Où “x”", PYTHONIOENCODING="ascii")
        self.assertTrue(done.stdout.endswith('screen O? "x"\n'), done.stdout)
        self.assertIn("screen Où “x”\n", self.log())
        shown = self.run_command("show", "larkmoor-8.0-heron-1", "--json", PYTHONIOENCODING="ascii").stdout
        self.assertTrue(shown.isascii())
        self.assertEqual(json.loads(shown)["screens"][0]["title"], "Où “x”")

    def test_a_secret_is_refused_and_not_repeated(self) -> None:
        said = self.refused(2, "cue", "enter password = hunter2")
        self.assertIn("never kept", said)
        self.assertNotIn("hunter2", said)

    def test_names_that_are_not_known(self) -> None:
        self.assertIn("did you mean larkmoor-8.0-heron?", self.refused(2, "begin", "larkmoor-8.0-hern"))
        self.assertIn(
            "no rig “bnech-vm”; did you mean bench-vm?",
            self.refused(2, "begin", "larkmoor-8.0-heron", "--rig", "bnech-vm"),
        )
        self.assertIn("cannot be the name of a release", self.refused(2, "begin", "../../etc/passwd"))
        self.assertIn("larkmoor-8.0-heron-1", self.refused(2, "show", "larkmoor-8.0-heron-7"))
        self.assertIn("name two or more", self.refused(2, "compare", "larkmoor-8.0-heron"))
        self.assertIn(
            "is still to come", self.refused(2, "begin", "larkmoor-8.0-heron", "--begun", "2999-01-01T00:00:00Z")
        )
        self.assertIn("cannot be read", self.refused(2, "begin", "larkmoor-8.0-heron", "--begun", "whenever"))
        self.assertIn("expected: upgrade", self.refused(2, "begin", "larkmoor-8.0-heron", "--way", "upgraded"))

    def test_a_clock_that_was_set_back_while_the_machine_was_off(self) -> None:
        path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        begun = datetime.now(UTC) - timedelta(minutes=10)
        lines = [
            f"begun: {begun.isoformat()}" if line.startswith("begun") else line for line in self.log().splitlines()
        ]
        head = "\n".join(line for line in lines if not line.startswith("clock:")) + "\n"
        path.write_text(head + "\n9:30 screen Disk\n")
        self.ok("cue", "wait")
        path.write_text(head + "\n40:00 screen Disk\n")
        self.assertRegex(
            self.refused(2, "cue", "wait"), "clock of this machine says 10:[0-9]+, and the run has a cue at 40:00"
        )
        self.ok("cue", "--at", "41:00", "wait")

    def test_a_run_that_has_ended(self) -> None:
        self.ok("end", "--at", "1:00")
        self.assertIn("no run is open", self.refused(2, "cue", "wait"))
        self.assertIn("ended at 1:00", self.refused(2, "cue", "--run", "larkmoor-8.0-heron-1", "--at", "2:00", "wait"))

    def test_cards(self) -> None:
        card = self.folder / "releases/larkmoor-8.0-heron.toml"
        card.write_text('distribution = "Larkmoor"\nreleased = "in spring"\n')
        said = self.refused(2, "begin", "larkmoor-8.0-heron")
        self.assertIn("larkmoor-8.0-heron.toml:2: “released” has a wrong value: 'in spring'; expected: a date", said)
        self.assertIn("--memory “lots”: ", self.refused(2, "rig", "new", "x", "--memory", "lots"))
        self.assertIn(
            "--firmware “efi” has a wrong value; expected: uefi or bios",
            self.refused(2, "rig", "new", "x", "--firmware", "efi"),
        )
        self.assertIn("there already", self.refused(2, "rig", "new", "bench-vm"))

    def test_figures(self) -> None:
        self.assertIn("one of .svg, .png, .pdf", self.refused(2, "draw", "lanes", "larkmoor-8.0-heron", "-o", "x.gif"))
        self.assertIn(
            "cannot be written", self.refused(3, "draw", "lanes", "larkmoor-8.0-heron", "-o", "no/such/x.svg")
        )

    def test_no_logbook(self) -> None:
        said = self.refused(2, "runs", "--logbook", "elsewhere")
        self.assertIn("is not a logbook", said)

    def test_faults_in_a_log_do_not_hide_the_rest(self) -> None:
        path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        path.write_text(path.read_text() + "0:01 screen Disk\n0:02 scren x\n0:03 end done\n")
        done = self.run_command("show", "larkmoor-8.0-heron-1")
        self.assertEqual(done.returncode, 0)
        self.assertIn(
            "runs/larkmoor-8.0-heron-1.metro:8:6: error: there is no verb “scren”; expected: screen", done.stderr
        )
        self.assertIn("Disk", done.stdout)
        lint = self.run_command("lint")
        self.assertEqual((lint.returncode, lint.stdout.count("\n")), (1, 1))
        self.assertEqual(self.run_command("lint", "--strict", str(path)).returncode, 1)

    def test_a_log_in_another_encoding(self) -> None:
        path = self.folder / "old.metro"
        path.write_bytes(self.log().encode() + "0:01 screen Où\n".encode("latin-1"))
        done = self.run_command("lint", "old.metro")
        self.assertEqual(done.returncode, 1)
        self.assertIn("old.metro:7:14: error: this line is not UTF-8 (byte 0xf9)", done.stdout)

    def test_titles_of_any_kind_are_kept_and_never_reach_the_terminal_raw(self) -> None:
        title = "\x1b[31mRot\x07 語言 🙂 עברית \u202e x"
        done = self.run_command("cue", "--at", "0:01", f"screen {title}")
        self.assertIn(f"screen {title}\n", self.log())
        shown = self.run_command("show", "larkmoor-8.0-heron-1").stdout + done.stdout
        as_json = self.run_command("show", "larkmoor-8.0-heron-1", "--json").stdout
        for text in (shown, as_json):
            self.assertFalse({"\x1b", "\x07", "\u202e"} & set(text))
            self.assertIn("語言 🙂 עברית", text)
        self.assertEqual(self.json("show", "larkmoor-8.0-heron-1")["screens"][0]["title"], title)


class Disks(LogbookCase):
    def mount(self, options: str) -> Path:
        """A small disk in memory with a logbook and an open run on it."""
        place = self.folder / "small"
        place.mkdir()
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", options, "tmpfs", place], capture_output=True, check=False
        )
        if mounted.returncode:
            self.skipTest("a small disk can only be mounted by root")
        self.addCleanup(lambda: subprocess.run(["umount", place], check=True))
        self.ok("init", "small", "--within")
        for words in (
            ["release", "new", "larkmoor-8.0-heron"],
            ["rig", "new", "bench-vm"],
            ["begin", "larkmoor-8.0-heron"],
        ):
            self.ok(*words, "--logbook", "small")
        return place

    def test_a_folder_that_may_not_be_written(self) -> None:
        place = self.mount("size=1m")
        subprocess.run(["mount", "-o", "remount,ro", place], check=True)
        self.addCleanup(lambda: subprocess.run(["mount", "-o", "remount,rw", place], check=True))
        for words in (["cue", "wait"], ["begin", "larkmoor-8.0-heron"], ["rig", "new", "x"], ["end"]):
            said = self.refused(3, *words, "--logbook", "small")
            self.assertRegex(
                said, r"^metrograph: small/\S+ cannot be written: Read-only file system; nothing was written"
            )
        self.assertRegex(self.refused(3, "init", "small/sub", "--within"), "cannot be made: Read-only file system")

    def test_a_full_disk(self) -> None:
        log = self.mount("size=64k") / "runs/larkmoor-8.0-heron-1.metro"
        text = "x" * 3000
        acknowledged = 0
        for _ in range(40):
            done = self.run_command("cue", f"note {text}", "--logbook", "small")
            if done.returncode:
                break
            acknowledged += 1
        self.assertEqual((done.returncode, done.stdout), (3, ""))
        self.assertIn("No space left on device; nothing was written", done.stderr)
        self.assertEqual(log.read_text().count(f"note {text}\n"), acknowledged)
        self.assertTrue(log.read_text().endswith("x\n"))


class Streams(LogbookCase):
    def test_with_streams_closed_what_is_done_is_done_and_told_as_done(self) -> None:
        command = Path(sys.executable).with_name("metrograph")
        (self.folder / "red.png").write_bytes(picture("red"))
        for words, code in {
            ("begin", "larkmoor-8.0-heron"): 0,
            ("cue", "screen Disk"): 0,
            ("cue", "screen Users"): 0,
            ("undo",): 0,
            ("shot", "red.png"): 0,
            ("mend", "7", "screen Disks"): 0,
            ("runs",): 0,
            ("record",): 2,
            ("cue", "scren Disk"): 2,
            ("end", "done"): 0,
        }.items():
            done = subprocess.run(
                ["bash", "-c", '"$@" <&- >&- 2>&-', "bash", command, *words], cwd=self.folder, check=False
            )
            self.assertEqual(done.returncode, code, words)
        verbs = [line.split()[1] for line in self.log().splitlines() if line.startswith("0:")]
        self.assertEqual(verbs, ["screen", "shot", "end"])
        full = subprocess.run(["bash", "-c", f"{command} frobnicate 2>/dev/full"], cwd=self.folder, check=False)
        self.assertEqual(full.returncode, 2)

    def test_output_that_nobody_reads_or_that_has_no_room(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        command = Path(sys.executable).with_name("metrograph")
        script = (
            f"{command} show larkmoor-8.0-heron-1 | true; echo ${{PIPESTATUS[0]}}; {command} runs >/dev/full; echo $?"
        )
        done = subprocess.run(["bash", "-c", script], cwd=self.folder, capture_output=True, text=True, check=False)
        self.assertEqual(done.stdout.split()[1], "3")
        self.assertNotIn("Traceback", done.stderr)
        self.assertIn("No space left", done.stderr)
