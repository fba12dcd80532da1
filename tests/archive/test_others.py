"""What others have measured of a release, and what they take on a screen, worked out by hand from a few made-up logs."""

import unittest

from metrograph.archive.answers import Like, Usual, software_in, usual_in
from metrograph.archive.building import build
from metrograph.archive.measured import Heard, Thing, ThingKind, claimed, heard_in
from metrograph.archive.shared_logs import put, shared_text
from metrograph.ledgers.claims import ClaimLedger, ClaimRow, RanOn
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.log.reader import read_log
from metrograph.run.cards import Release, Rig
from metrograph.services.live.beside import OthersAsked
from tests.archive.case import ONE, ArchiveCase

HEAD = "metrograph 1\nrelease: moor-1.0\nrig: vm\nbegun: 2026-05-02T10:00:00Z\n\n"
FOUR = Rig(kind="virtual", memory=4 << 30)


class Others(ArchiveCase):
    def tell(
        self, reviewer: str, *seconds: int, memory: str = "500 MiB", printer: str = "pass", rig: Rig = FOUR
    ) -> None:
        """Shares a run for each of some times that its screen of disks takes."""
        for number, took in enumerate(seconds):
            body = (
                f"0:00 screen Disk\n{took // 60}:{took % 60:02} screen Copying files\n9:00 phase desktop\n"
                f"9:01 reading memory = {memory}\n9:02 reading memory = 3 GiB | load: busy\n9:03 check printer: {printer}\n"
                "9:04 carries office: Writer 7.4\n9:10 end done\n"
            )
            log, faults = read_log(HEAD + body)
            self.assertEqual(faults, ())
            put(self.place, shared_text(log, f"moor-1.0-{number + 1}", reviewer, rig, Release("Moor")))

    def asked(self, *things: Thing, like: Like = Like("virtual", 4 << 30), own: str = "") -> list[Heard]:  # noqa: B008
        build(self.place, ONE)
        return list(heard_in(self.place, things, like, own))

    def test_each_kind_of_thing(self) -> None:
        self.tell("One", 10, 20, 30)
        self.tell("Two", 50, memory="700 MiB", printer="fail")
        self.tell("Three", 10, memory="2 GiB", rig=Rig(kind="physical", memory=2 << 30))
        things = [
            Thing("moor-1.0", "memory", ThingKind.READING, "memory", "installed"),
            Thing("moor-1.0", "hands-on", ThingKind.FIGURE, "hands-on"),
            Thing("moor-1.0", "printer", ThingKind.TRIAL, "printer"),
            Thing("moor-1.0", "carries writer", ThingKind.SOFTWARE, "writer"),
            Thing("moor-1.0", "memory", ThingKind.RIG),
            Thing("moor-1.0", "printer", ThingKind.TRIAL, "printer", "a card"),
            Thing("moor-2.0", "memory", ThingKind.READING, "memory", "installed"),
        ]
        memory, hands_on, printer, writer, rig = self.asked(*things)
        # A median of medians: one has 500 MiB three times, the other 700 MiB once; what was read while busy is another.
        self.assertEqual((memory.middle, memory.unit, memory.runs, memory.reviewers), (600 << 20, "bytes", 4, 2))
        # Hands-on are the disks, 10, 20 and 30 s, and 50; what was done at the desktop is not.
        self.assertEqual(hands_on.middle, (20 + 50) / 2)
        self.assertEqual((printer.good, printer.runs, printer.reviewers), (3, 4, 2))
        self.assertEqual((writer.good, writer.runs), (4, 4))
        # That it ran with 2 GiB counts, whatever one's own rig has.
        self.assertEqual((rig.middle, rig.runs, rig.reviewers), (2 << 30, 5, 3))
        self.assertEqual([each.reviewers for each in self.asked(*things[:3], own="One")], [1, 1, 1])

    def test_the_programs_that_others_have_met_are_known_by_what_they_are_for(self) -> None:
        self.tell("One", 10)
        build(self.place, ONE)
        self.assertEqual(software_in(self.place, ""), (("Writer", "office"),))

    def test_what_can_be_asked_beside_claims_is_each_figure_once(self) -> None:
        def row(what: str, measure: str) -> ClaimRow:
            return ClaimRow("moor-1.0", what, measure, Unit.BYTES, Range(1, 1), "1", None, 0, None)

        rows = (row("memory at rest", "memory"), row("memory that it needs", "memory"), row("time", "installed"))
        things = claimed(ClaimLedger(rows, ran_on=(RanOn("moor-2.0", (), ()),)))
        self.assertEqual(
            [(each.release, each.kind.value, each.name, each.state) for each in things],
            [
                ("moor-1.0", "reading", "memory", "installed"),
                ("moor-1.0", "figure", "installed", ""),
                ("moor-1.0", "rig", "", ""),
                ("moor-2.0", "rig", "", ""),
            ],
        )

    def test_what_others_take_on_a_screen(self) -> None:
        self.tell("One", 10, 30, 20)
        for reviewer, took in {"Two": 40, "Three": 60, "Four": 100}.items():
            self.tell(reviewer, took)
        self.tell("Five", 300, rig=Rig(kind="physical", memory=4 << 30))
        build(self.place, ONE)
        known = usual_in(self.place, "Moor", Like("virtual", 4 << 30), "")
        # Of 20, 40, 60 and 100 s: the quartiles lie at 35, 50 and 70.
        self.assertEqual(known["disk", False], Usual(35, 50, 70, 4))
        self.assertEqual(usual_in(self.place, "Fen", Like(), ""), {})
        hearing = OthersAsked(lambda: known)
        self.assertIsNone(hearing.on("Disk", "questions"))
        hearing.run()
        self.assertEqual(hearing.on("DISK", "questions"), known["disk", False])
        self.assertEqual((hearing.on("Disk", "setup"), hearing.on(None, "questions")), (None, None))


if __name__ == "__main__":
    unittest.main()
