"""The README and the guide are typed in order, as a newcomer does, and every line works."""

import os
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from metrograph.demo import copy_demo
from tests.helpers import ROOT

_ASKED_FOR = re.compile(r"metrograph (?:record|edit|probe > )|^make |\.venv/")  # needs a person, or another machine


def lines_of(document: str, since: str, until: str) -> list[str]:
    """What is to be typed between two headings."""
    text = (ROOT / document).read_text().split(since)[1].split(until)[0]
    blocks = re.findall(r"```sh\n(.*?)```", text, re.DOTALL)
    return [line for block in blocks for line in block.splitlines() if line and not _ASKED_FOR.search(line)]


class Typed(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def type_in(self, lines: list[str], folder: Path) -> None:
        bin_folder = str(Path(sys.executable).parent)
        own = {"PATH": f"{bin_folder}:{os.environ['PATH']}", "XDG_CONFIG_HOME": str(self.folder / "config")}
        environment = os.environ | own
        done = subprocess.run(
            ["bash", "-c", "set -eu\n" + "\n".join(lines)], cwd=folder, env=environment, capture_output=True, text=True, check=False,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-600:])
        self.assertNotIn(
            "metrograph:",
            re.sub(r"metrograph: (?:personal values|no faults|not found out|\d+ errors).*", "", done.stderr),
        )

    def test_the_first_session_from_nothing(self) -> None:
        lines = lines_of("README.md", "## A first session", "What you typed is the log")
        self.assertGreater(len(lines), 12)
        self.type_in(lines, self.folder)
        self.assertIn("check printer: fail", (self.folder / "reviews/runs/larkmoor-8.0-heron-1.metro").read_text())

    def test_what_is_asked_of_the_demo(self) -> None:
        folder = copy_demo(self.folder / "demo").path
        lines = lines_of("README.md", "What you typed is the log", "## Read on")
        lines += lines_of("README.md", "## Over the releases", "From nothing to a scheduler")
        self.assertGreater(len(lines), 12)
        self.type_in(lines, folder)
        self.assertTrue((folder / "lanes.svg").is_file())

    def test_the_guide_from_evening_to_evening(self) -> None:
        lines = lines_of("docs/guide.md", "## The evening before", "## When something does not work")
        self.assertGreater(len(lines), 20)
        self.type_in(lines, self.folder)
        log = (self.folder / "workshop/runs/larkmoor-9.1-heron-1.metro").read_text()
        self.assertRegex(log, r"(?s)phase desktop.*fact .*check printer: pass.*end done")
        self.assertNotIn("Language", log)  # mended, and taken back
