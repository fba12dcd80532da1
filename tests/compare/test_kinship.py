"""Kinship: small cases by hand, and against a slow way to the same."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from metrograph.compare.align.sequences import heaviest
from metrograph.compare.align.similarity import WEIGHTS, similarity
from metrograph.compare.kinship import kinship, matrix_of, settled
from metrograph.run.route import Route, ScreenKey
from tests.helpers import screens


def flow_of(*titles: str) -> Route:
    return Route(tuple(screens(*titles)))


def slowly(one: tuple[ScreenKey, ...], other: tuple[ScreenKey, ...]) -> float:
    """The definition, word for word."""
    if not one and not other:
        return 1.0
    likes = [
        [1.0 if a == b else like if (like := similarity(a, b)) >= WEIGHTS.same else 0.0 for b in other] for a in one
    ]
    common = sum(max(row, default=0) for row in likes) + sum(max(column) for column in zip(*likes, strict=True))
    pairs = [(r, c, likes[r][c]) for r in range(len(one)) for c in range(len(other) - 1, -1, -1) if likes[r][c]]
    order = sum(likes[r][c] for r, c in heaviest(pairs, len(other)))
    return float(common + 2 * order) / (2 * (len(one) + len(other)))


TITLES = st.lists(
    st.sampled_from(["Language", "Disk", "Storage", "Kettle", "The kettle", "|", "Tea [a]", "Cup [a]"]),
    unique=True,
    max_size=6,
)


class Pairs(unittest.TestCase):
    def test_by_hand(self) -> None:
        one, same, turned = (
            flow_of("Kettle", "Tea", "Cup"),
            flow_of("Kettle", "Tea", "Cup"),
            flow_of("Cup", "Kettle", "Tea"),
        )
        half, none = flow_of("Kettle"), flow_of("Spoon", "Fork", "Knife")
        found = matrix_of([one, same, turned, half, none])
        # Turned: all in common, two of three in order. Half: 2 of 4 screens, in order.
        for index, expected in enumerate((1, 1, (1 + 2 / 3) / 2, 0.5, 0)):
            self.assertAlmostEqual(float(found[0, index]), expected, places=6)

    def test_what_stands_behind_doors_has_no_order(self) -> None:
        one = Route(tuple(screens("Hub", "Language", "Disk", "Kettle", "Copying files")), 0, (1, 2, 3))
        other = Route(tuple(screens("Hub", "Kettle", "Disk", "Language", "Copying files")), 0, (1, 2, 3))
        self.assertEqual(settled(one), settled(other))
        self.assertEqual(float(matrix_of([one, other])[0, 1]), 1)

    @settings(max_examples=40, deadline=None)
    @given(st.lists(TITLES, min_size=1, max_size=5))
    def test_all_at_once_is_as_one_by_one(self, flows: list[list[str]]) -> None:
        routes = [flow_of(*titles) for titles in flows]
        found = matrix_of(routes)
        for row, one in enumerate(routes):
            for column, other in enumerate(routes):
                expected = 1.0 if row == column else slowly(one.screens, other.screens)
                self.assertAlmostEqual(float(found[row, column]), expected, places=5)


class Releases(unittest.TestCase):
    def test_parts_that_are_done_in_another_order_say_the_same(self) -> None:
        routes = [flow_of("Disk", f"Screen {number % 7} of {number}") for number in range(220)]
        found = matrix_of(routes, over=lambda work, parts: map(work, reversed(parts)))
        self.assertTrue((found == matrix_of(routes)).all())
        self.assertEqual(found.shape, (220, 220))

    def test_kin_stand_beside_each_other_in_families(self) -> None:
        heron = flow_of("Language", "Disk", "Keyboard", "Kettle")
        wren = flow_of("Language", "Disk", "Keyboard", "Kettle")
        fen = flow_of("Spoon", "Fork")
        later = flow_of("Language", "Disk", "Keyboard", "Teapot")
        found = kinship({"heron-1": [heron], "fen-1": [fen], "wren-1": [wren, wren], "heron-2": [later]})
        self.assertEqual(
            {frozenset(family) for family in found.families},
            {frozenset({"heron-1", "wren-1", "heron-2"}), frozenset({"fen-1"})},
        )
        place = {release: index for index, release in enumerate(found.releases)}
        self.assertEqual(found.matrix[place["heron-1"]][place["wren-1"]], 1)
        self.assertAlmostEqual(found.matrix[place["heron-1"]][place["heron-2"]], 0.75)
        self.assertEqual(abs(place["heron-1"] - place["wren-1"]), 1)
        self.assertEqual(found.runs[place["wren-1"]], 2)
        self.assertEqual([set(group) for group in found.alike], [{"heron-1", "wren-1"}])

    def test_one_release_and_none(self) -> None:
        self.assertEqual(kinship({"a": [flow_of("Disk")]}).matrix, ((1.0,),))
        self.assertEqual(kinship({}).releases, ())
