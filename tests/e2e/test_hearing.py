"""A talk becomes a draft and a run, by the installed command."""

from metrograph.store.local.drafts import draft_names
from metrograph.store.local.logbook import Logbook
from tests.e2e.case import LogbookCase
from tests.intake.probed import written

SAID = (
    (1, "welcome today it is larkmoor eight point zero the heron edition larkmoor eight"),
    (60, "the boot menu comes up and i start it"),
    (100, "this is the installer the language page english is selected and i leave it"),
    (120, "keyboard it says english us i want german so i take german"),
    (140, "and the disk i take erase the whole disk and next"),
    (170, "it is copying the files now and we wait for the progress bar"),
    (400, "installation complete and i restart now"),
    (460, "here we are on the desktop let me open the system monitor"),
    (480, "memory at rest is six hundred megabytes and the kernel is six point eighteen"),
    (520, "in the menu there is skimmer and page light for internet and office"),
)
PACKAGES = "skimmer\tSkimmer\tinternet\t147\npage-light\tPage Light\toffice\t1.0\n"


class Hearing(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        blocks = (
            f"{at // 60:02}:{at % 60:02}.000 --> {at // 60:02}:{at % 60 + 9:02}.000\n{said}\n" for at, said in SAID
        )
        (self.folder / "talk.vtt").write_text("WEBVTT\n\n" + "\n".join(blocks))
        (self.folder / "packages.tsv").write_text(PACKAGES)

    def test_alone_it_says_what_was_heard_and_writes_nothing(self) -> None:
        before = sorted(self.folder.rglob("*"))
        heard = self.json("hear", "talk.vtt", "--packages", "packages.tsv")
        found = {(each["kind"], each["key"], str(each["value"])) for each in heard["statements"]}
        self.assertIn(("reading", "memory", "600000000.0"), found)
        self.assertIn(("fact", "kernel", "6.18"), found)
        self.assertIn(("carries", "-", "Page Light"), found)
        self.assertTrue(all(0 <= each["sure"] <= 1 and each["said"] is not None for each in heard["statements"]))
        self.assertEqual(sorted(self.folder.rglob("*")), before)
        self.assertIn("reading memory = 600 MB", self.ok("hear", "talk.vtt"))

    def test_with_a_release_it_proposes_a_draft_that_becomes_a_run(self) -> None:
        words = ("hear", "talk.vtt", "larkmoor-8.0-heron", "--rig", "bench-vm", "--packages", "packages.tsv")
        self.assertIn("proposed in drafts/larkmoor-8.0-heron-1.metro", self.ok(*words))
        self.assertEqual(draft_names(Logbook(self.folder)), ["larkmoor-8.0-heron-1"])
        self.assertEqual(Logbook(self.folder).run_names(), [])
        self.ok("confirm", "--accept", "0.1")
        run = self.json("show", "larkmoor-8.0-heron-1")
        self.assertIn("Page Light", str(run))
        self.assertIn("600", self.ok("show", "larkmoor-8.0-heron-1"))

    def test_beside_a_run_it_proposes_what_its_log_does_not_have(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron", "--rig", "bench-vm", "--begun", "2026-11-14T10:00:00+00:00")
        for at, cue in (("8:30", "reading memory = 612 MB"), ("8:31", "fact kernel = 6.12")):
            self.ok("cue", "--at", at, *cue.split())
        self.ok("cue", "--at", "9:30", "end")
        run, talk = "larkmoor-8.0-heron-1", self.folder / "talk.vtt"
        talk.write_text(talk.read_text().replace("rest is six", "rest is about six"))
        words = ("hear", "talk.vtt", "--run", run, "--starts", "0:20", "--packages", "packages.tsv")
        self.assertIn(f"proposed in drafts/{run}.metro", self.ok(*words))
        draft = (self.folder / "drafts" / f"{run}.metro").read_text()
        self.assertNotIn("reading memory", draft, "about 600 is what the log has")
        self.assertIn("fact kernel = 6.18", draft, "it disagrees with the log")
        self.assertRegex(draft, r"9:0\d\.\d+ carries internet: Skimmer", "on the run's time")
        self.assertIn("has all of it already", self.ok(*words))
        self.ok("confirm", "--accept", "0.1")
        self.assertIn("carries internet: Skimmer", (self.folder / "runs" / f"{run}.metro").read_text())
        self.assertIn("exact", self.refused(2, "hear", "talk.vtt", "--run", run, "--cut", "1:00=8:00..9:00"))
        self.assertIn("--run says which", self.refused(2, "hear", "talk.vtt", "--starts", "0:20"))
        self.assertIn("has them already", self.refused(2, "hear", "talk.vtt", "--run", run, "--rig", "bench-vm"))
        self.assertIn("one of them", self.refused(2, "hear", "talk.vtt", "larkmoor-8.0-heron", "--run", run))

    def test_names_are_known_from_a_probe_a_run_and_the_cards(self) -> None:
        software = [{"item": name, "group": "office"} for name in ("Pagelight", "Skimmer", "Quibblet")]
        (self.folder / "facts.json").write_bytes(written(software=software, state="installed"))
        talk = (self.folder / "talk.vtt").read_text()
        named = talk.replace("page light for internet and office", "page light and quib let and for mail post wren")
        (self.folder / "names.vtt").write_text(named)

        def found(*words: str) -> set[str]:
            heard = self.json("hear", "names.vtt", *words)
            return {each["value"] for each in heard["statements"] if each["kind"] == "carries"}

        self.assertFalse({"Pagelight", "Postwren"} & found())
        self.assertEqual(found("--packages", "facts.json"), {"Skimmer", "Pagelight", "Quibblet"})
        self.ok("begin", "larkmoor-8.0-heron", "--rig", "bench-vm", "--begun", "2026-11-14T10:00:00+00:00")
        self.ok("cue", "--at", "8:30", "carries office: Pagelight 1.2 | from repository")
        self.assertIn("Pagelight", found("--run", "larkmoor-8.0-heron-1"), "its probe said so")
        self.ok("release", "new", "larkmoor-8.0-heron", "--update", "--tool", "Postwren 3.1")
        self.assertIn("Postwren", found(), "the card names it")

    def test_without_a_model_speech_is_refused_with_what_is_missing(self) -> None:
        self.assertIn("no model.bin", self.refused(2, "hear", "talk.vtt", "--speech", "."))
        (self.folder / "film.mkv").write_bytes(b"\x1aE\xdf\xa3\0\0")
        self.assertIn("--speech MODEL", self.refused(2, "hear", "film.mkv"))
        self.assertIn("--speech recognised", self.refused(2, "hear", "talk.vtt", "--keep", "words.json"))
        both = ("scan", "talk.vtt", "--captions", "talk.vtt", "--speech", ".")
        self.assertIn("give one of them", self.refused(2, *both))

    def test_a_run_that_has_all_of_it_gets_no_draft(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron", "--rig", "bench-vm")
        (self.folder / "talk.vtt").write_text("WEBVTT\n\n0:01.000 --> 0:05.000\ngood evening\n")
        self.assertIn("has all of it already", self.ok("hear", "talk.vtt", "--run", "larkmoor-8.0-heron-1"))
        self.assertEqual(draft_names(Logbook(self.folder)), [])

    def test_what_is_told_in_its_words_goes_by_its_kind(self) -> None:
        talk = self.folder / "talk.vtt"
        text = talk.read_text().replace("and we wait for the progress bar", "and it hangs with an error for ever")
        talk.write_text(text.replace("there is skimmer", "there is Skimmer"))
        shown = self.ok("hear", "talk.vtt", "--packages", "packages.tsv")
        self.assertIn("\tissue major\tcopying the files now and it hangs", shown)
        self.assertIn("\tcarries internet: Skimmer\tSkimmer\n", shown)

    def test_a_secret_that_is_said_beside_it_stays_behind(self) -> None:
        talk = self.folder / "talk.vtt"
        talk.write_text(talk.read_text().replace("memory at rest is", "memory where the password is swordfish77 says"))
        for words in (("hear", "talk.vtt", "--json"), ("hear", "talk.vtt")):
            heard = self.ok(*words)
            self.assertIn("megabytes", heard)
            self.assertNotIn("swordfish77", heard)

    def test_what_cannot_be_heard_is_told_with_what_was_expected(self) -> None:
        (self.folder / "empty.vtt").write_text("WEBVTT\n")
        self.assertIn("expected: captions", self.refused(2, "hear", "empty.vtt"))
        self.assertIn("there is no file of captions", self.refused(2, "hear", "none.vtt"))
        self.assertIn("no release", self.refused(2, "hear", "talk.vtt", "larkmoor-1.0-heron"))
