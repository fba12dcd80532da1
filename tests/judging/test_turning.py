"""What would turn an order really turns it: each change is made, and the two are held against each other again."""

import unittest

import msgspec
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from metrograph.judging.shortlist import shortlist
from metrograph.judging.shortlist_records import Shortlist, Turn, TurnedBy
from tests.judging.test_shortlist import BOUNDED, Known, hands_on, made, printer

TIMES = st.lists(st.integers(310, 1190), min_size=2, max_size=4, unique=True)
PRINTS = st.lists(st.sampled_from([0.0, 0.5, 1.0]), min_size=4, max_size=4)


def turned(turn: Turn, times: dict[str, float], prints: dict[str, float]) -> Shortlist:
    """The list with the change that is told."""
    reader = BOUNDED
    if turn.by is TurnedBy.WEIGHT:
        wishes = [
            msgspec.structs.replace(wish, weight=turn.after) if wish.name == turn.wish else wish
            for wish in BOUNDED.wishes
        ]
        reader = msgspec.structs.replace(BOUNDED, wishes=tuple(wishes))
    elif turn.wish == "hands-on":
        times = times | {turn.release: turn.after}
    else:
        prints = prints | {turn.release: turn.after}
    return made(list(times), times, prints, reader)


class Turns(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(TIMES, PRINTS)
    def test_with_the_change_another_is_as_good_or_better(self, seconds: list[int], worths: list[float]) -> None:
        names = [f"r{place}" for place in range(len(seconds))]
        times = dict(zip(names, map(float, seconds), strict=True))
        prints = dict(zip(names, worths[: len(names)], strict=True))
        before = made(names, times, prints)
        for turn in before.turns:
            after = {each.release: sum(each.worth or ()) / 2 for each in turned(turn, times, prints).order}
            self.assertLessEqual(after[before.releases[0]], after[turn.first] + 1e-9, turn)
            if turn.wish == "hands-on" or turn.by is TurnedBy.WEIGHT:
                self.assertAlmostEqual(after[before.releases[0]], after[turn.first], msg=str(turn))
                self.assertNotEqual(turn.before, turn.after)

    @settings(max_examples=60, deadline=None)
    @given(TIMES)
    def test_it_is_the_smallest_change_of_a_figure_that_does_it(self, seconds: list[int]) -> None:
        names = [f"r{place}" for place in range(len(seconds))]
        times, same = dict(zip(names, map(float, seconds), strict=True)), dict.fromkeys(names, 1.0)
        first, second, *_ = sorted(times.values())
        assume(second - first < 290)  # else neither can become like the other within the bounds of the wish
        (turn,) = made(names, times, same).turns
        self.assertEqual((turn.by, turn.wish), (TurnedBy.FIGURE, "hands-on"))
        self.assertAlmostEqual(abs(turn.after - turn.before), second - first, places=4)


class Sampled(unittest.TestCase):
    def test_a_figure_of_which_only_bounds_are_known_lies_anywhere_between_them(self) -> None:
        # Of two printers of which nothing is known one is better in a quarter of all cases; in half of them both are
        # alike, and then 500 to 700 s is below 550 s in a quarter.
        listed = shortlist(BOUNDED, Known(["a", "b"], hands_on({"a": (500.0, 700.0), "b": 550.0}), printer({})))
        self.assertAlmostEqual(next(each.first for each in listed.order if each.release == "a") or 0, 0.375, delta=0.02)
        exact = shortlist(
            BOUNDED, Known(["a", "b"], hands_on({"a": (500.0, 700.0), "b": 550.0}), printer({"a": 1.0, "b": 1.0}))
        )
        self.assertAlmostEqual(next(each.first for each in exact.order if each.release == "a") or 0, 0.25, delta=0.02)
