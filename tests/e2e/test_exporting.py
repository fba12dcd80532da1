"""Out and in again through the commands."""

import json
import re
import shutil
from pathlib import Path

from pyarrow import dataset

from metrograph.demo import copy_demo
from tests.e2e.case import LogbookCase
from tests.helpers import ROOT, call_here


class Exporting(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        self.book = copy_demo(self.folder / "demo")
        self.other = self.folder / "other"
        self.ok("init", str(self.other), "--within")

    def export(self, *words: str) -> str:
        done = call_here("export", *words, folder=self.book.path)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout

    def take_in(self, code: int, *words: str) -> str:
        done = call_here("import", *words, folder=self.other)
        self.assertEqual(done.returncode, code, done.stderr)
        return done.stdout + done.stderr

    def test_a_whole_logbook_goes_out_and_comes_in_twice(self) -> None:
        self.export("json", "-o", "all.json", "--show-personal")
        self.assertIn(
            "10 runs to write, 0 there already, 0 differ",
            self.take_in(0, "json", str(self.book.path / "all.json"), "--dry-run"),
        )
        self.assertIn("10 runs written", self.take_in(0, "json", str(self.book.path / "all.json")))
        self.assertIn(
            "0 runs written, 10 there already, 0 differ", self.take_in(0, "json", str(self.book.path / "all.json"))
        )
        shown, there = (
            call_here("show", "osterby-2026.1-1", "--json", folder=path).stdout for path in (self.book.path, self.other)
        )
        self.assertEqual(shown, there)
        log = self.other / "runs/osterby-2026.1-1.metro"
        log.write_text(log.read_text().replace("Install,", "Set up,"))
        self.assertIn(
            "osterby-2026.1-1 is there already, and differs", self.take_in(1, "json", str(self.book.path / "all.json"))
        )
        self.assertIn("Set up,", log.read_text())

    def test_tables_go_out_and_come_in(self) -> None:
        self.assertEqual(
            self.export("csv", "larkmoor-7.0-heron", "-o", "tables", "--show-personal"), "tables: 25 tables of 2 runs\n"
        )
        documented = re.findall(
            r"^\| `(\w+)` \|", (ROOT / "docs/tables.md").read_text().split("## The JSON")[0], re.MULTILINE
        )
        self.assertEqual({path.stem for path in (self.book.path / "tables").iterdir()}, set(documented))
        self.assertIn("2 runs written", self.take_in(0, "csv", str(self.book.path / "tables")))
        first = (self.book.path / "tables/choices.csv").read_text()
        self.assertIn(',"\'+office, +printing, -games",', first)
        (self.book.path / "tables/cues.csv").write_bytes(b"\xff")
        self.assertIn("is not UTF-8", self.take_in(2, "csv", str(self.book.path / "tables")))

    def test_typed_tables_can_be_queried_release_by_release(self) -> None:
        self.export("parquet", "-o", "archive")
        self.export("parquet", "-o", "archive")
        readings = dataset.dataset(self.book.path / "archive/readings", partitioning="hive")
        found = readings.to_table(
            filter=(dataset.field("name") == "memory") & (dataset.field("release") == "osterby-2026.1")
        )
        self.assertEqual(
            (found["value_low"].to_pylist(), str(found.schema.field("value_low").type)), ([96 * 2**20], "double")
        )

    def test_chapters_markdown_and_what_is_no_single_run(self) -> None:
        self.assertTrue(
            self.export("vtt", "larkmoor-7.0-heron-1").startswith(
                "WEBVTT\n\n1\n00:00:00.000 --> 00:00:51.700\nBoot menu\n"
            )
        )
        self.assertIn("| all together", self.export("md", "larkmoor-7.0-heron-1").replace("*", ""))
        for words, word in (
            (["vtt", "larkmoor-7.0-heron"], "name one run; these are 2"),
            (["vtt", "larkmoor-7.0-heron-1", "--starts", "x"], "--starts"),
        ):
            done = call_here("export", *words, folder=self.book.path)
            self.assertEqual((done.returncode, word in done.stderr), (2, True))

    def test_what_tells_who_stays_at_home_unless_it_is_asked_for(self) -> None:
        log = self.book.log("larkmoor-7.0-heron-1")
        log.write_text(
            log.read_text()
            .replace("6:24 enter host name", "6:24 enter host name = mended-seven")
            .replace("\n\n", "\nclock: mended-seven 14051.92\ncalled: by mended-seven\n\n", 1)
        )
        for words in (["json"], ["vtt"], ["md"], ["csv", "-o", "t"]):
            done = call_here("export", words[0], "larkmoor-7.0-heron-1", *words[1:], folder=self.book.path)
            text = done.stdout + "".join(path.read_text() for path in self.book.path.glob("t/*.csv"))
            self.assertNotIn("mended-seven", text)
            if words[0] != "vtt":
                self.assertRegex(done.stderr, r"personal values are masked in \w+ places?")
                self.assertIn("host name", text)
        self.assertIn("mended-seven", self.export("json", "larkmoor-7.0-heron-1", "--show-personal"))

    def test_names_from_outside_stay_in_the_folder_of_runs(self) -> None:
        self.export("json", "larkmoor-7.0-heron-1", "-o", "one.json")
        document = json.loads((self.book.path / "one.json").read_text())
        for name in ("../evil-1", "larkmoor-8.0-heron-1", "/var/x-1", "evil"):
            document["runs"][0]["run"] = name
            (self.other / "evil.json").write_text(json.dumps(document))
            self.take_in(2, "json", "evil.json")
        self.assertEqual(sorted(path.name for path in (self.other / "runs").iterdir()), [])
        self.assertFalse((self.folder / "evil-1.metro").exists())

    def test_the_schema_that_is_documented_is_the_one_that_is_printed(self) -> None:
        documented = Path(__file__).parent.parent.parent / "docs/archive.schema.json"
        self.assertEqual(json.loads(self.export("json", "--schema")), json.loads(documented.read_text()))

    def test_a_folder_that_cannot_be_written_to(self) -> None:
        shutil.copy(self.book.log("larkmoor-7.0-heron-1"), self.book.path / "file")
        done = call_here("export", "csv", "-o", "file", folder=self.book.path)
        self.assertEqual(done.returncode, 3)
