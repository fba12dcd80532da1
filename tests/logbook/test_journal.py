"""The journal: names, open runs, and what may be added to which."""

import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from metrograph.errors import MetrographError
from metrograph.logbook.clock import Instant, elapsed
from metrograph.logbook.folder import Logbook, check_id, find_logbook, make_logbook, split_run
from metrograph.logbook.journal import begin, find_run, open_runs, record
from metrograph.logbook.selection import Reader, select
from metrograph.logbook.survey import all_files, survey_files
from metrograph.model.cues import Cue, Header

NOW = Instant(datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), "aaaa", 100.0)
HEADER = Header("larkmoor-8.0-heron", "bench-vm", NOW.wall)


class Journals(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)

    def add(self, run: str, cue: Cue) -> Cue:
        return record(self.book, run, lambda _log: cue)

    def test_runs_are_numbered_on_even_past_a_gap(self) -> None:
        self.assertEqual(begin(self.book, HEADER, NOW), "larkmoor-8.0-heron-1")
        self.book.log("larkmoor-8.0-heron-1").rename(self.book.log("larkmoor-8.0-heron-10"))
        self.assertEqual(begin(self.book, HEADER, NOW), "larkmoor-8.0-heron-11")
        self.assertEqual(self.book.run_names(), ["larkmoor-8.0-heron-10", "larkmoor-8.0-heron-11"])

    def test_the_log_is_what_the_language_says(self) -> None:
        run = begin(self.book, HEADER, NOW)
        self.add(run, Cue(7200, "choose", "swap", "file", (("was", "none"),)))
        self.assertEqual(
            self.book.log(run).read_text(),
            "metrograph 1\nrelease: larkmoor-8.0-heron\nrig: bench-vm\nbegun: 2026-05-02T10:04:11+00:00\n"
            "clock: aaaa 100.00\n\n0:07.2 choose swap = file\n    was: none\n",
        )

    def test_a_run_that_has_ended_takes_late_cues_only(self) -> None:
        run = begin(self.book, HEADER, NOW)
        self.add(run, Cue(60_000, "end", None, "done"))
        for cue in (Cue(61_000, "wait", None, ""), Cue(30_000, "end", None, "done")):
            with self.assertRaisesRegex(MetrographError, "ended at 1:00"):
                self.add(run, cue)
        self.add(run, Cue(59_000, "wait", None, ""))
        self.assertEqual(self.book.log(run).read_text().count("\n0:59 wait\n"), 1)

    def test_the_open_run_is_found_also_when_written_by_hand(self) -> None:
        with self.assertRaisesRegex(MetrographError, "no run is open"):
            find_run(self.book, None)
        by_hand = self.book.log("osterby-2026.1-1")
        by_hand.write_text("metrograph 1\nrelease: osterby-2026.1\nrig: bench-vm\nbegun: 2026-05-02T10:04:11Z\n\n")
        self.assertEqual(find_run(self.book, None), "osterby-2026.1-1")
        first, second = begin(self.book, HEADER, NOW), begin(self.book, HEADER, NOW)
        with self.assertRaisesRegex(MetrographError, f"several runs are open .{first}, {second}."):
            find_run(self.book, None)
        self.add(second, Cue(1, "end", None, "abandoned"))
        self.assertEqual((find_run(self.book, None), open_runs(self.book)), (first, [first]))
        self.book.log(first).unlink()
        self.book.log(second).unlink()
        self.assertEqual((begin(self.book, HEADER, NOW), open_runs(self.book)), (first, [first]))
        with self.assertRaisesRegex(MetrographError, "did you mean"):
            find_run(self.book, "larkmoor-8.0-heron-9")

    def test_a_log_in_another_encoding_is_not_added_to(self) -> None:
        run = begin(self.book, HEADER, NOW)
        path = self.book.log(run)
        path.write_bytes(path.read_bytes() + "0:01 note é\n".encode("latin-1"))
        before = path.read_bytes()
        with self.assertRaisesRegex(MetrographError, "cannot be added to.*not UTF-8"):
            self.add(run, Cue(2000, "wait", None, ""))
        self.assertEqual(path.read_bytes(), before)

    def test_a_restart_of_the_machine_adds_an_anchor_and_touches_nothing_else(self) -> None:
        run = begin(self.book, HEADER, NOW)
        self.add(run, Cue(1000, "wait", None, ""))
        before = self.book.log(run).read_text()
        restarted = Instant(NOW.wall.replace(minute=14), "bbbb", 30.0)
        for _ in range(2):
            record(self.book, run, lambda log: Cue(elapsed(log.header, restarted) or 0, "ready", None, ""), restarted)
        self.assertEqual(self.book.log(run).read_text(),
                         before.replace("clock: aaaa 100.00", "clock: aaaa 100.00, bbbb -570.00") + "10:00 ready\n" * 2)  # fmt: skip

    def test_a_line_that_was_cut_short_is_set_aside(self) -> None:
        run = begin(self.book, HEADER, NOW)
        self.add(run, Cue(1000, "screen", None, "Disk"))
        path = self.book.log(run)
        before = path.read_bytes()
        for torn, kept in {
            b"0:02 scr": "# cut short: 0:02 scr\n",
            b"0:02 note x\n    x-own": "0:02 note x\n# cut short: x-own\n",
            "0:02 note é".encode()[:-1]: "# cut short: 0:02 note \\xc3\n",
            b"0:02 note who": "0:02 note who\n",  # it can be read, so it counts
        }.items():
            path.write_bytes(before + torn)
            self.add(run, Cue(3000, "wait", None, ""))
            self.assertEqual(path.read_text(), before.decode() + kept + "0:03 wait\n")
            self.assertEqual(Reader(self.book).log(path).cues[-1].verb, "wait")

    def test_selecting_a_run_a_release_a_path(self) -> None:
        runs = [begin(self.book, HEADER, NOW) for _ in range(2)]
        self.assertEqual([name for name, _ in select(self.book, "larkmoor-8.0-heron").logs], runs)
        self.assertEqual([name for name, _ in select(self.book, runs[1]).logs], [runs[1]])
        self.assertEqual(select(None, "some/where.metro").logs[0][0], "where")
        for name, message in {
            "larkmoor-8.0-hern": "did you mean",
            "../../x": "there is no run log",
            "A B": "cannot be the name",
        }.items():
            with self.assertRaisesRegex(MetrographError, message):
                Reader(self.book).side(name)

    def test_own_kinds_and_wrong_settings(self) -> None:
        settings = self.book.path / "metrograph.toml"
        settings.write_text('personal = ["badge"]\n[kinds.licence]\nwords = ["licence"]\n')
        self.assertTrue(self.book.lexicon().is_personal("badge number"))
        self.assertEqual(self.book.lexicon().kind_of("Licence terms"), "licence")
        for wrong in ("[kinds.x]\nwords = 3", "sounds = true", "personal = 3", "kinds = [", "\xff"):
            settings.write_text(wrong, encoding="latin-1")
            with self.assertRaisesRegex(MetrographError, "metrograph.toml"):
                self.book.lexicon()

    def test_survey_finds_names_without_cards(self) -> None:
        run = begin(self.book, HEADER, NOW)
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
