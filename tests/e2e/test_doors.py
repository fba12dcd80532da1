"""Every door by which a cue comes in: none lets a secret through, and a mistake of the program's own is told as one."""

import json

from metrograph.faces.cli.main import MISTAKE
from tests.e2e.case import LogbookCase
from tests.intake.probed import written

RUN = "larkmoor-8.0-heron-1"
SLIP = "Hunter22x"
SAID = f"the password was {SLIP}"


class Doors(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:00:00+02:00")
        self.ok("cue", "--at", "0:10", "screen Your account")

    def kept(self) -> str:
        """All that lies in the logbook, but for what the test put beside it."""
        return "".join(
            data.decode("utf-8", "replace") for name, data in self.files().items() if not name.startswith("given")
        )

    def give(self, name: str, text: str) -> str:
        (self.folder / f"given-{name}").write_text(text)
        return f"given-{name}"

    def test_typed_and_mended(self) -> None:
        for words in (["cue", f"note {SAID}"], ["cue", f"enter password = {SLIP}"], ["mend", "7", f"note {SAID}"]):  # fmt: skip
            self.assertNotIn(SLIP, self.refused(2, *words), words)
        self.assertNotIn(SLIP, self.kept())

    def test_whole_logs_are_refused_and_none_of_them_is_taken(self) -> None:
        archive = json.loads(self.ok("export", "json"))
        run = archive["runs"][0] | {"run": "larkmoor-8.0-heron-7"}
        for number, cue in enumerate(({"verb": "note", "text": SAID}, {"verb": "enter", "name": "pin", "text": SLIP})):
            wrong = run | {"run": "larkmoor-8.0-heron-8", "cues": [cue | {"at": 1}]}
            path = self.give(f"{number}.json", json.dumps(archive | {"runs": [run, wrong]}))
            said = self.refused(2, "import", "json", path)
            self.assertIn("never kept", said)
            self.assertNotIn(SLIP, said)
        self.ok("export", "csv", "-o", "given")
        cues = self.folder / "given/cues.csv"
        cues.write_text(cues.read_text().replace("larkmoor-8.0-heron-1", "larkmoor-8.0-heron-9")
                        + f"larkmoor-8.0-heron-9,9,9000,note,,{SAID},[]\r\n")  # fmt: skip
        headers = self.folder / "given/headers.csv"
        headers.write_text(headers.read_text().replace("larkmoor-8.0-heron-1", "larkmoor-8.0-heron-9"))
        self.assertIn("never kept", self.refused(2, "import", "csv", "given"))
        self.assertEqual([path.name for path in (self.folder / "runs").glob("*.metro")], [f"{RUN}.metro"])
        self.assertNotIn(SLIP, self.kept())

    def test_what_a_source_says_loses_its_secret_only(self) -> None:
        notes = self.give("notes.txt", f"0:20 {SAID}\n0:21 enter pin = {SLIP}\n0:22 screen Disk\n")
        self.assertEqual(self.run_command("import", "notes", notes, "--cues").returncode, 0)
        facts = [{"name": "kernel", "value": f"7.2 password={SLIP}"}, {"name": "wireless key", "value": SLIP}]
        probe = self.give("facts.json", written(facts=facts, state="live").decode())
        self.assertEqual(self.run_command("attach", RUN, probe, "--at", "0:30").returncode, 0)
        kept = self.kept()
        self.assertNotIn(SLIP, kept)
        for line in ("0:20 note the password was [left out]\n", "0:21 enter pin\n", "0:22 screen Disk\n",
                     "0:30 fact kernel = 7.2 password=[left out]\n"):  # fmt: skip
            self.assertIn(line, kept)

    def test_a_mistake_of_the_program_has_its_own_exit_code_and_says_how_to_report_it(self) -> None:
        script = (
            "import sys; sys.argv = ['metrograph', 'runs']\n"
            "import metrograph.show.report.lists as lists\n"
            "lists.runs_report = lambda runs, room: 1 / 0\n"
            "from metrograph.faces.cli.main import main\nmain()"
        )
        done = self.run_python(script)
        self.assertEqual((done.returncode, done.stdout), (MISTAKE, ""))
        self.assertEqual(MISTAKE, 70)
        self.assertRegex(
            done.stderr, r"^metrograph: this is a mistake in metrograph .*ZeroDivisionError.*Please report"
        )
        self.assertNotIn("Traceback", done.stderr)
        self.assertIn("Traceback", self.run_python(script, METROGRAPH_DEBUG="1").stderr)
