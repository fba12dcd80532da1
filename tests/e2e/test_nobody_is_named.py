"""One marked name in every field of every verb, and no command that tells it unless it is asked to."""

from unittest import mock

from metrograph.log.cues import Cue
from metrograph.log.verbs import VERBS, Content, Shape
from metrograph.log.writer import format_cue
from tests.e2e.case import LogbookCase
from tests.helpers import call_here

NAME, JOINED = "Zanzibar", "old ZANZIBAR-laptop_2"
FIRST, OTHER, LATER = "larkmoor-8.0-heron-1", "larkmoor-8.0-heron-2", "larkmoor-9.0-heron-1"
BODIES = {
    Content.ANY: JOINED, Content.NAME: "zanzibar", Content.SIZE: "3 GiB", Content.DATA: "3 GiB", Content.RATING: "3 of 10",
    Content.PART: "/home/zanzibar ext4 3 GiB", Content.SWAP: "none", Content.QUANTITY: "a few zanzibar", Content.LENGTH: "1:00",
    Content.SHA256: "ab" * 32, Content.KIND: "other", Content.COMPARED: f"{JOINED} less", Content.BUT: f"but {JOINED}",
}  # fmt: skip
COMMANDS = (
    ["show", FIRST], ["show", FIRST, "--json"], ["compare", FIRST, LATER], ["compare", FIRST, LATER, "--json"], ["compare", OTHER, LATER],
    ["compare", "larkmoor-8.0-heron", LATER, "--why", "1"], ["compare", "larkmoor-8.0-heron", LATER, "--why", "1", "--json"],
    ["runs"], ["runs", "--json"], ["status", "--run", FIRST], ["status", "--run", FIRST, "--json"],
    *([ledger, *words] for ledger in ("issues", "effort", "readings", "checks", "facts", "claims", "weight", "software", "verdicts", "todos", "kinship")
      for words in ((), ("--json",), (OTHER,), ("larkmoor-9.0-heron", "--json"))),
    ["trend", "on-clock"], ["trend", "Zanzibar"], ["trend", "Zanzibar", "--json"], ["export", "json"], ["export", "vtt", FIRST], ["export", "md", FIRST],
    ["report", "larkmoor-8.0-heron", "larkmoor-9.0-heron", "-o", "-"], ["report", "larkmoor-8.0-heron", "larkmoor-9.0-heron", "-o", "p.md"],
    *(["draw", chart, "larkmoor-8.0-heron", "larkmoor-9.0-heron", "-o", "-"] for chart in ("lanes", "strip", "timetable", "lead")),
    ["summary", "larkmoor-8.0-heron", "larkmoor-9.0-heron"], ["summary", "larkmoor-8.0-heron", "larkmoor-9.0-heron", "--json"],
    ["review", FIRST], ["review", "larkmoor-8.0-heron", "--json"], ["review", LATER, "-o", "-"], ["review", LATER, "-o", "r.md"],
    ["summary", FIRST], ["summary", FIRST, "--json"], ["export", "chapters", FIRST], ["readings", "--everything"],
    ["draw", "trend", "on-clock", "-o", "-"], ["draw", "kinship", "-o", "-"],
    ["export", "csv", "-o", "tables"], ["shortlist", "--for", "one"], ["shortlist", "--for", "one", "--json"],
    ["draw", "shortlist", "--for", "one", "-o", "-"], ["share", "larkmoor-8.0-heron", LATER, "--to", "archive", "--dry-run"],
)  # fmt: skip


def log(release: str, body: str) -> str:
    return f"metrograph 1\nrelease: {release}\nrig: bench-vm\nbegun: 2026-05-02T10:04:11+02:00\n\n{body}9:00 end done\n"


def everything() -> str:
    """A cue of every verb, with the name in all that can hold it."""
    text = "0:01 screen Your account\n0:02 enter your user-name = " + NAME + "\n0:03 screen Disk\n"
    for number, verb in enumerate(VERBS.values()):
        if verb.word in {"end", "retry", "fail", "pause", "resume", "cut"}:
            continue
        body = verb.rule.words[0] if verb.rule.check is Content.ONE_OF else BODIES[verb.rule.check]
        fields = tuple(
            (key, rule.words[0] if rule.check is Content.ONE_OF else BODIES[rule.check])
            for key, rule in verb.fields.items()
        )
        name = {
            Shape.SETTING: JOINED, Shape.MAYBE_SETTING: JOINED, Shape.NAMED: JOINED, Shape.TOLD: "zanzibar-x", Shape.MAYBE_TOLD: "zanzibar-x",
            Shape.MAYBE_NAMED: "zanzibar-x", Shape.GROUPED: JOINED, Shape.BESIDE: "zanzibar-9",
        }.get(verb.shape)  # fmt: skip
        text += format_cue(
            Cue((10 + number) * 1000, verb.word, name, "" if verb.shape is Shape.NOTHING else body, fields)
        )
    return text


class NobodyIsNamed(LogbookCase):
    def setUp(self) -> None:
        super().setUp()
        self.ok("release", "new", "larkmoor-9.0-heron")
        settings = mock.patch.dict("os.environ", {"XDG_CONFIG_HOME": str(self.folder / "config")})
        settings.start()
        self.addCleanup(settings.stop)
        self.ok("settings", "reviewer", "Wren Ashby")
        with (self.folder / "metrograph.toml").open("a") as file:
            file.write(
                '[readers.one]\nrequired = ["kernel: 7", "carries office"]\nwishes = { hands-on = 1, zzz = 1 }\n'
            )
        runs = self.folder / "runs"
        (runs / f"{FIRST}.metro").write_text(log("larkmoor-8.0-heron", everything()))
        # Here nobody says whose name it is; it is known from the other run.
        (runs / f"{OTHER}.metro").write_text(log("larkmoor-8.0-heron", f"0:01 screen Hello {NAME}\n0:02 issue {NAME} is lost\n"
                                                 f"0:03 fact kernel = {NAME}\n0:04 check {NAME}: pass\n0:05 phase {NAME}\n"))  # fmt: skip
        (runs / f"{LATER}.metro").write_text(
            log("larkmoor-9.0-heron", everything().replace("0:03 screen Disk", "0:03 screen Disks"))
        )

    def test_in_no_output(self) -> None:
        for words in COMMANDS:
            done = call_here(*words, folder=self.folder)
            self.assertIn(done.returncode, (0, 2), (words, done.stderr))
            if words != ["trend", "Zanzibar"]:
                self.assertNotIn("zanzibar", done.stdout.casefold(), words)
        for path in (self.folder / "p.md", *(self.folder / "tables").iterdir(), *self.folder.glob("p-*.svg")):
            self.assertNotIn("zanzibar", path.read_text().casefold(), path)

    def test_asked_for_it_is_told(self) -> None:
        self.assertIn(JOINED, self.run_command("show", FIRST, "--show-personal").stdout)
