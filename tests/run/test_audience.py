"""What of a run is held against others, and what others may see; each by its own small log."""

import unittest

from metrograph.log.reader import read_log
from metrograph.run.audience import as_compared, published, published_log
from tests.helpers import HEADER, log_of, run_of

NOTED = """
    0:00 screen Disk
    0:01 keep swap = file | tell no
    0:02 keep method = whole disk
    0:03 reading memory = 600 MB | of Saffron
    0:04 reading memory = 700 MB | heard a forum
    0:05 check sound: works
    0:06 check printer: fail | heard
    0:07 todo cable: Try again
    0:08 todo told: Write about it | tell yes
    0:09 issue camera: My camera stopped | area recording
    0:10 fix camera: charged
    0:11 issue panel: The panel is gone
    0:12 note Only for me | tell no
    0:13 note For all
    0:14 carries office: Writewell 5 | of the store
    0:15 end done
"""


class Telling(unittest.TestCase):
    run_ = run_of(NOTED)

    def test_hearsay_is_in_no_comparison_and_a_part_is_compared_with_its_like(self) -> None:
        compared = as_compared(self.run_)
        self.assertEqual([(each.name, each.said) for each in compared.readings], [("memory of Saffron", "600 MB")])
        self.assertEqual([(each.name, each.result) for each in compared.checks], [("sound", "pass")])
        self.assertEqual([each.group for each in compared.software], ["office of the store"])
        self.assertEqual(as_compared(compared), compared)  # a name says it once

    def test_what_is_private_is_in_nothing_that_is_published(self) -> None:
        seen = published(self.run_)
        self.assertEqual([each.text for each in seen.notes], ["For all"])
        self.assertEqual([each.text for each in seen.todos], ["Write about it"])
        self.assertEqual([each.name for each in seen.issues], ["panel"])
        self.assertEqual([choice.key for choice in seen.screens[0].choices], ["method"])
        self.assertEqual(len(seen.checks), 2)  # hearsay is told, as what it is

    def test_a_log_that_is_published_says_the_same(self) -> None:
        verbs = [(cue.verb, cue.name) for cue in published_log(log_of(NOTED)).cues]
        for private in (("keep", "swap"), ("todo", "cable"), ("issue", "camera"), ("fix", "camera")):
            self.assertNotIn(private, verbs)
        self.assertEqual(len(verbs), 16 - 5)
        plain = log_of("0:00 screen Disk\n0:01 end done\n")
        self.assertIs(published_log(plain), plain)

    def test_the_time_of_a_run_cannot_be_kept_back(self) -> None:
        _, faults = read_log(HEADER + "0:00 screen Disk\n0:01 wait\n    tell: no\n")
        self.assertEqual([fault.found for fault in faults], ["tell"])


class Questions(unittest.TestCase):
    def test_questions_and_what_is_left_to_do(self) -> None:
        run = run_of("""
            0:00 ask suspend: Does it wake up?
            0:01 ask lid: And with the lid?
            0:02 answer suspend: Yes
            0:03 answer more: Nobody asked
            0:04 todo cable: Try it
            0:05 todo Print
            0:06 done cable
            0:07 done of-before
            0:08 end done
        """)
        self.assertEqual([(each.name, each.answer) for each in run.questions],
                         [("suspend", "Yes"), ("lid", None), ("more", "Nobody asked")])  # fmt: skip
        self.assertEqual([(each.text, each.ticked) for each in run.todos], [("Try it", True), ("Print", False)])
        self.assertEqual(run.ticked, ("of-before",))

    def test_a_window_that_is_closed_leaves_the_phase(self) -> None:
        run = run_of("0:00 phase tour\n0:01 screen Welcome\n0:11 close\n0:41 end done\n", way="tour")
        self.assertEqual([(stretch.screen, stretch.length.low) for stretch in run.stretches],
                         [(None, 1.0), (0, 10.0), (None, 30.0)])  # fmt: skip
        self.assertEqual({stretch.phase for stretch in run.stretches}, {"tour"})
        self.assertEqual([str(part) for part in run.covers], ["tour"])
