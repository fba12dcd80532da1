"""Sharing runs, from one logbook to another, through the commands; and what is said where the extra is not installed."""

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import mock

from metrograph.archive.place import ArchivePlace
from metrograph.archive.shared_logs import put
from metrograph.store.local.logbook import Logbook, make_logbook
from tests.e2e.case import OwnDemoCase
from tests.helpers import call, call_here

SEVEN, EIGHT = "larkmoor-7.0-heron", "larkmoor-8.0-heron"


class Sharing(OwnDemoCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.url = str(self.folder / "archive")
        patched = mock.patch.dict("os.environ", {"XDG_CONFIG_HOME": str(self.folder / "config")})
        patched.start()
        self.addCleanup(patched.stop)

    def test_from_one_reviewer_to_another(self) -> None:
        self.assertIn(
            "metrograph settings reviewer", call_here("share", SEVEN, "--to", self.url, folder=self.book.path).stderr
        )
        self.ok("settings", "reviewer", "Wren Ashby")
        log = self.book.runs / f"{SEVEN}-1.metro"
        log.write_text(
            log.read_text()
            .replace("\n\n", "\nclock: 9c2c7397 14051.92\ncalled: by Mina, Harbour Street\n\n", 1)
            .replace("0:08 wait", "0:08 wait\n0:09 fact host name = mended-seven\n0:10 note on mended-seven")
        )
        shown = call_here("share", SEVEN, "--to", self.url, "--dry-run", folder=self.book.path).stdout
        self.assertIn("shared-as: larkmoor-7.0-heron-1", shown)
        for own in ("mended-seven", "9c2c7397", "14051", "Harbour"):
            self.assertNotIn(own, shown)
        self.assertFalse(Path(self.url).exists())
        self.assertEqual(self.ok("share", SEVEN, EIGHT, "--to", self.url), f"{self.url}: 6 runs shared\n")
        self.assertEqual(
            self.ok("share", EIGHT, "--to", self.url), f"{self.url}: 0 runs shared, 4 were there already\n"
        )
        for path in Path(self.url).rglob("*.metro"):
            self.assertNotIn("mended-seven", path.read_text())
        self.assertIn("6 logs without rows yet", call_here("archive", "list", self.url, folder=self.book.path).stderr)
        self.assertEqual(self.ok("archive", "build", self.url, "--cores", "1"), f"{self.url}: 6 logs folded\n")
        listed = self.json("archive", "list", self.url)
        self.assertEqual([(each["release"], each["runs"]) for each in listed["releases"]], [(SEVEN, 2), (EIGHT, 4)])

        self.assertEqual(self.json("compare", SEVEN, EIGHT, "--archive", self.url)["others"]["standings"], [])
        self.ok("settings", "reviewer", "Somebody Else")
        said = self.ok("compare", SEVEN, EIGHT, "--archive", self.url)
        self.assertIn(
            "Installed after 17:45: slower than 3 of 5 runs of one other on virtual rigs with 4 GiB, whose median is",
            said,
        )
        self.assertIn(
            "“The printer is found, but nothing comes out” was met in 4 of 6 runs of others, by 1 of them, on physical and virtual rigs.",
            said,
        )

        for words, sentence in {
            (
                "issues",
            ): "“The disk screen lists no disk” was met in 1 of 6 runs of others, by 1 of them, on physical rigs. What helped: storage controller",
            (
                "kinship",
                EIGHT,
                "osterby-2026.1",
            ): "Nearest to Larkmoor Heron 8.0 among 1 release of others: Larkmoor Heron 7.0 (0.99).",
            ("trend", "installed"): "Larkmoor Heron 7.0: others have 15:53, 2 runs of one other.",
            ("claims", SEVEN): "Memory under 7.0: 1010 MiB in 2 runs of one other on virtual rigs with 4 GiB.",
            ("shortlist", SEVEN, "--for", "workshop"): "Hands-on under 7.0: 5:12 in 2 runs of one other on virtual",
        }.items():
            self.assertIn("\nBeside others\n", said := self.ok(*words, "--archive", self.url))
            self.assertIn(sentence, said)

        other = Logbook(self.folder / "other")
        make_logbook(other.path)
        self.assertIn(
            "larkmoor-8.0-heron-3: new", call_here("archive", "fetch", self.url, EIGHT, folder=other.path).stdout
        )
        self.assertEqual(len(other.run_names()), 4)

    def test_what_a_hostile_archive_says_is_shown_and_never_obeyed(self) -> None:
        evil = "<script>alert(1)</script>\x1b]0;owned\x07"
        text = (self.book.runs / f"{SEVEN}-1.metro").read_text().replace(SEVEN, f"larkmoor-7.0-{evil}", 1)
        text = text.replace("reviewer: workshop", f"reviewer: {evil}")
        text += f"40:00 issue printer-silent: x\n40:01 fix printer-silent: {evil}\n40:02 carries office: {evil} 9.9\n"
        put(ArchivePlace(self.url), text.encode())
        self.assertEqual(self.ok("archive", "build", self.url, "--cores", "1"), f"{self.url}: 1 log folded\n")
        everything = ("archive", "query", self.url, "SELECT * FROM runs, issues, software")
        asking = [("compare", SEVEN, EIGHT), ("issues",), ("kinship",), ("claims",), ("shortlist", "--for", "hand-out")]
        shown = [self.ok(*words, "--archive", self.url) for words in asking]
        shown += [self.ok(*everything), self.ok("archive", "list", self.url)]
        self.assertTrue(any("alert(1)" in said for said in shown))
        self.assertEqual([said for said in shown if "\x1b" in said or "\x07" in said], [])
        page = self.ok("report", SEVEN, EIGHT, "--archive", self.url, "-o", "-")
        self.assertNotIn("<script>alert", page)
        self.assertIn("alert(1)", page)
        self.ok("report", SEVEN, EIGHT, "--archive", self.url, "-o", "report.md")
        self.assertNotIn("<script>alert", (self.book.path / "report.md").read_text())
        # Nor does a name in it lead out of the logbook.
        taken = call("archive", "fetch", self.url, f"larkmoor-7.0-{evil}", folder=self.book.path)
        self.assertNotIn("\x1b", taken.stdout + taken.stderr)
        self.assertEqual([path for path in self.book.runs.iterdir() if "script" in path.name], [])

    def test_what_was_taken_back_is_in_no_answer(self) -> None:
        self.ok("settings", "reviewer", "Wren Ashby")
        self.ok("share", SEVEN, "--to", self.url)
        self.ok("archive", "build", self.url, "--cores", "1")
        ((log,),) = self.json("archive", "query", self.url, "SELECT log FROM runs WHERE run LIKE '%-2'")["rows"]
        self.ok("archive", "take-back", self.url, log, "--why", "The wrong image")
        self.assertEqual(self.json("archive", "list", self.url)["runs"], 1)
        checked = call_here("archive", "check", self.url, folder=self.book.path)
        self.assertEqual(
            (checked.returncode, checked.stderr), (0, "metrograph: 2 logs, 1 taken back, 1 part, 0 damages\n")
        )
        next(Path(self.url).rglob("tables/runs/*")).unlink()
        self.assertEqual(call_here("archive", "check", self.url, folder=self.book.path).returncode, 1)

    def test_what_cannot_be_shared_or_asked_is_said(self) -> None:
        self.ok("settings", "reviewer", "Wren Ashby")
        self.ok("share", SEVEN, "--to", self.url)
        call("begin", EIGHT, "--rig", "bench-vm", folder=self.book.path)
        for words, (code, told) in {
            ("share", f"{EIGHT}-5", "--to", self.url): (2, "is not over yet"),
            ("share", SEVEN, "--to", "foo://x"): (2, "no place that can be opened"),
            ("archive", "list", f"{self.url}-misspelt"): (2, "there is no archive at"),
            ("archive", "query", self.url, "DROP TABLE runs"): (2, "this is not one question"),
            ("archive", "fetch", self.url, EIGHT): (2, "has no runs of"),
            ("archive", "take-back", self.url, "x"): (2, "no name of a log"),
            ("compare", SEVEN, EIGHT, "--archive", f"{self.url}-misspelt"): (2, "there is no archive at"),
        }.items():
            done = call_here(*words, folder=self.book.path)
            self.assertEqual((done.returncode, done.stdout), (code, ""), words)
            self.assertIn(told, done.stderr)

    def test_without_the_extra_all_else_works_and_one_line_says_what_to_install(self) -> None:
        self.ok("settings", "reviewer", "Wren Ashby")
        self.ok("share", SEVEN, "--to", self.url)
        script = (
            "import sys\n"
            "for name in ('fsspec', 'duckdb', 'distributed', 's3fs'):\n    sys.modules[name] = None\n"
            "from metrograph.faces.cli.main import main\nsys.argv[0] = 'metrograph'\nmain()\n"
        )
        for words, expected in {
            ("compare", SEVEN, EIGHT): (0, ""),
            ("runs",): (0, ""),
            ("share", SEVEN, "--to", self.url): (0, ""),
            ("archive", "query", self.url, "SELECT 1"): (
                2,
                "metrograph: this needs what “pip install 'metrograph[archive]'” installs\n",
            ),
            ("compare", SEVEN, EIGHT, "--archive", self.url): (
                2,
                "metrograph: this needs what “pip install 'metrograph[archive]'” installs\n",
            ),
        }.items():
            done = subprocess.run(
                [sys.executable, "-c", script, *words], cwd=self.book.path, capture_output=True, text=True, check=False
            )
            self.assertEqual((done.returncode, done.stderr), expected, words)

    def test_a_setting_asks_without_being_named_and_stops_nothing(self) -> None:
        self.ok("settings", "archive", "foo://nowhere")
        done = call_here("compare", SEVEN, EIGHT, folder=self.book.path)
        self.assertEqual((done.returncode, "others could not be asked" in done.stderr), (0, True))
        self.assertEqual(json.loads(self.ok("settings", "archive", "--json"))["settings"][0]["value"], "foo://nowhere")
