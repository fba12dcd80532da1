"""The ledgers, through the commands, on the demo."""

from typing import Any

from tests.e2e.case import OwnDemoCase
from tests.helpers import call


class OnTheDemo(OwnDemoCase):
    def rows(self, *words: str) -> list[Any]:
        return list(self.json(*words)["rows"])

    def test_each_says_first_what_a_reader_should_know(self) -> None:
        for words, sentence in {
            "issues": "“The printer is found, but nothing comes out” is gone and “The disk screen lists no disk” is not retested.",
            "checks": "In Larkmoor Heron 9.0 beta share got worse, suspend fails where first tried, printer works again and 3 of 5 trials",
            "readings": "Larkmoor Heron 9.0 beta is worse than 8.0 in six readings: memory (live) 41 MiB more,",
            "facts": "In Larkmoor Heron 9.0 beta kernel is now 7.5.1.",
            "claims": "7 of 17 published figures do not hold.\nFurthest off is Larkmoor Heron 9.0 beta: time until installed is published as"
            " 10:00, and was 13:15.",
            "weight": "Larkmoor Heron 9.0 beta takes 4.05 GiB of downloads until it can be worked with, 1.37 GiB more than 8.0.",
            "software": "Larkmoor Heron 9.0 beta has Dovecall instead of Pigeon, lost Humbox and raised Writewell, Sheetwell and Loonplay.",
            "verdicts": "Of Larkmoor Heron 9.0 beta it is said: Not yet;",
            "effort": "Larkmoor Heron: 9.0 beta asks 19 decisions on 18 screens, and 8.0 asks 16 decisions on 15 screens.",
            "kinship": "Larkmoor Heron 8.0, Larkmoor Wren 8.0 and Larkmoor Heron 7.0 have the same installer.",
            "trend desktop": "Larkmoor Heron 9.0 beta, to the desktop: 2:50 sooner than 8.0.",
            "issues larkmoor-7.0-heron larkmoor-8.0-wren": "In 8.0 Wren “The printer is found, but nothing comes out” is seen for the first time.",
        }.items():  # fmt: skip
            self.assertIn(sentence, self.ok(*words.split()).partition("\n\n")[0], words)

    def test_every_ledger_of_the_whole_logbook_and_of_named_releases(self) -> None:
        readings = self.rows("readings", "larkmoor-7.0-heron", "larkmoor-8.0-heron")
        memory = next(row for row in readings if (row["name"], row["state"]) == ("memory", "installed"))
        self.assertEqual([figure["runs"] for figure in memory["figures"]], [2, 3])
        self.assertIn("printer got worse in Larkmoor Heron 8.0.", self.ok("checks"))
        self.assertIn("printer is well again in Larkmoor Heron 9.0 beta.", self.ok("checks"))
        kernel = next(row for row in self.rows("facts") if row["name"] == "kernel")
        self.assertEqual(kernel["verdicts"][:3], ["first", "raised", "raised"])
        broken = [row["what"] for row in self.rows("claims", "larkmoor-8.0-heron") if row["holds"] is False]
        self.assertEqual(broken, ["disk used", "time until installed"])
        beta = next(row for row in self.rows("weight") if row["release"] == "larkmoor-9.0-beta-heron")
        self.assertEqual((beta["updates"], beta["age"], beta["restart"]), ([412, 412], [49, 49], True))
        for ledger in ("readings", "checks", "facts", "claims", "weight"):
            self.assertIn("Wren", self.ok(ledger))

    def test_what_is_not_there_is_said(self) -> None:
        wrong = call("readings", "larkmoor-8.0-hern", folder=self.book.path)
        self.assertEqual((wrong.returncode, wrong.stdout), (2, ""))
        self.assertIn("did you mean larkmoor-8.0-heron", wrong.stderr)
        for log in self.book.runs.glob("*.metro"):
            log.unlink()
        for ledger, words in {
            "readings": "no reading was taken",
            "claims": "no card has claims",
            "weight": "there are no runs",
        }.items():
            self.assertIn(words, self.ok(ledger))

    def test_the_probe_file_of_the_demo_fits_its_run(self) -> None:
        done = call("attach", "larkmoor-9.0-beta-heron-1", "facts.json", folder=self.book.path)
        self.assertEqual(done.returncode, 0)
        self.assertIn("not as the installer said: Swap has 2 GiB; 4 GiB was said.", done.stdout)
        masked = call("facts", folder=self.book.path)
        self.assertIn("[host name]", masked.stdout)
        self.assertNotIn("mended-seven", masked.stdout)
        self.assertIn("masked in one place; --show-personal shows them", masked.stderr)
        self.assertIn("mended-seven", self.ok("facts", "--show-personal"))
