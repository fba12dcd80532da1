"""Digests: made once, made anew when a log or what it is understood by has changed, and never needed."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Iterable, Sequence
from pathlib import Path
from unittest import mock

import metrograph
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest
from metrograph.store.local.logbook import Logbook, make_logbook
from metrograph.store.reading import LogReader
from tests.helpers import DEMO


class Digests(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)
        for number in (1, 2):
            shutil.copy(DEMO / f"runs/larkmoor-7.0-heron-{number}.metro", self.book.runs)

    def look(self) -> tuple[list[Digest], list[str]]:
        """The digests, and the runs whose logs were read for them."""
        read: list[str] = []

        def track(names: Sequence[str], _what: str) -> Iterable[str]:
            read.extend(names)
            return names

        return digests_of(LogReader(self.book), self.book, track), read

    def test_logs_are_read_once_until_they_change(self) -> None:
        first, read = self.look()
        self.assertEqual(read, ["larkmoor-7.0-heron-1", "larkmoor-7.0-heron-2"])
        self.assertEqual(self.look(), (first, []))
        log = self.book.log("larkmoor-7.0-heron-2")
        log.write_text(log.read_text() + "29:30 note late\n")
        self.assertEqual(self.look()[1], ["larkmoor-7.0-heron-2"])
        log.unlink()
        self.assertEqual((len(self.look()[0]), self.look()[1]), (1, []))

    def test_many_are_read_on_all_cores_with_what_is_wrong_with_any(self) -> None:
        text = (DEMO / "runs/larkmoor-7.0-heron-1.metro").read_text()
        for number in range(3, 12):
            wrong = "29:30 scren Late\n" if number == 5 else ""
            (self.book.runs / f"larkmoor-7.0-heron-{number}.metro").write_text(text + wrong)
        (self.book.runs / "larkmoor-7.0-heron-12.metro").write_bytes(b"\xff\x00 nothing")
        one, many = LogReader(self.book), LogReader(self.book)
        expected = digests_of(one, self.book, lambda names, _: names)
        shutil.rmtree(self.book.path / ".cache")
        with (
            mock.patch.multiple("metrograph.ledgers.digests.cache", _MANY=1, _PART=4),
            mock.patch("os.cpu_count", return_value=2),
        ):
            self.assertEqual(digests_of(many, self.book, lambda names, _: names), expected)
        self.assertEqual((many.faults, many.faulty), (one.faults, one.faulty))
        self.assertEqual({run.rpartition("-")[2] for run in many.faulty}, {"5", "12"})

    def test_another_lexicon_reads_all_anew(self) -> None:
        self.look()
        (self.book.path / "metrograph.toml").write_text('[kinds.kettle]\nwords = ["kettle"]\n')
        self.assertEqual(len(self.look()[1]), 2)

    def test_what_is_kept_may_be_lost_damaged_or_impossible_to_keep(self) -> None:
        expected = self.look()[0]
        kept = self.book.path / ".cache/digests"
        for damage in (b"", b"\xff" * 99, kept.read_bytes()[:-9]):
            kept.write_bytes(damage)
            self.assertEqual(self.look()[0], expected)
        shutil.rmtree(kept.parent)
        kept.parent.write_text("in the way")
        self.assertEqual(self.look(), (expected, ["larkmoor-7.0-heron-1", "larkmoor-7.0-heron-2"]))

    def test_a_log_that_was_put_back_with_its_old_time_is_still_noticed(self) -> None:
        self.look()
        log = self.book.log("larkmoor-7.0-heron-1")
        stat, text = log.stat(), log.read_text()
        log.rename(log.with_suffix(".old"))
        log.write_text(text.replace("884 MiB", "885 MiB"))
        os.utime(log, ns=(stat.st_atime_ns, stat.st_mtime_ns))
        self.assertEqual(self.look()[1], ["larkmoor-7.0-heron-1"])

    def test_what_is_wrong_in_a_log_is_said_each_time(self) -> None:
        log = self.book.log("larkmoor-7.0-heron-2")
        log.write_text(log.read_text() + "29:30 scren Disk\n")
        for _ in range(2):
            reader = LogReader(self.book)
            self.assertEqual(len(digests_of(reader, self.book, lambda names, _what: names)), 2)
            self.assertEqual([fault.message for fault in reader.faults], ["there is no verb “scren”"])

    def test_another_formula_or_another_name_of_a_measure_reads_all_anew(self) -> None:
        # The program is copied and changed as somebody would change it, and asked in a process of its own.
        program = self.book.path / "program/metrograph"
        shutil.copytree(Path(metrograph.__file__).parent, program, ignore=shutil.ignore_patterns("__pycache__"))
        ask = (
            "import sys\nfrom pathlib import Path\nfrom metrograph.ledgers.digests.cache import digests_of\n"
            "from metrograph.ledgers.digests.digest import details\nfrom metrograph.store.local.logbook import Logbook\n"
            "from metrograph.store.reading import LogReader\nbook = Logbook(Path(sys.argv[1]))\n"
            "digests = digests_of(LogReader(book), book, lambda names, _: names)\n"
            "print({name: value.low for name, value in details(digests[0]).figures.items() if name.endswith('screens')})"
        )

        alone = {name: value for name, value in os.environ.items() if not name.startswith("COVERAGE")}
        alone["PYTHONPATH"] = str(program.parent)

        def asked() -> str:
            done = subprocess.run(
                [sys.executable, "-c", ask, self.book.path], env=alone,
                capture_output=True, text=True, check=True,
            )  # fmt: skip
            return done.stdout.strip()

        self.assertEqual(asked(), "{'screens': 10.0}")
        for file, old, new, expected in (
            ("taking.py", "return len(metrics.screens)", "return 2 * len(metrics.screens)", "{'screens': 20.0}"),
            ("catalogue.py", '"screens"', '"all-screens"', "{'all-screens': 20.0}"),
        ):
            source = program / "measures" / file
            self.assertIn(old, source.read_text())
            source.write_text(source.read_text().replace(old, new))
            self.assertEqual(asked(), expected)
