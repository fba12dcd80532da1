"""The shortlist: worked out by hand for three releases and two wishes, at its extremes, and as properties."""

import unittest
import warnings
from collections.abc import Iterator, Mapping

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from metrograph.judging.sampling import outcome
from metrograph.judging.shortlist import _within, need, prepare, shortlist
from metrograph.judging.shortlist_records import Shortlist, TopicKind, TopicValue, TurnedBy, Unusable, WishPart, Wrong
from metrograph.judging.topics import Topic, Topics
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.log.quantities.quantity import parse_quantity
from metrograph.log.quantities.ranges import Range
from metrograph.run.readers import Reader, Relation, Requirement
from metrograph.store.local.reader_settings import parse_requirement, parse_wish

Said = Mapping[str, float | tuple[float, float | None] | None]


def held(value: float | tuple[float, float | None] | None) -> TopicValue:
    if value is None:
        return TopicValue()
    amount = Range(*value) if isinstance(value, tuple) else Range(value, value)
    return TopicValue(amount, amount.low, amount.high, 1)


def hands_on(values: Said, repeats: tuple[tuple[Range, ...], ...] = ()) -> Topic:
    return Topic("hands-on", TopicKind.FIGURE, "s", "less", {name: held(v) for name, v in values.items()}, repeats)


def printer(values: Said) -> Topic:
    words = {0.0: "fail", 0.5: "partly", 1.0: "pass"}
    of = {name: TopicValue(Range(v, v), v, v, 1, words[v]) for name, v in values.items() if isinstance(v, float)}
    return Topic("printer", TopicKind.TRIAL, held=of)


class Known(Topics):
    """Topics that are given, of releases in the order that is given."""

    def __init__(self, releases: list[str], *topics: Topic) -> None:
        self.group = ReleaseGroup.of({name: [] for name in releases}, ("",) * len(releases))
        self.given = {topic.name: topic for topic in topics}

    def find(self, name: str, fact: bool = False) -> Topic | Unusable:  # noqa: ARG002
        return self.given.get(name, Unusable(name, Wrong.UNKNOWN, tuple(self.given)))


BOUNDED = Reader(
    "hand-out", wishes=(parse_wish("hands-on", {"weight": 3, "from": "20:00", "to": "5:00"}), parse_wish("printer", 1))
)
OPEN_ENDED = Reader("hand-out", wishes=(parse_wish("hands-on", 3), parse_wish("printer", 1)))
# hands-on is worth (20:00 - x) / 15:00: a 10:00 is 2/3, b 12:30 is 1/2, c 20:00 is nothing.
TIMES: Said = {"a": 600.0, "b": 750.0, "c": 1200.0}
PRINTS: Said = {"a": 0.0, "b": 1.0, "c": 0.5}


def made(releases: list[str], times: Said, prints: Said, reader: Reader = BOUNDED) -> Shortlist:
    return shortlist(reader, Known(releases, hands_on(times), printer(prints)), count=2000)


class ByHand(unittest.TestCase):
    LIST = made(["a", "b", "c"], TIMES, PRINTS)

    def test_worth_is_the_weighted_mean_of_what_each_wish_is_worth(self) -> None:
        worth = {each.release: each.worth for each in self.LIST.order}
        self.assertEqual(self.LIST.releases, ("b", "a", "c"))
        for name, expected in {"a": 3 * (2 / 3) / 4, "b": (3 / 2 + 1) / 4, "c": 0.5 / 4}.items():
            low, high = worth[name] or (0, 0)
            self.assertAlmostEqual(low, expected)
            self.assertAlmostEqual(high, expected)

    def test_how_sure_it_is_follows_from_the_weights_alone_where_all_is_exact(self) -> None:
        # b is before a while 3 f1 / 6 < f2, both factors log-uniform in [1/1.5, 1.5]: f1 / f2 < 2. The difference of
        # their logarithms is triangular to +-2 ln 1.5 = 0.811; beyond ln 2 = 0.693 lies (0.118 / 0.811)^2 / 2 = 1.06 %.
        shares = {
            each.release: each.first
            for each in shortlist(BOUNDED, Known(["a", "b", "c"], hands_on(TIMES), printer(PRINTS))).order
        }
        self.assertAlmostEqual(shares["b"] or 0, 0.9894, delta=0.003)
        self.assertAlmostEqual(shares["a"] or 0, 0.0106, delta=0.003)
        self.assertTrue(self.LIST.is_sure)

    def test_which_weight_would_turn_an_order(self) -> None:
        # One prints, the other shares; printing weighs twice as much, so that half of it, or twice of the other, is even.
        share = Topic(
            "share",
            TopicKind.TRIAL,
            held={"a": TopicValue(Range(0, 0), 0, 0, 1, "fail"), "b": TopicValue(Range(1, 1), 1, 1, 1, "pass")},
        )
        reader = Reader("x", wishes=(parse_wish("printer", 2), parse_wish("share", 1)))
        made = shortlist(reader, Known(["a", "b"], printer({"a": 1.0, "b": 0.0}), share))
        turned = {
            (turn.wish, round(turn.before, 6), round(turn.after, 6))
            for turn in made.turns
            if turn.by is TurnedBy.WEIGHT
        }
        self.assertTrue(turned)
        self.assertLessEqual(turned, {("printer", 2.0, 1.0), ("share", 1.0, 2.0)})

    def test_equal_ones_have_half_of_a_win_each(self) -> None:
        self.assertEqual(outcome(np.array([[1.0, 2.0], [1.0, 1.0]])).wins.tolist(), [[0, 0.75], [0.25, 0]])

    def test_a_limit_is_kept_broken_or_open(self) -> None:
        topic, limit = Topic("memory", TopicKind.READING, "bytes", "less"), parse_quantity("500 bytes")
        for (low, high), met in {
            (400, 400): True, (500, 500): False, (400, 600): None, (400, None): None, (600, None): False,
        }.items():  # fmt: skip
            amount = TopicValue(Range(low, high), low, high, 1)
            self.assertIs(_within(Requirement("", "memory", Relation.BELOW, limit), topic, amount), met, (low, high))

    def test_half_way_between_the_least_and_the_most(self) -> None:
        self.assertEqual(WishPart("x", 1.0, (0.2, 0.8), TopicKind.TRIAL, "").middle, 0.5)

    def test_ranks_and_wins_add_up(self) -> None:
        for each in self.LIST.order:
            self.assertAlmostEqual(sum(each.ranks), 1)
        for rank in range(3):
            self.assertAlmostEqual(sum(each.ranks[rank] for each in self.LIST.order), 1)
        self.assertAlmostEqual(self.LIST.wins[0][1] + self.LIST.wins[1][0], 1)

    def test_what_would_turn_it(self) -> None:
        weight, figure = self.LIST.turns
        # They are equal where 3 f / 6 = g: one weight twice as much, or the other half.
        self.assertEqual((weight.by, weight.first), (TurnedBy.WEIGHT, "a"))
        self.assertIn((weight.wish, round(weight.after, 9)), {("hands-on", 6.0), ("printer", 0.5)})
        # a lacks (2.5 - 2) / 4 = 1/8 of all, a sixth of what hands-on is worth: 2:30 of 15:00, on either side.
        self.assertEqual((figure.by, figure.wish), (TurnedBy.FIGURE, "hands-on"))
        self.assertIn((figure.release, round(figure.after)), {("a", 450), ("b", 900)})

    def test_a_trial_can_only_come_out_as_trials_do(self) -> None:
        only = Reader("r", wishes=(parse_wish("printer", 1),))
        turns = made(["a", "b"], {}, {"a": 0.0, "b": 0.5}, only).turns
        self.assertEqual(
            [(turn.by, turn.wish, turn.release, turn.after) for turn in turns], [(TurnedBy.FIGURE, "printer", "b", 0.0)]
        )

    def test_without_bounds_it_goes_from_the_worst_to_the_best_and_says_so(self) -> None:
        relative = made(["a", "b", "c"], TIMES, PRINTS, OPEN_ENDED)
        self.assertEqual(relative.relative, ("hands-on",))
        parts = {each.release: each.parts[0].middle for each in relative.order}
        self.assertEqual({name: round(worth, 9) for name, worth in parts.items()}, {"a": 1, "b": 0.75, "c": 0})
        self.assertEqual(self.LIST.relative, ())

    def test_a_range_is_worth_a_range_and_an_open_one_reaches_to_the_end(self) -> None:
        one = made(["a"], {"a": (600.0, 750.0)}, {"a": 1.0}).order[0].parts[0]
        self.assertEqual(tuple(round(end, 9) for end in one.worth), (0.5, round(2 / 3, 9)))
        self.assertEqual(made(["a"], {"a": (750.0, None)}, {"a": 1.0}).order[0].parts[0].worth, (0.0, 0.5))

    def test_repeats_make_a_close_lead_unsure(self) -> None:
        # 600 and 660 s differ by a tenth; single runs that spread by a third leave 0.1 / (0.3 * sqrt 2) deviations.
        times, spread = {"a": 600.0, "b": 660.0}, ((Range(600, 600), Range(810, 810)),) * 40
        sure = shortlist(BOUNDED, Known(["a", "b"], hands_on(times), printer({"a": 1.0, "b": 1.0})))
        unsure = shortlist(BOUNDED, Known(["a", "b"], hands_on(times, spread), printer({"a": 1.0, "b": 1.0})))
        self.assertEqual(sure.order[0].first, 1.0)
        # deviation of one run: |ln 810/600| / sqrt 2 = 0.212; of the difference 0.3: Phi(0.0953 / 0.3) = 0.625
        self.assertAlmostEqual(unsure.order[0].first or 0, 0.625, delta=0.02)
        self.assertEqual((sure.unrepeated, unsure.unrepeated), (("hands-on",), ()))


class Repeats(unittest.TestCase):
    """How sure the order of two single figures is, given what repeats say: worked out from the distributions."""

    WIDE = Reader("wide", wishes=(parse_wish("hands-on", {"weight": 1, "from": "99:00:00", "to": "0:00.001"}),))

    def first(self, ratio: float, runs: int, repeats: int) -> float:
        """How often the quicker is said to be first."""
        spread = ((Range(600, 600), Range(810, 810)),) * repeats
        amounts = {"a": Range(600, 600), "b": Range(600 * ratio, 600 * ratio)}
        values = {name: TopicValue(each, each.low, each.low, runs) for name, each in amounts.items()}
        topic = Topic("hands-on", TopicKind.FIGURE, "s", "less", values, spread)
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            return shortlist(self.WIDE, Known(["a", "b"], topic)).order[0].first or 0

    def test_a_median_of_more_runs_is_surer(self) -> None:
        # A run spreads by s = |ln(810/600)| / sqrt 2 = 0.2122; a difference of medians by s sqrt(2 v), with the variance
        # v of a median of so many: 1, 0.449 of three, 0.287 of five, pi/16 = 0.196 of eight. P = Phi(ln 1.2 / that).
        for runs, expected in {1: 0.7282, 3: 0.8178, 5: 0.8717, 8: 0.9149}.items():
            self.assertAlmostEqual(self.first(1.2, runs, 400), expected, delta=0.015, msg=str(runs))

    def test_of_a_single_pair_of_repeats_hardly_anything_is_sure(self) -> None:
        # With one degree of freedom the difference has Student's distribution, of which that is Cauchy's:
        # 1/2 + atan(ln 1.25 / 0.3) / pi = 0.704, where with many repeats it would be Phi(0.744) = 0.772.
        self.assertAlmostEqual(self.first(1.25, 1, 1), 0.704, delta=0.02)
        self.assertAlmostEqual(self.first(1.25, 1, 400), 0.772, delta=0.015)


class Extremes(unittest.TestCase):
    def test_all_equal(self) -> None:
        equal = made(["a", "b", "c"], dict.fromkeys("abc", 600.0), dict.fromkeys("abc", 1.0))
        self.assertEqual([round(each.first or 0, 9) for each in equal.order], [round(1 / 3, 9)] * 3)
        self.assertEqual((equal.is_sure, equal.turns, equal.measure_next), (False, (), ()))
        self.assertEqual({name for each in equal.order for name in each.at_least_as}, set())

    def test_one_is_better_in_everything(self) -> None:
        best = made(["a", "b"], {"a": 400.0, "b": 800.0}, {"a": 1.0, "b": 1.0})
        self.assertEqual(best.order[0].at_least_as, ("b",))
        self.assertEqual(best.order[0].first, 1.0)

    def test_nothing_is_known(self) -> None:
        nothing = made(["a", "b"], {}, {})
        self.assertEqual([each.worth for each in nothing.order], [(0.0, 1.0)] * 2)
        self.assertFalse(nothing.is_sure)
        self.assertAlmostEqual(nothing.order[0].first or 0, 0.5, delta=0.05)
        self.assertEqual(nothing.turns, ())
        self.assertEqual({each.runs for each in nothing.measure_next}, {0})

    def test_one_release_alone_is_first(self) -> None:
        alone = made(["a"], TIMES, PRINTS)
        self.assertEqual((alone.order[0].first, alone.wins, alone.turns), (1.0, ((0.0,),), ()))

    def test_nobody_wishes_for_anything(self) -> None:
        needs = Reader("r", required=(parse_requirement("printer: pass"),))
        listed = made(["a", "b", "c"], TIMES, PRINTS, needs)
        self.assertEqual(
            [(each.release, each.passes) for each in listed.order], [("b", True), ("a", False), ("c", False)]
        )
        self.assertIsNone(listed.order[0].first)

    def test_what_nobody_noted_that_settles_it_is_told(self) -> None:
        open_ = made(["a", "b"], {"a": 600.0, "b": 750.0}, {"a": 0.0})
        self.assertFalse(open_.is_sure)
        (first, *_) = open_.measure_next
        self.assertEqual((first.release, first.wish), ("b", "printer"))
        self.assertGreater(first.sure, 0.95)
        self.assertAlmostEqual(first.against, max(each.first or 0 for each in open_.order))


class Required(unittest.TestCase):
    def needs(self, text: str, topic: Topic) -> Iterator[bool | None]:
        for name in "abc":
            yield need(parse_requirement(text), topic, name).met

    def test_limits(self) -> None:
        ranged = hands_on({"a": 600.0, "b": (500.0, 700.0)})
        for text, expected in {
            "hands-on <= 10:00": [True, None, None],
            "hands-on < 10:00": [False, None, None],
            "hands-on >= 10:00": [True, None, None],
            "hands-on > 12:00": [False, False, None],
            "hands-on <= 8:00": [False, False, None],
        }.items():
            self.assertEqual(list(self.needs(text, ranged)), expected, text)

    def test_trials_that_were_not_made_leave_it_open(self) -> None:
        self.assertEqual(list(self.needs("printer: pass", printer({"a": 1.0, "b": 0.0}))), [True, False, None])

    def test_software(self) -> None:
        topic = Topic("carries office", TopicKind.SOFTWARE, held={"a": held(1.0), "b": held(0.0)})
        self.assertEqual(list(self.needs("carries office", topic)), [True, False, None])
        self.assertEqual(list(self.needs("lacks office", topic)), [False, True, None])

    def test_what_fails_is_left_out_of_the_order_and_of_its_bounds(self) -> None:
        strict = Reader("r", required=(parse_requirement("printer: pass"),), wishes=(parse_wish("hands-on", 1),))
        listed = made(["a", "b", "c"], TIMES, {"a": 0.0, "b": 1.0, "c": 1.0}, strict)
        self.assertEqual(
            [(each.release, each.passes) for each in listed.order], [("b", True), ("c", True), ("a", False)]
        )
        self.assertEqual(listed.order[0].parts[0].worth, (1.0, 1.0))
        self.assertIsNone(listed.order[2].worth)

    def test_a_limit_in_another_unit_is_a_problem(self) -> None:
        wrong = Reader("r", required=(parse_requirement("hands-on <= 5 GiB"),))
        (unusable,) = prepare(wrong, Known(["a"], hands_on(TIMES))).unusable
        self.assertEqual((unusable.wrong, unusable.is_fatal), (Wrong.UNIT, True))


VALUES = st.fixed_dictionaries({"times": st.floats(300, 1200), "prints": st.sampled_from([0.0, 0.5, 1.0, None])})


class Properties(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.lists(VALUES, min_size=2, max_size=5), st.permutations(range(5)))
    def test_the_order_in_which_they_are_named_makes_no_difference(
        self, values: list[dict[str, float]], at: list[int]
    ) -> None:
        names = [f"r{place}" for place in range(len(values))]
        times, prints = (
            {name: each[key] for name, each in zip(names, values, strict=True)} for key in ("times", "prints")
        )
        shuffled = [names[place] for place in at if place < len(names)]
        self.assertEqual(made(names, times, prints), made(shuffled, times, prints))

    @settings(max_examples=40, deadline=None)
    @given(st.lists(VALUES, min_size=2, max_size=5))
    def test_one_that_is_worse_in_everything_changes_nothing_among_the_others(
        self, values: list[dict[str, float]]
    ) -> None:
        names = [f"r{place}" for place in range(len(values))]
        times, prints = (
            {name: each[key] for name, each in zip(names, values, strict=True)} for key in ("times", "prints")
        )
        without = made(names, times, prints)
        with_it = made(["aaa", *names], times | {"aaa": 1201.0}, prints | {"aaa": 0.0})
        self.assertEqual([name for name in with_it.releases if name != "aaa"], list(without.releases))
        for one, other in zip((e for e in with_it.order if e.release != "aaa"), without.order, strict=True):
            self.assertEqual((one.worth, one.parts), (other.worth, other.parts))


if __name__ == "__main__":
    unittest.main()
