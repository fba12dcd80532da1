"""What is likely next, worked out by hand from a plan."""

import unittest

from metrograph.log.cues import Cue
from metrograph.log.writer import format_line
from metrograph.plan.prediction import left_over, predict, subject_of
from metrograph.run.folding.fold import fold
from tests.helpers import LEXICON, log_of, plan_from

PLAN = plan_from(
    """
    0:00 screen Source
    0:02 wait list
    0:20 ready
    0:25 choose source = nearest
        was: main
    0:30 keep proxy = none
    0:33 enter contact
    0:40 screen Disk
    0:44 layout whole disk
        part: / ext4 9 GiB
    0:50 screen Desktop
    0:55 reading memory = 812.5 MiB
        load: rest
        how: by eye
    1:00 fact kernel = 7.1
    1:10 check printer: pass
        detail: at once
    1:20 check wireless: skipped
        detail: no card
    1:30 tweak brightness
    1:40 end done
"""
)


def offered(cues: str, after: int = 0, plan: bool = True) -> str:
    """The offer, as ``resume`` where Enter writes it, as ``> line`` where it is put on the line, | at the cursor."""
    log = log_of(cues)
    now = max((cue.at for cue in log.cues), default=0) + after * 1000
    offer = predict(log, fold(log, "run-1"), PLAN if plan else None, LEXICON, now)
    if offer is None:
        return ""
    if offer.cue is not None:
        since = f" since {offer.away // 1000}" if offer.away is not None else ""
        return format_line(offer.cue) + since
    return f"> {offer.line[: offer.cursor]}^{offer.line[offer.cursor :]}"


class Predictions(unittest.TestCase):
    def test_along_the_plan(self) -> None:
        way = {
            "": "screen Source | kind source",
            "0:00 screen Source": "wait list",
            "0:01 wait": "ready",
            "0:02 ready": "choose source = nearest | was main",
            "0:03 choose source = main": "keep proxy = none",
            "0:04 choose proxy = x": "enter contact",
            "0:05 enter contact": "screen Disk | kind disk",
            "0:06 screen Disk": "> layout ^",
            "0:07 layout by hand": "screen Desktop | kind desktop",
            "0:08 screen Desktop": "> reading memory = ^ MiB | load rest",
            "0:09 reading memory = 900 MiB": "> fact kernel = ^",
            "0:10 fact kernel = 8": "> check printer: ^",
            "0:11 check printer: fail": "> check wireless: ^",
            "0:12 check wireless: skipped": "> end ^",
            "0:13 end done": "",
        }
        log = ""
        for cue, expected in way.items():
            log += cue + "\n"
            self.assertEqual(offered(log), expected, cue)

    def test_without_a_plan_and_beside_it(self) -> None:
        self.assertEqual(offered("0:00 screen Disk", plan=False), "")
        self.assertEqual(offered("0:00 screen Copying files", plan=False), "ready")
        self.assertEqual(offered("0:00 screen Kettle"), "screen Source | kind source")
        self.assertEqual(offered("0:00 screen Source\n0:01 pause"), "resume")
        self.assertEqual(offered("0:00 screen Source\n0:01 fail no network"), "retry from power-on")
        lost = "0:00 screen Source\n0:01 screen Disk\n0:02 fail x\n0:03 retry from"
        self.assertEqual(offered(f"{lost} power-on"), "screen Source | kind source")
        self.assertEqual(offered(f"{lost} Disk"), "> layout ^")  # it is in front already

    def test_what_was_skipped_is_not_offered_again(self) -> None:
        log = log_of("0:00 screen Source\n0:01 wait\n0:02 ready\n")
        found = []
        skipped: set[tuple[str, str | None]] = set()
        for _ in range(5):
            offer = predict(log, fold(log, "run-1"), PLAN, LEXICON, 2000, frozenset(skipped))
            assert offer is not None
            about = offer.about or subject_of(offer.cue or Cue(0, "end", None, ""))
            found.append(about)
            skipped.add(about)
        self.assertEqual(found, [("answer", "source"), ("answer", "proxy"), ("enter", "contact"), ("screen", "Disk"),
                                 ("screen", "Desktop")])  # fmt: skip

    def test_after_hours_somebody_was_away_unless_the_machine_worked(self) -> None:
        self.assertEqual(offered("0:00 screen Source\n0:30 keep a = b", after=3600), "resume since 30")
        self.assertEqual(offered("0:00 screen Source\n0:30 keep a = b", after=3599), "wait list")
        self.assertEqual(offered("0:00 screen Copying files", after=9999, plan=False), "ready")

    def test_what_is_left_over(self) -> None:
        a, b, wait = Cue(0, "keep", "a", "x"), Cue(0, "keep", "b", "x"), Cue(0, "wait", None, "x")
        c = Cue(0, "reading", "c", "x")
        planned = [a, wait, b, c]
        self.assertEqual(left_over(planned, []), planned)
        # The answer that was passed over comes last; the wait's moment is gone.
        self.assertEqual(left_over(planned, [Cue(9, "choose", "b", "y")]), [c, a])
        self.assertEqual(left_over(planned, [a, b, wait, c]), [])
