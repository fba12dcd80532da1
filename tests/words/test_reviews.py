"""Six reviews of other kinds than an installation from power-on to the desktop, each told in the words to be printed."""

import json
import re
import shutil
import tempfile
import unittest
from pathlib import Path
from typing import ClassVar

from tests.helpers import ROOT, call_here

BOOK = ROOT / "tests/reviews"
ANSWERS = {
    "brackenfold-12.1": (
        "It was looked at on an installed system; how it installs was not. Of what was tried, printer with the old cable"
        " works only partly; sound works. Installed, it takes ≈ 500 MB of memory and 7.2 GB of the disk. Liked: the"
        " first-run window; disliked: grey on grey in the settings. Rated: looks of Saffron good. Verdict (for"
        " neighbours): For those who want to be left alone, 4 stars."
    ),
    "otterbrook-3": (
        "It was looked at in a live session; nothing was installed. The speakers are silent (major). Of what was tried,"
        " sound fails; wireless works. In the live session, it takes 640 MB of memory. Rated: speed as felt very good."
        " Still open: Does the sound work once it is installed?"
    ),
    "osterby-3.2-beta2": (
        "Osterby 3.2 beta 2 reaches the desktop after ≥ 4:30, 2:40 of it hands-on, and asks for 2 decisions on 4 screens."
        " The panel goes away when the lid is closed (major); what helped: logged out and in again. Of what was tried,"
        " suspend fails; printer works. Verdict: Wait for the final."
    ),
    "larkmoor-9.0-sorrel": (
        "It was looked at on an installed system; how it installs was not. It asks nothing at all at the first start."
        " Installed, it takes 610 MB of memory. By what was said, all else but mail is as in Larkmoor Wren 9.0. Rated:"
        " looks very good."
    ),
    "featherwing-5": (
        "Featherwing 5, installed inside another system, reaches the desktop after 8:10, 2:50 of it hands-on, and asks for"
        " 2 decisions on 3 screens. No grave trouble was noted, but both systems are offered twice at the start. Of what"
        " was tried, gaming works only partly. Verdict: A good guest, 7."
    ),
    "tidewrack": (
        "It was looked at on an installed system; how it installs was not. The sound is gone after an update (major); what"
        " helped: the next update. Of what was tried, printer works. Installed, it takes 12 GB of the disk. Liked: that"
        " nothing had to be installed anew. Verdict: One can live in it, 80 %."
    ),
}  # fmt: skip


class Reviews(unittest.TestCase):
    folder: ClassVar[Path]

    @classmethod
    def setUpClass(cls) -> None:
        home = tempfile.TemporaryDirectory()
        cls.addClassCleanup(home.cleanup)
        cls.folder = Path(shutil.copytree(BOOK, Path(home.name) / "book"))

    def said(self, *words: str) -> str:
        done = call_here(*words, folder=self.folder)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout

    def test_the_answers(self) -> None:
        for release, answer in ANSWERS.items():
            self.assertEqual(self.said("summary", release).strip(), answer)

    def test_a_record_without_an_installation_says_nothing_of_one(self) -> None:
        for release in ("brackenfold-12.1", "otterbrook-3", "tidewrack"):
            told = self.said("review", release)
            for word in ("How it goes", "asks for", "reaches the desktop", "hands-on", "Where the time went"):
                self.assertNotIn(word, told, release)

    def test_what_was_said_beside_others_stands_with_what_was_measured(self) -> None:
        told = self.said("review", "larkmoor-9.0-sorrel")
        self.assertIn("memory: more than in Larkmoor Wren 9.0, as said; measured too: 610 MB against 420 MB", told)
        self.assertIn("office, as in Larkmoor Wren 9.0: Writewell 5.1, Sheetwell 5.1\n", told)
        self.assertIn("trial, as in Larkmoor Wren 9.0: printer (pass), sound (pass)", told)
        self.assertNotIn("Pigeon 3", told)  # mail is what is not as there
        self.assertIn("beside it\tLarkmoor Wren 9.0", told)
        beside = json.loads(self.said("review", "larkmoor-9.0-sorrel", "--json"))["beside"]
        self.assertEqual(
            [(each["said"]["thing"], each["agrees"]) for each in beside], [("memory", True), ("looks", None)]
        )

    def test_nothing_private_is_in_anything_that_is_published(self) -> None:
        private = ("Try the printer with the new cable", "My own camera ran out of power")
        for release in ("brackenfold-12.1", "osterby-3.2-beta2"):
            for words in (["summary", release], ["review", release], ["review", release, "--json"], ["export", "md", release],
                          ["review", release, "-o", "-"], ["export", "json", release]):  # fmt: skip
                told = self.said(*words)
                for secret in private:
                    self.assertNotIn(secret, told, words)
        self.assertIn(private[0], self.said("todos"))
        self.assertIn("The next one is to have its own shop (a forum)", self.said("review", "brackenfold-12.1"))

    def test_an_article_has_front_matter_and_lies_beside_its_figures(self) -> None:
        with self.subTest("front matter"):
            head = re.match(r"---\n(.+?)\n---\n\n# ", self.said("export", "md", "osterby-3.2-beta2"), re.DOTALL)
            assert head is not None
            self.assertEqual(head[1].split("\n")[:2], ['title: "Osterby 3.2 beta 2"', 'date: "2026-10-09"'])
            for line in head[1].split("\n"):
                self.assertRegex(line, r'^(?:tags:|(?:  - |title: |date: )"(?:[^"\\]|\\.)*")$')

    def test_a_tour_has_chapters(self) -> None:
        titles = self.said("export", "chapters", "tidewrack-1").split("\n")
        self.assertIn("The sound is gone after an update", titles)
        self.assertIn("Welcome", self.said("export", "chapters", "brackenfold-12.1-1"))
