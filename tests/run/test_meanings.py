"""Every verb of the language means something to a run: one that is only written down fails here."""

import unittest

from metrograph.log.reader import parse_line
from metrograph.log.verbs import VERBS, Trait, verbs_with
from metrograph.log.writer import format_words
from metrograph.run.folding.fold import fold
from metrograph.run.folding.walk import MOVES
from tests.helpers import log_of

BASE = "0:00 phase live\n0:01 screen Disk\n0:02 issue disk-hidden: x\n{before}{cue}2:00 note over"
BEFORE = {"resume": "pause", "ready": "wait", "retry": "fail x", "done": "task update: y"}
"""What has to be so before some verbs can mean anything."""


class Meanings(unittest.TestCase):
    def test_the_walk_through_time_takes_every_verb_that_changes_it(self) -> None:
        self.assertEqual({*MOVES, "cut"}, verbs_with(Trait.TIMED))

    def test_a_run_is_another_without_the_example_of_any_verb(self) -> None:
        for word, verb in VERBS.items():
            before = f"0:30 {BEFORE[word]}\n" if word in BEFORE else ""
            cue = format_words(parse_line(verb.example))
            told, silent = (
                fold(log_of(BASE.format(before=before, cue=line)), "run-1") for line in (f"1:00 {cue}\n", "")
            )
            self.assertNotEqual(told, silent, word)
