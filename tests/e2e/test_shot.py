"""Pictures as evidence: kept once under their checksum, with their time."""

import hashlib
import os

from metrograph.core.bare_pictures import bare
from tests.e2e.case import LogbookCase
from tests.helpers import picture

RED, BLUE = picture("red"), picture("blue")
BEGUN = 1_777_716_000  # 2026-05-02T10:00:00Z


class Shots(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:00:00Z")

    def picture(self, name: str, data: bytes, taken: float) -> None:
        path = self.folder / name
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(data)
        os.utime(path, (taken, taken))

    def test_a_picture_is_kept_under_its_checksum_with_its_time(self) -> None:
        self.picture("disk screen.JPEG", RED, BEGUN + 90.5)
        self.ok("shot", "disk screen.JPEG")
        self.ok("shot", "disk screen.JPEG", "--at", "2:00")
        kept = bare(RED)[0]
        name = hashlib.sha256(kept).hexdigest()
        self.assertEqual([path.name for path in (self.folder / "shots").iterdir()], [f"{name}.png"])
        self.assertEqual((self.folder / f"shots/{name}.png").read_bytes(), kept)
        for time in ("1:30.5", "2:00"):
            self.assertIn(f"\n{time} shot shots/{name}.png\n    sha256: {name}\n", self.log())

    def test_from_a_folder_the_newest_since_the_last(self) -> None:
        self.picture("viewer/old.png", BLUE, BEGUN - 10)
        self.assertIn("no picture that is newer", self.refused(2, "shot", "viewer"))
        self.picture("viewer/one.png", BLUE, BEGUN + 10)
        self.picture("viewer/two.png", RED, BEGUN + 20)
        self.picture("viewer/notes.png", b"no picture", BEGUN + 30)
        self.ok("shot", "viewer")
        self.assertIn(f"0:20 shot shots/{hashlib.sha256(bare(RED)[0]).hexdigest()}", self.log())
        self.assertIn("no picture that is newer", self.refused(2, "shot", "viewer"))

    def test_what_is_no_picture(self) -> None:
        self.picture("log.png", b"#!/bin/sh", BEGUN)
        self.assertIn("no picture that is known; expected: BMP, GIF, JPG", self.refused(2, "shot", "log.png"))
        self.picture("half.png", RED[:60], BEGUN)
        self.assertIn("half.png cannot be kept as a picture: it is not whole", self.refused(2, "shot", "half.png"))
        self.assertIn("there is no picture", self.refused(2, "shot", "none.png"))
        self.assertIn("no ordinary file", self.refused(2, "shot", "/dev/zero"))
        self.assertEqual(list((self.folder / "shots").iterdir()), [])

    def test_what_nobody_sees_of_a_picture_stays_behind(self) -> None:
        (self.folder / "shots").rmdir()
        self.picture("told.png", picture("red", hidden=b"Harbour Street 7"), BEGUN + 5)
        self.ok("shot", "told.png")
        (kept,) = (self.folder / "shots").iterdir()
        self.assertNotIn(b"Harbour", kept.read_bytes())


class Imports(LogbookCase):
    here = True

    def test_notes_become_cues_once(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:00:00Z")
        head = self.log()
        (self.folder / "talk.srt").write_text(
            "1\n00:00:05,000 --> 00:00:06,000\nscreen Disk\n\n2\n00:01:00,000 --> 00:01:02,000\nIt is slow\n"
        )
        words = ("import", "notes", "talk.srt", "--cues", "--starts", "0:40", "--cut", "0:30=8:00")
        self.assertIn("9:40  note It is slow", self.run_command(*words, "--dry-run").stdout)
        self.assertEqual(self.log(), head)
        for expected in (
            "1 cue and 1 note written to larkmoor-8.0-heron-1",
            "0 notes written to larkmoor-8.0-heron-1; 2 there already",
        ):
            done = self.run_command(*words)
            self.assertEqual(done.returncode, 0)
            self.assertIn(expected, done.stderr)
        self.assertRegex(
            self.log().removeprefix(head),
            r"^0:45 screen Disk\n    noted: [0-9a-f-]{18}\n9:40 note It is slow\n    noted: [0-9a-f-]{18}\n$",
        )
        self.assertIn(
            "--cut “soon” cannot be read", self.refused(2, "import", "notes", "talk.srt", "--cut", "soon=1:00")
        )
