"""Alignment: small flows with the merged flow worked out by hand."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.analysis.alignment import align, likeness, merge, moved
from metrograph.analysis.flow import flow
from metrograph.model.lexicon import load_lexicon
from metrograph.model.ranges import ZERO
from metrograph.model.runs import Screen
from tests.helpers import run_of


def screens(*titles: str) -> list[Screen]:
    """A flow of these titles; ``title/kind`` gives a kind that the title does not suggest."""
    made = []
    for title in titles:
        name, _, kind = title.partition("/")
        made.append(Screen(name, kind or load_lexicon().kind_of(name), "questions", 1, ZERO, ZERO, ZERO, ZERO, 0))
    return made


def merged(*flows: list[Screen]) -> list[tuple[str | None, ...]]:
    """The merged flow as titles."""
    return [tuple(each.title if each else None for each in row) for row in merge(flows)]


class Merging(unittest.TestCase):
    def test_identical_flows(self) -> None:
        one = screens("Language", "Disk", "Finished")
        self.assertEqual(merged(one, one), [("Language",) * 2, ("Disk",) * 2, ("Finished",) * 2])

    def test_nothing_in_common(self) -> None:
        self.assertEqual(
            merged(screens("Language"), screens("Kettle", "Toaster")),
            [("Language", None), (None, "Kettle"), (None, "Toaster")],
        )

    def test_new_and_gone(self) -> None:
        self.assertEqual(
            merged(screens("Language", "Package source", "Disk"), screens("Language", "Disk", "Extra drivers")),
            [("Language", "Language"), ("Package source", None), ("Disk", "Disk"), (None, "Extra drivers")],
        )

    def test_a_new_title_without_a_common_word_is_matched_by_kind(self) -> None:
        self.assertEqual(merged(screens("Where are you?"), screens("Time zone")), [("Where are you?", "Time zone")])

    def test_a_move_shares_the_row(self) -> None:
        self.assertEqual(
            merged(
                screens("Language", "Keyboard", "Disk", "Copying files"),
                screens("Language", "Disk", "Copying files", "Keyboard"),
            ),
            [("Language",) * 2, ("Keyboard",) * 2, ("Disk",) * 2, ("Copying files",) * 2],
        )

    def test_two_of_a_kind_go_by_their_titles(self) -> None:
        self.assertEqual(
            merged(screens("Software groups", "Software sources/software"), screens("Software sources/software")),
            [("Software groups", None), ("Software sources", "Software sources")],
        )

    def test_screens_of_no_kind_go_by_their_titles(self) -> None:
        self.assertEqual(merged(screens("The kettle"), screens("Kettle, the")), [("The kettle", "Kettle, the")])

    def test_three_flows(self) -> None:
        self.assertEqual(
            merged(screens("Language", "Disk"), screens("Language", "Keyboard", "Disk"), screens("Keyboard", "Disk")),
            [("Language", "Language", None), (None, "Keyboard", "Keyboard"), ("Disk",) * 3],
        )

    def test_flows_of_one_and_of_none(self) -> None:
        self.assertEqual(merged(screens("Disk"), []), [("Disk", None)])
        self.assertEqual(merged([], []), [])

    @given(
        st.lists(
            st.lists(st.sampled_from(["Language", "Disk", "Keyboard", "Kettle", "Tea", "Summary"]), unique=True),
            max_size=4,
        )
    )
    def test_every_screen_stands_once_in_its_own_entry(self, flows: list[list[str]]) -> None:
        rows = merged(*(screens(*titles) for titles in flows))
        for index, titles in enumerate(flows):
            self.assertEqual(sorted(row[index] for row in rows if row[index] is not None), sorted(titles))
        for row in rows:
            self.assertTrue(any(row))


class Parts(unittest.TestCase):
    def test_likeness(self) -> None:
        disk, storage, kettle = screens("Disk", "Storage", "Kettle")
        self.assertEqual(likeness(disk, disk), 1)
        self.assertGreaterEqual(likeness(disk, storage), 0.6)
        self.assertLess(likeness(disk, kettle), 0.6)

    def test_the_best_alignment_is_not_the_greedy_one(self) -> None:
        # Row 0 is likest to column 1, but then nothing would be left for row 1.
        self.assertEqual(align([[0.7, 0.8], [0.0, 0.7]], 2), [(0, 0), (1, 1)])

    def test_the_fewest_are_called_moved(self) -> None:
        self.assertEqual(moved([0, 3, 1, 2]), {3})
        self.assertEqual(moved([1, 2, 3, 0]), {0})
        self.assertEqual(moved([]), set())

    @given(st.permutations(range(7)))
    def test_what_has_not_moved_is_in_order(self, order: list[int]) -> None:
        rest = [number for number in order if number not in moved(order)]
        self.assertEqual(rest, sorted(rest))


class Flows(unittest.TestCase):
    def test_a_retry_from_power_on_leaves_the_last_attempt(self) -> None:
        run = run_of(
            "0:00 screen Boot menu\n1:00 screen Language\n2:00 fail x\n3:00 retry\n4:00 screen Boot menu\n5:00 screen Disk"
        )
        self.assertEqual([(s.title, s.attempt) for s in flow(run)], [("Boot menu", 2), ("Disk", 2)])

    def test_a_retry_from_a_screen_keeps_what_came_before_it(self) -> None:
        run = run_of("""
            0:00 screen Boot menu
            1:00 screen Language
            2:00 screen Disk
            3:00 fail x
            4:00 retry from the disk screen
            5:00 screen Disk
            6:00 screen Copying files
        """)
        self.assertEqual(
            [(s.title, s.attempt) for s in flow(run)],
            [("Boot menu", 1), ("Language", 1), ("Disk", 2), ("Copying files", 2)],
        )
