"""Alignment: small flows with the merged flow worked out by hand, and what holds for any flows."""

import unittest
from itertools import combinations, pairwise, permutations

from bench.flows import Maker, Rates, TrueScreen, keys_of
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from metrograph.compare.align.alignment import _Merging, merge
from metrograph.compare.align.explain import why
from metrograph.compare.align.merge import merged_flow
from metrograph.compare.align.sequences import assigned, heaviest, moved
from metrograph.compare.align.similarity import WEIGHTS, Similarities, evidence, similarity
from metrograph.compare.flow_records import Side
from metrograph.log.lexicon import is_after_restart
from metrograph.run.route import Rulings, ScreenKey, route_of, route_screens
from tests.helpers import run_of, screens


def merged(*flows: list[ScreenKey], rulings: Rulings | None = None) -> list[tuple[str | None, ...]]:
    """The merged flow as titles."""
    rows = merge(flows, rulings or Rulings())
    return [
        tuple(None if place is None else own[place].title for own, place in zip(flows, row, strict=True))
        for row in rows
    ]


class Reasons(unittest.TestCase):
    def test_why_screens_stand_in_one_row_and_which_is_most_alike_elsewhere(self) -> None:
        flows = {
            "a": ("Language", "Keyboard layout", "Disk", "Account"),
            "b": ("Language", "Keyboard layout", "Where to install", "Disk", "Account", "Network"),
        }
        sides = [
            Side(name, (run_of("".join(f"{at}:00 screen {title}\n" for at, title in enumerate(titles)), f"{name}-1"),))
            for name, titles in flows.items()
        ]
        flow = merged_flow(sides)
        found = {each.title: each for each in (why(sides, flow, row) for row in range(len(flow.rows)))}
        self.assertEqual([found[title].row for title in flows["b"]], [1, 2, 3, 4, 5, 6])
        beside = {
            title: (each.reasons[0].before, each.reasons[0].after) for title, each in found.items() if each.reasons
        }
        self.assertEqual(
            beside,
            {
                "Language": (None, "Keyboard layout"), "Keyboard layout": ("Language", None), "Disk": (None, "Account"),
                "Account": ("Disk", None),
            },
        )  # fmt: skip
        one, other = screens("Where to install", "Disk")
        alike = similarity(one, other)
        self.assertGreater(alike, 0.3)
        self.assertEqual(found["Where to install"].nearest, {"a": ("Disk", round(alike, 3))})
        self.assertEqual(found["Disk"].reasons[0].rival_similarity, round(alike, 3))
        self.assertEqual(found["Network"].nearest, {"a": None})


class Refining(unittest.TestCase):
    def test_flows_that_are_taken_out_and_put_back_only_ever_fit_better_and_some_do(self) -> None:
        better = 0
        for seed in range(60):
            maker = Maker(seed)
            flow = maker.flow(12)
            flows = [keys_of(flow), *(keys_of(flow := maker.later(flow, Rates(0.3, 0.2, 0.2, 0.2))) for _ in range(4))]
            table = Similarities((screen for flow in flows for screen in flow), Rulings(), WEIGHTS)
            merging = _Merging(table, [tuple(table.codes[screen] for screen in flow) for flow in flows])
            for index in range(len(flows)):
                merging.add(index)
            before = merging._score()
            refined = merging.refine()
            self.assertEqual(merging._score() > before, refined, seed)
            self.assertGreaterEqual(merging._score(), before, seed)
            better += refined
        self.assertGreater(better, 0)


class Evidence(unittest.TestCase):
    def test_what_is_just_similar_enough_is(self) -> None:
        # A title in one kind against none is 0.7 of itself: with a bound of 0.7 it still counts, above it not.
        one, other = screens("Kettle/disk", "Kettle/other")
        pair = Similarities((one, other), Rulings(), replace(WEIGHTS, same=0.7))
        self.assertIn(pair.codes[other], pair.near[pair.codes[one]])
        strict = Similarities((one, other), Rulings(), replace(WEIGHTS, same=0.71))
        self.assertNotIn(strict.codes[other], strict.near[strict.codes[one]])

    def test_the_kind_of_a_row_is_that_of_most_of_its_screens(self) -> None:
        shown = (("Storage", "disk"), ("Storing", "partitions"), ("Storing", "partitions"))
        runs = [
            run_of(f"0:00 screen {title}\n    kind: {kind}\n1:00 end done", f"m-{n}")
            for n, (title, kind) in enumerate(shown)
        ]
        ruled = Rulings(same=frozenset({frozenset({"Storage", "Storing"})}))
        (row,) = merged_flow([Side("m", tuple(runs))], ruled).rows
        self.assertEqual(row.kind, "partitions")

    def test_of_two_chains_that_weigh_the_same_the_first_is_taken(self) -> None:
        self.assertEqual(heaviest([(0, 1, 1.0), (1, 0, 1.0)], 2), [(0, 1)])


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

    def test_a_flow_of_one_screen_and_of_none(self) -> None:
        self.assertEqual(
            merged(screens("Disk"), screens("Language", "Storage")), [(None, "Language"), ("Disk", "Storage")]
        )
        self.assertEqual(merged(screens("Disk"), []), [("Disk", None)])
        self.assertEqual(merged([], []), [])

    def test_a_rename_with_no_common_word_is_matched_by_kind(self) -> None:
        self.assertEqual(
            merged(screens("Language", "Where are you?", "Disk"), screens("Language", "Time zone", "Disk")),
            [("Language",) * 2, ("Where are you?", "Time zone"), ("Disk",) * 2],
        )

    def test_a_rename_of_no_known_kind_is_matched_by_its_questions(self) -> None:
        before, after = screens("Language", "Kettle [boil fill]"), screens("Language", "Morning [boil fill]")
        self.assertEqual(merged(before, after), [("Language",) * 2, ("Kettle", "Morning")])
        self.assertEqual(len(merged(before, screens("Language", "Morning [wake]"))), 3)

    def test_a_move_behind_the_restart_shares_the_row(self) -> None:
        self.assertEqual(
            merged(
                screens("Language", "Keyboard", "Your account", "Disk", "Copying files", "|", "Greeter"),
                screens("Language", "Disk", "Copying files", "|", "Keyboard", "Your account", "Greeter"),
            ),
            [("Language",) * 2, ("Keyboard",) * 2, ("Your account",) * 2, ("Disk",) * 2, ("Copying files",) * 2,
             ("Greeter",) * 2],
        )  # fmt: skip

    def test_a_move_behind_the_restart_under_another_name(self) -> None:
        before = screens("Where are you?", "Disk", "Copying files", "|", "Greeter")
        after = screens("Disk", "Copying files", "|", "Time zone", "Greeter")
        self.assertIn(("Where are you?", "Time zone"), merged(before, after))

    def test_a_swap_of_two_screens(self) -> None:
        self.assertEqual(
            merged(
                screens("Language", "Keyboard", "Time zone", "Disk"),
                screens("Language", "Time zone", "Keyboard", "Disk"),
            ),
            [("Language",) * 2, ("Keyboard",) * 2, ("Time zone",) * 2, ("Disk",) * 2],
        )

    def test_a_title_with_two_meanings_goes_by_kind(self) -> None:
        self.assertEqual(
            merged(screens("Setup/source", "Disk", "Software"), screens("Package source", "Disk", "Setup/software")),
            [("Setup", "Package source"), ("Disk",) * 2, ("Software", "Setup")],
        )

    def test_two_of_a_kind_go_by_their_titles(self) -> None:
        self.assertEqual(
            merged(screens("Software groups", "Software sources/software"), screens("Software sources/software")),
            [("Software groups", None), ("Software sources", "Software sources")],
        )

    def test_a_screen_is_not_given_to_a_makeshift_while_its_like_stands_elsewhere(self) -> None:
        # Disk has moved behind the summary; in its old place stands another screen of its kind.
        before = screens("Language", "Disk", "Account", "Summary")
        after = screens("Language", "Which drive keeps the backups", "Account", "Summary", "Disk")
        self.assertIn(("Disk", "Disk"), merged(before, after))
        self.assertIn((None, "Which drive keeps the backups"), merged(before, after))

    def test_what_is_new_is_not_taken_for_what_is_gone_elsewhere_on_its_kind_alone(self) -> None:
        before = screens("Software [a]", "Programs to try/software", "Language", "Disk", "Summary", "Greeter")
        after = screens("Software [a]", "Language", "Disk", "Summary", "More packages/software", "Greeter")
        self.assertEqual(len(merged(before, after)), 7)

    def test_questions_in_a_terminal_against_pages(self) -> None:
        pages = screens("Boot menu", "Language", "Keyboard", "Where are you?", "Disk", "Your account", "Copying files")
        terminal = screens("Boot menu", "Which language?", "Which keyboard layout?", "Host name?", "Which disk?",
                           "A user account?", "Installing packages/copying")  # fmt: skip
        self.assertEqual(
            merged(pages, terminal),
            [("Boot menu", "Boot menu"), ("Language", "Which language?"), ("Keyboard", "Which keyboard layout?"),
             ("Where are you?", None), (None, "Host name?"), ("Disk", "Which disk?"),
             ("Your account", "A user account?"), ("Copying files", "Installing packages")],
        )  # fmt: skip

    def test_three_flows(self) -> None:
        self.assertEqual(
            merged(screens("Language", "Disk"), screens("Language", "Keyboard", "Disk"), screens("Keyboard", "Disk")),
            [("Language", "Language", None), (None, "Keyboard", "Keyboard"), ("Disk",) * 3],
        )

    def test_a_person_can_overrule_both_ways(self) -> None:
        one, other = screens("Language", "Kettle", "Disk"), screens("Language", "Morning", "Storage")
        same = Rulings(same=frozenset({frozenset({"Kettle", "Morning"})}))
        apart = Rulings(apart=frozenset({frozenset({"Disk", "Storage"})}))
        self.assertEqual(merged(one, other, rulings=same)[1], ("Kettle", "Morning"))
        self.assertEqual(merged(one, other, rulings=apart)[3:], [(None, "Morning"), (None, "Storage")])
        for rulings, near in ((same, 1.0), (Rulings(apart=same.same), None)):
            table = Similarities((*one, *other), rulings)
            self.assertEqual(table.near[table.codes[one[1]]].get(table.codes[other[1]]), near)

    def test_what_is_ruled_apart_stays_apart_whatever_stands_between(self) -> None:
        apart = Rulings(apart=frozenset({frozenset({"Disk", "Erase a disk"})}))
        flows = [
            screens("Language", title, "Copying files") for title in ("Disk", "Disk or erase a disk", "Erase a disk")
        ]
        for order in permutations(flows):
            rows = merged(*order, rulings=apart)
            self.assertFalse(any({"Disk", "Erase a disk"} <= set(row) for row in rows), rows)

    def test_what_is_ruled_the_same_shares_a_row_also_by_way_of_a_third(self) -> None:
        same = Rulings(same=frozenset({frozenset({"Kettle", "Morning"}), frozenset({"Morning", "Umbrella"})}))
        flows = [screens("Language", title, "Disk") for title in ("Kettle", "Morning", "Umbrella")]
        for order in permutations(flows):
            self.assertIn({"Kettle", "Morning", "Umbrella"}, [set(row) for row in merged(*order, rulings=same)])

    def test_a_row_does_not_grow_along_a_chain(self) -> None:
        titles = ("red boat house", "red boat lamp", "red kettle lamp")
        flows = [[ScreenKey(title, "other")] for title in titles]
        self.assertGreaterEqual(
            min(similarity(flows[0][0], flows[1][0]), similarity(flows[1][0], flows[2][0])), WEIGHTS.same
        )
        self.assertLess(similarity(flows[0][0], flows[2][0]), WEIGHTS.same)
        self.assertFalse(any(None not in row for row in merge(flows)))


FLOWS = st.lists(
    st.lists(
        st.sampled_from(["Language", "Disk", "Keyboard", "Kettle", "Tea/disk", "Summary [a]", "Report [a]"]),
        unique=True,
        max_size=7,
    ),
    min_size=1,
    max_size=4,
)


class Any(unittest.TestCase):
    @given(FLOWS)
    def test_every_screen_stands_once_in_its_own_entry(self, flows: list[list[str]]) -> None:
        rows = merge([screens(*titles) for titles in flows])
        for index, titles in enumerate(flows):
            places = [place for row in rows if (place := row[index]) is not None]
            self.assertEqual(sorted(places), list(range(len(titles))))
        self.assertTrue(all(any(place is not None for place in row) for row in rows))

    @given(FLOWS, st.randoms(use_true_random=False))
    def test_the_order_in_which_flows_are_named_matches_nothing_else(
        self, flows: list[list[str]], chance: object
    ) -> None:
        order = list(range(len(flows)))
        chance.shuffle(order)  # type: ignore[attr-defined]
        made = [screens(*titles) for titles in flows]
        rows = {tuple(row) for row in merge(made)}
        shuffled = merge([made[index] for index in order])
        self.assertEqual({tuple(row[order.index(index)] for index in range(len(order))) for row in shuffled}, rows)

    @given(st.dictionaries(st.tuples(st.integers(0, 3), st.integers(0, 3)), st.integers(1, 9).map(float), max_size=9))
    def test_moved_screens_gain_the_most_together(self, gains: dict[tuple[int, int], float]) -> None:
        pairs = assigned(gains)
        self.assertEqual(len({row for row, _ in pairs}), len(pairs))
        self.assertEqual(len({column for _, column in pairs}), len(pairs))
        best = max(
            sum(gains.get((row, column), 0.0) for row, column in enumerate(order)) for order in permutations(range(4))
        )
        self.assertEqual(sum(gains[pair] for pair in pairs), best)

    @given(
        st.lists(
            st.tuples(st.integers(0, 4), st.integers(0, 4), st.integers(1, 9)), unique_by=lambda p: p[:2], max_size=9
        )
    )
    def test_the_heaviest_matches_are_those_of_trying_all(self, pairs: list[tuple[int, int, int]]) -> None:
        ordered = sorted(((r, c, float(g)) for r, c, g in pairs), key=lambda pair: (pair[0], -pair[1]))
        found = heaviest(ordered, 5)
        gains = {pair[:2]: pair[2] for pair in ordered}
        rising = (some for size in range(6) for some in combinations(sorted(gains), size)
                  if all(a[0] < b[0] and a[1] < b[1] for a, b in pairwise(some)))  # fmt: skip
        self.assertEqual(sum(gains[pair] for pair in found), max(sum(gains[pair] for pair in some) for some in rising))

    @given(
        st.lists(
            st.sampled_from(
                screens("Disk", "Storage", "Kettle", "The kettle", "Tea [a b]", "Cup [a]", "|", "Disk [a]")
            ),
            max_size=7,
        )
    )
    def test_the_table_has_what_two_screens_have_by_themselves(self, some: list[ScreenKey]) -> None:
        table = Similarities(some)
        for one in some:
            for other in some:
                known = table.near[table.codes[one]].get(table.codes[other], 0.0)
                expected = 1.0 if one == other else similarity(one, other)
                self.assertAlmostEqual(known, expected if expected >= WEIGHTS.same else 0.0)

    def test_generated_flows_are_matched_as_they_truly_are(self) -> None:
        right = wrong = missed = 0
        for seed in range(8):
            maker = Maker(seed)
            before = maker.flow(60)
            after = maker.later(before, Rates())
            found, true = _matches(before, after)
            right, wrong, missed = right + len(found & true), wrong + len(found - true), missed + len(true - found)
        self.assertGreaterEqual(right / (right + wrong), 0.98)
        self.assertGreaterEqual(right / (right + missed), 0.98)


def _matches(before: list[TrueScreen], after: list[TrueScreen]) -> tuple[set[tuple[int, int]], set[tuple[int, int]]]:
    """The pairs of places that share a row, and those that should."""
    rows = merge([keys_of(before), keys_of(after)])
    found = {(one, other) for one, other in rows if one is not None and other is not None}
    there = {screen.truth: place for place, screen in enumerate(after)}
    return found, {(place, there[each.truth]) for place, each in enumerate(before) if each.truth in there}


class Parts(unittest.TestCase):
    def test_evidence_adds_up_by_hand(self) -> None:
        # One kind leaves 0.38 over, titles alike by 0 leave all of it, one of three keys in common takes 0.62 / 3.
        one, other = screens("Disk [a b]", "xyz/disk [b c]")
        found = evidence(one, other)
        self.assertEqual((found.kind, found.title, found.keys), (True, 0.0, 1 / 3))
        self.assertAlmostEqual(found.similarity, 1 - 0.38 * (1 - 0.8 / 3))
        late = ScreenKey("xyz", "disk", late=True, keys=("b", "c"))
        self.assertAlmostEqual(similarity(one, late), 0.97 * found.similarity)

    def test_known_kinds_that_differ_need_more_than_a_title(self) -> None:
        one, other, third = screens("Setup/disk", "Setup/software", "Setup/other")
        asked, otherwise = screens("Setup/disk [a]", "Setup/software [a]")
        self.assertLess(similarity(one, other), WEIGHTS.same)
        self.assertGreaterEqual(similarity(one, third), WEIGHTS.same)
        self.assertGreaterEqual(similarity(asked, otherwise), WEIGHTS.same)

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
        self.assertEqual([(s.title, s.attempt) for s in route_screens(run)], [("Boot menu", 2), ("Disk", 2)])

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
            [(s.title, s.attempt) for s in route_screens(run)],
            [("Boot menu", 1), ("Language", 1), ("Disk", 2), ("Copying files", 2)],
        )

    def test_an_overview_with_doors_is_recognised_and_going_back_is_not_one(self) -> None:
        doors = """
            0:00 screen Overview
            0:10 screen Language
            0:20 screen Overview
            0:30 screen Disk
            0:40 screen Partitions
            0:50 screen Overview
            1:00 screen Your account
            1:10 screen Overview
            1:20 screen Copying files
            2:00 end done
        """
        way = route_of(run_of(doors))
        self.assertEqual((way.overview, [way.screens[place].title for place in way.doors]),
                         (0, ["Language", "Disk", "Partitions", "Your account"]))  # fmt: skip
        back = route_of(
            run_of("0:00 screen Language\n0:10 screen Disk\n0:20 screen Language\n0:30 screen Disk\n1:00 end done")
        )
        self.assertEqual((back.overview, back.doors), (None, ()))

    def test_a_stop_has_its_keys_and_its_side_of_the_restart(self) -> None:
        run = run_of(
            "0:00 screen Disk\n0:01 keep swap = file\n0:02 keep method = x\n0:03 keep swap = none\n1:00 phase setup\n1:01 screen Time zone"
        )
        self.assertEqual(
            route_of(run).screens,
            (ScreenKey("Disk", "disk", False, ("method", "swap")), ScreenKey("Time zone", "place", True)),
        )
        self.assertTrue(is_after_restart("setup"))
