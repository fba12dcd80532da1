"""The logbook in a folder: names, open runs, repairs, settings, and finding it again."""

import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Header
from metrograph.log.reader import TORN
from metrograph.store.clock import Instant, When
from metrograph.store.ids import check_id, split_run
from metrograph.store.local.logbook import Logbook, find_logbook, make_logbook
from metrograph.store.memory import find_run, select
from metrograph.store.reading import LogReader
from metrograph.store.survey import all_files, survey_files

NOW = Instant(datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), "aaaa", 100.0)
HEADER = Header("larkmoor-8.0-heron", "bench-vm", NOW.wall)


class Logbooks(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)

    def add(self, run: str, cue: Cue) -> None:
        self.book.append(run, [cue], When(NOW, given=True))

    def test_runs_are_numbered_on_even_past_a_gap(self) -> None:
        self.assertEqual(self.book.begin(HEADER, NOW), "larkmoor-8.0-heron-1")
        self.book.log("larkmoor-8.0-heron-1").rename(self.book.log("larkmoor-8.0-heron-10"))
        self.assertEqual(self.book.begin(HEADER, NOW), "larkmoor-8.0-heron-11")
        self.assertEqual(self.book.run_names(), ["larkmoor-8.0-heron-10", "larkmoor-8.0-heron-11"])

    def test_the_open_run_is_found_also_when_written_by_hand(self) -> None:
        with self.assertRaisesRegex(MetrographError, "no run is open"):
            find_run(self.book, None)
        by_hand = self.book.log("osterby-2026.1-1")
        by_hand.write_text("metrograph 1\nrelease: osterby-2026.1\nrig: bench-vm\nbegun: 2026-05-02T10:04:11Z\n\n")
        self.assertEqual(find_run(self.book, None), "osterby-2026.1-1")
        first, second = self.book.begin(HEADER, NOW), self.book.begin(HEADER, NOW)
        with self.assertRaisesRegex(MetrographError, f"several runs are open .{first}, {second}."):
            find_run(self.book, None)
        self.add(second, Cue(1, "end", None, "abandoned"))
        self.assertEqual((find_run(self.book, None), self.book.open_runs()), (first, [first]))
        self.book.log(first).unlink()
        self.book.log(second).unlink()
        self.assertEqual((self.book.begin(HEADER, NOW), self.book.open_runs()), (first, [first]))
        with self.assertRaisesRegex(MetrographError, "did you mean"):
            find_run(self.book, "larkmoor-8.0-heron-9")

    def test_a_log_in_another_encoding_is_not_added_to(self) -> None:
        run = self.book.begin(HEADER, NOW)
        path = self.book.log(run)
        path.write_bytes(path.read_bytes() + "0:01 note é\n".encode("latin-1"))
        before = path.read_bytes()
        with self.assertRaisesRegex(MetrographError, "cannot be added to.*not UTF-8"):
            self.add(run, Cue(2000, "wait", None, ""))
        self.assertEqual(path.read_bytes(), before)

    def test_a_line_that_was_cut_short_is_set_aside(self) -> None:
        run = self.book.begin(HEADER, NOW)
        self.add(run, Cue(1000, "screen", None, "Disk"))
        path = self.book.log(run)
        before = path.read_bytes()
        for torn, kept in {
            b"0:02 scr": "# cut short: 0:02 scr\n",
            b"0:02 note x\n    x-own": "0:02 note x\n# cut short: x-own\n",
            "0:02 note é".encode()[:-1]: "# cut short: 0:02 note \\xc3\n",
            b"0:02 note who": f"0:02 note who\n{TORN}\n",  # it can be read, so it counts
        }.items():
            path.write_bytes(before + torn)
            self.add(run, Cue(3000, "wait", None, ""))
            self.assertEqual(path.read_text(), before.decode() + kept + "0:03 wait\n")
            self.assertEqual(LogReader(self.book).log(run).cues[-1].verb, "wait")

    def test_selecting_a_run_a_release_a_path(self) -> None:
        runs = [self.book.begin(HEADER, NOW) for _ in range(2)]
        self.assertEqual(list(select(self.book, "larkmoor-8.0-heron").runs), runs)
        self.assertEqual(select(self.book, runs[1]).runs, (runs[1],))
        elsewhere = select(self.book, str(self.book.log(runs[0])))
        self.assertEqual((elsewhere.runs, elsewhere.store.read(runs[0])), ((runs[0],), self.book.read(runs[0])))
        for name, message in {
            "larkmoor-8.0-hern": "did you mean",
            "../../x": "there is no run log",
            "A B": "cannot be the name",
        }.items():
            with self.assertRaisesRegex(MetrographError, message):
                select(self.book, name)

    def test_own_kinds_and_wrong_settings(self) -> None:
        settings = self.book.path / "metrograph.toml"
        settings.write_text('personal = ["badge"]\n[kinds.licence]\nwords = ["licence"]\n')
        self.assertTrue(self.book.settings().lexicon.is_personal("badge number"))
        self.assertEqual(self.book.settings().lexicon.kind_of("Licence terms"), "licence")
        for wrong in ("[kinds.x]\nwords = 3", "sounds = true", "personal = 3", "kinds = [", "\xff"):
            settings.write_text(wrong, encoding="latin-1")
            with self.assertRaisesRegex(MetrographError, "metrograph.toml"):
                self.book.settings()

    def test_survey_finds_names_without_cards(self) -> None:
        run = self.book.begin(HEADER, NOW)
        self.add(run, Cue(1, "end", None, "done"))
        found = [(fault.line, fault.found) for fault in survey_files(all_files(self.book), self.book)]
        self.assertEqual(found, [(2, "larkmoor-8.0-heron"), (3, "bench-vm")])


class Names(unittest.TestCase):
    def test_ids_are_safe_as_file_names(self) -> None:
        for good in ("larkmoor-8.0-heron", "a", "osterby-2026.1"):
            self.assertEqual(check_id(good, "release"), good)
        for bad in ("", "..", "a/b", "a..b", "-a", "A", ".hidden", "a-", "x" * 81, "a\nb", "ä"):
            with self.assertRaises(MetrographError, msg=bad):
                check_id(bad, "release")

    def test_run_names(self) -> None:
        self.assertEqual(split_run("larkmoor-8.0-heron-12"), ("larkmoor-8.0-heron", 12))
        self.assertEqual(split_run("heron"), ("heron", 0))

    def test_finding_the_logbook(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            with self.assertRaisesRegex(MetrographError, "metrograph init"):
                find_logbook(folder, folder)
            self.assertTrue(make_logbook(folder))
            self.assertFalse(make_logbook(folder))
            self.assertEqual(find_logbook(folder / "runs", None).path, folder)
