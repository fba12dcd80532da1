"""Logs out and in again: the same, or refused with the place of what is wrong; and nothing that harms who opens it."""

import csv
import io
import json
import re
import unittest
from datetime import UTC, datetime

from hypothesis import given, settings
from hypothesis import strategies as st

from metrograph.core.errors import MetrographError
from metrograph.intake.whole_logs import document, guarded, logs_from_csv, read_document, schema, to_logs, unguarded
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.lexicon import load_lexicon
from metrograph.log.reader import read_log
from metrograph.log.writer import round_trip
from metrograph.privacy.mask import Mask
from metrograph.run.folding.fold import fold
from metrograph.show.files.chapters import to_chapters
from metrograph.show.files.export_tables import TABLES, logs_to_csv, to_csv
from metrograph.show.files.json import to_json
from metrograph.show.markdown import write
from metrograph.show.report.run import run_report
from metrograph.show.safe import visible
from tests.helpers import DEMO, LEXICON, cues, log_of, run_of

HEADER = Header("larkmoor-8.0-heron", "bench-vm", datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), (("way", "fresh"),))
LOGS = [(path.stem, read_log(path.read_text(), path.stem)[0]) for path in sorted((DEMO / "runs").glob("*.metro"))]


def told(logs: list[tuple[str, Log]]) -> list[tuple[str, Header, tuple[Cue, ...]]]:
    return [(run, log.header, log.cues) for run, log in logs]


class RoundTrips(unittest.TestCase):
    def test_the_demo_comes_back_by_both_ways(self) -> None:
        self.assertEqual(told(read_document(to_json(document(LOGS)).encode(), "x")), told(LOGS))
        self.assertEqual(told(logs_from_csv(*logs_to_csv(LOGS))), told(LOGS))
        for (_, log), path in zip(LOGS, sorted((DEMO / "runs").glob("*.metro")), strict=True):
            again, faults = read_log(round_trip(log, load_lexicon), path.stem)
            self.assertEqual((again.cues, [f for f in faults if f.level == "error"]), (log.cues, []))

    @settings(max_examples=60)
    @given(st.lists(cues(), max_size=8))
    def test_any_cues_come_back_by_both_ways_and_as_a_log(self, some: list[Cue]) -> None:
        logs = [("larkmoor-8.0-heron-1", Log("larkmoor-8.0-heron-1", HEADER, tuple(some)))]
        self.assertEqual(told(read_document(to_json(document(logs)).encode(), "x")), told(logs))
        self.assertEqual(told(logs_from_csv(*logs_to_csv(logs))), told(logs))
        self.assertEqual(told(to_logs(document(logs))), told(logs))
        self.assertEqual(read_log(round_trip(logs[0][1], load_lexicon))[0].cues, tuple(some))

    @given(st.text(max_size=20))
    def test_no_cell_is_a_formula_and_each_comes_back(self, text: str) -> None:
        self.assertEqual(unguarded(guarded(text)), text)
        self.assertNotIn(guarded(text)[:1], {"=", "+", "-", "@", "\t", "\r", "\uff1d"})
        self.assertTrue(guarded(text).isprintable() or not text.isascii())

    def test_signs_that_nobody_sees_are_spelt_and_come_back(self) -> None:
        for text, cell in {
            "Di\u202esk\u200b": "Di<U+202E>sk<U+200B>", "＝1": "'＝1", "a<U+202E>": "a<U+003C>U+202E>", "<U+12": "<U+12",
            "a\u200db": "a<U+200D>b", "न\u200dन": "न\u200dन", "two\nlines": "two<U+000A>lines",
        }.items():  # fmt: skip
            self.assertEqual((guarded(text), unguarded(cell)), (cell, text))
        self.assertEqual(visible("it\u2066 fails\u200d\u200b"), "it<U+2066> fails<U+200D><U+200B>")


class Wrong(unittest.TestCase):
    def test_documents_that_are_none_are_refused_with_the_path(self) -> None:
        for text, word in (
            ("{", "truncated"),
            ('{"format": 2, "runs": []}', "format 2"),
            ('{"format": 1, "runs": [{"run": 3}]}', "$.runs[0]"),
            ('{"format": 1, "runs": [], "more": 1}', "more"),
            ("[" * 100_000, "x"),
            (
                to_json(document(LOGS)).replace('"verb": "wait"', '"verb": "wiat"', 1),
                "there is no verb “wiat”; expected: wait",
            ),
        ):
            with self.assertRaises(MetrographError) as caught:
                read_document(text.encode(), "x")
            self.assertIn(word, str(caught.exception))

    def test_tables_that_are_none_are_refused_with_table_and_line(self) -> None:
        heads, rows = logs_to_csv(LOGS[:1])
        for one, other, word in (
            ("a,b\r\n", rows, "headers.csv, line 1"),
            (heads, rows + "x,1\r\n", f"cues.csv, line {rows.count(chr(10)) + 1}: 2 cells"),
            (heads, rows.replace(",1,", ",one,", 1), "cues.csv, line 2"),
            (heads.splitlines()[0] + "\r\n", rows, "is not in headers.csv"),
            (heads, rows.replace(",screen,", ",scren,", 1), "there is no verb “scren”; expected: screen"),
            (heads.replace("2025-10-25", "2025-13-25"), rows, "headers.csv, line 2"),
        ):
            with self.assertRaises(MetrographError) as caught:
                logs_from_csv(one, other)
            self.assertIn(word, str(caught.exception))

    def test_cues_that_the_language_has_not_are_refused(self) -> None:
        for cue, word in (
            (Cue(0, "check", "printer", "perhaps"), "pass"),
            (Cue(0, "screen", None, "Disk", (("kidn", "disk"),)), "kidn"),
            (Cue(0, "wait", "name", "x"), "read back the same"),
        ):
            with self.assertRaises(MetrographError) as caught:
                round_trip(Log("a-1", HEADER, (cue,)), load_lexicon)
            self.assertIn(word, str(caught.exception))


class Shapes(unittest.TestCase):
    def test_the_schema_names_every_part(self) -> None:
        names = schema()["$defs"]
        self.assertEqual(set(names), {"Document", "ArchivedRun", "ArchivedCue"})
        self.assertEqual(set(json.loads(to_json(document(LOGS)))["runs"][0]), set(names["ArchivedRun"]["required"]))

    def test_tables_have_a_cell_for_each_column_and_ranges_two(self) -> None:
        runs = [fold(log, run) for run, log in LOGS]
        for name, table in TABLES.items():
            rows = list(csv.reader(io.StringIO(to_csv(name, runs), newline="")))
            self.assertEqual({len(row) for row in rows}, {len(table.columns)}, name)
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
            "0:00 screen Host\n0:01 choose host name = reading-room\n    was: host\n    offered: host, anas-machine\n0:02 fact serial = 12\n0:03 keep swap = x"
        )
        mask = Mask([fold(log, "a")])
        clean = mask.apply(document([("a", log)])).runs[0].cues
        self.assertEqual(mask.hidden, 3)
        self.assertEqual([(cue.text, cue.fields) for cue in clean[1:]],
                         [("[host name]", (("was", "[host name]"), ("offered", "[host name]"))), ("[serial]", ()), ("x", ())])  # fmt: skip


class Hostile(unittest.TestCase):
    RUN = run_of(
        "0:00 screen <b>\\|x\n0:01 issue =cmd\\: [a](javascript\\:x) \\| y\n0:02 screen a --> b & <c>\n1:00 end done"
    )

    def test_markdown_has_no_markup_of_its_own(self) -> None:
        text = write(run_report(self.RUN))
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
            to_chapters(log, LEXICON),
            "WEBVTT\n\n1\n00:00:00.000 --> 00:01:30.000\n&lt;b&gt;\n\n2\n00:01:30.000 --> 00:02:00.000\na --&gt; b\n",
        )
        self.assertIn("00:00:00.000 --> 00:00:30.000\n&lt;b&gt;", to_chapters(log, LEXICON, 60_000))
        self.assertNotIn("&lt;b&gt;", to_chapters(log, LEXICON, 90_000))
