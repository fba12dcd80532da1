"""Readers in the settings: what can be written, and what is said with its line where something is wrong."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.faults import Unreadable
from metrograph.run.readers import Reader, Relation
from metrograph.store.local.reader_settings import parse_readers, parse_requirement, parse_wish
from metrograph.store.local.toml_places import line_of, places

GOOD = """
[readers.hand-out]
about = "A neighbour"
required = [
  "memory (installed) <= 1,5 GiB",
  "wireless: pass",
  "carries office",
]
weights = 2

[readers.hand-out.wishes]
"hands-on" = { weight = 3, from = "20:00", to = "5:00" }
printer = 2
"""


def faults(text: str) -> list[str]:
    return [f"{fault.line}: {fault.message}; expected: {fault.expected}" for fault in parse_readers(text, "m.toml")[1]]


class Reading(unittest.TestCase):
    def test_a_reader(self) -> None:
        readers, wrong = parse_readers(GOOD, "m.toml")
        self.assertEqual(wrong, ())
        reader = readers["hand-out"]
        self.assertEqual((reader.about, reader.weights), ("A neighbour", 2.0))
        self.assertEqual([(each.name, each.relation) for each in reader.required],
                         [("memory (installed)", Relation.AT_MOST), ("wireless", Relation.IS), ("office", Relation.CARRIES)])  # fmt: skip
        self.assertEqual([(wish.name, wish.weight, wish.worst and wish.worst.text) for wish in reader.wishes],
                         [("hands-on", 3.0, "20:00"), ("printer", 2.0, None)])  # fmt: skip

    def test_what_is_wrong_is_told_with_its_line_and_leaves_the_rest(self) -> None:
        broken = (
            GOOD.replace("1,5 GiB", "1,500 GiB")
            .replace("weights", "wieghts")
            .replace('to = "5:00"', 'to = "5 GiB"')
            .replace("printer = 2", "printer = -1")
        )
        readers, _ = parse_readers(broken, "m.toml")
        self.assertEqual([len(readers["hand-out"].required), len(readers["hand-out"].wishes)], [2, 0])
        self.assertEqual(
            faults(broken),
            [
                "5: “memory (installed) <= 1,500 GiB” cannot be required: “1,500” could be 1.500 or 1500; expected: 1.500 or 1500",
                "9: the reader “hand-out” has no “wieghts”; expected: weights",
                "12: the wish “hands-on”: “20:00” and “5 GiB” are in different units; expected: one unit for both",
                '13: the wish “printer”: its weight cannot be read; expected: a weight, or a table: { weight = 2, from = "1.5 GiB", to = "500 MiB" }, the weight above 0',
            ],
        )

    def test_whatever_else_stands_there_is_refused_in_words(self) -> None:
        for text, expected in {
            "readers = 3": "1: “readers” has a wrong value; expected: a table for each reader: [readers.NAME]",
            "[readers]\na = 3": "2: the reader “a” has a wrong value; expected: a table: [readers.a]",
            "\n[readers.a]": "2: the reader “a” neither requires nor wishes for anything; expected: required or wishes",
            '[readers."../a"]\nrequired = ["a: pass"]': "1: “../a” is no name for a reader; expected: small letters and digits, such as hand-out",
            '[readers.a]\nrequired = "wireless: pass"': "2: “required” of the reader “a” is no list",
            "[readers.a]\nwishes = 3": "2: “wishes” of the reader “a” is no table; expected: [readers.a.wishes]",
        }.items():
            self.assertTrue(faults(text)[0].startswith(expected), faults(text))

    def test_ends_and_limits_are_single_figures(self) -> None:
        for wrong in (
            {"from": "1 GiB"},
            {"from": "1 GiB", "to": "1 GiB"},
            {"from": "1..2 GiB", "to": "3 GiB"},
            {"wieght": 2},
            {"weight": True},
        ):
            with self.assertRaises(Unreadable):
                parse_wish("memory", wrong)
        for text in ("memory", "memory <= a few", "memory <= 5 frogs and 3"):
            with self.assertRaises(Unreadable):
                parse_requirement(text)

    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
            lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
        )
    )
    def test_nothing_that_is_no_wish_is_taken_for_one(self, said: object) -> None:
        try:
            wish = parse_wish("printer", said)
        except Unreadable:
            return
        self.assertGreater(wish.weight, 0)
        self.assertEqual(wish.worst is None, wish.best is None)

    def test_a_reader_is_off_by_a_half_unless_it_says_otherwise(self) -> None:
        self.assertEqual(Reader("a").weights, 1.5)


class Places(unittest.TestCase):
    TEXT = '# a = 1\ntop = 1\n[a."b c"]\n"x.y" = { in = 1, "an other" = 2 }\nlist = [\n  "one",\n  "two",\n]\ntext = """\nnot = 1\n"""\n[[a.d]]\ne = 1\n'

    def test_the_line_of_every_table_and_key(self) -> None:
        found = places(self.TEXT)
        self.assertEqual(
            found,
            {("top",): 2, ("a", "b c"): 3, ("a", "b c", "x.y"): 4, ("a", "b c", "x.y", "in"): 4, ("a", "b c", "x.y", "an other"): 4,
             ("a", "b c", "list"): 5, ("a", "b c", "text"): 9, ("a", "d"): 12, ("a", "d", "e"): 13},
        )  # fmt: skip
        self.assertEqual(line_of(("a", "b c", "list"), found, self.TEXT, "two"), 7)
        self.assertEqual([line_of(path, found) for path in (("a", "b c", "gone"), ("gone",))], [3, 1])


if __name__ == "__main__":
    unittest.main()
