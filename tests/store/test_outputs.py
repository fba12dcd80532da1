"""Outputs: written to where they were asked for, whatever that is, and never over what people wrote."""

import os
import tempfile
import threading
import unittest
from pathlib import Path

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.store.local.files import write_output


class Outputs(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_a_pipe_and_a_device_are_written_to(self) -> None:
        pipe, read = self.folder / "pipe", []
        os.mkfifo(pipe)
        reader = threading.Thread(target=lambda: read.append(pipe.read_bytes()))
        reader.start()
        write_output(pipe, b"x" * 200_000)
        reader.join()
        self.assertEqual((len(read[0]), pipe.is_fifo()), (200_000, True))
        write_output(Path("/dev/null"), b"x")
        with self.assertRaisesRegex(NotWritableError, "/dev/full cannot be written: No space left"):
            write_output(Path("/dev/full"), b"x")

    def test_a_link_stays_and_its_target_is_written(self) -> None:
        link, target = self.folder / "link.json", self.folder / "target.json"
        target.write_text("old")
        link.symlink_to(target)
        write_output(link, b"new")
        self.assertEqual((link.is_symlink(), target.read_bytes()), (True, b"new"))

    def test_logs_and_cards_are_no_outputs_whatever_leads_to_them(self) -> None:
        log, link = self.folder / "a-1.metro", self.folder / "page.html"
        log.write_text("log")
        link.symlink_to(log)
        for path in (log, link, self.folder / "metrograph.TOML"):
            with self.assertRaisesRegex(MetrographError, "is not written over"):
                write_output(path, b"x")
        self.assertEqual(log.read_text(), "log")
