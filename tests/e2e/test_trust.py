"""What an adversary, or an unlucky day, may do to a logbook, and what still works then."""

import os
import re
from pathlib import Path

from tests.e2e.case import LogbookCase
from tests.helpers import picture

HEADER = "metrograph {}\nrelease: larkmoor-8.0-heron\nrig: bench-vm\nbegun: {}\n{}\n0:00 screen A\n1:00 end done\n"
BEGUN = "2026-05-02T10:04:11+02:00"


class Strays(LogbookCase):
    here = True

    def test_what_is_no_log_and_no_card_is_left_out_and_said(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        runs = self.folder / "runs"
        (runs / ".#larkmoor-8.0-heron-1.metro").symlink_to("nobody@nowhere:1")
        (runs / "larkmoor-8.0-heron-7.metro").mkdir()
        os.mkfifo(runs / "larkmoor-8.0-heron-8.metro")
        for name in ("releases/._x.toml", "releases/Copy of x.toml"):
            (self.folder / name).write_bytes(b"\xff")
        (self.folder / "rigs/x.toml").mkdir()
        for words in (["runs"], ["issues"], ["export", "csv", "-o", "t"], ["kinship"], ["readings"], ["status"]):
            done = self.run_command(*words)
            self.assertEqual(done.returncode, 0, (words, done.stderr))
            if words != ["status"]:
                self.assertEqual(done.stderr.count("is left out"), 1, words)
        for words in (["release", "list"], ["rig", "list"], ["cue", "wait"], ["begin", "larkmoor-8.0-heron"]):
            self.assertEqual(self.run_command(*words).returncode, 0, words)
        lint = self.run_command("lint")
        self.assertEqual(lint.returncode, 1)
        self.assertIn("runs/larkmoor-8.0-heron-7.metro", lint.stdout)

    def test_a_path_in_like_is_not_looked_at(self) -> None:
        path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        for like in ("/dev/zero", "../../etc/passwd", "runs/pipe.metro"):
            path.write_text(HEADER.format(1, BEGUN, f"like: {like}\n").replace("1:00 end done\n", ""))
            self.ok("cue", "--at", "0:30", "screen B")
            self.ok("status", "--run", "larkmoor-8.0-heron-1")


class Logs(LogbookCase):
    here = True

    def write(self, version: int = 1, begun: str = BEGUN, more: str = "", name: str = "larkmoor-8.0-heron-1") -> Path:
        path = self.folder / f"runs/{name}.metro"
        path.write_text(HEADER.format(version, begun, more))
        return path

    def test_a_later_version_is_read_and_never_written_to(self) -> None:
        path = self.write(version=2)
        before = path.read_text()
        self.assertIn("A", self.run_command("show", "larkmoor-8.0-heron-1").stdout)
        for words in (["cue", "--at", "0:30", "wait"], ["undo"], ["mend", "7", "wait"], ["next"], ["end"]):
            said = self.refused(2, *words, "--run", "larkmoor-8.0-heron-1")
            self.assertTrue("version 2" in said or "ended" in said or "no plan" in said, said)
        self.assertEqual(path.read_text(), before)

    def test_extreme_dates_spoil_nothing(self) -> None:
        self.write(name="larkmoor-8.0-heron-2")
        for begun in ("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00"):
            self.write(begun=begun)
            for words in (["runs"], ["readings"], ["weight"], ["trend", "on-clock"], ["export", "json"],
                          ["compare", "larkmoor-8.0-heron-1", "larkmoor-8.0-heron-2"]):  # fmt: skip
                done = self.run_command(*words)
                self.assertEqual(done.returncode, 0, (begun, words, done.stderr))
                self.assertIn("cannot be read; expected: a date", done.stderr)

    def test_clocks_that_cannot_be(self) -> None:
        boot = re.sub(r"-.*", "", Path("/proc/sys/kernel/random/boot_id").read_text())[:8]
        for ticks in ("nan", "inf", "-inf", "1e308", "-1e308", "x"):
            path = self.write(more=f"clock: {boot} {ticks}\n")
            path.write_text(path.read_text().replace("1:00 end done\n", ""))
            self.assertEqual(
                self.run_command("cue", "--at", "2:00", "wait", "--run", "larkmoor-8.0-heron-1").returncode, 0, ticks
            )
            self.assertLess(len(path.read_text()), 400)

    def test_cards_that_cannot_be(self) -> None:
        for text in (
            "notes = " + "[" * 5000,
            "processors = " + "9" * 5000,
            "released = 0001-01-01\n",
            "[claims]\nboot = inf\n",
        ):
            (self.folder / "releases/x-1.0.toml").write_text(text)
            for words in (["release", "list"], ["lint"], ["weight"]):
                self.assertIn(self.run_command(*words).returncode, (0, 1), (text[:20], words))

    def test_lint_does_not_print_the_secret_it_found(self) -> None:
        path = self.write()
        path.write_text(path.read_text().replace("1:00 end", "0:10 choose root password = hunter2\n0:20 note token=hunter2\n"
                                                 "0:30 issue password: hunter2\n1:00 end"))  # fmt: skip
        for words in (["lint"], ["lint", "--json"]):
            done = self.run_command(*words)
            self.assertEqual(done.returncode, 1)
            self.assertNotIn("hunter2", done.stdout + done.stderr)


class Acknowledged(LogbookCase):
    def test_what_follows_a_write_may_warn_and_never_fails(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        settings = self.folder / "metrograph.toml"
        before = settings.read_text()
        settings.write_text(before + "\nabout = 9\n")
        self.assertEqual(self.run_command("cue", "screen", "Disk").returncode, 0)
        done = self.run_command("end")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("“about” has a wrong value", done.stderr)
        settings.write_text(before)
        self.assertEqual([self.log().count(line) for line in ("screen Disk", "end done")], [1, 1])

    def test_a_hint_that_cannot_be_written_sends_no_cue_to_another_run(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        hint = self.folder / "runs/.open"
        hint.unlink()
        hint.mkdir()
        self.run_command("begin", "larkmoor-8.0-heron")
        self.assertIn("several runs are open", self.refused(2, "cue", "wait"))

    def test_what_is_masked_is_masked_in_json_of_a_log_from_elsewhere(self) -> None:
        path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        path.write_text(HEADER.format(1, BEGUN, "").replace("1:00 end", "0:10 enter host name = mina-laptop\n1:00 end"))
        self.assertNotIn("mina", self.run_command("show", "larkmoor-8.0-heron-1", "--json").stdout)


class World(LogbookCase):
    def test_a_picture_that_was_changed_is_found(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        (self.folder / "a.png").write_bytes(picture("red"))
        self.ok("shot", "a.png")
        self.assertNotIn("picture", self.run_command("lint").stdout)
        (kept,) = (self.folder / "shots").iterdir()
        kept.write_bytes(b"other")
        self.assertIn("its checksum differs", self.run_command("lint").stdout)
        kept.unlink()
        self.assertIn("the picture is not there", self.run_command("lint").stdout)

    def test_an_hour_that_was_twice_is_asked_back(self) -> None:
        for begun in ("2025-10-26 02:30", "2025-03-30 02:30"):
            said = self.run_command("begin", "larkmoor-8.0-heron", "--begun", begun, TZ="Europe/Berlin").stderr
            self.assertRegex(said, r"02:30 is not one moment; expected: 2025-\S+\+0[12]:00 or 2025-\S+\+0[12]:00")
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2025-10-26T02:30:00+01:00")

    def test_a_style_that_lies_in_the_folder_is_not_obeyed(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2025-10-26T02:30:00+01:00")
        self.ok("cue", "--at", "1:00", "screen Disk")
        drawn = [self.run_command("draw", "lanes", "larkmoor-8.0-heron", "-o", "-").stdout]
        (self.folder / "matplotlibrc").write_text(
            "figure.dpi: 7\nsavefig.facecolor: red\nsvg.fonttype: none\nlines.linewidth: 40\n"
        )
        drawn.append(self.run_command("draw", "lanes", "larkmoor-8.0-heron", "-o", "-").stdout)
        self.assertEqual(drawn[0], drawn[1])

    def test_what_libraries_say_is_said_in_our_words(self) -> None:
        for words in (
            ["undo", "0"],
            ["mend", "x", "wait"],
            ["rig", "new", "q", "--processors", "-1"],
            ["release", "new", "x-1.0", "--status", "q"],
        ):
            done = self.run_command(*words)
            said = done.stderr
            self.assertEqual(done.returncode, 2)
            self.assertRegex(said, "cannot be read; expected: a whole number from 1|has a wrong value; expected: ")
            self.assertNotRegex(said, "int range|enum|x>=1")
