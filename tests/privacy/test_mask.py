"""Personal values: masked by their key, and wherever else they stand."""

import re
import unittest

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import compare
from metrograph.privacy.leaks import leak_warnings
from metrograph.privacy.mask import Mask
from metrograph.show.charts.lanes_chart import draw_lanes
from metrograph.show.charts.layouts.board_layout import lay_board
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.charts.sheets.paper import Paper as Paged
from metrograph.show.files.json import to_json
from metrograph.show.terminal.text import Medium
from tests.helpers import LEXICON, log_of, run_of
from tests.shown import show_comparison, show_run

LOG = """
    0:00 screen Your account
    0:05 enter full name = Ana Borges
    0:09 choose host name = reading-room
        was: ana-kettlebook
        offered: ana-kettlebook, anas-machine
    0:20 keep timezone = Europe/Lisbon
    0:30 issue The greeter says Hello Ana Borges
    0:40 fact hostname = reading-room
    0:45 fact kernel = 6.41.2.1
    0:50 note reading-room got 192.168.1.20; write to ana@kettle.example
    0:55 note reading-rooms are quiet
    1:00 end done
"""
OTHER = LOG.replace("was: ana-kettlebook", "was: larkmoor")
TELLING = re.compile(r"Ana Borges|reading-room\b(?!s)|ana-kettlebook|anas-machine|192\.168|ana@kettle")


class Masks(unittest.TestCase):
    def test_values_by_their_key_and_in_every_other_text(self) -> None:
        run = Mask([run_of(LOG)]).apply(run_of(LOG))
        choices = [(choice.key, choice.value, choice.preset, choice.offered) for choice in run.screens[0].choices]
        self.assertEqual(choices, [("full name", "[full name]", None, ()), ("host name", "[host name]", "[host name]", ()),
                                   ("timezone", "Europe/Lisbon", "Europe/Lisbon", ())])  # fmt: skip
        self.assertEqual(run.issues[0].summary, "The greeter says Hello [full name]")
        self.assertEqual([fact.value for fact in run.facts], ["[hostname]", "6.41.2.1"])
        self.assertEqual([note.text for note in run.notes],
                         ["[hostname] got [network address]; write to [mail address]", "reading-rooms are quiet"])  # fmt: skip

    def test_no_output_tells_and_changes_are_still_seen(self) -> None:
        runs = run_of(LOG, "run-1"), run_of(OTHER, "run-2")
        mask = Mask(runs)
        comparison = mask.apply(compare([Side("a", runs[:1]), Side("b", runs[1:])]))
        self.assertIn(("preset-changed", "[host name]"), [(change.what, change.after) for change in comparison.changes])
        lanes = mask.apply(lay_lanes(runs))
        board = mask.apply(
            lay_board([Side("a", runs[:1]), Side("b", runs[1:])], compare([Side("a", runs[:1]), Side("b", runs[1:])]))
        )
        shown = [
            show_comparison(comparison, lanes, Medium()), show_run(mask.apply(runs[0]), Medium(piped=True)),
            to_json(comparison), to_json(mask.apply(runs[0])), draw_lanes(board, Paged("a"), "svg").decode(),
        ]  # fmt: skip
        self.assertRegex(show_run(runs[0], Medium(piped=True)), TELLING)  # it is there to be masked
        for text in shown:
            self.assertNotRegex(" ".join(text.split()), TELLING)
        self.assertGreater(mask.hidden, 10)

    def test_nothing_personal_is_left_as_it_was_to_the_letter(self) -> None:
        run = run_of("0:00 screen Disk\n0:01 keep swap = file\n0:02 note a plain remark\n1:00 end done")
        mask = Mask([run])
        self.assertEqual((mask.apply(run), mask.hidden), (run, 0))

    def test_own_keys_are_personal_too(self) -> None:
        own = LEXICON.with_own({}, ("Badge number",))
        self.assertTrue(own.is_personal("badge number of the desk"))
        self.assertFalse(own.is_personal("mail program"))

    def test_lint_finds_what_slipped_into_free_text(self) -> None:
        log = log_of(
            "0:00 note the password was hunter2\n0:01 issue x-y: card de:ad:be:ef:00:11 is lost\n0:02 fail it\n    issue: x-y\n0:03 end done"
        )
        found = [(fault.line, fault.message, fault.expected) for fault in leak_warnings(log)]
        self.assertEqual([line for line, *_ in found], [6, 7])
        self.assertIn("this looks like a password", found[0][1])
        self.assertIn("a hardware address, which is masked where it is published", found[1][1])
        self.assertNotIn("hunter2", str(found))
