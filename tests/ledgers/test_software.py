"""Software as sets against sets, worked out by hand."""

import unittest
from typing import ClassVar

import msgspec

from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import group
from metrograph.ledgers.facts import FactChange
from metrograph.ledgers.software import SoftwareLedger, software_ledger
from metrograph.run.cards import Release
from metrograph.words.answers.openings import of_software
from tests.helpers import run_of


def run(release: str, cues: str) -> Digest:
    lines = "\n".join(f"2:{second:02} {cue}" for second, cue in enumerate(cues.strip().split("\n"), 1))
    return msgspec.structs.replace(
        digest(run_of(f"0:00 screen Disk\n{lines}\n3:00 end done\n", f"{release}-1")), release=release
    )


CARDS = {
    "moor-1-a": Release("Moor", "1", "A", released="2026-04-01"),
    "moor-2-a": Release(
        "Moor", "2", "A", released="2026-05-01", newest={"writewell": "5.1", "Loonplay": "1.4", "Odd": "x"}
    ),
}
ONE = run(
    "moor-1-a",
    "carries office: Writewell 4.3, Sheetwell 4.3\ncarries mail: Pigeon 3.0\ncarries sound: Loonplay 1.2, Hum\nadd Scanwell | from repository",
)
TWO = run(
    "moor-2-a",
    "carries office: Writewell 5.0 | from sandboxed\ncarries mail: Dovecote 1.1\ncarries sound: Loonplay 1.4, Hum, Odd 1\ncarries scanning: Scanwell 2",
)


def ledger(*runs: Digest) -> SoftwareLedger:
    return software_ledger(group(runs, CARDS))


class Software(unittest.TestCase):
    LEDGER = ledger(ONE, TWO)
    ROWS: ClassVar = {row.item: row for row in LEDGER.rows}

    def test_what_became_of_each_item(self) -> None:
        became = {item: row.changes[1] for item, row in self.ROWS.items()}
        self.assertEqual(
            became,
            {
                "Writewell": FactChange.RAISED, "Sheetwell": FactChange.DROPPED, "Pigeon": FactChange.DROPPED,
                "Dovecote": FactChange.NEW, "Loonplay": FactChange.RAISED, "Hum": FactChange.SAME, "Odd": FactChange.NEW,
                "Scanwell": FactChange.FIRST,
            },
        )  # fmt: skip

    def test_one_that_came_where_one_went_is_in_its_place(self) -> None:
        self.assertEqual(self.ROWS["Dovecote"].instead_of, (None, "Pigeon"))
        # Odd came to a group from which nothing went, and Sheetwell went from one to which nothing came.
        self.assertEqual({item for item, row in self.ROWS.items() if any(row.instead_of)}, {"Dovecote"})

    def test_sets_against_sets(self) -> None:
        sets = {
            row.group: (row.before, row.after, row.gained, row.lost, row.raised, row.replaced)
            for row in self.LEDGER.groups
        }
        self.assertEqual(
            sets,
            {
                "office": (2, 1, (), ("Sheetwell",), ("Writewell",), ()),
                "mail": (1, 1, (), (), (), (("Pigeon", "Dovecote"),)),
                "sound": (2, 3, ("Odd",), (), ("Loonplay",), ()),
            },
        )

    def test_what_the_reviewer_added_was_not_on_board(self) -> None:
        (added,) = (row for row in ledger(ONE).rows if row.item == "Scanwell")
        self.assertEqual((added.values, added.known(0), added.sources), (("added",), "none", ("repository",)))

    def test_what_was_added_to_a_group_was_not_on_board_of_it(self) -> None:
        both = run(
            "moor-1-a", "carries office: Writewell 4.3\nlacks office: Sheetwell\nadd Sheetwell | from repository"
        )
        (added,) = (row for row in ledger(both).rows if row.item == "Sheetwell")
        self.assertEqual((added.group, added.values, added.sources), ("office", ("added",), ("repository",)))

    def test_only_items_of_a_group_take_the_place_of_one_another(self) -> None:
        alone = ledger(run("moor-1-a", "add Scanwell"), run("moor-2-a", "add Paintwell"))
        self.assertEqual([row.instead_of for row in alone.rows], [(None, None)] * 2)
        kept = ledger(
            run("moor-1-a", "carries mail: Pigeon 3.0, Owl 1"),
            run("moor-2-a", "carries mail: Pigeon 3.1, Dovecote 1.1\nlacks mail: Owl"),
        )
        self.assertEqual(
            {row.item: row.instead_of[1] for row in kept.rows}, {"Pigeon": None, "Owl": None, "Dovecote": "Owl"}
        )

    def test_how_far_it_is_behind(self) -> None:
        self.assertEqual(
            {item: row.behind[1] for item, row in self.ROWS.items() if row.newest[1]},
            {"Writewell": True, "Loonplay": False, "Odd": None},
        )
        self.assertEqual(self.ROWS["Writewell"].sources, (None, "sandboxed"))

    def test_who_only_says_what_is_missing_has_counted_nothing(self) -> None:
        lacking = run("moor-2-a", "lacks mail: Pigeon")
        (row,) = ledger(ONE, lacking).groups
        self.assertEqual((row.before, row.after, row.lost), (1, None, ("Pigeon",)))

    def test_the_answer(self) -> None:
        self.assertEqual(
            list(of_software(self.LEDGER)),
            [
                "moor-2-a has Dovecote instead of Pigeon, gained Odd, lost Sheetwell and raised Writewell and Loonplay.",
                "In moor-2-a, one of the two items whose newest version is known is behind it: Writewell (5.0, newest 5.1).",
            ],
        )


if __name__ == "__main__":
    unittest.main()
