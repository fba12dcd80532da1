"""What is published: cards against each other, what a release ran on, and weights against a limit, worked out by hand."""

import unittest

import msgspec

from metrograph.ledgers.card_ledger import CardGroup, cards_ledger
from metrograph.ledgers.claims import claims_ledger
from metrograph.ledgers.digests.release_groups import group
from metrograph.ledgers.facts import FactChange
from metrograph.ledgers.weight import WeightLedger, fits, weight_ledger
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.units import family_of
from metrograph.run.cards import Needs, Release, Rig
from metrograph.words.ledger_words import of_cards, ran_on
from tests.helpers import said
from tests.ledgers.test_ledgers import GROUP, ONE, OTHER, TWO

GIB = 1 << 30
OLD = Release("Moor", "1", released="2026-04", supported_until="2027-10", kernel="6.9.1", image_size=2 * GIB,
              minimum=Needs(said("1 GiB"), said("15 GB")), tools={"Writewell": "4.3"})  # fmt: skip
NEW = Release("Moor", "2", released="2026-10", supported_until="2029-10", kernel="6.10", image_size=3 * GIB, desktop="Kettle 4",
              minimum=Needs(said("1024 MiB"), said("20 GB"), 2), needs={"text only": Needs(said("500 MB"), display="800x600")},
              tools={"Writewell": "5.0"}, news=("A tour",))  # fmt: skip


class Cards(unittest.TestCase):
    LEDGER = cards_ledger({"moor-1": OLD, "moor-2": NEW})

    def test_rows(self) -> None:
        rows = {(row.group.value, row.of, row.name): (row.values, row.changes[1]) for row in self.LEDGER.rows}
        for key, expected in {
            ("system", "", "kernel"): (("6.9.1", "6.10"), FactChange.RAISED),
            ("system", "", "desktop"): ((None, "Kettle 4"), FactChange.FIRST),
            ("needs", "at least", "memory"): (("1 GiB", "1024 MiB"), FactChange.SAME),
            ("needs", "at least", "disk"): (("15 GB", "20 GB"), FactChange.RAISED),
            ("needs", "text only", "display"): ((None, "800x600"), FactChange.FIRST),
            ("tools", "", "Writewell"): (("4.3", "5.0"), FactChange.RAISED),
            ("release", "", "released"): (("2026-04", "2026-10"), FactChange.REPLACED),
        }.items():
            self.assertEqual(rows[key], expected, key)
        self.assertNotIn(("system", "", "base"), rows)
        self.assertEqual([row.name for row in self.LEDGER.rows if row.group is CardGroup.TOOLS], ["Writewell"])
        self.assertEqual(self.LEDGER.news, ((), ("A tour",)))

    def test_sizes_go_up_and_down_and_days_are_replaced(self) -> None:
        cards = {
            "moor-1": Release(released="2026-04-01", image_size=3 * GIB, long_term=False),
            "moor-2": Release(released="2026-10-01", image_size=2 * GIB, long_term=True),
            "moor-3": Release(released="2026-10-01", image_size=2 * GIB),
        }
        rows = {row.name: (row.values, row.changes[1:]) for row in cards_ledger(cards).rows}
        same, other, absent = FactChange.SAME, FactChange.REPLACED, FactChange.ABSENT
        self.assertEqual(rows["image size"][1], (FactChange.LOWERED, same))
        self.assertEqual(rows["released"][1], (other, same))
        self.assertEqual(rows["long term"], (("no", "yes", None), (FactChange.NEW, absent)))

    def test_the_answer(self) -> None:
        self.assertEqual(
            list(of_cards(self.LEDGER)),
            [
                "moor-2 differs from moor-1 in image (1 GiB more) and minimum disk (5 GB more).",
                "moor-2 is supported for 36 months, until 2029-10, and moor-1 is supported for 18 months, until 2027-10.",
                "Changed: kernel from 6.9.1 to 6.10 and Writewell from 4.3 to 5.0.",
            ],
        )


class RanOn(unittest.TestCase):
    def test_only_where_no_needs_are_published(self) -> None:
        rigs = {"bench-vm": Rig(memory=4 * GIB, disk=20 * 10**9)}
        told = claims_ledger(GROUP, rigs).ran_on
        self.assertEqual([each.release for each in told], ["fen-1", "moor-2-a"])  # moor-1-a has a minimum
        self.assertEqual(
            ran_on(told[0]), "fen-1: no needs are published, but it ran with 4 GiB of memory and a disk of 20 GB."
        )
        self.assertEqual(claims_ledger(group([ONE, TWO, OTHER], {}), {}).ran_on, ())


class Limit(unittest.TestCase):
    def fit(self, download: Range | None) -> tuple[bool | None, tuple[float | None, float | None]]:
        row = msgspec.structs.replace(weight_ledger(GROUP).rows[0], download=download)
        (fit,) = fits(WeightLedger(("a",), ("",), (row,)), 900.0)
        return fit.fits, fit.left

    def test_what_fits_and_what_is_left(self) -> None:
        self.assertEqual(self.fit(Range(700, 700)), (True, (200, 200)))
        self.assertEqual(self.fit(Range(950, 950)), (False, (-50, -50)))
        self.assertEqual(self.fit(Range(800, 1000)), (None, (-100, 100)))
        self.assertEqual(self.fit(Range(700, None)), (None, (None, 200)))
        self.assertEqual(self.fit(Range(950, None)), (False, (None, -50)))
        self.assertEqual(self.fit(None), (None, (None, None)))

    def test_sizes_are_shown_in_the_limit_s_own_units(self) -> None:
        units = ("900 MB", "900MiB", "1,5 gigabytes", "3 gibibytes", "3 G")
        self.assertEqual([family_of(text) for text in units], ["decimal", "binary", "decimal", "binary", "binary"])


if __name__ == "__main__":
    unittest.main()
