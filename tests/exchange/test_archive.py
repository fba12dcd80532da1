"""Logs out and in again: the same, or refused with the place of what is wrong; and nothing that harms who opens it."""

import csv
import io
import json
import re
import unittest
from datetime import UTC, datetime

from hypothesis import given, settings
from hypothesis import strategies as st

from metrograph.analysis.fold import fold
from metrograph.errors import MetrographError
from metrograph.exchange.archive import archive, masked, read_archive, schema, to_logs
from metrograph.exchange.chapters import to_chapters
from metrograph.exchange.json import to_json
from metrograph.exchange.tables import TABLES, guarded, logs_from_csv, logs_to_csv, to_csv, unguarded
from metrograph.language.bodies import known_kinds
from metrograph.language.reader import read_log
from metrograph.language.rebuilt import rebuilt
from metrograph.model.cues import Cue, Header, Log
from metrograph.model.lexicon import load_lexicon
from metrograph.views.run_markdown import render_run_markdown
from tests.helpers import DEMO, cues, log_of, run_of

HEADER = Header("larkmoor-8.0-heron", "bench-vm", datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), (("way", "fresh"),))
LOGS = [(path.stem, read_log(path.read_text(), path.stem)[0]) for path in sorted((DEMO / "runs").glob("*.metro"))]


def said(logs: list[tuple[str, Log]]) -> list[tuple[str, Header, tuple[Cue, ...]]]:
    return [(run, log.header, log.cues) for run, log in logs]


class RoundTrips(unittest.TestCase):
    def test_the_demo_comes_back_by_both_ways(self) -> None:
        self.assertEqual(said(read_archive(to_json(archive(LOGS)).encode(), "x")), said(LOGS))
        self.assertEqual(said(logs_from_csv(*logs_to_csv(LOGS))), said(LOGS))
        for (_, log), path in zip(LOGS, sorted((DEMO / "runs").glob("*.metro")), strict=True):
            again, faults = read_log(rebuilt(log, known_kinds), path.stem)
            self.assertEqual((again.cues, [f for f in faults if f.level == "error"]), (log.cues, []))

    @settings(max_examples=60)
    @given(st.lists(cues(), max_size=8))
    def test_any_cues_come_back_by_both_ways_and_as_a_log(self, some: list[Cue]) -> None:
        logs = [("larkmoor-8.0-heron-1", Log("larkmoor-8.0-heron-1", HEADER, tuple(some)))]
        self.assertEqual(said(read_archive(to_json(archive(logs)).encode(), "x")), said(logs))
        self.assertEqual(said(logs_from_csv(*logs_to_csv(logs))), said(logs))
        self.assertEqual(said(to_logs(archive(logs))), said(logs))
        self.assertEqual(read_log(rebuilt(logs[0][1], known_kinds))[0].cues, tuple(some))

    @given(st.text(max_size=20))
    def test_no_cell_is_a_formula_and_each_comes_back(self, text: str) -> None:
        self.assertEqual(unguarded(guarded(text)), text)
        self.assertNotIn(guarded(text)[:1], {"=", "+", "-", "@", "\t", "\r"})


class Wrong(unittest.TestCase):
    def test_documents_that_are_none_are_refused_with_the_path(self) -> None:
        for text, word in (
            ("{", "truncated"),
            ('{"format": 2, "runs": []}', "format 2"),
            ('{"format": 1, "runs": [{"run": 3}]}', "$.runs[0]"),
            ('{"format": 1, "runs": [], "more": 1}', "more"),
            ("[" * 100_000, "x"),
        ):
            with self.assertRaises(MetrographError) as caught:
                read_archive(text.encode(), "x")
            self.assertIn(word, str(caught.exception))

    def test_tables_that_are_none_are_refused_with_table_and_line(self) -> None:
        heads, rows = logs_to_csv(LOGS[:1])
        for one, other, word in (
            ("a,b\r\n", rows, "headers.csv, line 1"),
            (heads, rows + "x,1\r\n", f"cues.csv, line {rows.count(chr(10)) + 1}: 2 cells"),
            (heads, rows.replace(",1,", ",one,", 1), "cues.csv, line 2"),
            (heads.splitlines()[0] + "\r\n", rows, "is not in headers.csv"),
            (heads.replace("2025-10-25", "2025-13-25"), rows, "headers.csv, line 2"),
        ):
            with self.assertRaises(MetrographError) as caught:
                logs_from_csv(one, other)
            self.assertIn(word, str(caught.exception))

    def test_cues_that_the_language_has_not_are_refused(self) -> None:
        for cue, word in (
            (Cue(0, "scren", None, "Disk"), "no verb “scren”; expected: screen"),
            (Cue(0, "check", "printer", "perhaps"), "pass"),
            (Cue(0, "screen", None, "Disk", (("kidn", "disk"),)), "kidn"),
            (Cue(0, "wait", "name", "x"), "read back the same"),
        ):
            with self.assertRaises(MetrographError) as caught:
                rebuilt(Log("a-1", HEADER, (cue,)), known_kinds)
            self.assertIn(word, str(caught.exception))

    def test_a_secret_does_not_come_in_through_the_back_door(self) -> None:
        with self.assertRaises(MetrographError):
            rebuilt(Log("a-1", HEADER, (Cue(0, "enter", "password", "hunter2"),)), known_kinds)


class Shapes(unittest.TestCase):
    def test_the_schema_names_every_part(self) -> None:
        names = schema()["$defs"]
        self.assertEqual(set(names), {"Archive", "ArchivedRun", "ArchivedCue"})
        self.assertEqual(set(json.loads(to_json(archive(LOGS)))["runs"][0]), set(names["ArchivedRun"]["required"]))

    def test_tables_have_a_cell_for_each_column_and_ranges_two(self) -> None:
        runs = [fold(log, run) for run, log in LOGS]
        for name, table in TABLES.items():
            rows = list(csv.reader(io.StringIO(to_csv(name, runs), newline="")))
            self.assertEqual({len(row) for row in rows}, {len(table.columns)}, name)
            self.assertGreater(len(rows), len(runs) // 2, name)
        osterby = next(
            row
            for row in csv.DictReader(io.StringIO(to_csv("runs", runs), newline=""))
            if row["run"] == "osterby-2026.1-1"
        )
        self.assertEqual(
            (osterby["on_clock_low"], osterby["on_clock_high"], osterby["paused_low"]), ("1440", "1680", "2730")
        )

    def test_what_tells_who_is_masked_in_cues(self) -> None:
        log = log_of(
            "0:00 screen Host\n0:01 choose host name = reading-room\n    was: host\n0:02 fact serial = 12\n0:03 keep swap = x"
        )
        document, hidden = masked(archive([("a", log)]), load_lexicon().is_personal)
        clean = document.runs[0].cues
        self.assertEqual(hidden, 2)
        self.assertEqual([(cue.text, cue.fields) for cue in clean[1:]],
                         [("[host name]", (("was", "[host name]"),)), ("[serial]", ()), ("x", ())])  # fmt: skip


class Hostile(unittest.TestCase):
    RUN = run_of(
        "0:00 screen <b>\\|x\n0:01 issue =cmd\\: [a](javascript\\:x) \\| y\n0:02 screen a --> b & <c>\n1:00 end done"
    )

    def test_markdown_has_no_markup_of_its_own(self) -> None:
        text = render_run_markdown(self.RUN)
        self.assertIn(r"\<b\>\|x", text)
        self.assertNotIn("<b>", text)
        self.assertIsNone(re.search(r"(?<!\\)\]\(", text))
        widths = {
            line.replace(r"\|", "").count("|")
            for line in text.split("## Screens")[1].split("##")[0].splitlines()
            if line
        }
        self.assertEqual(widths, {6})

    def test_chapters_are_those_of_the_screens_and_nothing_ends_them(self) -> None:
        log = log_of("0:00 screen <b>\n1:00 note x\n1:30 screen a --> b\n2:00 end done")
        self.assertEqual(
            to_chapters(log),
            "WEBVTT\n\n1\n00:00:00.000 --> 00:01:30.000\n&lt;b&gt;\n\n2\n00:01:30.000 --> 00:02:00.000\na --&gt; b\n",
        )
        self.assertIn("00:00:00.000 --> 00:00:30.000\n&lt;b&gt;", to_chapters(log, 60_000))
        self.assertNotIn("&lt;b&gt;", to_chapters(log, 90_000))
