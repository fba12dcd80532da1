"""Silence is no finding: whatever is hidden, left out or added elsewhere makes nothing gone that was not."""

import unittest
from collections.abc import Sequence

from hypothesis import example, given
from hypothesis import strategies as st

from metrograph.compare.flow_records import Side, What
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.log.cues import Cue
from metrograph.log.writer import format_cue
from tests.helpers import cues, log_of, run_of

GONE = {What.SCREEN_GONE, What.QUESTION_GONE, What.PHASE_GONE, What.SOFTWARE_GONE, What.OVERVIEW_GONE}
TITLES = ("Language", "Keyboard", "Disk", "Account", "Software", "Summary", "Copying files", "Finished")
LOG = "".join(
    f"{minute}:00 screen {title}\n{minute}:10 keep question {minute} = yes\n{minute}:20 choose other {minute} = no\n"
    for minute, title in enumerate(TITLES)
)
MORE = "9:00 screen Desktop\n9:10 carries office: Writer 7, Sheet 7\n9:20 fact kernel = 7\n9:30 check printer: pass\n"
WHOLE = LOG + MORE + "10:00 end done"


def against(earlier: str, later: str, lines: tuple[str, str] = ("", "")) -> Comparison:
    sides = (Side("a", (run_of(earlier, "a-1"),), lines[0]), Side("b", (run_of(later, "b-1"),), lines[1]))
    return compare(sides)


def gone(found: Comparison) -> set[tuple[str, str | None, str | None]]:
    return {(change.what, change.title, change.key) for change in found.changes if change.what in GONE}


def lines(log: str, kept: Sequence[bool]) -> str:
    """A log without some of its lines."""
    return "\n".join(line for line, keep in zip(log.splitlines(), kept, strict=False) if keep)


REMARKS = (
    "note x", "reading noise = 3 dB", "fact browser = X", "rate looks = 3 of 10", "todo x", "check video: pass",
    "carries mail: Pigeon", "lacks mail: Dove", "issue x", "task y", "tweak z",
)  # fmt: skip
KEPT = st.lists(st.booleans(), min_size=28, max_size=28)


class Silence(unittest.TestCase):
    def test_what_was_passed_without_it_is_gone(self) -> None:
        without = "\n".join(line for line in WHOLE.splitlines() if "Account" not in line and " 3 =" not in line)
        self.assertEqual(gone(against(WHOLE, without)), {("screen-gone", "Account", None)})

    def test_a_phase_is_gone_where_a_whole_run_went_without_it(self) -> None:
        log = "0:00 screen {}\n{}5:00 phase desktop\n{}9:00 end done"
        before = log.format("Boot menu", "1:00 phase setup\n", "6:00 phase update\n")
        for title, expected in (("Boot menu", {("phase-gone", None, "setup")}), ("Unknown screen 1", set())):
            found = against(before, log.format(title, "", ""))
            # An update is the reviewer's to make or to leave; a screen that nobody can name may be in any phase.
            self.assertEqual({each for each in gone(found) if each[0] == "phase-gone"}, expected)
            self.assertIn(("update", "not noted"), [(each.name, each.why) for each in found.unknown])

    def test_of_who_came_by_no_installer_nothing_is_new_and_nothing_is_gone(self) -> None:
        live = "0:00 phase live\n0:10 screen Welcome\n1:00 screen Settings\n2:00 end done"
        fresh = "0:00 screen Welcome\n1:00 screen Disk\n2:00 screen Copying files\n3:00 phase desktop\n4:00 end done"
        one = Side("live", (run_of(live, "a-1", way="live"),))
        other = Side("fresh", (run_of(fresh, "b-1"),))
        for sides in ((one, other), (other, one)):
            found = compare(sides)
            self.assertEqual(found.changes, ())
            self.assertIn(("Disk", "not reached"), [(each.name, each.why) for each in found.unknown])

    @given(KEPT, st.integers(0, 8), st.integers(1, 8))
    def test_what_a_cut_hides_is_not_gone(self, kept: list[bool], start: int, length: int) -> None:
        later = lines(LOG + MORE, kept)
        shown = [line for line in later.splitlines() if not start <= int(line.split(":")[0]) < start + length]
        place = sum(int(line.split(":")[0]) < start for line in shown)
        hidden = "\n".join([*shown[:place], f"{start}:00 cut 1:00..9:00", *shown[place:], "20:00 end done"])
        self.assertLessEqual(gone(against(WHOLE, hidden)), gone(against(WHOLE, later + "\n20:00 end done")))

    @given(st.integers(0, 28))
    def test_what_comes_after_the_last_line_is_not_gone(self, count: int) -> None:
        cut_short = lines(LOG + MORE, [place < count for place in range(28)])
        self.assertEqual(gone(against(WHOLE, cut_short)), set())

    @given(KEPT, cues(st.just(9 * 60_000 + 40_000)))
    @example([True] * 28, log_of("9:40 carries mail: Pigeon 3").cues[0])
    def test_a_line_more_in_a_run_of_another_line_makes_nothing_gone(self, kept: list[bool], cue: Cue) -> None:
        added = LOG + MORE + format_cue(cue) + "10:00 end done"
        later = lines(LOG + MORE, kept) + "\n11:00 end done"
        self.assertEqual(gone(against(added, later, ("One", "Other"))), set())

    @given(KEPT, st.sampled_from(REMARKS))
    def test_a_remark_more_makes_nothing_gone(self, kept: list[bool], line: str) -> None:
        later = lines(LOG + MORE, kept) + "\n11:00 end done"
        more = LOG + MORE + f"9:40 {line}\n10:00 end done"
        self.assertEqual(gone(against(more, later)), gone(against(WHOLE, later)), line)

    @given(st.lists(st.booleans(), min_size=28, max_size=28))
    def test_knowing_less_is_never_surer(self, kept: list[bool]) -> None:
        """What nothing was noted of has no contrast, and an open cut makes none surer."""
        later = lines(LOG + MORE, kept) + "\n20:00 end done"
        order = {"can't say": 0, "likely": 1, "clear": 2}
        closed = {found.name: found.confidence for found in against(WHOLE, later).contrasts}
        loose = later.replace("\n20:00 end done", "\n18:00 cut ?\n20:00 end done")
        for contrast in against(WHOLE, loose).contrasts:
            if contrast.name in closed and contrast.name in {"on-clock", "hands-on"}:
                self.assertLessEqual(order[contrast.confidence], order[closed[contrast.name]], contrast.name)
