"""Watching: a recording becomes a draft, a draft a run; displays and folders are watched; nothing that was shown is lost."""

from __future__ import annotations

import json
import re
import signal
import subprocess
import sys
import time
import unittest
from pathlib import Path
from threading import Timer
from unittest import mock

import av
import numpy as np
from PIL import Image

from metrograph.watch.inputs.frames import Colour
from tests.e2e.case import LogbookCase
from tests.helpers import ROOT, call_here
from tests.watch.drawn import picture
from tests.watch.server import Packed, Server, hello, update

SCREENS = (
    ("Language", "In which language should the system speak?", "English", "Deutsch"),
    ("Keyboard layout", "Type here to test the layout of your keyboard", "English (UK)", "German"),
    ("Where should it go?", "The disk has 25 GiB and nothing is on it", "Whole disk", "By hand"),
)


def shown(screen: int) -> Colour:
    title, *lines = SCREENS[screen]
    grey = picture((60, 30, title), (60, 340, ""), (520, 350, "Next"), size=(640, 400), letters=24).copy()
    body = picture(*((60, 90 + 40 * row, line) for row, line in enumerate(lines)), size=(640, 400), letters=15)
    return np.stack([np.minimum(grey, body)] * 3, axis=-1)


def film(path: Path, seconds: tuple[int, ...] = (4, 4, 4)) -> Path:
    """The screens one after the other, three frames a second."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=3)
        stream.width, stream.height, stream.pix_fmt = 640, 400, "yuv420p"
        for screen, length in enumerate(seconds):
            for _ in range(length * 3):
                container.mux(stream.encode(av.VideoFrame.from_ndarray(shown(screen % 3), format="rgb24")))
        container.mux(stream.encode(None))
    return path


class Watching(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        self.film = film(self.folder / "install.mp4")

    def draft(self) -> str:
        return next((self.folder / "drafts").glob("*.metro")).read_text()

    def test_what_is_in_a_recording_is_said(self) -> None:
        seen = self.json("scan", "install.mp4")
        self.assertEqual(
            [(span["title"], span["kind"]) for span in seen["spans"]],
            [("Language", "language"), ("Keyboard layout", "keyboard"), ("Where should it go?", "disk")],
        )
        for span, start in zip(seen["spans"], (0, 4, 8), strict=True):
            self.assertLess(abs(span["start"] - start), 1)
            self.assertGreater(span["sure"], 0.7)
        self.assertIn("3 screens", self.ok("scan", "install.mp4"))
        self.assertFalse((self.folder / "drafts").exists(), "nothing is written where no release is named")

    def test_from_a_recording_to_a_run_in_two_commands(self) -> None:
        (self.folder / "said.vtt").write_text("WEBVTT\n\n00:05.000 --> 00:06.000\nThe guess is right\n")
        said = self.ok(
            "scan",
            "install.mp4",
            "larkmoor-8.0-heron",
            "--rig",
            "bench-vm",
            "--captions",
            "said.vtt",
            "--begun",
            "2026-11-14T10:00:00+00:00",
        )
        self.assertIn("drafts/larkmoor-8.0-heron-1.metro", said)
        self.assertEqual(self.json("runs")["runs"], [], "a draft is in no comparison")
        self.assertIn("seen: shots/", self.draft())
        self.assertIn("5 cues proposed", said)
        self.ok("confirm", "--accept", "0.5")
        log = self.log()
        self.assertIn("note The guess is right", log)
        self.assertEqual(log.count(" shot "), 3)
        self.assertNotIn("sure:", log)
        self.assertEqual(list((self.folder / "drafts").glob("*.metro")), [])
        self.assertEqual(
            [screen["title"] for screen in self.json("show", "larkmoor-8.0-heron-1")["screens"]],
            [title for title, *_ in SCREENS],
        )
        # Nothing on this film says that the installation was over.
        self.assertIn("note the recording ends here", log)
        self.assertEqual([fault["message"] for fault in self.json("lint")["faults"]], ["the run has no end"])
        # The look is known now: what was uncertain is certain.
        again = film(self.folder / "again.mp4", (3, 5, 3))
        self.assertEqual([span["sure"] for span in self.json("scan", again.name)["spans"]], [0.98] * 3)

    def test_what_is_not_sure_stays_in_the_draft_and_is_not_taken_for_gone(self) -> None:
        self.ok("scan", "install.mp4", "larkmoor-8.0-heron", "--rig", "bench-vm")
        draft = next((self.folder / "drafts").glob("*.metro"))
        unsure = r"screen Keyboard layout\n    x-page: (\d)\n    sure: [.0-9]+"
        draft.write_text(
            re.sub(unsure, r"screen Keybqqrd\n    kind: keyboard\n    x-page: \1\n    sure: 0.6", draft.read_text())
        )
        done = self.run_command("confirm", "--accept", "0.75")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("stay in drafts/", done.stderr)
        self.assertRegex(self.log(), r"screen Key\w+ \(not confirmed\)\n    kind: keyboard")
        # Confirmed later, it takes the place that was kept for it.
        draft.write_text(draft.read_text().replace("Keybqqrd", "Keyboard layout"))
        self.ok("confirm", "--accept", "0.1")
        self.assertIn("screen Keyboard layout", self.log())
        self.assertNotIn("Unknown", self.log())

    def test_scanning_twice_gives_one_draft_and_goes_on_where_it_stopped(self) -> None:
        words = (
            "scan",
            "install.mp4",
            "larkmoor-8.0-heron",
            "--rig",
            "bench-vm",
            "--no-pictures",
            "--begun",
            "2026-11-14T10:00:00+00:00",
        )
        self.ok(*words)
        first = self.draft()
        kept_pages = next((self.folder / ".cache").glob("scan-*/pages.jsonl"))
        kept_pages.write_bytes(b"".join(kept_pages.read_bytes().splitlines(keepends=True)[:1]) + b'{"torn')
        self.ok(*words)
        pages = re.compile(r"x-page: \d+")
        self.assertEqual(pages.sub("", self.draft()), pages.sub("", first))
        self.assertNotIn("seen:", first)

    def test_what_a_person_decided_is_not_proposed_over(self) -> None:
        words = ("scan", "install.mp4", "larkmoor-8.0-heron", "--rig", "bench-vm", "--no-pictures")
        self.ok(*words)
        draft = next((self.folder / "drafts").glob("*.metro"))
        draft.write_text(re.sub(r"sure: [.0-9]+", "sure: 1", draft.read_text(), count=1))
        self.assertIn("holds what you decided", self.refused(2, *words))

    def test_bad_recordings_end_in_a_sentence(self) -> None:
        (self.folder / "empty.mkv").write_bytes(b"")
        (self.folder / "noise.mp4").write_bytes(b"no film at all " * 300)
        (self.folder / "half.mp4").write_bytes(self.film.read_bytes()[:4000])
        (self.folder / "pictures").mkdir()
        for name, words in {
            "empty.mkv": "cannot be opened as a film", "noise.mp4": "cannot be opened as a film", "half.mp4": "cannot be opened as a film",
            "missing.mp4": "there is no recording", "pictures": "has no picture in it",
        }.items():  # fmt: skip
            self.assertIn(words, self.refused(2, "scan", name))
        self.assertIn("no release", self.refused(2, "scan", "install.mp4", "larkmoor-1.0-heron", "--rig", "bench-vm"))
        self.assertIn("cannot be watched", self.refused(2, "watch", "vm:bench", "larkmoor-8.0-heron"))
        self.assertIn("no display answers", self.refused(2, "watch", "rfb://127.0.0.1:9", "larkmoor-8.0-heron"))
        self.assertIn("there is no draft", self.refused(2, "confirm"))

    def test_without_the_extra_one_line_says_what_to_install(self) -> None:
        with mock.patch("metrograph.watch.opening.find_spec", return_value=None):
            for words in (("scan", "install.mp4"), ("watch", "folder:.", "larkmoor-8.0-heron"), ("confirm",)):
                self.assertIn("pip install 'metrograph[watch]'", self.refused(2, *words))

    def test_pictures_that_come_into_a_folder_are_watched_until_it_is_interrupted(self) -> None:
        (self.folder / "seen").mkdir()
        watching = self.start("watch", "folder:seen", "larkmoor-8.0-heron", "--rig", "bench-vm")
        self.assertIn("watching folder:seen", watching.stderr.readline() if watching.stderr else "")
        assert watching.stdout is not None
        patience = Timer(60, watching.kill)  # so that one that is never told does not hang the test
        patience.start()
        self.addCleanup(patience.cancel)
        for screen, (title, *_) in enumerate(SCREENS):
            Image.fromarray(shown(screen)).save(self.folder / f"seen/{screen}.part", "PNG")
            (self.folder / f"seen/{screen}.part").rename(self.folder / f"seen/{screen}.png")
            # The next comes once this one was told, however long a busy machine takes.
            until_told = iter(watching.stdout.readline, "")
            self.assertTrue(any(f"screen {title}" in line for line in until_told), title)
        watching.send_signal(signal.SIGINT)
        _, err = watching.communicate(timeout=20)
        self.assertEqual(watching.returncode, 0, err)
        for title, *_ in SCREENS:
            self.assertIn(f"screen {title}", self.draft())

    def test_one_interrupt_ends_it_though_the_display_is_in_the_midst_of_a_message(self) -> None:
        server = Server(*hello(size=(640, 400)), b"\0\0\0\1", stay=60)
        self.addCleanup(server.close)
        watching = self.start("watch", f"rfb://127.0.0.1:{server.port}", "larkmoor-8.0-heron", "--rig", "bench-vm")
        self.assertIn("watching rfb:", watching.stderr.readline() if watching.stderr else "")
        time.sleep(0.5)
        begun = time.monotonic()
        watching.send_signal(signal.SIGTERM)
        _, err = watching.communicate(timeout=20)
        self.assertEqual(watching.returncode, 0, err)
        self.assertLess(time.monotonic() - begun, 15)  # the display would be waited for twenty seconds

    def test_what_was_shown_is_in_the_draft_however_it_dies(self) -> None:
        packed = Packed()
        server = Server(*hello(size=(640, 400)), update(packed.rectangle(0, 0, shown(0))), stay=30)
        self.addCleanup(server.close)
        watching = self.start("watch", f"rfb://127.0.0.1:{server.port}", "larkmoor-8.0-heron", "--rig", "bench-vm")
        assert watching.stdout is not None
        line = watching.stdout.readline()
        watching.kill()
        watching.communicate(timeout=10)
        self.assertIn("screen Language", line)
        self.assertIn("screen Language", self.draft())

    def start(self, *words: str) -> subprocess.Popen[str]:
        command = [str(Path(sys.executable).with_name("metrograph")), *words]
        return subprocess.Popen(command, cwd=self.folder, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)


class DemoRecordings(unittest.TestCase):
    def test_the_terminal_of_the_demo_is_read_and_its_film_is_small(self) -> None:
        recordings = ROOT / "src/metrograph/demo/recordings"
        seen = json.loads(call_here("scan", str(recordings / "osterby-2026.1.cast"), "--json", folder=ROOT).stdout)
        self.assertEqual(
            [span["title"] for span in seen["spans"] if span["title"]][:2],
            ["Which language?", "Which keyboard layout?"],
        )
        self.assertEqual(len(seen["spans"]), 22)
        self.assertLess((recordings / "larkmoor-9.0-heron.mp4").stat().st_size, 1 << 20)
