"""A rig's machine is made, started with an image, followed to its end, and leaves nothing behind; with a stand-in monitor."""

from __future__ import annotations

import os
import signal
import socket
import struct
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from metrograph.run.cards import Rig
from metrograph.store.local.card_files import new_card
from metrograph.store.local.logbook import Logbook
from tests.e2e.case import LogbookCase
from tests.e2e.test_watching import SCREENS

RIG = Rig(
    kind="virtual", firmware="bios", processors=1, memory=1 << 30, disk=4 << 30, graphics="standard", network="none", display="640x400"
)  # fmt: skip
ROOT = Path(__file__).parents[2]


class Boot(LogbookCase):
    def setUp(self) -> None:
        super().setUp()
        new_card(Logbook(self.folder), "quick-vm", RIG)
        notes = tempfile.TemporaryDirectory()
        self.addCleanup(notes.cleanup)
        self.notes = Path(notes.name)
        self.sockets = self.notes / "sockets"
        self.sockets.mkdir()
        programs = self.folder / "programs"
        programs.mkdir()
        for name in ("qemu-system-x86_64", "qemu-img"):
            script = programs / name
            script.write_text(f'#!/bin/sh\nPYTHONPATH={ROOT} exec {sys.executable} -m tests.machine.stand_in "$@"\n')
            script.chmod(0o755)
        self.world = {
            "PATH": f"{programs}:{os.environ['PATH']}", "METROGRAPH_STAND_IN": str(self.notes), "TMPDIR": str(self.sockets),
        }  # fmt: skip
        (self.folder / "larkmoor.iso").write_bytes(b"an image" * 100)

    def boot(self, *more: str) -> subprocess.Popen[str]:
        words = ("boot", "larkmoor-8.0-heron", "--rig", "quick-vm", "--image", "larkmoor.iso", *more)
        started = subprocess.Popen(
            [Path(sys.executable).with_name("metrograph"), *words], cwd=self.folder, env=os.environ | self.world,
            stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(started.communicate)
        self.addCleanup(started.kill)
        return started

    def number(self) -> int:
        """Of the machine's process, once there is one."""
        self.until((self.notes / "number").exists)
        return int((self.notes / "number").read_text() or 0)

    def until(self, holds: Callable[[], bool]) -> None:
        patience = time.monotonic() + 60
        while not holds():
            self.assertLess(time.monotonic(), patience)
            time.sleep(0.05)

    def test_from_the_image_to_a_draft_and_nothing_is_left(self) -> None:
        out, err = self.boot("--headless").communicate(timeout=90)
        self.assertIn("the machine is on: nobody can act on it", err)
        (draft,) = (self.folder / "drafts").glob("*.metro")
        text = draft.read_text()
        for title, *_ in SCREENS:
            self.assertIn(f"screen {title}", text)
            self.assertIn(f"screen {title}", out)
        self.assertIn("machine: 1 processor, memory 1 GiB, disk 4 GiB, BIOS, 640x400, no network, accelerated\n", text)
        self.assertIn("note the recording ends here", text, "it was switched off, and nothing was installed")
        self.assertIn("-m 1024M", (self.notes / "called").read_text())
        self.assertEqual(list((self.folder / ".cache/machines").iterdir()), [])
        self.assertEqual(list(self.sockets.rglob("control")), [])
        self.assertIn("checksum", (self.folder / "releases/larkmoor-8.0-heron.toml").read_text())

    def test_however_the_command_dies_the_machine_dies_with_it_and_the_next_clears_up(self) -> None:
        killed = self.boot("--headless")
        number = self.number()
        assert killed.stdout is not None
        self.assertIn(f"screen {SCREENS[0][0]}", killed.stdout.readline())
        killed.kill()
        killed.wait()
        self.until(lambda: not _runs(number))
        (draft,) = (self.folder / "drafts").glob("*.metro")
        self.assertIn(f"screen {SCREENS[0][0]}", draft.read_text())
        self.assertEqual(len(list((self.folder / ".cache/machines").iterdir())), 1)
        (self.notes / "number").unlink()
        again = self.boot("--headless")
        assert again.stderr is not None
        self.assertIn("the machine is on", again.stderr.readline())
        self.assertEqual(len(list((self.folder / ".cache/machines").iterdir())), 1, "what the killed one left is gone")
        assert again.stdout is not None
        again.stdout.readline()
        again.send_signal(signal.SIGINT)
        again.communicate(timeout=30)
        self.assertEqual((again.returncode, list((self.folder / ".cache/machines").iterdir())), (0, []))

    def test_a_viewer_sees_the_machine_and_acts_on_it_through_the_port(self) -> None:
        started = self.boot()
        assert started.stderr is not None
        said = started.stderr.readline()
        port = int(said.partition("127.0.0.1:")[2].partition(";")[0])
        with socket.create_connection(("127.0.0.1", port), timeout=20) as viewer:
            viewer.settimeout(20)
            self.assertEqual(viewer.recv(12, socket.MSG_WAITALL), b"RFB 003.008\n")
            key = struct.pack(">BBxxI", 4, 1, 0xFF0D)
            viewer.sendall(b"RFB 003.008\n\x01\x00" + key)
            self.assertEqual(viewer.recv(6, socket.MSG_WAITALL), b"\x01\x01" + bytes(4))
            heard = b"RFB 003.008\n\x01\x01" + key
            self.until(lambda: any(each.read_bytes() == heard for each in self.notes.glob("heard-*")))
        started.communicate(timeout=60)

    def test_where_the_processors_cannot_run_it_it_runs_without_them(self) -> None:
        (self.notes / "broken-processors").touch()
        _, err = self.boot("--headless").communicate(timeout=90)
        self.assertIn("it runs without them, and far slower", err)
        (draft,) = (self.folder / "drafts").glob("*.metro")
        self.assertIn("not accelerated\n", draft.read_text())
        self.assertIn(f"screen {SCREENS[-1][0]}", draft.read_text())

    def test_a_machine_that_ends_at_once_is_not_waited_for_and_its_words_are_said(self) -> None:
        (self.folder / "programs/qemu-system-x86_64").write_text("#!/bin/sh\necho 'no such device' >&2\nexit 1\n")
        out, err = self.boot("--headless").communicate(timeout=15)
        self.assertEqual((out, err), ("", "metrograph: the machine cannot be started: no such device\n"))
        self.assertEqual(list((self.folder / ".cache/machines").iterdir()), [])

    def test_what_cannot_be_started_is_said_in_a_sentence(self) -> None:
        words = ("boot", "larkmoor-8.0-heron", "--image", "larkmoor.iso", "--rig")
        os.environ["PATH"], before = self.world["PATH"], os.environ["PATH"]
        self.addCleanup(os.environ.__setitem__, "PATH", before)
        self.assertIn("says nothing of disk", self.refused(2, *words, "bench-vm"))
        self.assertIn("no.iso", self.refused(2, *words[:2], "--image", "no.iso", "--rig", "quick-vm"))
        self.ok("release", "new", "larkmoor-8.0-heron", "--update", "--checksum", f"sha256:{'0' * 64}")
        self.assertIn("--anyway boots it all the same", self.refused(2, *words, "quick-vm"))
        os.environ["PATH"] = str(Path(sys.executable).parent)
        self.assertIn("packages qemu-system-x86 and qemu-utils", self.refused(2, *words, "quick-vm"))


def _runs(number: int) -> bool:
    """Whether a process is there and no mere entry of one that ended."""
    try:
        return Path(f"/proc/{number}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except FileNotFoundError:
        return False


if __name__ == "__main__":
    unittest.main()
