"""The recorder in a real terminal: typed at, beside other commands, on a disk that fills up, and killed."""

import os
import resource
import signal
import sys
import time
from itertools import pairwise
from pathlib import Path

import pexpect

from metrograph.archive.building import build
from metrograph.archive.place import ArchivePlace
from tests.archive.case import ONE, share
from tests.e2e.case import LogbookCase

RUN = "larkmoor-8.0-heron-1"


class InATerminal(LogbookCase):
    def start(self, *words: str) -> "pexpect.spawn[str]":
        command = str(Path(sys.executable).with_name("metrograph"))
        clean = {key: value for key, value in os.environ.items() if not key.startswith("METROGRAPH")}
        child = pexpect.spawn(command, ["record", *words], cwd=str(self.folder), dimensions=(24, 80), encoding="utf-8",
                              env=clean | {"TERM": "xterm-256color", "LC_ALL": "C.UTF-8"}, timeout=30)  # fmt: skip
        self.addCleanup(child.close, force=True)
        child.expect("Enter: |Enter writes|expected")
        return child

    def wait_for(self, text: str) -> None:
        """Until the log has a text."""
        until = time.monotonic() + 20
        while text not in self.log():
            self.assertLess(time.monotonic(), until, f"{text!r} is not in the log:\n{self.log()}")
            time.sleep(0.05)

    def test_a_run_is_recorded_beside_other_commands_and_a_kill_loses_nothing(self) -> None:
        child = self.start("larkmoor-8.0-heron")
        child.send("sc Disk\r")
        self.wait_for(" screen Disk\n")
        self.ok("cue", "keep", "swap", "=", "file")
        child.expect("keep swap = file")
        child.send("\x1bOR")  # F3 as terminals send it
        self.wait_for(" wait\n")
        child.kill(signal.SIGKILL)
        child.wait()
        child = self.start()
        child.send("\r")  # what is likely: the wait is over
        self.wait_for(" ready\n")
        child.send("end done\r")
        self.wait_for(" end done\n")
        child.send("\x11")
        child.expect(f"{RUN}: 0:.. on the clock, ended: done")
        child.expect(pexpect.EOF)
        child.close()
        self.assertEqual(child.exitstatus, 0)
        verbs = [line.split()[1] for line in self.log().partition("\n\n")[2].splitlines()]
        self.assertEqual(verbs, ["screen", "keep", "wait", "ready", "end"])
        times = [line.split()[0] for line in self.log().partition("\n\n")[2].splitlines()]
        # Each writer takes the time before it waits for its turn, so that two at once may differ by less than a second.
        seconds = [float(time.partition(":")[2]) for time in times]
        self.assertTrue(all(after > before - 1 for before, after in pairwise(seconds)), times)

    def test_bytes_that_are_no_text_and_an_end_from_outside_lose_nothing_that_was_typed(self) -> None:
        child = self.start("larkmoor-8.0-heron")
        os.write(child.child_fd, b"note caf\xe9\r")
        self.wait_for(" note caf\ufffd\n")
        child.send("scren Disk\rnote half")
        child.expect("expected: screen")
        child.expect("half")
        child.kill(signal.SIGTERM)
        child.expect("kept for the next time: ")
        child.expect(pexpect.EOF)
        child.close()
        self.assertEqual(child.exitstatus, 0)
        child = self.start()
        child.expect("typed before, and not written")
        child.send("\x1b")
        child.setwinsize(1, 24)
        child.setwinsize(24, 80)
        child.send("note pass phrase")
        child.expect("phrase")
        child.send("\x11")
        child.expect("may hold a secret, and is not kept")

    def test_a_disk_that_fills_up_is_survived(self) -> None:
        child = self.start("larkmoor-8.0-heron")
        full = (self.folder / f"runs/{RUN}.metro").stat().st_size
        assert child.pid is not None
        resource.prlimit(child.pid, resource.RLIMIT_FSIZE, (full, resource.RLIM_INFINITY))
        child.send("note kept in mind\r")
        child.expect("NOT SAVED YET")
        self.assertNotIn("kept in mind", self.log())
        resource.prlimit(child.pid, resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))
        child.expect("saved now")
        self.assertEqual(self.log().count("note kept in mind\n"), 1)
        resource.prlimit(child.pid, resource.RLIMIT_FSIZE, (full, resource.RLIM_INFINITY))
        child.send("note lost otherwise\r")
        child.expect("NOT SAVED YET")
        child.send("\x11")
        child.expect("once more leaves")
        child.send("\x11")
        child.expect(rf"metrograph cue --run {RUN} --at 0:[0-9.]+ 'note lost otherwise'")
        child.expect("these cues are not in the log")
        child.expect(pexpect.EOF)
        child.close()
        self.assertEqual(child.exitstatus, 3)

    def test_what_others_take_is_asked_beside_it_and_an_archive_that_is_away_is_told_in_the_end(self) -> None:
        place = ArchivePlace(str(self.folder / "shared"))
        share(place, ["larkmoor-7.0-heron-1", "larkmoor-8.0-heron-1"])
        build(place, ONE)
        child = self.start("larkmoor-8.0-heron", "--archive", place.url)
        child.send("sc Disk\r")
        child.expect("with one other")
        child.send("end done\r")
        self.wait_for(" end done\n")
        child.send("\x11")
        child.expect(pexpect.EOF)
        child = self.start("larkmoor-8.0-heron", "--archive", f"{place.url}-misspelt")
        child.send("\x11")
        child.expect("others could not be asked: there is no archive at")
        child.expect(pexpect.EOF)

    def test_without_a_terminal_it_says_what_to_do(self) -> None:
        self.assertIn("needs a terminal", self.refused(2, "record"))
