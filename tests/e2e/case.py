"""A test case with a logbook of its own and the installed command at hand."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any, ClassVar

from metrograph.demo import copy_demo
from metrograph.run.cards import Release, Rig
from metrograph.store.local.card_files import new_card
from metrograph.store.local.logbook import Logbook, make_logbook
from tests.helpers import call, call_here


class LogbookCase(unittest.TestCase):
    """Each test gets a logbook with one release and one rig."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        book = Logbook(self.folder)
        make_logbook(self.folder)
        new_card(book, "larkmoor-8.0-heron", Release("Larkmoor", "8.0", "Heron", released="2026-04-28"))
        new_card(book, "bench-vm", Rig(memory=4 << 30))

    here: ClassVar[bool] = False
    """Whether commands are given within this process: for many in a row, of which none is about processes."""

    def run_command(self, *words: str, **variables: str) -> subprocess.CompletedProcess[str]:
        return (call_here if self.here else call)(*words, folder=self.folder, variables=variables)

    def run_python(self, script: str, **variables: str) -> subprocess.CompletedProcess[str]:
        """Runs a script in a process of its own, to be in the way of the command."""
        return subprocess.run(
            [sys.executable, "-c", script], cwd=self.folder, env=os.environ | variables, capture_output=True, text=True,
            check=False,
        )  # fmt: skip

    def ok(self, *words: str) -> str:
        """What the command prints; it must succeed and complain of nothing."""
        done = self.run_command(*words)
        self.assertEqual((done.returncode, done.stderr), (0, ""), (words, done.stdout))
        return done.stdout

    def json(self, *words: str) -> Any:
        return json.loads(self.ok(*words, "--json"))

    def refused(self, code: int, *words: str) -> str:
        """The one sentence the command says when it refuses; it must print nothing else and change no file."""
        before = self.files()
        done = self.run_command(*words)
        self.assertEqual((done.returncode, done.stdout), (code, ""), (words, done.stderr))
        self.assertNotIn("Traceback", done.stderr)
        self.assertEqual(done.stderr.count("\n"), 1, done.stderr)
        self.assertEqual(self.files(), before)
        return done.stderr

    def files(self) -> dict[str, bytes]:
        return {
            str(path.relative_to(self.folder)): path.read_bytes()
            for path in sorted(self.folder.rglob("*"))
            if path.is_file() and path.name != ".lock" and ".cache" not in path.parts and os.access(path, os.R_OK)
        }

    def log(self, run: str = "larkmoor-8.0-heron-1") -> str:
        return (self.folder / "runs" / f"{run}.metro").read_text()


class OwnDemoCase(unittest.TestCase):
    """Each test gets a demo logbook of its own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = copy_demo(Path(folder.name) / "demo")

    def ok(self, *words: str) -> str:
        """What a command prints that has nothing to complain of."""
        done = call_here(*words, folder=self.book.path)
        self.assertEqual((done.returncode, done.stderr), (0, ""), words)
        return done.stdout

    def json(self, *words: str) -> Any:
        """The document that a command prints."""
        return json.loads(self.ok(*words, "--json"))
