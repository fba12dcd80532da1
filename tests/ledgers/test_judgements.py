"""What changed in judgement and what went with it, and what is left to do, worked out by hand."""

import unittest

import msgspec

from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import group
from metrograph.ledgers.todos import LeftToDo, WantedTodo, todos_ledger
from metrograph.ledgers.verdicts import Shift, verdicts_ledger, with_shifts
from metrograph.log.lexicon import Checklist
from metrograph.run.cards import Release
from metrograph.run.warnings import steps_left
from metrograph.words.shortlist_words import shifted, went_with
from tests.helpers import LEXICON, run_of

CARDS = {f"moor-{n}-a": Release("Moor", str(n), "A", released=f"2026-0{n}-01") for n in (1, 2, 3)}


def run(release: str, number: int, cues: str) -> Digest:
    lines = "\n".join(f"2:{second:02} {cue}" for second, cue in enumerate(cues.strip().split("\n"), 1))
    whole = f"0:00 screen Disk\n2:00 phase desktop\n{lines}\n3:00 end done\n"
    return msgspec.structs.replace(digest(run_of(whole, f"{release}-{number}")), release=release)


RUNS = [
    run(
        "moor-1-a",
        1,
        "reading memory = 800 MiB\nreading disk used = 8 GiB\ncheck printer: pass\nrate looks = 5 of 10\nverdict Good enough",
    ),
    run("moor-1-a", 2, "reading memory = 900 MiB\nreading disk used = 9 GiB\nrate looks = 5 of 10"),
    run(
        "moor-2-a", 1, "reading memory = 850 MiB\nreading disk used = 6 GiB\ncheck printer: fail\nrate looks = 8 of 10"
    ),
    run(
        "moor-3-a",
        1,
        "reading memory = 1200 MiB\ntodo Look again | for workshop\nverdict Too heavy\nverdict Wait | whom hand-out",
    ),
]


class Shifts(unittest.TestCase):
    SHIFTS = with_shifts(verdicts_ledger(group(RUNS, CARDS)), group(RUNS, CARDS), LEXICON).shifts

    def told(self, shift: Shift) -> tuple[list[str], list[str]]:
        return [each.name for each in shift.figures], [each.name for each in shift.trials]

    def test_a_rating_goes_with_what_went_the_same_way_beyond_the_runs_spread(self) -> None:
        rating, _ = self.SHIFTS
        self.assertEqual((rating.name, rating.before, rating.after), ("looks", "5 of 10", "8 of 10"))
        # Memory of 850 lies among 800 and 900; the printer failed, which nobody likes better.
        self.assertEqual(self.told(rating), (["disk used (installed)"], []))
        self.assertTrue(rating.figures[0].better)

    def test_a_verdict_goes_from_one_that_has_one_to_the_next_reader_by_reader(self) -> None:
        _, verdict = self.SHIFTS
        self.assertEqual(
            (verdict.earlier, verdict.later, verdict.reader, verdict.before, verdict.after),
            ("moor-1-a", "moor-3-a", None, "Good enough", "Too heavy"),
        )
        self.assertEqual(self.told(verdict), (["memory (installed)"], []))
        self.assertEqual(shifted(verdict), "Of moor-1-a it was said “Good enough”, of moor-3-a “Too heavy”.")
        self.assertEqual(list(went_with(verdict)), ["Measured with it: memory (installed) 1200 MiB (350 MiB more)."])


class Figures(unittest.TestCase):
    def test_three_figures_at_most_those_that_changed_most_first(self) -> None:
        measured = ("memory = {} MiB", "disk used = {} GiB", "boot time = {} s", "processes = {}")
        old, new = (
            run(
                release,
                1,
                "\n".join(f"reading {text.format(n)}" for text, n in zip(measured, numbers, strict=True))
                + f"\nrate looks = {stars} of 10",
            )
            for release, numbers, stars in (("moor-1-a", (100,) * 4, 5), ("moor-2-a", (90, 40, 80, 70), 8))
        )
        (shift,) = with_shifts(verdicts_ledger(group([old, new], CARDS)), group([old, new], CARDS), LEXICON).shifts
        self.assertEqual(
            [each.name.partition(" (")[0] for each in shift.figures], ["disk used", "processes", "boot time"]
        )

    def test_figures_of_the_runs_go_with_it_too(self) -> None:
        old = run("moor-1-a", 1, "issue a: x\nissue b: y\nrate looks = 5 of 10")
        new = run("moor-2-a", 1, "rate looks = 8 of 10")
        (shift,) = with_shifts(verdicts_ledger(group([old, new], CARDS)), group([old, new], CARDS), LEXICON).shifts
        self.assertIn("issues", [each.name for each in shift.figures])


class Todos(unittest.TestCase):
    def test_what_was_noted_and_what_no_run_of_a_release_has(self) -> None:
        wanted = Checklist(("printer",), ("memory",), ("screen size",), ("video codecs",))
        runs = [
            run(
                "moor-1-a",
                1,
                "check printer: pass\ntweak Size of the screen set\nreading memory = 800 MiB\nadd codecs for video",
            ),
            run("moor-2-a", 1, "tweak screen\ntodo Look again | for workshop"),
        ]
        ledger = todos_ledger(group(runs, CARDS), wanted)
        self.assertEqual(ledger.todos, (LeftToDo("moor-2-a", "moor-2-a-1", "Look again", "workshop"),))
        self.assertEqual(
            ledger.wanted, (WantedTodo("moor-2-a", ("printer",), ("memory",), ("screen size",), ("video codecs",)),)
        )

    def test_a_step_is_taken_where_all_its_words_are_said_together(self) -> None:
        self.assertEqual(steps_left(["Screen size", "clock"], ["the size of a SCREEN", "clocks"]), ["clock"])


if __name__ == "__main__":
    unittest.main()
